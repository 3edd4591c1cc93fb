// SPDX-License-Identifier: GPL-3.0-or-later
// The working tree is brought to the result first, as git itself does when it merges: hooks look at
// the working tree and at what is staged, and must find the result there. The branch moves last, in
// one step, from the commit it had when the splice began. See docs/recording.md.
// Tested by tst_recorder.cpp.
#include "core/system/git/commit_writing.h"
#include "core/system/git/git_errors.h"
#include "core/system/git/git_hooks.h"
#include "core/system/git/git_notes.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/recording_steps.h"
#include "core/system/git/working_tree.h"
#include "core/system/path_finder.h"
#include "core/system/tree_difference.h"

#include <QDateTime>

#include <algorithm>
#include <set>

namespace rope {
namespace {
/// A step as a person is told of it.
ProgressStep toldAs(GitStep step)
{
    switch (step) {
    case GitStep::takingOff:
        return ProgressStep::takingOff;
    case GitStep::bringing:
        return ProgressStep::bringing;
    case GitStep::committing:
        return ProgressStep::committing;
    case GitStep::moving:
        return ProgressStep::moving;
    case GitStep::finishing:
        return ProgressStep::finishing;
    case GitStep::carrying:
        return ProgressStep::carrying;
    case GitStep::handingBack:
        return ProgressStep::handingBack;
    case GitStep::undoing:
        return ProgressStep::undoing;
    }
    return ProgressStep::finishing;
}

/// See writeNotes().
constexpr const char* kNotesBeingWritten = "notes-being-written";

class GitRecording
{
public:
    GitRecording(GitPlace& place,
                 const RecordingPlan& plan,
                 const NoteSink& note,
                 const ProgressSink& progress,
                 const std::stop_token& stop)
        : m_place(place)
        , m_files(place)
        , m_index(place)
        , m_plan(plan)
        , m_note(note)
        , m_progress(progress)
        , m_stop(stop)
        , m_hooks(place, plan, stop)
    {
    }

    Result<RecordOutcome> run()
    {
        TRY(checkBefore());
        if (isRebase() && m_plan.begun.empty()) {
            TRY(m_hooks.run(HookPoint::beforeRebase));
            TRY(checkBefore());  // it may have done anything
        }
        TRY(storeResults());
        TRY_ASSIGN(m_changes, treeDifference(m_place, m_state.oursTree, m_state.resultTree));
        if (m_state.workTree.isNull() && !m_plan.keepsFiles) {
            TRY_ASSIGN(m_state.before, m_files.lookBefore(m_changes));
        }
        if (!m_plan.begun.empty()) {
            TRY(m_index.keep());
        }
        if (auto taken = takeSteps(); !taken && m_state.step != GitStep::finishing) {
            return undo(std::move(taken).error());
        }
        if (!m_state.afterTree.isNull()) {
            if (auto carried = putWorkThere(); !carried) {
                Error error = std::move(carried).error();
                error.detail = m_state.commit.hex() + "\n" + error.detail;
                error.reason = Reason::workNotBack;
                return error;
            }
        }
        return RecordOutcome{m_state.commit, m_hooks.output(), m_state.rewritten};
    }

private:
    Status checkBefore()
    {
        if (m_place.isForeignTree()) {
            return Error{ErrorCode::unsupported, m_place.root(), {}, Reason::foreignWorkingTree};
        }
        TRY_ASSIGN(const auto identity, m_place.identity());
        if (!identity && !m_plan.commits.empty()) {
            return Error{ErrorCode::noIdentity, {}, {}};
        }
        m_state.ref = m_plan.line;
        m_state.nextRef = m_plan.nextLine;
        m_state.keepsFiles = m_plan.keepsFiles;
        m_state.ours = m_plan.expected;
        m_state.detached = m_plan.detached;
        const bool isDetached = !m_plan.detached.isNull();
        const ObjectId checkedOut = isDetached ? m_plan.detached : m_plan.expected;
        TRY_ASSIGN(m_state.oursTree, treeOf(m_place, checkedOut));
        if (m_plan.keepsFiles) {
            TRY(m_place.checkLine(m_plan.line, m_plan.expected));
            return m_place.checkNotCheckedOut(m_plan.line);
        }
        TRY_ASSIGN(const Standing standing, m_place.standing());
        if (isDetached) {
            TRY(m_place.checkLine(m_plan.line, m_plan.expected));
            TRY(m_place.checkNotCheckedOut(m_plan.line));
        }
        if (standing.ref != (isDetached ? std::string() : m_plan.line)
            || standing.tip != checkedOut) {
            return Error{ErrorCode::stale,
                         m_plan.lineName,
                         "now at " + standing.tip.hex(),
                         Reason::lineMoved};
        }
        if (!m_plan.nextLine.empty()) {
            ROPE_ASSERT(m_plan.commits.empty(), "where another line is gone to, none is moved");
            TRY(m_place.checkLine(m_plan.nextLine, m_plan.target));
            TRY(m_place.checkNotCheckedOut(m_plan.nextLine));
        }
        TRY(checkBegun());
        if (!m_plan.work.isNull()) {
            return checkWork();
        }
        return m_plan.begun.empty() ? checkNothingUncommitted() : checkNothingBesides();
    }

    /// Whether what another program began here is what this finishes, and nothing else.
    Status checkBegun()
    {
        if (m_plan.begun.empty()) {
            TRY_ASSIGN(const auto begun, m_place.begunJoin());
            return begun && begun->kind != UnfinishedWork::unknown
                       ? Status(Error{ErrorCode::stale, {}, {}, Reason::begunChanged})
                       : ok();
        }
        TRY_ASSIGN(const GitPlace::BegunTrees trees, begunTreesOf(m_place, m_plan.begun));
        m_state.begun = m_place.begunHeads();
        m_state.workTree = trees.all;
        if (isRebase()) {
            m_state.rewritten = m_place.begunSteps(UnfinishedWork::rebase).rewritten;
        }
        m_openPaths = trees.join.open;
        m_others = trees.others;
        return ok();
    }

    /// Nothing uncommitted besides a begun join.
    Status checkNothingBesides()
    {
        TRY_ASSIGN(const auto changes, treeDifference(m_place, m_state.oursTree, m_others));
        std::vector<RepoPath> paths;
        paths.reserve(changes.size());
        for (const FileChange& change : changes) {
            paths.push_back(change.path);
        }
        return paths.empty()
                   ? ok()
                   : Status(Error{ErrorCode::stale, listOf(paths), {}, Reason::workChanged});
    }

    Status checkNothingUncommitted()
    {
        TRY_ASSIGN(const auto files, m_place.changedFiles(RunFor::acting));
        std::vector<RepoPath> changed;
        for (const UncommittedFile& file : files) {
            if (!file.isUntracked) {
                changed.push_back(file.path);
            }
        }
        if (!changed.empty()) {
            return Error{ErrorCode::stale, listOf(changed), {}, Reason::uncommitted};
        }
        return ok();
    }

    /// Files and index must still hold what was saved.
    Status checkWork()
    {
        const ObjectId saved[] = {m_plan.work};
        TRY_ASSIGN(const auto work, m_place.readCommits(saved));
        if (work.front().parents.size() < 2) {
            return Error{ErrorCode::corrupt, m_plan.work.hex(), {}};
        }
        TRY_ASSIGN(m_state.stagedTree, treeOf(m_place, work.front().parents[1]));
        const ObjectId savedTree = work.front().tree;
        if (m_plan.begun.empty()) {
            m_state.workTree = savedTree;
        }
        TRY_ASSIGN(m_state.intended, m_place.intendedPaths());
        TRY_ASSIGN(const GitPlace::WorkTrees now, m_place.workTrees(RunFor::looking));
        if (now.files != savedTree || now.staged != m_state.stagedTree) {
            TRY_ASSIGN(const auto changes, treeDifference(m_place, savedTree, now.files));
            std::vector<RepoPath> paths;
            paths.reserve(changes.size());
            for (const FileChange& change : changes) {
                paths.push_back(change.path);
            }
            return Error{ErrorCode::stale, listOf(paths), {}, Reason::workChanged};
        }
        return convertWork(savedTree);
    }

    /// What was saved while only looking has files with a filter of the repository's own as they stand.
    /// From here on that filter runs, as in any other git command.
    Status convertWork(const ObjectId& savedTree)
    {
        if (!m_place.hasLockedFilters()) {
            return ok();
        }
        TRY_ASSIGN(const GitPlace::WorkTrees now, m_place.workTrees(RunFor::acting));
        TRY_ASSIGN(m_converted, treeDifference(m_place, savedTree, now.files));
        if (m_plan.begun.empty()) {
            m_state.workTree = now.files;
        }
        return ok();
    }

    /// The same of what the files are to hold in the end. Errors: `stale` (Reason::uncommitted) for a
    /// file that was joined as it stood: it can only be committed first.
    Result<ObjectId> convertedWork(const ObjectId& after)
    {
        ResultSnapshot converted{after, {}};
        PathFinder finder(m_place, after);
        for (const FileChange& change : m_converted) {
            TRY_ASSIGN(const auto there, finder.find(change.path));
            if (there && change.before && there->id == change.before->id) {
                converted.edits.push_back({change.path, change.after, nullptr});
            } else if (there) {
                return Error{ErrorCode::stale, change.path, {}, Reason::uncommitted, {change.path}};
            }
        }
        return converted.edits.empty() ? Result<ObjectId>(after) : m_place.storeTree(converted);
    }

    Status storeResults()
    {
        for (const PlannedCommit& commit : m_plan.commits) {
            TRY_ASSIGN(const ObjectId tree, m_place.storeTree(commit.result));
            m_trees.push_back(tree);
        }
        if (m_trees.empty()) {
            m_state.commit = m_plan.target;
            TRY_ASSIGN(m_state.resultTree, treeOf(m_place, m_plan.target));
        } else {
            m_state.resultTree = m_trees.back();
        }
        if (m_plan.workAfter) {
            const bool onlyBringsBack = m_plan.commits.empty() && m_plan.target == m_plan.expected;
            ROPE_ASSERT(!m_plan.work.isNull() || onlyBringsBack, "work comes from somewhere");
            TRY_ASSIGN(m_state.afterTree, m_place.storeTree(*m_plan.workAfter));
            TRY_ASSIGN(m_state.afterTree, convertedWork(m_state.afterTree));
        }
        return ok();
    }

    Status enter(GitStep step)
    {
        m_state.step = step;
        m_state.notedAt = QDateTime::currentSecsSinceEpoch();
        TRY(m_note(noteOf(m_state)));
        if (m_progress) {
            m_progress({toldAs(step), {}, 0, 0});
        }
        return ok();
    }

    Status takeSteps()
    {
        if (!m_state.workTree.isNull()) {
            TRY(enter(GitStep::takingOff));
            TRY(m_index.settle(m_openPaths, m_state.oursTree));
            TRY(m_files.takeOff(m_state.workTree, m_state.oursTree));
            TRY_ASSIGN(m_state.before, m_files.lookBefore(m_changes));
        }
        if (!m_plan.keepsFiles) {
            TRY(enter(GitStep::bringing));
            TRY(m_files.bring(m_state.oursTree, m_state.resultTree));
        }
        if (!m_plan.commits.empty()) {
            TRY(enter(GitStep::committing));
            TRY(writeCommits());
        }
        if (!m_plan.nextLine.empty()) {
            TRY(enter(GitStep::moving));
            TRY(switchBranch());
            TRY(enter(GitStep::finishing));
            (void)m_hooks.run(HookPoint::afterSwitch);
        } else if (m_state.commit != m_plan.expected || !m_plan.detached.isNull()) {
            TRY(enter(GitStep::moving));
            TRY(moveBranch());
            TRY(enter(GitStep::finishing));
            endBegun(m_place, m_state);
            runHooksAfterwards();
        }
        return ok();
    }

    /// What the files are to hold in the end, upon what was recorded.
    Status putWorkThere()
    {
        if (!m_trees.empty() && m_state.resultTree != m_plannedTree) {
            // Hooks have staged something besides: it is recorded, and it stays in the files.
            TRY_ASSIGN(const auto work, treeDifference(m_place, m_plannedTree, m_state.afterTree));
            ResultSnapshot upon{m_state.resultTree, {}};
            for (const FileChange& change : work) {
                upon.edits.push_back({change.path, change.after, nullptr});
            }
            TRY_ASSIGN(m_state.afterTree, m_place.storeTree(upon));
        }
        TRY(enter(GitStep::carrying));
        TRY(m_files.carry(m_state.resultTree, m_state.afterTree));
        return m_files.intend(m_state.intended);
    }

    /// A commit of the person's own work, not a join.
    [[nodiscard]] bool isOwnCommit() const
    {
        return !isRebase() && m_plan.commits.size() == 1 + m_plan.carried
               && m_plan.commits.front().parents.size() == 1;
    }

    [[nodiscard]] bool isRebase() const { return !m_plan.onto.empty(); }

    /// The one that the message is for; those behind it are carried along.
    [[nodiscard]] std::size_t ownCommit() const
    {
        return m_plan.commits.size() - 1 - m_plan.carried;
    }

    [[nodiscard]] bool isMerge() const
    {
        return m_plan.commits.size() == 1 + m_plan.carried
               && m_plan.commits.front().parents.size() > 1;
    }

    /// git ignores what these hooks answer: it is done.
    void runHooksAfterwards()
    {
        if (!m_state.rewritten.empty()) {
            m_hooks.tellRewritten(m_state.rewritten);
        }
        if (isRebase()) {
            return;
        }
        if (!m_plan.keepsFiles && !m_plan.joinsNothing) {
            (void)m_hooks.run(isOwnCommit() ? HookPoint::afterCommit : HookPoint::afterMerge);
        }
    }

    Status writeCommits()
    {
        std::string message = isRebase() ? std::string() : m_plan.commits[ownCommit()].message;
        m_plannedTree = m_trees.back();
        if (isRebase()) {
            // Messages are kept as they were, and hooks of single commits do not run.
        } else if (m_plan.keepsFiles) {
            TRY_ASSIGN(message, checkedMessage(m_place, m_hooks, message, isMerge()));
        } else if (isMerge() || isOwnCommit()) {
            TRY(m_hooks.run(isMerge() ? HookPoint::beforeMergeCommit : HookPoint::beforeCommit));
            TRY_ASSIGN(message, checkedMessage(m_place, m_hooks, message, isMerge()));
            TRY_ASSIGN(m_trees.back(), treeAfterHooks());
            m_state.resultTree = m_trees.back();
        }
        for (std::size_t i = 0; i < m_plan.commits.size(); ++i) {
            const bool isOwn = !isRebase() && i == ownCommit();
            const PlannedCommit& commit = m_plan.commits[i];
            TRY_ASSIGN(m_state.commit,
                       writeCommit(m_place,
                                   commit,
                                   m_trees[i],
                                   isOwn ? message : commit.message,
                                   m_state.commit,
                                   m_stop));
            if (!commit.note.empty()) {
                m_notes.push_back({m_state.commit, commit.note});
            }
            if (!commit.rewrites.isNull()) {
                m_state.rewritten.push_back({commit.rewrites, m_state.commit});
            }
            if (m_progress && m_plan.commits.size() > 1) {
                m_progress({ProgressStep::writingCommits, {}, i + 1, m_plan.commits.size()});
            }
        }
        return m_notes.empty() ? ok() : writeNotesBeside();
    }

    /// What is left beside the commits; it comes into force in the step in which the branch moves.
    Status writeNotesBeside()
    {
        TRY_ASSIGN(const auto writer, m_place.identity());
        TRY_ASSIGN(m_notesBefore, tipOfRef(m_place.git(), kOwnNotes));
        TRY_ASSIGN(m_notesAfter,
                   writeNotes(m_place.git(),
                              m_notesBefore,
                              m_notes,
                              writer.value_or(Signature{}),
                              kNotesBeingWritten));
        return ok();
    }

    /// The joined tree, with what hooks have staged besides. What was joined must still be staged as
    /// it was joined: hooks, or somebody meanwhile, must not change it unseen.
    Result<ObjectId> treeAfterHooks()
    {
        const auto staged = m_index.tree();
        if (!staged) {
            return Error{ErrorCode::refused, {}, staged.error().detail, Reason::hookChangedResult};
        }
        TRY_ASSIGN(const auto differing, treeDifference(m_place, m_state.resultTree, *staged));
        std::set<RepoPath> joined;
        for (const FileChange& change : m_changes) {
            joined.insert(change.path);
        }
        std::vector<RepoPath> changed;
        bool keepsAnything = false;
        for (const FileChange& change : differing) {
            if (joined.contains(change.path)) {
                changed.push_back(change.path);
            }
            keepsAnything = keepsAnything || change.after;
        }
        const bool isEmptied =
            !differing.empty() && !keepsAnything && *staged == m_place.idOfTree({});
        // What stands upon the commit does not hold what was staged besides.
        const bool hasNoPlace = !differing.empty() && m_plan.carried > 0;
        if (!changed.empty() || isEmptied || hasNoPlace) {
            return Error{ErrorCode::refused, listOf(changed), {}, Reason::hookChangedResult};
        }
        return *staged;
    }

    /// Hooks take their time, and somebody may have checked out another branch meanwhile, here or in
    /// another working tree: then the files that the result was brought to are not this branch's any more.
    Status checkStillThere()
    {
        if (m_plan.keepsFiles) {
            return m_place.checkNotCheckedOut(m_plan.line);
        }
        TRY_ASSIGN(const Standing standing, m_place.standing());
        const bool isThere = m_plan.detached.isNull()
                                 ? standing.ref == m_plan.line
                                 : standing.ref.empty() && standing.tip == m_plan.detached;
        if (!isThere) {
            return Error{ErrorCode::stale,
                         standing.ref.empty() ? standing.tip.brief() : standing.name,
                         {},
                         Reason::switched};
        }
        return m_plan.detached.isNull() ? ok() : m_place.checkNotCheckedOut(m_plan.line);
    }

    Status moveBranch()
    {
        TRY(checkStillThere());
        TRY(moveLine(m_plan.expected, m_state.commit, true));
        if (m_plan.detached.isNull()) {
            return ok();
        }
        auto led = leadTo(m_place, m_plan.line, m_plan.reason);
        if (!led) {
            TRY(moveLine(m_state.commit, m_plan.expected));
        }
        return led;
    }

    /// `withNotes`: what is to stand beside the new commits does so from then on.
    Status moveLine(const ObjectId& from, const ObjectId& to, bool withNotes = false)
    {
        if (from == to) {
            return ok();
        }
        const auto update =
            [](const std::string& ref, const ObjectId& after, const ObjectId& before) {
                return ("update " + ref).append(1, '\0').append(after.hex()).append(1, '\0')
                       + before.hex().append(1, '\0');
            };
        std::string request = update(m_plan.line, to, from);
        if (withNotes && !m_notesAfter.isNull()) {
            // No notes before: a null id, of as many digits as any other.
            const ObjectId none = ObjectId::fromHex(std::string(to.hex().size(), '0')).value_or(to);
            request +=
                update(kOwnNotes, m_notesAfter, m_notesBefore.isNull() ? none : m_notesBefore);
            request.append("delete " + refOfWritten(kNotesBeingWritten)).append(2, '\0');
        }
        GitRunOptions options;
        options.input = request;
        options.purpose = RunFor::acting;
        TRY_ASSIGN(
            const GitOutput moved,
            m_place.git().run({"update-ref", "-m", m_plan.reason, "--stdin", "-z"}, options));
        if (moved.exitCode == 0) {
            return ok();
        }
        Error error = writingError(m_plan.lineName, moved.err);
        TRY_ASSIGN(const ObjectId tip, m_place.resolveCommit(m_plan.line));
        if (tip == to) {
            return ok();  // it has moved, whatever was said afterwards
        }
        if (tip != from) {
            error.code = ErrorCode::stale;
            error.reason = Reason::lineMoved;
        }
        return error;
    }

    Status switchBranch()
    {
        // A moment ago both were looked at; the files hold what the next one stood at then.
        TRY_ASSIGN(const Standing standing, m_place.standing());
        if (standing.ref != m_plan.line) {
            return Error{ErrorCode::stale, standing.name, {}, Reason::switched};
        }
        TRY(m_place.checkNotCheckedOut(m_plan.nextLine));
        TRY(m_place.checkLine(m_plan.nextLine, m_plan.target));
        return leadTo(m_place, m_plan.nextLine, m_plan.reason);
    }

    /// Everything back to where the branch stands, and the error that led here.
    Error undo(Error error)
    {
        if (m_plan.keepsFiles) {
            return error;  // nothing but the branch would have changed
        }
        // Going back must not depend on a full disk taking one more note.
        (void)enter(GitStep::undoing);
        std::vector<RepoPath> unstaged;
        auto undone = [&]() -> Result<std::vector<RepoPath>> {
            TRY_ASSIGN(const Standing standing, m_place.standing());
            TRY_ASSIGN(const ObjectId tipTree, treeOf(m_place, standing.tip));
            const ObjectId target = treeToGoBackTo(m_state, tipTree);
            const Strangers strangers =
                m_state.workTree.isNull() ? Strangers::setAside : Strangers::refuse;
            TRY_ASSIGN(auto aside, m_files.goBack(m_state, target, strangers));
            if (!m_state.begun.empty() && target == m_state.workTree) {
                TRY(m_index.putBack());
                return aside;
            }
            TRY_ASSIGN(unstaged,
                       m_index.stage(target == m_state.workTree ? m_state.stagedTree : tipTree));
            if (target == m_state.workTree) {
                unstaged.clear();  // they were the person's own
                TRY(m_files.intend(m_state.intended));
            }
            return aside;
        }();
        if (!undone) {
            Error left = std::move(undone).error();
            return {left.code, left.subject, error.detail + "\n" + left.detail, Reason::notUndone};
        }
        if (!undone->empty()) {
            error.detail += "\nChanged while hooks ran, and kept in the folder set-aside of "
                            + m_place.gitFolder() + "/rope-splice: " + listOf(*undone);
        }
        if (!unstaged.empty()) {
            error.detail +=
                "\nStaged while hooks ran, and no longer staged; the files stay as they "
                "are: "
                + listOf(unstaged);
        }
        if (error.reason == Reason::none && error.code == ErrorCode::stale) {
            error.reason = Reason::inTheWay;
        }
        return error;
    }

    GitPlace& m_place;
    WorkingTree m_files;
    GitIndex m_index;
    const RecordingPlan& m_plan;
    const NoteSink& m_note;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    RecordingState m_state;
    std::vector<CommitNote> m_notes;
    ObjectId m_notesBefore;             ///< All own notes; null: there were none.
    ObjectId m_notesAfter;              ///< With those of this recording.
    std::vector<RepoPath> m_openPaths;  ///< Of a begun join: those that are half-joined.
    ObjectId m_others;                  ///< What is uncommitted besides it.
    std::vector<ObjectId> m_trees;      ///< Of the planned commits, in order.
    ObjectId m_plannedTree;             ///< Of the last one, before hooks staged anything.
    std::vector<FileChange> m_changes;  ///< Ours to result.
    std::vector<FileChange>
        m_converted;  ///< Uncommitted files as they stand, and as git stores them.
    GitHooks m_hooks;
};
}  // namespace

Result<RecordOutcome> GitPlace::record(const RecordingPlan& plan,
                                       const NoteSink& note,
                                       const ProgressSink& progress,
                                       const std::stop_token& stop)
{
    return GitRecording(*this, plan, note, progress, stop).run();
}
}  // namespace rope
