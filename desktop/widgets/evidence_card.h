// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/word_text.h"

#include <QFrame>

class QLabel;

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
    [[nodiscard]] WordText& text() { return *m_text; }
    [[nodiscard]] QString commitLine() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    [[nodiscard]] int headerHeight() const;
    Strand m_side;
    QWidget* m_header;
    ElidedLabel* m_branch;
    QLabel* m_who;
    ElidedLabel* m_commit;
    WordText* m_text;
};
}  // namespace rope
