// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merges_round.cpp.
#include "desktop/course/merge_tasks.h"

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
#include "desktop/wording/odd_words.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QDateTime>

#include <algorithm>
#include <map>
#include <utility>

namespace rope {
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
        decision.lines.push_back(shown(std::string(withoutLineEnd(lines[index]))));
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

/// Files in which a person wrote a text of their own, by the merge that this place's journal recorded with it:
/// lines there that come from neither side are no riddle.
using WrittenHere = std::map<ObjectId, std::set<RepoPath>>;

Result<WrittenHere> writtenHere(Journal& journal)
{
    WrittenHere written;
    TRY_ASSIGN(const auto recorded, journal.splices(SpliceState::recorded));
    for (const JournalEntry& entry : recorded) {
        if (!factsOf(entry.plan.kind).makesCommits) {
            continue;
        }
        TRY_ASSIGN(const auto decisions, journal.decisions(entry.plan.id));
        for (const Decision& decision : decisions) {
            if (decision.state.choice == kOwnText || !decision.writtenOn.empty()) {
                written[entry.recorded].insert(decision.path);
            }
        }
    }
    return written;
}

/// What is odd but for what was written here.
std::vector<OddPlace> unexplained(const MergeReading& reading, const WrittenHere& written)
{
    std::vector<OddPlace> odd = reading.odd;
    if (const auto own = written.find(reading.merge.id); own != written.end()) {
        std::erase_if(odd, [&own](const OddPlace& place) {
            return place.kind == OddKind::neitherSide && own->second.contains(place.path);
        });
    }
    return odd;
}

ReadMergeRow
rowOf(const MergeReading& reading, const std::set<ObjectId>& fine, const WrittenHere& written)
{
    return {reading.merge,
            unexplained(reading, written),
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

QString reopenInWords(const Result<FinishedMerge>& found, const Standing& into)
{
    if (!found) {
        return tr("%1 does not contain it, so it can be read but not reopened.")
            .arg(shown(into.name));
    }
    const QString before =
        tr("It comes back with what was decided in place; nothing changes before you record. ");
    return before
           + (found->staysThere ? tr("What you change is recorded on top, as a separate commit.")
              : found->above.isNull() ? tr("What you record takes its place.")
                                      : tr("What you record takes its place, and the commits on "
                                           "top are carried along."));
}

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
            told->otherwise = tr("The note says: %1. The merge has something else.")
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
    TRY_ASSIGN(MergeReading reading, readMerge(*place, merge, nullptr, stop));
    if (const auto journal = journalOf(*place)) {
        TRY_ASSIGN(const WrittenHere written, writtenHere(**journal));
        reading.odd = unexplained(reading, written);
    }
    if (reading.isUnreadable) {
        details.trouble =
            tr("It merges more than two branches at once, and not cleanly. That cannot be read.");
        return details;
    }
    const auto& parents = reading.merge.parents;
    if (parents.size() > 2) {
        for (const OddPlace& odd : reading.odd) {
            details.decisions.push_back(oddDecision({}, *place, reading.merge.tree, odd));
        }
        details.reopenWords =
            tr("It merges more than two branches at once, so it can be read but not reopened.");
        return details;
    }
    TRY_ASSIGN(auto joined, forecastJoin(*place, parents[0], parents[1], {true}, {}, stop));
    const auto forecast = std::make_shared<const Forecast>(std::move(joined));
    DecidedJoin decided({Leg(forecast, &forecast->join)});
    Overlay snapshots(*place, *forecast->join.held);
    TRY(putInferred(decided, snapshots, reading.merge.tree, stop));
    for (const OddPlace& odd : reading.odd) {
        details.decisions.push_back(oddDecision(decided.files(), *place, reading.merge.tree, odd));
    }
    for (const SpliceFile& file : decided.files()) {
        addDecisionsOf(file, {}, details);
    }
    TRY(addNote(*place, reading, details));
    details.joinedFiles = forecast->joinedFileCount();
    const auto found = finishedMerge(*place, merge, into.ref, stop);
    if (!found && found.error().code == ErrorCode::cancelled) {
        return found.error();
    }
    const bool isUnrelated = forecast->divergence.relation == Relation::unrelated;
    details.canReopen = found.hasValue() && !isUnrelated;
    details.reopenWords =
        isUnrelated
            ? tr("What it merges has no commit in common, so it can be read but not reopened.")
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
    TRY_ASSIGN(const WrittenHere written, writtenHere(*journal));
    return rowOf(reading, fine, written);
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
    TRY_ASSIGN(const WrittenHere written, writtenHere(*journal));
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
            rows.push_back(rowOf(reading, fine, written));
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
