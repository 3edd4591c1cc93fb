// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/send_view.h"
#include "desktop/widgets/station_page.h"

class QFrame;
class QLabel;
class QListWidget;
class QPlainTextEdit;
class QPushButton;
class QVBoxLayout;

namespace rope {
class CommitTable;

/// The station that sends: what will be sent, commit by commit; the push; what the remote said to it,
/// and what can be done when it refused. Beside it the logbook's newest splices.
class PushStation final : public StationPage
{
    Q_OBJECT
public:
    explicit PushStation(QWidget* parent);

    void showFacts(const SendFacts& facts);
    /// What is shown is being looked at again: nothing is sent until showFacts().
    void setLooking();
    /// How far pushing is; empty: nothing is being sent.
    void setBusy(const QString& text);
    void showProof(const Proof& proof);
    void showRefusal(const Refusal& refusal);
    void showAfterPush(const AfterPush& after);
    void showBranchRemoved(const MergedBranch& branch);
    void showOwnBranchRemoved(const Branch& branch);
    /// Takes away what an earlier push was answered.
    void sayAfter(const QString& words);
    void forgetAnswer();
    /// The station's main action: pushes, joins again after a refusal, or leads on.
    void act() override;
    /// "tide-windows is 3 ahead of origin/tide-windows"
    [[nodiscard]] QString status() const override;
    [[nodiscard]] std::vector<KeyHint> hints() const override;
    [[nodiscard]] std::vector<KeyHint> keys() const override;

signals:
    void pushRequested();
    void stopRequested();
    /// What the remote has meanwhile is to be joined: in place of the commit not sent, or on top.
    void joinRequested(const rope::SecondRound& round);
    void removeRequested(const rope::MergedBranch& branch);
    void removeOwnRequested(const rope::Branch& branch);
    /// Another own branch is to be checked out.
    void goToLineRequested(const std::string& ref);
    /// What the remote has is to go, and the rewritten branch to take its place.
    void replaceRequested();
    void surveyRequested();

private:
    [[nodiscard]] QWidget* makeLeft();
    [[nodiscard]] QWidget* makeAfter(QWidget* parent);
    [[nodiscard]] QWidget* makeRight();
    [[nodiscard]] QFrame* makeAnswer();
    void dressAnswer(QFrame& frame);
    void showAnswer(const QString& title, const QString& text, const QString& details, bool isBad);
    void showLogbook();
    void updateButtons();

    QLabel* m_heading;
    CommitTable* m_commits;
    QLabel* m_obstacle;
    QLabel* m_progress;
    QFrame* m_answer = nullptr;
    QLabel* m_answerTitle = nullptr;
    bool m_isAnswerBad = false;
    QLabel* m_answerText = nullptr;
    QPlainTextEdit* m_answerDetails = nullptr;
    QPushButton* m_details = nullptr;
    QPushButton* m_inPlace = nullptr;
    QLabel* m_inPlaceWords = nullptr;
    QPushButton* m_onTop = nullptr;
    QLabel* m_onTopWords = nullptr;
    QPushButton* m_notNow = nullptr;
    QPushButton* m_replace = nullptr;
    QLabel* m_replaceWords = nullptr;
    QPushButton* m_remove = nullptr;
    QPushButton* m_removeOwn = nullptr;
    QPushButton* m_goToMain = nullptr;
    QLabel* m_intoMain = nullptr;  ///< Whether what was pushed merges into the team's main.
    QLabel* m_after = nullptr;
    QPushButton* m_push;
    QPushButton* m_stop;
    QPushButton* m_back;
    QListWidget* m_logbook;
    QLabel* m_decisionsTitle = nullptr;
    QListWidget* m_decisions;
    std::optional<SendFacts> m_facts;
    std::optional<Refusal> m_refusal;
    AfterPush m_afterPush;
    bool m_isBusy = false;
    bool m_hasArrived = false;
    bool m_isLooking = false;
    ObjectId m_actsOn{};  ///< The tip that was asked to be sent while it was looked at; null: none.
};
}  // namespace rope
