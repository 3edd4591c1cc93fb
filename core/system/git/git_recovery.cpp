// SPDX-License-Identifier: GPL-3.0-or-later
// What becomes of a recording that was cut off, and handing decisions back to a begun join.
// Tested by tst_recorder.cpp, tst_begun_join.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/recording_steps.h"
#include "core/system/git/working_tree.h"

#include <QDateTime>

namespace rope {
namespace {
/// Whether a branch holds a commit of ours that was made upon `ours`: it, or later ones upon it.
Result<bool>
contains(const GitPlace& place, const ObjectId& tip, const ObjectId& commit, const ObjectId& ours)
{
    if (tip == commit) {
        return true;
    }
    TRY_ASSIGN(const std::string listed,
               place.git().output({"rev-list", tip.hex(), "^" + ours.hex()}));
    return mentions(listed, commit.hex());
}

Status carryBack(WorkingTree& files, const RecordingState& state)
{
    TRY(files.carry(state.resultTree, state.afterTree));
    return files.intend(state.intended);
}

/// Finishes a recording whose commit the branch holds; nothing: it holds it not.
Result<std::optional<RecordOutcome>>
finishIfRecorded(GitPlace& place, WorkingTree& files, const RecordingState& state)
{
    if (state.commit.isNull()) {
        return std::optional<RecordOutcome>{};
    }
    if (!state.nextRef.empty()) {
        TRY_ASSIGN(const Standing standing, place.standing());
        if (standing.ref != state.nextRef) {
            return std::optional<RecordOutcome>{};
        }
        if (!state.afterTree.isNull() && standing.tip == state.commit) {
            TRY(carryBack(files, state));
        }
        return std::optional(RecordOutcome{state.commit, {}, state.rewritten});
    }
    const auto tip = place.resolveCommit(state.ref);
    if (!tip && tip.error().code == ErrorCode::notFound) {
        return std::optional<RecordOutcome>{};
    }
    if (!tip) {
        return tip.error();
    }
    TRY_ASSIGN(const bool isThere, contains(place, *tip, state.commit, state.ours));
    if (!isThere) {
        return std::optional<RecordOutcome>{};
    }
    if (!state.detached.isNull()) {
        TRY_ASSIGN(const Standing standing, place.standing());
        if (standing.ref.empty() && standing.tip == state.detached) {
            TRY(leadTo(place, state.ref, "rebase finished: spliced"));
        }
    }
    endBegun(place, state);
    if (!state.afterTree.isNull() && *tip == state.commit) {
        TRY(carryBack(files, state));
    }
    return std::optional(RecordOutcome{state.commit, {}, state.rewritten});
}
}  // namespace

Result<std::optional<RecordOutcome>> GitPlace::recover(const RecordingNote& note)
{
    const auto state = stateOf(note);
    if (!state) {
        return Error{
            ErrorCode::corrupt, "recording", note.substr(0, 500), Reason::journalUnreadable};
    }
    WorkingTree files(*this);
    GitIndex index(*this);
    index.removeLeftLock(state->notedAt);
    TRY_ASSIGN(auto finished, finishIfRecorded(*this, files, *state));
    const bool isHandedBack = state->step == GitStep::finishing && state->commit.isNull();
    if (finished || state->keepsFiles || isHandedBack) {
        return finished;
    }
    TRY_ASSIGN(const Standing now, standing());
    TRY_ASSIGN(const ObjectId tipTree, treeOf(*this, now.tip));
    const ObjectId target = treeToGoBackTo(*state, tipTree);
    TRY_ASSIGN(const auto aside, files.goBack(*state, target, Strangers::refuse));
    (void)aside;  // none: strangers are refused
    if (target == state->workTree && !state->begun.empty()) {
        TRY(index.putBack());
    } else if (target == state->workTree) {
        TRY(index.stage(state->stagedTree));
        TRY(files.intend(state->intended));
    }
    return std::optional<RecordOutcome>{};
}

Status GitPlace::handBack(const HandBack& work, const NoteSink& note)
{
    WorkingTree files(*this);
    GitIndex index(*this);
    TRY_ASSIGN(const BegunTrees trees, begunTreesOf(*this, work.begun));
    TRY_ASSIGN(const Standing standing, this->standing());
    RecordingState state;
    state.step = GitStep::handingBack;
    state.ref = standing.ref;
    state.ours = standing.tip;
    TRY_ASSIGN(state.oursTree, treeOf(*this, standing.tip));
    state.begun = begunHeads();
    state.workTree = trees.all;
    state.notedAt = QDateTime::currentSecsSinceEpoch();
    TRY_ASSIGN(state.resultTree, storeTree({trees.all, work.edits}));
    TRY(index.keep());
    TRY(note(noteOf(state)));
    const auto write = [&]() -> Status {
        RecordingState forward;
        forward.oursTree = state.workTree;
        forward.resultTree = state.resultTree;
        TRY(files.goBack(forward, state.resultTree, Strangers::refuse));
        TRY(index.putBack());
        return index.settle(work.settled, state.resultTree);
    };
    auto written = write();
    if (!written) {
        // Back to what it was; where that fails too, the note says so to the next start.
        auto undone = files.goBack(state, state.workTree, Strangers::refuse);
        auto isPut = undone ? index.putBack() : Status(std::move(undone).error());
        if (!isPut) {
            return Error{written.error().code,
                         written.error().subject,
                         isPut.error().detail,
                         Reason::notUndone};
        }
    }
    if (written) {
        // From here on it is done, and what stood there before is needed no more.
        state.step = GitStep::finishing;
        TRY(note(noteOf(state)));
        index.forgetKept();
    }
    return written;
}
}  // namespace rope
