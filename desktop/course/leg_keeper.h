// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/plan/laid_commits.h"
#include "desktop/course/place_session.h"
#include "desktop/course/splice_tasks.h"

namespace rope {
/// Keeps those legs of a splice that hang on decisions in earlier ones in step with them: commits that
/// are laid on what was decided before, and uncommitted work that is joined to the result. They are
/// joined beside the interface when deciding pauses. Lives on the interface thread.
class LegKeeper final : public QObject
{
    Q_OBJECT
public:
    LegKeeper(PlaceSession& place, QObject* parent);

    /// What is laid anew in a splice, when it starts.
    struct Laid
    {
        RebaseScope scope;
        std::vector<LaidCommit>
            commits;                    ///< Its legs that write commits anew, as they are decided.
        std::vector<Decision> waiting;  ///< About legs that are not joined yet, or without a place.
    };
    /// Begins with a splice. It must live until stop().
    void start(Splice& splice, Laid laid);
    void stop();
    /// A leg is about to be decided otherwise; those behind it hang on it.
    void noteChange(std::size_t leg);
    /// Uncommitted work may be another one than was joined.
    void lookAtWork();
    /// Uncommitted work is another one than was joined.
    void forgetWork();
    /// While it is recorded, or another window has it, nothing is joined.
    void setPaused(bool isPaused);
    /// Whether every leg stands on what is decided now.
    [[nodiscard]] bool isSettled() const;
    /// Of a rebase: commits that are not written anew, since their change is there already.
    [[nodiscard]] const std::vector<CommitLeftOut>& leftOut() const { return m_scope.leftOut; }

signals:
    /// Legs from this one on are about to be other ones: whatever shows their files lets them go.
    void legsAboutToChange(std::size_t first);
    void legsChanged(std::size_t first);
    /// All legs stand on what is decided now.
    void settled();
    void decisionsToStore(const std::vector<rope::Decision>& decisions);
    void workToStore(const rope::ObjectId& work);
    /// Decisions in later commits that the change of an earlier one left without a place.
    void decisionsLost(std::size_t count);
    void failed(const rope::Error& error);

private:
    [[nodiscard]] LayRequest layRequest() const;
    [[nodiscard]] bool carriesWork() const;
    void settle();
    void layCommits();
    void takeLaid(const std::vector<LaidCommit>& laid, int revision);
    void joinWork();
    void takeWork(const JoinedWork& joined, int revision);

    PlaceSession& m_place;
    Splice* m_splice = nullptr;
    RebaseScope m_scope;
    std::vector<Decision> m_waiting;      ///< Of commits, without a place just now.
    std::vector<Decision> m_waitingWork;  ///< Of carried work that is not joined yet.
    std::vector<LaidCommit> m_laid;       ///< As commits were laid last.
    std::size_t m_firstChanged = 0;       ///< The first leg that was decided otherwise since then.
    int m_revision = 0;                   ///< Counts what changes what legs hang on.
    int m_laidRevision = -1;              ///< The one that commits were laid on last.
    int m_joinedRevision = -1;            ///< The one that carried work was joined to last.
    bool m_isBusy = false;
    bool m_isPaused = false;
    QTimer m_timer;
    BackgroundRunner m_work;
};
}  // namespace rope
