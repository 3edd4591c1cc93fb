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
#include "desktop/course/splice_tasks.h"
#include "desktop/wording/merge_words.h"
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

bool isRoll(SpliceKind kind)
{
    return kind == SpliceKind::rollBack || kind == SpliceKind::rollForward;
}

/// What is listed: what made something, or would. The rest are events in the life of these.
bool isListed(const JournalEntry& entry, const std::set<std::string>& carriedOn)
{
    const SpliceKind kind = entry.plan.kind;
    const bool isLeftByCommand =
        entry.begunBy == BegunBy::command && entry.state == SpliceState::abandoned;
    const bool isCarriedOn =
        entry.state == SpliceState::abandoned && carriedOn.contains(entry.plan.id);
    return !isRoll(kind) && kind != SpliceKind::bringBack && kind != SpliceKind::switchLine
           && !isLeftByCommand && !isCarriedOn;
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
        for (const SpliceState state : {SpliceState::open,
                                        SpliceState::recording,
                                        SpliceState::recorded,
                                        SpliceState::abandoned}) {
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
            if (isRoll(entry.plan.kind)) {
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

/// A choice as it begins a line.
QString heading(std::string_view choice)
{
    QString label = labelOfChoice(std::string(choice));
    if (!label.isEmpty()) {
        label[0] = label[0].toUpper();
    }
    return label;
}

/// What had been offered for a region and was not taken.
std::vector<OfferedThen> othersOf(const SplicedText& text, std::size_t slot)
{
    std::vector<OfferedThen> others;
    for (const Candidate& candidate : candidatesFor(
             text.join().regionTexts(text.regionOf(slot)), text.habits(), text.earlierText(slot))) {
        const bool isTaken = !text.isOpen(slot) && candidate.text == text.text(slot);
        if (!isTaken) {
            others.push_back(
                {heading(nameOf(candidate.kind)), consequencesInWords(candidate.consequences)});
        }
    }
    return others;
}

LoggedDecision decisionOf(const SpliceFile& file, std::size_t slot, int firstLine)
{
    constexpr std::size_t kMostShownLines = 60;
    LoggedDecision decision;
    decision.path = file.outcome->path;
    decision.line = firstLine + 1;
    const SlotState& state = file.text->state(slot);
    decision.isByHand = state.choice == kOwnText || file.text->isEditedByHand(slot);
    const QString choice = labelOfChoice(state.choice).toLower();
    decision.choice = !file.text->isRegion(slot) ? tr("written by hand")
                      : !state.isDecided         ? QString()
                      : decision.isByHand && state.choice != kOwnText
                          ? tr("%1, by hand").arg(choice)
                          : choice;
    decision.origins = file.text->origins(slot);
    for (const std::string_view line : splitLines(file.text->text(slot))) {
        if (decision.lines.size() == kMostShownLines) {
            break;
        }
        decision.lines.push_back(
            shown(std::string(line.substr(0, line.find_last_not_of("\r\n") + 1))));
    }
    return decision;
}

void addFile(const Splice& splice, std::size_t number, LoggedDetails& details)
{
    const SpliceFile& file = splice.files()[number];
    const QString commit = splice.standings().empty() || file.leg >= splice.workLeg()
                               ? QString()
                               : tr("%1 of %2").arg(file.leg + 1).arg(splice.standings().size());
    if (file.outcome->question) {
        LoggedDecision decision;
        decision.path = file.outcome->path;
        decision.commit = commit;
        decision.choice =
            file.answer.isDecided ? labelOfChoice(file.answer.choice).toLower() : QString();
        decision.reason = shown(splice.reason({number, SlotPlace::kQuestion}));
        for (const Answer& answer : file.outcome->question->answers) {
            if (nameOf(answer.choice) != file.answer.choice) {
                decision.others.push_back({heading(nameOf(answer.choice)), QString()});
            }
        }
        details.decisions.push_back(std::move(decision));
    }
    int line = 0;
    for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
        if (file.text->isRegion(slot) || file.text->state(slot).text) {
            LoggedDecision decision = decisionOf(file, slot, line);
            decision.commit = commit;
            if (file.text->isRegion(slot)) {
                decision.others = othersOf(*file.text, slot);
                decision.reason = shown(splice.reason({number, slot}));
            }
            details.decisions.push_back(std::move(decision));
        }
        line += static_cast<int>(splitLines(file.text->text(slot)).size());
    }
}
}  // namespace

namespace {
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
    const SpliceKind kind = entry.plan.kind;
    const bool isJoin = kind == SpliceKind::merge || entry.plan.laysOwnCommits()
                        || entry.plan.isCorrection() || kind == SpliceKind::revert
                        || kind == SpliceKind::pick;
    if (!isJoin) {
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
        details.trouble =
            tr("What it joined is not here any more, so its decisions cannot be shown.");
        return details;
    }
    const std::shared_ptr<const Forecast> forecast(*survey, &(*survey)->forecast);
    TRY_ASSIGN(
        const PreparedSplice prepared,
        readForSplice(
            address, entry.plan, forecast, {std::move(decisions), std::move(legs)}, {}, stop));
    const auto splice = makeSplice(entry.plan, forecast, prepared);
    splice->put(carryOver(prepared.decisions, *splice).placed);
    TRY_ASSIGN(const auto reasons, journal->reasons(entry.plan.id));
    splice->putReasons(reasons);
    for (std::size_t file = 0; file < splice->files().size(); ++file) {
        addFile(*splice, file, details);
    }
    details.joinedFiles = (*survey)->forecast.joinedFileCount();
    return details;
}

namespace {
constexpr int kLinesAround = 3;

/// The lines around an odd place of a merge, with where each comes from.
void addContext(std::span<const SpliceFile> files,
                Place& place,
                const ObjectId& tree,
                const OddPlace& odd,
                LoggedDecision& decision)
{
    std::string text;
    std::vector<LineOrigin> origins;
    for (const SpliceFile& file : files) {
        if (file.outcome->path != odd.path || !file.text) {
            continue;
        }
        for (std::size_t slot = 0; slot < file.text->slotCount(); ++slot) {
            text += file.text->text(slot);
            const auto own = file.text->origins(slot);
            origins.insert(origins.end(), own.begin(), own.end());
        }
    }
    if (text.empty()) {
        const auto there = PathFinder(place, tree).find(odd.path);
        const auto bytes = there && *there && isRegular((*there)->kind)
                               ? place.readBlobs({&(*there)->id, 1}, Text::kMaxBytes)
                               : Result(std::vector<BlobBytes>{nullptr});
        if (!bytes || !bytes->front() || isBeyondLines(*bytes->front())) {
            return;
        }
        text = *bytes->front();
    }
    const auto lines = splitLines(text);
    const int count = static_cast<int>(lines.size());
    const int at = std::max(odd.line, 1) - 1;
    for (int i = std::max(0, at - kLinesAround); i < std::min(count, at + kLinesAround + 1); ++i) {
        const auto index = static_cast<std::size_t>(i);
        if (i == at && odd.line > 0) {
            decision.oddLine = static_cast<int>(decision.lines.size());
        }
        decision.lines.push_back(
            shown(std::string(lines[index].substr(0, lines[index].find_last_not_of("\r\n") + 1))));
        decision.origins.push_back(index < origins.size() ? origins[index] : LineOrigin::hand);
    }
}

/// What is odd about a merge, as the list of its decisions shows it.
LoggedDecision oddDecision(std::span<const SpliceFile> files,
                           Place& place,
                           const ObjectId& tree,
                           const OddPlace& odd)
{
    LoggedDecision decision;
    decision.path = odd.path;
    decision.line = odd.line;
    decision.choice = oddInWords(odd);
    decision.isOdd = true;
    addContext(files, place, tree, odd, decision);
    return decision;
}

/// The ids of the merges in the checked-out line's history, newest first.
Result<std::vector<ObjectId>> mergesOfHistory(Place& place, const std::stop_token& stop)
{
    std::vector<ObjectId> merges;
    TRY_ASSIGN(const Standing standing, place.standing());
    if (standing.tip.isNull()) {
        return merges;
    }
    TRY_ASSIGN(const auto stream, place.commitsFrom({&standing.tip, 1}));
    while (merges.size() < kMostReadMerges) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        TRY_ASSIGN(const auto link, stream->next());
        if (!link) {
            break;
        }
        if (link->parents.size() > 1) {
            merges.push_back(link->id);
        }
    }
    return merges;
}

/// What a merge says was decided, to be kept.
std::vector<LearnedDecision> lessonsOf(const MergeReading& reading)
{
    std::vector<LearnedDecision> lessons;
    for (const ReadDecision& decision : reading.decisions) {
        if (!decision.key.empty()) {
            lessons.push_back(
                {decision.key,
                 decision.looseKey,
                 decision.text,
                 {reading.merge.id, reading.merge.author.name, reading.merge.author.time}});
        }
    }
    return lessons;
}

ReadMergeRow rowOf(const MergeReading& reading, const std::set<ObjectId>& fine)
{
    return {reading.merge,
            reading.odd,
            reading.decisions.size(),
            reading.isUnreadable,
            fine.contains(reading.merge.id)};
}

/// Reads these merges one after the other. One that cannot be read is passed over: it is another's.
Status readEach(Place& place,
                Journal& journal,
                const std::vector<ObjectId>& merges,
                const std::function<void(const MergeReading&)>& take,
                const std::stop_token& stop)
{
    if (merges.empty()) {
        return ok();
    }
    TRY_ASSIGN(const auto learned, journal.learnedMerges());
    TRY_ASSIGN(auto stream, place.commitsFrom(merges));
    CommitGraph history(std::move(stream));
    for (const ObjectId& merge : merges) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        const auto reading = readMerge(place, merge, &history, stop);
        if (!reading) {
            if (reading.error().code == ErrorCode::cancelled) {
                return reading.error();
            }
            continue;
        }
        if (!learned.contains(merge)) {
            TRY(journal.learnFrom(merge, lessonsOf(*reading)));
        }
        take(*reading);
    }
    return ok();
}
}  // namespace

namespace {
QString reopenInWords(const Result<FinishedMerge>& found, const Standing& into)
{
    if (!found) {
        return tr("%1 does not hold it, so it can be read and not reopened.").arg(shown(into.name));
    }
    const QString before =
        tr("It comes back with what was decided in place; nothing changes before you record. ");
    return before
           + (found->staysThere ? tr("What you change is recorded on top, as a commit of its own.")
              : found->above.isNull() ? tr("What you record takes its place.")
                                      : tr("What you record takes its place, and the commits on "
                                           "top are carried along."));
}
}  // namespace

namespace {
/// What the note on a merge says besides what was read off it: reasons, and where the two disagree.
Status addNote(Place& place, const MergeReading& reading, LoggedDetails& details)
{
    TRY_ASSIGN(const auto found, place.notesOn({&reading.merge.id, 1}));
    if (found.front().empty()) {
        return ok();
    }
    const FoundNote& first = found.front().front();
    const auto note = parseNote(first.text);
    if (!note) {
        details.noteWords = note.error().code == ErrorCode::unsupported
                                ? tr("its note is of a newer version, and not read")
                                : tr("its note cannot be read");
        return ok();
    }
    const NoteComparison compared = compareNote(*note, reading.decisions);
    std::size_t otherwise = compared.gone.size();
    for (std::size_t i = 0; i < compared.remarks.size(); ++i) {
        const ReadDecision& read = reading.decisions[i];
        const auto told = std::find_if(
            details.decisions.begin(), details.decisions.end(), [&](const LoggedDecision& one) {
                return !one.isOdd && one.path == read.path && one.line == read.line;
            });
        if (!compared.remarks[i] || told == details.decisions.end()) {
            continue;
        }
        told->reason = shown(compared.remarks[i]->reason);
        if (compared.remarks[i]->otherwise) {
            ++otherwise;
            told->otherwise = tr("The note says: %1. Something else stands there.")
                                  .arg(labelOfChoice(*compared.remarks[i]->otherwise).toLower());
        }
    }
    for (const NotedDecision& gone : compared.gone) {
        LoggedDecision decision;
        decision.path = gone.path;
        decision.line = gone.line;
        decision.choice = labelOfChoice(gone.choice).toLower();
        decision.reason = shown(gone.reason);
        decision.otherwise = tr("The note tells of this place; nothing was to be decided there.");
        details.decisions.push_back(std::move(decision));
    }
    const QString from =
        first.from.empty() ? tr("with a note") : tr("with a note from %1").arg(shown(first.from));
    details.noteWords = otherwise == 0 ? from
                        : otherwise == 1
                            ? tr("%1, which disagrees in 1 place").arg(from)
                            : tr("%1, which disagrees in %2 places").arg(from).arg(otherwise);
    return ok();
}
}  // namespace

Result<LoggedDetails> readMergeDetails(const PlaceAddress& address,
                                       const ObjectId& merge,
                                       const Standing& into,
                                       const std::stop_token& stop)
{
    LoggedDetails details;
    details.splice = merge.hex();
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const MergeReading reading, readMerge(*place, merge, nullptr, stop));
    if (reading.isUnreadable) {
        details.trouble = tr("It joins more than two branches at once, which do not join by "
                             "themselves. That is not read.");
        return details;
    }
    const auto& parents = reading.merge.parents;
    if (parents.size() > 2) {
        for (const OddPlace& odd : reading.odd) {
            details.decisions.push_back(oddDecision({}, *place, reading.merge.tree, odd));
        }
        details.reopenWords =
            tr("It joins more than two branches at once, so it can be read and not "
               "reopened.");
        return details;
    }
    TRY_ASSIGN(auto joined, forecastJoin(*place, parents[0], parents[1], {true}, {}, stop));
    const auto forecast = std::make_shared<const Forecast>(std::move(joined));
    Splice splice({}, forecast);
    Overlay snapshots(*place, *forecast->join.held);
    TRY(putInferred(splice, snapshots, reading.merge.tree, stop));
    for (const OddPlace& odd : reading.odd) {
        details.decisions.push_back(oddDecision(splice.files(), *place, reading.merge.tree, odd));
    }
    for (std::size_t file = 0; file < splice.files().size(); ++file) {
        addFile(splice, file, details);
    }
    TRY(addNote(*place, reading, details));
    details.joinedFiles = forecast->joinedFileCount();
    const auto found = finishedMerge(address, merge, into.ref, stop);
    if (!found && found.error().code == ErrorCode::cancelled) {
        return found.error();
    }
    const bool isUnrelated = forecast->divergence.relation == Relation::unrelated;
    details.canReopen = found.hasValue() && !isUnrelated;
    details.reopenWords = isUnrelated
                              ? tr("What it joins has no commit in common, so it can be read "
                                   "and not reopened.")
                              : reopenInWords(found, into);
    return details;
}

Result<ReadMergeRow>
readNamedMerge(const PlaceAddress& address, const std::string& name, const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY_ASSIGN(const ObjectId id, place->resolveCommit(name));
    TRY_ASSIGN(const MergeReading reading, readMerge(*place, id, nullptr, stop));
    TRY_ASSIGN(const auto fine, journal->fineMerges());
    return rowOf(reading, fine);
}

Status readMerges(const PlaceAddress& address,
                  std::size_t known,
                  const MergeSink& sink,
                  const std::stop_token& stop)
{
    constexpr std::size_t kAtOnce = 16;
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY_ASSIGN(const auto fine, journal->fineMerges());
    TRY_ASSIGN(const auto all, mergesOfHistory(*place, stop));
    sink({}, all.size());
    const std::vector<ObjectId> rest(
        all.begin() + static_cast<std::ptrdiff_t>(std::min(known, all.size())), all.end());
    std::vector<ReadMergeRow> rows;
    auto read = readEach(
        *place,
        *journal,
        rest,
        [&](const MergeReading& reading) {
            rows.push_back(rowOf(reading, fine));
            if (rows.size() >= kAtOnce) {
                sink(std::exchange(rows, {}), all.size());
            }
        },
        stop);
    sink(std::move(rows), all.size());
    return read;
}

Status learnFromMerges(const PlaceAddress& address, const std::stop_token& stop)
{
    constexpr std::size_t kMostAtOpening = 500;
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY_ASSIGN(auto merges, mergesOfHistory(*place, stop));
    TRY_ASSIGN(const auto learned, journal->learnedMerges());
    merges.resize(std::min(merges.size(), kMostAtOpening));
    std::erase_if(merges, [&](const ObjectId& merge) { return learned.contains(merge); });
    return readEach(
        *place, *journal, merges, [](const MergeReading&) {}, stop);
}
}  // namespace rope
