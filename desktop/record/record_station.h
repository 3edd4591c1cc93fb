// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/rebase_scope.h"
#include "core/logbook/recorder.h"
#include "core/plan/commit_message.h"
#include "core/snapshot/read_changes.h"
#include "desktop/widgets/station_page.h"

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPlainTextEdit;
class QPushButton;

namespace rope {
class PageStack;
class ChangeView;
class RecordedPage;

/// The station where the joined result becomes a commit: its message, what it will hold, and the
/// button that makes it.
class RecordStation final : public StationPage
{
    Q_OBJECT
public:
    explicit RecordStation(QWidget* parent);

    /// Shows a splice as it stands; null: nothing to record. `message` is a half-written one, or empty.
    void setSplice(const Splice* splice, const QString& message);
    /// Lets go of the splice, which is about to go; what is shown stays until something else is.
    void forgetSplice();
    /// Takes over that something was decided: counts, and the proposed message while it is untouched.
    void refresh();
    /// What a proposed message is made of besides the splice.
    /// Of a rebase: commits that are not written anew, since their change is there already.
    void setLeftOut(std::vector<CommitLeftOut> leftOut) { m_leftOut = std::move(leftOut); }
    void setMessageParts(MessageParts parts);
    /// What the result changes, file by file; see contentsRequested().
    void showContents(const ResultReading& contents);
    /// What checking found and nobody called fine, and the first of it in words.
    void setFindings(std::size_t count, const QString& first);
    /// Why this repository's own wishes keep the result from being recorded; empty: they do not.
    void setCheckObstacle(const QString& words);
    /// How the check commands went on the result as it stands; nothing: they have not all run on it.
    void setCheckPassed(std::optional<bool> hasPassed);
    /// The branch to be joined next; empty: none.
    void setNext(const QString& branch);
    /// Who the commit will be by; nothing: ask.
    void setIdentity(const std::optional<Signature>& identity);
    /// Work that is not committed: what becomes of it, or that it stands in the way.
    void setUncommitted(const std::vector<UncommittedFile>& files);
    /// Whether work that is carried across is joined to the result as it stands now.
    void setSettled(bool isSettled);
    /// The step that recording is at; empty: nothing is being recorded.
    void setBusy(const QString& step);
    void showRecorded(const Recorded& recorded);
    /// Whether decisions are left beside the commit where nobody says otherwise here.
    void setLeavesNotes(bool leaves);
    /// Takes over that a reason was given, or taken back.
    void showNotes();
    void showDecisions();
    void addDecision(SlotPlace place, const QString& what);
    /// Whether there is anybody to send to.
    void setHasRemote(bool hasRemote);
    /// See RecordedPage.
    void setCanRollBack(bool canRollBack);

    [[nodiscard]] QString message() const;
    void record();
    /// The station's main action: records, or leads on when that is done.
    void act() override;
    void enter() override;
    [[nodiscard]] std::vector<KeyHint> hints() const override;
    [[nodiscard]] std::vector<KeyHint> keys() const override;

signals:
    /// What the result changes is to be read.
    void contentsRequested();
    /// What was found is to be looked at.
    void findingsRequested();
    /// The next branch of the queue is to be joined.
    void nextRequested();
    void messageEdited();
    void recordRequested(const QString& message, bool leavesNotes);
    /// A name and an address were given, to be kept for this repository before recording.
    void identityGiven(const QString& name, const QString& email);
    void surveyRequested();
    void pushRequested();
    /// The work that was set aside is to come back.
    void bringWorkBackRequested();
    /// What was recorded last is to be rolled back.
    void rollBackRequested();
    /// The recording that is under way is to be stopped and taken back.
    void stopRequested();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeWritingPage();
    QWidget* makeMessageSide();
    QWidget* makeContentsSide();
    QWidget* makeFindings(QWidget* parent);
    /// What keeps a splice from being recorded.
    enum class Obstacle {
        none,
        noSplice,
        inSplice,  ///< Something in it is open, or does not fit.
        check,     ///< The repository's own wishes about check commands.
        noMessage,
        noName,
        layingCommits,  ///< It takes a moment, as does the next.
        joiningWork,
        uncommitted,
    };
    [[nodiscard]] Obstacle obstacle() const;
    [[nodiscard]] Obstacle obstacleOfWork() const;
    [[nodiscard]] QString obstacleInWords(Obstacle obstacle) const;
    [[nodiscard]] bool isOnlySettling() const;
    [[nodiscard]] bool isBringBack() const;
    [[nodiscard]] bool isRebase() const;
    /// Whether a message is written for it.
    [[nodiscard]] bool hasMessage() const { return !isBringBack() && !isRebase() && !isMove(); }
    /// Whether the branch only moves, and no commit is made.
    [[nodiscard]] bool isMove() const;
    void showObstacle();
    void showFile(int row);
    [[nodiscard]] bool keepsFiles() const;
    PageStack* m_pages;
    QWidget* m_writing = nullptr;
    QWidget* m_side = nullptr;  ///< What will be recorded.
    QPlainTextEdit* m_message;
    QLabel* m_what;
    QLabel* m_identity;
    QWidget* m_identityForm;
    QLineEdit* m_name;
    QLineEdit* m_email;
    QCheckBox* m_notes = nullptr;    ///< Whether decisions are left beside the commit.
    std::optional<bool> m_noteWish;  ///< What the person said there.
    bool m_leavesNotes = false;
    QLabel* m_comments;  ///< That some lines are for the writer alone.
    ChangeView* m_change = nullptr;
    QLabel* m_filesTitle = nullptr;
    QLabel* m_decisionsTitle = nullptr;
    QListWidget* m_files;
    ResultReading m_contents;
    std::vector<CommitLeftOut> m_leftOut;
    MessageParts m_parts;
    QListWidget* m_decisions;
    QLabel* m_obstacle;
    QPushButton* m_record;
    QPushButton* m_stop;
    QWidget* m_findings = nullptr;  ///< That something is to be looked at first.
    QLabel* m_findingsWords = nullptr;
    std::vector<UncommittedFile> m_uncommitted;
    QLabel* m_work;  ///< What becomes of uncommitted work.
    QLabel* m_messageTitle = nullptr;
    bool m_isSettled = true;
    bool m_recordsWhenSettled = false;  ///< It was asked for, and only that is waited for.
    RecordedPage* m_recorded;
    const Splice* m_splice = nullptr;
    std::optional<Signature> m_signature;
    QString m_checkObstacle;
    std::optional<bool> m_hasCheckPassed;
    QString m_spliceObstacle;  ///< Found when the station was entered.
    bool m_isTouched = false;
    bool m_isFilling = false;
    bool m_isBusy = false;
};
}  // namespace rope
