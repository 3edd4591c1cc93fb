// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/logbook_view.h"
#include "desktop/facts/merge_view.h"
#include "desktop/widgets/station_page.h"

#include <QKeySequence>

#include <functional>

class QLabel;
class QLineEdit;
class QPushButton;
class QCheckBox;

namespace rope {
class DecisionList;
class KeptList;
class MergeList;
class SpliceList;

/// The splices of the past: what was joined, how it was decided, where it stands; from here one is
/// reopened, rolled back or brought back. Knows no repository: what is chosen it asks for.
class LogbookPage final : public StationPage
{
    Q_OBJECT
public:
    explicit LogbookPage(QWidget* parent);

    void showFacts(const LogbookFacts& facts);
    void showDetails(const LoggedDetails& details);
    /// The merges of the history, as far as they are read.
    void showMerges(const std::vector<ReadMergeRow>& merges, const MergesProgress& progress);
    /// Why nothing is listed; empty: something is.
    void showNote(const QString& words);
    void setBackTo(const QString& station);
    /// Nothing can be done while something is recorded.
    void setBusy(bool isBusy);
    /// Reopens the chosen one, if it can be.
    void act() override;
    [[nodiscard]] QString status() const override;
    [[nodiscard]] std::vector<KeyHint> hints() const override;
    [[nodiscard]] std::vector<KeyHint> keys() const override;

signals:
    void backRequested();
    /// Its decisions are wanted; see showDetails().
    void detailsRequested(const rope::JournalEntry& entry);
    void goOnRequested();
    /// Of what is kept and no splice has.
    void bringKeptBackRequested(const rope::KeptWork& kept);
    void deleteKeptRequested(const rope::KeptWork& kept);
    /// `made`: its commit; `onTop`: what is recorded then is a commit on top.
    void reopenRequested(const rope::JournalEntry& entry, const rope::ObjectId& made, bool onTop);
    void bringBackRequested(const std::string& splice);
    void rollBackRequested(const rope::JournalEntry& entry);
    void rollForwardRequested(const rope::JournalEntry& entry);
    void takeOutRequested(const rope::JournalEntry& entry, const rope::ObjectId& made);
    /// A merge of the history is to be read again: by its id, or by what a person typed.
    void mergeRequested(const rope::ObjectId& merge);
    void mergeNamed(const QString& name);
    void mergeReopenRequested(const rope::ObjectId& merge);
    /// What is odd about it is fine, or not any more.
    void mergeFineRequested(const rope::ObjectId& merge, bool isFine);
    /// Reading merges is to stop, or to go on.
    void readingToggled();

private:
    [[nodiscard]] QWidget* makeMerges();
    void rebuildMerges();
    void showChosenMerge(const ReadMergeRow& merge);
    void addKey(const QKeySequence& key, std::function<void()> act);
    [[nodiscard]] QWidget* makeList();
    [[nodiscard]] QWidget* makeDetails();
    void rebuild();
    void showChosen();
    void goBack();

    QLineEdit* m_filter = nullptr;
    QLabel* m_count = nullptr;
    QPushButton* m_backTo = nullptr;
    QLabel* m_note = nullptr;
    QWidget* m_head = nullptr;
    SpliceList* m_splices = nullptr;
    KeptList* m_kept = nullptr;
    QWidget* m_mergesBox = nullptr;
    QLabel* m_mergesCount = nullptr;
    QCheckBox* m_onlyOdd = nullptr;
    QPushButton* m_reading = nullptr;
    MergeList* m_merges = nullptr;
    QLabel* m_title = nullptr;
    QLabel* m_facts = nullptr;
    DecisionList* m_decisions = nullptr;
    QLabel* m_reopenWords = nullptr;
    QLabel* m_backWords = nullptr;
    QPushButton* m_reopen = nullptr;
    QPushButton* m_back = nullptr;
    QPushButton* m_copy = nullptr;
    LogbookFacts m_all;
    LoggedDetails m_details;
    std::vector<ReadMergeRow> m_allMerges;
    MergesProgress m_progress;
    bool m_isMergeChosen = false;  ///< The row looked at is one of the merges.
    ObjectId m_mergeAwaited;  ///< It was one that is not listed just now; null: none is awaited.
    LogActions m_actions;
    bool m_isBusy = false;
};
}  // namespace rope
