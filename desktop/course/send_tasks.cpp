// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/course/send_tasks.h"

#include "core/history/divergence.h"
#include "core/join/forecast.h"
#include "core/plan/second_round.h"
#include "desktop/wording/merge_words.h"

#include <QDateTime>

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMostLogbookRows = 12;

/// What is compared with when the remote has no such branch yet: what the own branch follows, else
/// the remote's branch that is nearest by name.
ObjectId groundOf(const std::vector<Branch>& branches, const SendFacts& facts)
{
    if (!facts.target.known.isNull()) {
        return facts.target.known;
    }
    const auto tipOf = [&branches](const std::string& ref) {
        const auto found = std::find_if(
            branches.begin(), branches.end(), [&](const Branch& b) { return b.ref == ref; });
        return found == branches.end() ? ObjectId{} : found->tip;
    };
    const auto own = std::find_if(branches.begin(), branches.end(), [&](const Branch& branch) {
        return branch.ref == facts.line;
    });
    if (own != branches.end() && !tipOf(own->upstreamRef).isNull()) {
        return tipOf(own->upstreamRef);
    }
    const auto shared = std::find_if(
        branches.begin(), branches.end(), [](const Branch& branch) { return branch.isShared; });
    return shared == branches.end() ? ObjectId{} : shared->tip;
}

/// The branch that is sent: the one that was picked to join into, else the one checked out.
Status addLine(Place& place,
               const std::vector<Branch>& branches,
               const std::string& picked,
               SendFacts& facts)
{
    const auto own = std::find_if(branches.begin(), branches.end(), [&](const Branch& branch) {
        return !picked.empty() && branch.ref == picked;
    });
    if (own != branches.end()) {
        facts.line = own->ref;
        facts.lineName = own->name;
        facts.tip = own->tip;
        return ok();
    }
    TRY_ASSIGN(const Standing standing, place.standing());
    facts.line = standing.ref;
    facts.lineName = standing.name;
    facts.tip = standing.tip;
    return ok();
}

/// The splices of this place, and the one that made the tip.
Status addLogbook(Journal& journal, SendFacts& facts)
{
    for (const SpliceState state : kSpliceStates) {
        TRY_ASSIGN(const auto entries, journal.splices(state));
        facts.logbook.insert(facts.logbook.end(), entries.begin(), entries.end());
        for (const JournalEntry& entry : entries) {
            if (!facts.recorded && state == SpliceState::recorded && entry.recorded == facts.tip
                && entry.plan.oursRef == facts.line && entry.plan.kind == SpliceKind::merge) {
                facts.recorded = entry;
                TRY_ASSIGN(facts.decisions, journal.decisions(entry.plan.id));
            }
        }
    }
    std::stable_sort(facts.logbook.begin(), facts.logbook.end(), [](const auto& a, const auto& b) {
        return a.startedAt > b.startedAt;
    });
    if (facts.logbook.size() > kMostLogbookRows) {
        facts.logbook.resize(kMostLogbookRows);
    }
    return ok();
}
}  // namespace

Result<SendFacts> sendFacts(const PlaceAddress& address, const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto branches, place->branches());
    SendFacts facts;
    TRY(addLine(*place, branches, address.into, facts));
    facts.readAt = QDateTime::currentSecsSinceEpoch();
    if (facts.line.empty() || facts.tip.isNull()) {
        return facts;
    }
    TRY_ASSIGN(facts.target, place->sendTarget(facts.line));
    for (const Branch& branch : branches) {
        facts.followsSomething =
            facts.followsSomething || (branch.ref == facts.line && !branch.upstreamRef.empty());
    }
    if (const ObjectId ground = groundOf(branches, facts); !ground.isNull()) {
        TRY_ASSIGN(const Divergence apart, findDivergence(*place, facts.tip, ground, stop));
        facts.commitCount = apart.oursOnly.size();
        TRY_ASSIGN(facts.commits, readListed(*place, apart.oursOnly));
        if (ground == facts.target.known) {
            facts.lackingCount = apart.theirsOnly.size();
            TRY_ASSIGN(facts.lacking, readListed(*place, apart.theirsOnly));
        }
    } else {
        const ObjectId ids[] = {facts.tip};
        TRY_ASSIGN(facts.commits, place->readCommits(ids));
        facts.commitCount = 1;
    }
    // Without a journal there is no logbook; pushing works all the same.
    if (auto journal = journalOf(*place)) {
        TRY(addLogbook(**journal, facts));
    }
    return facts;
}

Result<Proof> sendAndAsk(const PlaceAddress& address,
                         const SendFacts& facts,
                         bool replaces,
                         const ProgressSink& progress,
                         const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    place->setAsking(address.asking);
    const auto now = place->resolveCommit(facts.line);
    if (!now || *now != facts.tip) {
        return Error{ErrorCode::stale,
                     facts.lineName,
                     now ? "now at " + now->hex() : now.error().detail,
                     Reason::lineMoved};
    }
    Proof proof{
        facts.target.remote, facts.target.name, facts.tip, {}, {}, facts.commitCount, 0, {}};
    TRY_ASSIGN(proof.words,
               place->send({facts.target.remote,
                            facts.target.name,
                            facts.tip,
                            replaces ? facts.target.known : ObjectId{},
                            facts.followsSomething ? std::string() : facts.line},
                           progress,
                           stop));
    // The commits have arrived: what is said of them is sent after them, and cannot undo that.
    if (const auto notes = place->sendNotes(facts.target.remote, stop)) {
        proof.noteCount = *notes;
    } else {
        proof.notesTrouble = notes.error();
    }
    if (progress) {
        progress({ProgressStep::askingRemote, facts.target.remote, 0, 0});
    }
    TRY_ASSIGN(const RemoteLines there, place->ask(facts.target.remote, stop));
    proof.there = there.tipOf(facts.target.name);
    if (auto journal = journalOf(*place)) {
        (void)(*journal)->noteAsked(facts.target.remote, QDateTime::currentSecsSinceEpoch());
    }
    return proof;
}

namespace {
/// What joining again would mean, once with one merge commit in place of the one not sent, once with
/// another one on top; in words.
Result<SecondRound> roundOn(Place& place,
                            const SplicePlan& plan,
                            const std::shared_ptr<const Forecast>& forecast,
                            const std::vector<Decision>& decisions)
{
    TRY_ASSIGN(RoundForecast made, forecastRound(place, forecast, decisions));
    SecondRound round;
    round.theirs = plan.theirs;
    round.replaced = plan.replaced;
    round.open = made.open;
    round.carried = made.carried;
    round.openFiles = std::move(made.openFiles);
    for (const LostDecision& lost : made.lost) {
        round.lost.push_back(lostInWords(lost).toStdString());
    }
    return round;
}

/// Whether the splice that was not sent joined the very branch that it is sent to, in one merge commit.
bool joinedItsTarget(const SendFacts& facts)
{
    return facts.recorded && facts.recorded->plan.kind == SpliceKind::merge
           && facts.recorded->carried == 0 && facts.recorded->plan.theirsName == facts.targetName();
}

Status addRounds(Place& place,
                 const SendFacts& facts,
                 const ProgressSink& progress,
                 const std::stop_token& stop,
                 Refusal& refusal)
{
    TRY(place.fetch({}, progress, stop));
    TRY_ASSIGN(const SendTarget target, place.sendTarget(facts.line));
    if (target.known.isNull() || target.known == facts.target.known) {
        return ok();
    }
    TRY_ASSIGN(const Divergence apart, findDivergence(place, facts.tip, target.known, stop));
    refusal.arrivedCount = apart.theirsOnly.size();
    TRY_ASSIGN(refusal.arrived, readListed(place, apart.theirsOnly));
    if (!facts.target.known.isNull()) {
        TRY_ASSIGN(const Divergence moved,
                   findDivergence(place, target.known, facts.target.known, stop));
        refusal.isRewritten = !moved.theirsOnly.empty();
    }
    const auto forecast = [&](const ObjectId& ours) -> Result<std::shared_ptr<const Forecast>> {
        TRY_ASSIGN(Forecast made, forecastJoin(place, ours, target.known, {}, progress, stop));
        return std::make_shared<const Forecast>(std::move(made));
    };
    SplicePlan plan{{}, facts.line, facts.lineName, facts.targetName(), facts.tip, target.known};
    TRY_ASSIGN(const auto onTop, forecast(facts.tip));
    TRY_ASSIGN(refusal.onTop, roundOn(place, plan, onTop, {}));
    if (joinedItsTarget(facts) && !refusal.isRewritten) {
        plan.ours = facts.recorded->plan.ours;
        plan.replaced = facts.tip;
        TRY_ASSIGN(const auto inPlace, forecast(plan.ours));
        TRY_ASSIGN(refusal.inPlace, roundOn(place, plan, inPlace, facts.decisions));
    }
    return ok();
}
}  // namespace

Refusal lookIntoRefusal(const PlaceAddress& address,
                        const SendFacts& facts,
                        const Error& error,
                        const ProgressSink& progress,
                        const std::stop_token& stop)
{
    Refusal refusal;
    refusal.error = error;
    if (error.reason != Reason::remoteMovedOn) {
        return refusal;
    }
    auto place = openPlace(address.folder, address.permissions);
    if (!place) {
        return refusal;
    }
    (*place)->setAsking(address.asking);
    if (const auto added = addRounds(**place, facts, progress, stop, refusal); !added) {
        refusal.inPlace.reset();
        refusal.onTop.reset();
        refusal.error.detail += "\n" + added.error().detail;
    }
    refusal.readAt = QDateTime::currentSecsSinceEpoch();
    return refusal;
}

namespace {
/// Whether one commit holds all of another.
bool holds(Place& place, const ObjectId& commit, const ObjectId& other, const std::stop_token& stop)
{
    const auto apart = findDivergence(place, commit, other, stop);
    return apart && apart->relation != Relation::unrelated && apart->theirsOnly.empty();
}

std::optional<MergedBranch> mergedBranch(Place& place,
                                         const RemoteLines& lines,
                                         const SendFacts& facts,
                                         const std::stop_token& stop)
{
    const std::string prefix = facts.target.remote + "/";
    if (!facts.recorded || !facts.recorded->plan.theirsName.starts_with(prefix)) {
        return std::nullopt;
    }
    const std::string name = facts.recorded->plan.theirsName.substr(prefix.size());
    const ObjectId tip = lines.tipOf(name);
    if (name == facts.target.name || name == lines.first || tip.isNull()
        || !holds(place, facts.tip, tip, stop)) {
        return std::nullopt;
    }
    return MergedBranch{facts.target.remote, name, tip};
}
}  // namespace

namespace {
/// A forecast, where the remote's newest commit is here.
std::optional<PairOutcome> outcomeIntoMain(Place& place,
                                           const ObjectId& main,
                                           const ObjectId& sent,
                                           const std::stop_token& stop)
{
    if (main.isNull() || !place.readCommits({&main, 1})) {
        return std::nullopt;
    }
    const auto forecast = forecastJoin(place, main, sent, {}, {}, stop);
    return forecast ? std::optional(outcomeOf(*forecast)) : std::nullopt;
}
}  // namespace

AfterPush
afterPush(const PlaceAddress& address, const SendFacts& facts, const std::stop_token& stop)
{
    AfterPush after;
    const auto place = openPlace(address.folder, address.permissions);
    if (!place) {
        return after;
    }
    (*place)->setAsking(address.asking);
    const auto lines = (*place)->ask(facts.target.remote, stop);
    const auto branches = (*place)->branches();
    const auto standing = (*place)->standing();
    if (!lines || !branches || !standing) {
        return after;
    }
    after.merged = mergedBranch(**place, *lines, facts, stop);
    const std::string shared = facts.target.remote + "/" + lines->first;
    if (facts.target.name != lines->first && !lines->first.empty()) {
        after.mainName = shared;
        after.intoMain = outcomeIntoMain(**place, lines->tipOf(lines->first), facts.tip, stop);
    }
    for (const Branch& branch : *branches) {
        const auto followed =
            std::find_if(branches->begin(), branches->end(), [&](const Branch& other) {
                return other.ref == branch.upstreamRef;
            });
        const bool followsMain = followed != branches->end() && followed->name == shared;
        if (!branch.isShared && followsMain && branch.ref != standing->ref) {
            after.teamMain = branch;
        }
        if (!branch.isShared && after.merged && branch.name == after.merged->name
            && branch.ref != facts.line && branch.ref != standing->ref
            && holds(**place, facts.tip, branch.tip, stop)) {
            after.ownMerged = branch;
        }
    }
    return after;
}

Status removeHere(const PlaceAddress& address, const Branch& branch)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    return place->removeOwnLine(branch.ref, branch.tip);
}

Status removeFromRemote(const PlaceAddress& address,
                        const MergedBranch& branch,
                        const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    place->setAsking(address.asking);
    return place->removeLine(branch.remote, branch.name, branch.tip, stop);
}
}  // namespace rope
