// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/app/send_tasks.h"

#include "core/history/divergence.h"
#include "core/splice/carry_over.h"
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

/// The splices of this place, and the one that made the tip.
Status addLogbook(Journal& journal, SendFacts& facts)
{
    for (const SpliceState state : {SpliceState::recorded,
                                    SpliceState::open,
                                    SpliceState::recording,
                                    SpliceState::abandoned}) {
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
    TRY_ASSIGN(const Standing standing, place->standing());
    SendFacts facts;
    facts.line = standing.ref;
    facts.lineName = standing.name;
    facts.tip = standing.tip;
    facts.readAt = QDateTime::currentSecsSinceEpoch();
    if (facts.line.empty() || facts.tip.isNull()) {
        return facts;
    }
    TRY_ASSIGN(facts.target, place->sendTarget(facts.line));
    TRY_ASSIGN(const auto branches, place->branches());
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
                         const ProgressSink& progress,
                         const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    place->setAsking(address.asking);
    TRY_ASSIGN(const Standing now, place->standing());
    if (now.ref != facts.line || now.tip != facts.tip) {
        return Error{
            ErrorCode::stale, facts.lineName, "now at " + now.tip.hex(), Reason::lineMoved};
    }
    Proof proof{facts.target.remote, facts.target.name, facts.tip, {}, {}, facts.commitCount};
    TRY_ASSIGN(proof.words,
               place->send({facts.target.remote,
                            facts.target.name,
                            facts.tip,
                            {},
                            facts.followsSomething ? std::string() : facts.line},
                           progress,
                           stop));
    if (progress) {
        progress({"asking " + facts.target.remote + " what it has now", 0, 0});
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
/// another one on top.
SecondRound roundOn(const SplicePlan& plan,
                    const std::shared_ptr<const Forecast>& forecast,
                    const std::vector<Decision>& decisions)
{
    SecondRound round;
    round.theirs = plan.theirs;
    round.replaced = plan.replaced;
    Splice splice(plan, forecast);
    const CarriedOver carried = carryOver(decisions, splice);
    splice.put(carried.placed);
    round.carried = carried.placed.size();
    for (const LostDecision& lost : carried.lost) {
        round.lost.push_back(lostInWords(lost).toStdString());
    }
    round.open = splice.openCount();
    for (const SpliceFile& file : splice.files()) {
        if (file.openCount() > 0) {
            round.openFiles.push_back(file.outcome->path);
        }
    }
    return round;
}

/// Whether the splice that was not sent joined the very branch that it is sent to.
bool joinedItsTarget(const SendFacts& facts)
{
    return facts.recorded && facts.recorded->plan.theirsName == facts.targetName();
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
    refusal.onTop = roundOn(plan, onTop, {});
    if (joinedItsTarget(facts) && !refusal.isRewritten) {
        plan.ours = facts.recorded->plan.ours;
        plan.replaced = facts.tip;
        TRY_ASSIGN(const auto inPlace, forecast(plan.ours));
        refusal.inPlace = roundOn(plan, inPlace, facts.decisions);
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

std::optional<MergedBranch>
mergedBranch(const PlaceAddress& address, const SendFacts& facts, const std::stop_token& stop)
{
    const auto place = openPlace(address.folder, address.permissions);
    const std::string prefix = facts.target.remote + "/";
    if (!place || !facts.recorded || !facts.recorded->plan.theirsName.starts_with(prefix)) {
        return std::nullopt;
    }
    (*place)->setAsking(address.asking);
    const std::string name = facts.recorded->plan.theirsName.substr(prefix.size());
    const auto lines = (*place)->ask(facts.target.remote, stop);
    if (!lines || name == facts.target.name || name == lines->first) {
        return std::nullopt;
    }
    const ObjectId tip = lines->tipOf(name);
    const auto apart =
        tip.isNull() ? Result<Divergence>(Error{}) : findDivergence(**place, facts.tip, tip, stop);
    if (!apart || !apart->theirsOnly.empty()) {
        return std::nullopt;
    }
    return MergedBranch{facts.target.remote, name, tip};
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
