// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/course/logbook_tasks.h"

#include "core/decide/inferred_decisions.h"
#include "core/history/commit_graph.h"
#include "core/history/divergence.h"
#include "core/plan/carried_commits.h"
#include "core/plan/decision_note.h"
#include "core/system/path_finder.h"
#include "core/system/tree_difference.h"
#include "core/text/text.h"
#include "desktop/course/logged_decisions.h"
#include "desktop/course/splice_tasks.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QDateTime>

#include <algorithm>
#include <map>
#include <utility>

namespace rope {
namespace {
constexpr std::size_t kMostRows = 300;
constexpr std::size_t kMostFollowed = 60;  // splices of which is found what came after, the newest
constexpr std::size_t kMostAfter = 5;

/// What is listed: what made something, or would.
bool isListed(const JournalEntry& entry, const std::set<std::string>& carriedOn)
{
    const bool isLeftByCommand =
        entry.begunBy == BegunBy::command && entry.state == SpliceState::abandoned;
    const bool isCarriedOn =
        entry.state == SpliceState::abandoned && carriedOn.contains(entry.plan.id);
    return factsOf(entry.plan.kind).isListed && !isLeftByCommand && !isCarriedOn;
}

class LogbookReader
{
public:
    LogbookReader(Place& place, Journal& journal, const std::stop_token& stop)
        : m_place(place)
        , m_journal(journal)
        , m_stop(stop)
    {
    }

    Result<LogbookFacts> read()
    {
        TRY_ASSIGN(m_branches, m_place.branches());
        TRY_ASSIGN(m_standing, m_place.standing());
        TRY_ASSIGN(const auto carriedOn, m_journal.carriedOn());
        TRY(readEntries());
        LogbookFacts facts;
        facts.readAt = QDateTime::currentSecsSinceEpoch();
        for (const JournalEntry& entry : m_entries) {
            if (m_stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            if (isListed(entry, carriedOn) && facts.splices.size() < kMostRows) {
                TRY_ASSIGN(LoggedSplice splice, one(entry));
                facts.splices.push_back(std::move(splice));
            }
        }
        return facts;
    }

private:
    Status readEntries()
    {
        for (const SpliceState state : kSpliceStates) {
            TRY_ASSIGN(const auto entries, m_journal.splices(state));
            m_entries.insert(m_entries.end(), entries.begin(), entries.end());
        }
        std::stable_sort(m_entries.begin(), m_entries.end(), [](const auto& a, const auto& b) {
            return a.startedAt > b.startedAt;
        });
        for (const JournalEntry& entry : m_entries) {
            if (entry.state != SpliceState::recorded) {
                continue;
            }
            const auto roll = m_rolls.find(entry.plan.id);
            if (roll != m_rolls.end() && roll->second == SpliceKind::rollBack) {
                continue;  // what it took the place of, or out, stands again
            }
            if (factsOf(entry.plan.kind).isRoll) {
                m_rolls.try_emplace(entry.follows, entry.plan.kind);  // the newest comes first
            } else if (entry.plan.kind == SpliceKind::revert) {
                m_next[entry.plan.theirs] = entry.recorded;
            } else if (!entry.plan.replaced.isNull() && !entry.plan.isCorrection()) {
                m_replaced[entry.plan.replaced] = entry.recorded;
                m_replaced[entry.plan.expected()] = entry.recorded;
            }
        }
        return ok();
    }

    Result<LoggedSplice> one(const JournalEntry& entry)
    {
        LoggedSplice splice;
        splice.entry = entry;
        TRY_ASSIGN(const auto decisions, m_journal.decisions(entry.plan.id));
        std::set<RepoPath> files;
        for (const Decision& decision : decisions) {
            splice.decided += decision.state.isDecided ? 1U : 0U;
            splice.byHand += decision.state.choice == kOwnText ? 1U : 0U;
            files.insert(decision.path);
        }
        splice.files.assign(files.begin(), files.end());
        // Commits of an old splice may be gone: then nobody is named.
        if (const auto theirs = m_place.readCommits({&entry.plan.theirs, 1})) {
            splice.person = theirs->front().author.name;
        }
        splice.state = entry.state == SpliceState::abandoned  ? LogState::putAway
                       : entry.state == SpliceState::givenUp  ? LogState::abandoned
                       : entry.state == SpliceState::recorded ? LogState::recorded
                                                              : LogState::open;
        if (splice.state == LogState::recorded) {
            TRY(followRecorded(splice));
        }
        return splice;
    }

    /// What became of what a splice recorded.
    Status followRecorded(LoggedSplice& splice)
    {
        const JournalEntry& entry = splice.entry;
        const auto branch =
            std::find_if(m_branches.begin(), m_branches.end(), [&](const Branch& one) {
                return one.ref == entry.plan.oursRef;
            });
        splice.isBranchGone = branch == m_branches.end();
        splice.isCheckedOut = m_standing.ref == entry.plan.oursRef;
        splice.isAtTip = !splice.isBranchGone && branch->tip == entry.recorded;
        if (const auto replaced = m_replaced.find(entry.recorded); replaced != m_replaced.end()) {
            splice.state = LogState::replaced;
            splice.next = replaced->second;
            return ok();
        }
        const auto roll = m_rolls.find(entry.plan.id);
        if (roll != m_rolls.end() && roll->second == SpliceKind::rollBack) {
            splice.state = LogState::rolledBack;
            return ok();
        }
        TRY_ASSIGN(splice.made, madeBy(entry));
        if (splice.isBranchGone || entry.recorded.isNull() || m_followed++ >= kMostFollowed) {
            return ok();
        }
        if (!splice.isAtTip) {
            TRY(findAfter(*branch, splice));
        }
        TRY_ASSIGN(splice.isSent, isSent(entry, splice.made));
        if (splice.isSent) {
            splice.state = LogState::sent;
            const auto next = m_next.find(splice.made);
            splice.next = next == m_next.end() ? ObjectId{} : next->second;
        }
        return ok();
    }

    /// The commit of a splice, below those that it carried along.
    Result<ObjectId> madeBy(const JournalEntry& entry)
    {
        ObjectId commit = entry.recorded;
        for (std::size_t i = 0; i < entry.carried; ++i) {
            const auto read = m_place.readCommits({&commit, 1});
            if (!read || read->front().parents.empty()) {
                return entry.recorded;  // of an old splice it may be gone
            }
            commit = read->front().parents.front();
        }
        return commit;
    }

    Status findAfter(const Branch& branch, LoggedSplice& splice)
    {
        const auto apart = findDivergence(m_place, branch.tip, splice.entry.recorded, m_stop);
        if (!apart) {
            return apart.error().code == ErrorCode::cancelled ? Status(apart.error()) : ok();
        }
        if (apart->relation == Relation::oursAhead) {
            splice.afterCount = apart->oursOnly.size();
            splice.isMergeAfter = holdsMerge(apart->oursOnly);
            std::vector<ObjectId> ids;
            for (std::size_t i = 0; i < std::min(kMostAfter, apart->oursOnly.size()); ++i) {
                ids.push_back(apart->oursOnly[i].id);
            }
            TRY_ASSIGN(splice.after, m_place.readCommits(ids));
        }
        return ok();
    }

    /// Whether the remote that the line is sent to had it when it was asked last.
    Result<bool> isSent(const JournalEntry& entry, const ObjectId& made)
    {
        const auto target = m_place.sendTarget(entry.plan.oursRef);
        if (!target || target->known.isNull()) {
            return false;
        }
        const auto apart = findDivergence(m_place, made, target->known, m_stop);
        if (!apart) {
            return apart.error().code == ErrorCode::cancelled ? Result<bool>(apart.error())
                                                              : Result<bool>(false);
        }
        return apart->relation == Relation::same || apart->relation == Relation::theirsAhead;
    }

    Place& m_place;
    Journal& m_journal;
    const std::stop_token& m_stop;
    std::vector<Branch> m_branches;
    Standing m_standing;
    std::vector<JournalEntry> m_entries;        ///< Newest first.
    std::map<std::string, SpliceKind> m_rolls;  ///< By splice, the last one.
    std::map<ObjectId, ObjectId> m_replaced;    ///< A commit and what took its place.
    std::map<ObjectId, ObjectId> m_next;        ///< A commit and what took it out again.
    std::size_t m_followed = 0;
};

Result<std::vector<KeptWork>> readKept(Place& place, Journal& journal, const std::stop_token& stop)
{
    TRY_ASSIGN(const auto others, keptByOthers(place, journal));
    std::vector<KeptWork> kept;
    for (const KeptThing& other : others) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        const auto id = place.keptCommit(other.name);
        const auto commits =
            id ? place.readCommits({&*id, 1}) : Result<std::vector<Commit>>(id.error());
        if (!commits) {
            continue;  // files of a begun join, say, which are no commit
        }
        const Commit& commit = commits->front();
        KeptWork work{other.name,
                      commit.id,
                      other.part == "work",
                      commit.committer.time,
                      0,
                      commit.subject()};
        if (work.isWork && !commit.parents.empty()) {
            TRY_ASSIGN(const auto before, place.readCommits({&commit.parents.front(), 1}));
            TRY_ASSIGN(const auto changes, treeDifference(place, before.front().tree, commit.tree));
            work.files = changes.size();
        }
        kept.push_back(std::move(work));
    }
    std::stable_sort(kept.begin(), kept.end(), [](const KeptWork& a, const KeptWork& b) {
        return a.isWork != b.isWork ? a.isWork : a.at > b.at;
    });
    return kept;
}
}  // namespace

Status letGoKept(const PlaceAddress& address, const KeptWork& kept)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    return place->keepAlive(kept.name, {});
}

Status keepAgain(const PlaceAddress& address, const KeptWork& kept)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    return place->keepAlive(kept.name, kept.id);
}

Result<LogbookFacts> readLogbook(const PlaceAddress& address, const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY_ASSIGN(auto facts, LogbookReader(*place, *journal, stop).read());
    TRY_ASSIGN(facts.kept, readKept(*place, *journal, stop));
    return facts;
}

Result<LoggedDetails>
readLogged(const PlaceAddress& address, const JournalEntry& entry, const std::stop_token& stop)
{
    LoggedDetails details;
    details.splice = entry.plan.id;
    if (!factsOf(entry.plan.kind).makesCommits) {
        return details;
    }
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY_ASSIGN(auto decisions, journal->decisions(entry.plan.id));
    TRY_ASSIGN(auto legs, journal->legs(entry.plan.id));
    const auto survey = spliceForecast(address, entry.plan, {}, stop);
    if (!survey) {
        if (survey.error().code == ErrorCode::cancelled) {
            return survey.error();
        }
        details.trouble = tr("What it merged is no longer here, so its decisions cannot be shown.");
        return details;
    }
    const std::shared_ptr<const Forecast> forecast(*survey, &(*survey)->forecast);
    const SpliceStart start{entry.plan, forecast, {std::move(decisions), std::move(legs)}};
    TRY_ASSIGN(PreparedSplice prepared, prepareToGoOn(address, start, {}, stop));
    Splice splice(entry.plan, forecast, std::move(prepared.decided), standingsOf(prepared.laid));
    TRY_ASSIGN(const auto reasons, journal->reasons(entry.plan.id));
    splice.putReasons(reasons);
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const SpliceFile& file = splice.files()[i];
        const bool isOfSeveral = !splice.standings().empty() && file.leg < splice.workLeg();
        addDecisionsOf(file,
                       {isOfSeveral
                            ? tr("%1 of %2").arg(file.leg + 1).arg(splice.standings().size())
                            : QString(),
                        [&splice, i](std::size_t slot) {
                            return splice.reason({i, slot});
                        }},
                       details);
    }
    details.joinedFiles = (*survey)->forecast.joinedFileCount();
    return details;
}
}  // namespace rope
