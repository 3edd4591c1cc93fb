// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/side_text.h"
#include "desktop/widgets/strand_pattern.h"

#include <QFrame>

class QLabel;
class QPushButton;

namespace rope {
class ElidedLabel;

/// One side of a region: who it is, who did it, when and why, and the text.
class EvidenceCard final : public QFrame
{
    Q_OBJECT
public:
    /// REQUIRES: side is base, ours or theirs
    EvidenceCard(Strand side, const QString& title, QWidget* parent);

    void setBranch(const QString& name);
    /// "I. Falk · 3 days ago", with the exact time as tooltip; and the commit's subject below.
    void setAuthorship(const QString& who, const QString& exactTime, const QString& commit);
    /// What else the side did to the file, as a sentence below the heading; empty: nothing.
    void setRemark(const QString& sentence);
    [[nodiscard]] SideText& text() { return *m_text; }
    /// Words of a button in the heading that opens or closes what is folded; empty: no button.
    void setFoldButton(const QString& words);

signals:
    void foldRequested();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    [[nodiscard]] int headerHeight() const;
    void placeCommit();
    Strand m_side;
    QString m_title;
    QWidget* m_header;
    QLabel* m_branch;
    QLabel* m_who;
    ElidedLabel* m_commitBeside;  ///< In the first line of the heading, where that is wide enough.
    ElidedLabel* m_commitBelow;
    QLabel* m_remark;
    QPushButton* m_fold;
    SideText* m_text;
    QString m_commitText;
};
}  // namespace rope
