// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/survey/collision_table.h"

class QLabel;
class QLineEdit;
class QListWidget;
class QProgressBar;
class QPushButton;
class QScrollArea;

namespace rope {
class PageStack;
class TwoChangesView;

/// Who collides with whom: all shared branches, each joined with each in memory, as a table or a list
/// of sentences; beside it the pair at hand.
class CollisionView final : public QWidget
{
    Q_OBJECT
public:
    explicit CollisionView(QWidget* parent);
    void showModel(const CollisionModel& model);
    /// How far it is; `now`: the pair being worked out, in words. Empty: nothing is being worked out.
    void showProgress(std::size_t known, std::size_t all, const QString& now);
    /// To the next or previous pair that collides.
    void step(int by);
    void copyNote();
    /// Shows what the pair at hand made of a file.
    void showReading(BranchPair pair, const PairReading& reading);
    [[nodiscard]] QString status() const;

signals:
    void startRequested();
    void stopRequested();
    /// What a pair made of a file is to be read; see showReading().
    void readingRequested(rope::BranchPair pair, const rope::RepoPath& path);

private:
    [[nodiscard]] QWidget* makeLeft();
    [[nodiscard]] QWidget* makeRight();
    void showPair(BranchPair pair);
    void fillList();
    [[nodiscard]] QWidget* makeReadingPage();
    void read();
    void leaveReading();
    CollisionModel m_model;
    CollisionTable* m_table;
    QScrollArea* m_scroll;
    QListWidget* m_list;
    QLineEdit* m_filter;
    PageStack* m_pages;
    QLabel* m_summary;
    QLabel* m_progress;
    QPushButton* m_stop;
    QLabel* m_pairTitle;
    QLabel* m_people;
    QLabel* m_sentence;
    QLabel* m_since;
    QListWidget* m_files;
    QPushButton* m_read;
    QPushButton* m_copy;
    TwoChangesView* m_changes = nullptr;
    QLabel* m_readingTitle = nullptr;
    QWidget* m_readingPage = nullptr;
    std::optional<BranchPair> m_shownPair;
    bool m_isWorking = false;
};
}  // namespace rope
