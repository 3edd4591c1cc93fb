// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/plan/recording_plan.h"

#include "core/plan/commit_message.h"
#include "core/plan/decision_note.h"
#include "core/text/tidied_message.h"

namespace rope {
namespace {
Status checkMarkers(const Splice& splice)
{
    if (const auto left = splice.markersLeft(); !left.empty()) {
        return Error{ErrorCode::invalidInput,
                     left.front().path + ":" + std::to_string(left.front().line + 1),
                     {},
                     Reason::markersLeft};
    }
    return ok();
}

Result<std::string> checkedMessage(const std::string& message, const std::string& commentStart = {})
{
    std::string tidy = tidiedMessage(message, commentStart);
    if (tidy.empty()) {
        return Error{ErrorCode::invalidInput, "message", {}, Reason::emptyMessage};
    }
    return tidy;
}

/// What every plan of a splice begins with.
RecordingPlan planUpon(const SplicePlan& plan)
{
    RecordingPlan recording;
    recording.line = plan.oursRef;
    recording.lineName = plan.oursName;
    recording.expected = plan.expected();
    recording.target = recording.expected;
    recording.work = plan.kind == SpliceKind::bringBack ? ObjectId{} : plan.work;
    recording.keepsFiles = plan.workChoice == WorkChoice::filesStay;
    recording.begun = plan.begun;
    if (!plan.begun.empty() && plan.kind == SpliceKind::rebase) {
        recording.detached = plan.theirs;
    }
    return recording;
}

std::vector<ObjectId> parentsOf(const SplicePlan& plan)
{
    if (plan.isCorrection()) {
        return {plan.expected()};
    }
    return factsOf(plan.kind).isOnTop ? std::vector{plan.ours}
                                      : std::vector{plan.ours, plan.theirs};
}

/// What was decided in a leg, to stand beside its commit; empty: nothing was, or it is not wished for.
std::string noteOn(const Splice& splice, std::size_t leg, const RecordingWishes& wishes)
{
    const auto decisions =
        wishes.leavesNotes ? notedDecisions(splice, leg) : std::vector<NotedDecision>{};
    return decisions.empty() ? std::string() : noteText(decisions);
}

/// One commit for each that is written anew, from `first` on; those of which nothing is left are skipped.
Status planRewriting(const Splice& splice,
                     std::size_t first,
                     const RecordingWishes& wishes,
                     RecordingPlan& recording)
{
    const SplicePlan& plan = splice.plan();
    for (std::size_t leg = first; leg < splice.standings().size(); ++leg) {
        const LegStanding& standing = splice.standings()[leg];
        if (plan.skips(standing)) {
            continue;
        }
        PlannedCommit commit;
        TRY_ASSIGN(commit.result, splice.result(leg));
        commit.parents = {recording.commits.empty() ? plan.theirs : ObjectId{}};
        commit.encoding = standing.commit.encoding;
        commit.note = noteOn(splice, leg, wishes);
        if (standing.as == LaidAs::reverted) {
            commit.message = revertMessage(standing.commit);
        } else {
            commit.message = standing.commit.message;
            commit.author = standing.commit.author;
        }
        if (standing.as == LaidAs::rewritten) {
            commit.rewrites = standing.commit.id;
        }
        recording.commits.push_back(std::move(commit));
        recording.carried += standing.isCarried ? 1U : 0U;
    }
    return ok();
}

std::string reasonToMove(const SplicePlan& plan)
{
    switch (plan.kind) {
    case SpliceKind::rebase:
        return "rebase onto " + plan.theirsName + ": nothing left to rewrite";
    case SpliceKind::rollBack:
        return "roll back: to before joining " + plan.theirsName;
    case SpliceKind::rollForward:
        return "roll forward: to joining " + plan.theirsName;
    default:
        return "merge " + plan.theirsName + ": fast-forward";
    }
}

Status planWork(const Splice& splice, RecordingPlan& recording)
{
    const SplicePlan& plan = splice.plan();
    ROPE_ASSERT(splice.hasWorkLeg()
                    == (plan.workChoice == WorkChoice::carry && !plan.work.isNull()),
                "carried work has a leg, and nothing else has one");
    if (splice.hasWorkLeg()) {
        TRY_ASSIGN(recording.workAfter, splice.result(splice.workLeg()));
    }
    return ok();
}
}  // namespace

Result<RecordingPlan>
recordingPlanOf(const Splice& splice, const std::string& message, const RecordingWishes& wishes)
{
    TRY(checkMarkers(splice));
    const SplicePlan& plan = splice.plan();
    RecordingPlan recording = planUpon(plan);
    if (plan.kind == SpliceKind::rebase) {
        recording.onto = plan.theirsName;
        recording.reason = "rebase onto " + plan.theirsName + ": spliced";
        recording.target = plan.theirs;
        TRY(planRewriting(splice, 0, wishes, recording));
        TRY(planWork(splice, recording));
        return recording;
    }
    if (plan.kind == SpliceKind::fastForward) {
        recording.target = plan.theirs;
        recording.reason = reasonToMove(plan);
        TRY(planWork(splice, recording));
        return recording;
    }
    // What stands upon a merge follows it; a correction stands upon all that.
    const bool carriesCommits = splice.laysCommits() && !plan.isCorrection();
    const std::size_t ownLeg = carriesCommits ? 0 : splice.lastLeg();
    TRY_ASSIGN(ResultSnapshot result, splice.result(ownLeg));
    if (plan.kind == SpliceKind::bringBack) {
        recording.lineName = plan.theirsName;
        recording.workAfter = std::move(result);
        recording.reason = "work brought back: spliced";
        return recording;
    }
    TRY_ASSIGN(const std::string tidy, checkedMessage(message, wishes.commentStart));
    recording.commits.push_back(
        {std::move(result), parentsOf(plan), tidy, {}, {}, {}, noteOn(splice, ownLeg, wishes)});
    if (plan.kind == SpliceKind::pick) {
        recording.commits.back().author = splice.forecast().theirs.author;
    }
    recording.reason =
        plan.kind == SpliceKind::revert ? "revert " + plan.theirs.brief() + ": spliced"
        : plan.kind == SpliceKind::pick ? "cherry-pick " + plan.theirs.brief() + ": spliced"
        : plan.isCorrection()           ? "correct " + plan.replaced.brief() + ": spliced"
                                        : "merge " + plan.theirsName + ": spliced";
    if (carriesCommits) {
        TRY(planRewriting(splice, 1, wishes, recording));
    }
    TRY(planWork(splice, recording));
    return recording;
}

RecordingPlan movePlan(const SplicePlan& plan, const std::optional<ResultSnapshot>& workAfter)
{
    RecordingPlan recording = planUpon(plan);
    recording.target = plan.theirs;
    recording.workAfter = workAfter;
    recording.reason = reasonToMove(plan);
    recording.joinsNothing = factsOf(plan.kind).isRoll;
    recording.onto = plan.kind == SpliceKind::rebase ? plan.theirsName : std::string();
    return recording;
}

RecordingPlan switchPlan(const SplicePlan& plan,
                         const std::string& nextLine,
                         const std::optional<ResultSnapshot>& workAfter)
{
    RecordingPlan recording = planUpon(plan);
    recording.target = plan.theirs;
    recording.nextLine = nextLine;
    recording.workAfter = workAfter;
    recording.reason = "checkout: moving from " + plan.oursName + " to " + plan.theirsName;
    return recording;
}

Result<RecordingPlan> ownCommitPlan(const SplicePlan& plan,
                                    const ObjectId& workTree,
                                    ResultSnapshot chosen,
                                    const std::string& message)
{
    TRY_ASSIGN(const std::string tidy, checkedMessage(message));
    RecordingPlan recording = planUpon(plan);
    recording.commits.push_back({std::move(chosen), {plan.ours}, tidy, {}, {}, {}});
    recording.workAfter = ResultSnapshot{workTree, {}};
    recording.reason = "commit: " + tidy.substr(0, tidy.find('\n'));
    return recording;
}
}  // namespace rope
