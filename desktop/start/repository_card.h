// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/recent_place.h"

#include <QFrame>
#include <QTimer>

class QHBoxLayout;
class QLabel;
class QPushButton;

namespace rope {
class ElidedLabel;
class SmallRopeChart;

/// A recent repository: where it stands as far as is known here, what was left in it, or that it is gone.
/// A click or Enter opens it.
class RepositoryCard final : public QFrame
{
    Q_OBJECT
public:
    RepositoryCard(QString folder, QWidget* parent);
    [[nodiscard]] const QString& folder() const { return m_folder; }
    [[nodiscard]] bool isGone() const { return m_isGone; }
    /// All words by which it can be found.
    [[nodiscard]] QString words() const;

    void showPlace(const RecentPlace& place);
    /// It cannot be read now; `lastKnown` says what was, as a sentence, or is empty.
    void showGone(const QString& why, const QString& lastKnown);
    /// How far asking its remotes is; empty: done.
    void showAsking(const QString& progress);

signals:
    void openRequested();
    void lookAgainRequested();
    void findRequested();
    void forgetRequested();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    QString m_folder;
    QTimer m_slow;  ///< Runs until something is known.
    bool m_isGone = false;
    QString m_askedWords;
    bool m_isOld = false;
    QLabel* m_name;
    QLabel* m_gone;
    ElidedLabel* m_path;
    SmallRopeChart* m_chart;
    QLabel* m_branch;
    QLabel* m_standing;
    QLabel* m_asked;
    QLabel* m_left;
    QPushButton* m_goOn;
    QPushButton* m_lookAgain;
    QPushButton* m_find;
    QPushButton* m_forget;
};
}  // namespace rope
