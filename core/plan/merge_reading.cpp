// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merge_reading.cpp.
#include "core/plan/merge_reading.h"

#include "core/decide/inferred_decisions.h"
#include "core/join/octopus.h"
#include "core/merge/line_origin.h"
#include "core/system/tree_difference.h"
#include "core/text/text.h"

#include <algorithm>
#include <array>
#include <set>

namespace rope {
namespace {
constexpr std::array kOddNames{"neither-side", "change-dropped", "taken-whole", "markers-left"};

class Reader
{
public:
    Reader(Place& place, const Forecast& forecast, DecidedJoin& decided, MergeReading& reading)
        : m_place(place)
        , m_forecast(forecast)
        , m_decided(decided)
        , m_reading(reading)
    {
    }

    Status read(const std::stop_token& stop)
    {
        TRY(putInferred(m_decided, m_place, m_reading.merge.tree, stop));
        for (const SpliceFile& file : m_decided.files()) {
            readFile(file);
        }
        for (const MarkerLeft& marker : m_decided.markersLeft()) {
            m_reading.odd.push_back({OddKind::markersLeft,
                                     marker.path,
                                     static_cast<int>(marker.line) + 1,
                                     {},
                                     OddSide::none});
        }
        return compareTrees(stop);
    }

private:
    void readFile(const SpliceFile& file)
    {
        const RepoPath& path = file.outcome->path;
        if (file.outcome->question) {
            m_reading.decisions.push_back({path, 0, file.answer.choice, {}, {}, {}});
        }
        if (!file.text || file.text->openCount() > 0) {
            return;
        }
        if (const OddSide side = wholeSideOf(file); side != OddSide::none) {
            m_reading.odd.push_back({OddKind::takenWhole, path, 0, {}, side});
            m_told.insert(path);
        }
        int line = 1;
        for (std::size_t slot = 0; slot < file.text->slotCount(); ++slot) {
            if (file.text->isRegion(slot)) {
                const std::size_t region = file.text->regionOf(slot);
                m_reading.decisions.push_back({path,
                                               line,
                                               file.text->state(slot).choice,
                                               file.text->join().regionKey(region),
                                               file.text->join().looseRegionKey(region),
                                               std::string(file.text->text(slot))});
            } else if (file.text->state(slot).text && !m_told.contains(path)) {
                readEdited(path, *file.text, slot, line);
            }
            line += static_cast<int>(splitLines(file.text->text(slot)).size());
        }
    }

    /// The side as which a file stands though the other one changed it in several places, one of them
    /// where it was not asked about. Where all of it was asked about, that was decided, and no more.
    static OddSide wholeSideOf(const SpliceFile& file)
    {
        const TextJoin& join = *file.outcome->text;
        const auto count = [&](ChunkKind kind) {
            return std::count_if(join.chunks().begin(),
                                 join.chunks().end(),
                                 [kind](const Chunk& chunk) { return chunk.kind == kind; });
        };
        const auto dropsMore = [&](ChunkKind other) {
            return count(other) > 0 && count(other) + count(ChunkKind::region) > 1;
        };
        const std::string whole = file.text->wholeText();
        const bool isOurs = whole == join.ours().bytes() && dropsMore(ChunkKind::theirs);
        const bool isTheirs = whole == join.theirs().bytes() && dropsMore(ChunkKind::ours);
        return isOurs ? OddSide::ours : isTheirs ? OddSide::theirs : OddSide::none;
    }

    /// A stretch between regions that is not as it joined: lines of nobody, or changes that are missing,
    /// one place for each run of them.
    void readEdited(const RepoPath& path, const SplicedText& text, std::size_t slot, int firstLine)
    {
        const auto joined = splitLines(text.joinedText(slot));
        const auto lines = splitLines(text.text(slot));
        const auto known = lineUp(text.joinedText(slot), text.text(slot));
        std::size_t nextJoined = 0;
        for (std::size_t at = 0; at <= lines.size(); ++at) {
            const std::size_t first = at;
            while (at < lines.size() && known[at] == kNoLine) {
                ++at;
            }
            const std::size_t found = at < lines.size() ? known[at] : joined.size();
            if (at > first || found > nextJoined) {
                addEdited(path,
                          text,
                          {lines.begin() + static_cast<std::ptrdiff_t>(first),
                           lines.begin() + static_cast<std::ptrdiff_t>(at)},
                          found > nextJoined ? joined[nextJoined] : std::string_view(),
                          firstLine + static_cast<int>(first));
            }
            nextJoined = found + 1;
        }
    }

    /// One run of lines that stand there instead of what joined, of which `missing` is the first line.
    void addEdited(const RepoPath& path,
                   const SplicedText& text,
                   const std::vector<std::string_view>& lines,
                   std::string_view missing,
                   int line)
    {
        const auto foreign = std::find_if(lines.begin(), lines.end(), [&](std::string_view one) {
            return !standsInSide(text, one);
        });
        const bool isForeign = foreign != lines.end();
        const std::string_view told = isForeign       ? *foreign
                                      : lines.empty() ? missing
                                                      : lines.front();
        // A line that is gone though it stood there in all versions was taken out by nobody but the merge.
        const OddSide side =
            isForeign ? OddSide::none : sideDropped(text.join(), told, lines.empty());
        const bool isOfNobody = isForeign || (lines.empty() && side == OddSide::none);
        m_reading.odd.push_back({isOfNobody ? OddKind::neitherSide : OddKind::changeDropped,
                                 path,
                                 line + (isForeign ? static_cast<int>(foreign - lines.begin()) : 0),
                                 std::string(withoutLineEnd(told)),
                                 side});
    }

    /// Whose change is not there: of a missing line, whoever had added it; of one that stands there again,
    /// whoever had taken it out. None: both had, or neither.
    static OddSide sideDropped(const TextJoin& join, std::string_view line, bool isMissing)
    {
        const auto stands = [line](const Text& version) {
            const auto lines = splitLines(version.bytes());
            return std::find(lines.begin(), lines.end(), line) != lines.end();
        };
        const bool inBase = stands(join.base());
        if (isMissing == inBase) {
            return OddSide::none;
        }
        const bool byOurs = stands(join.ours()) != inBase;
        const bool byTheirs = stands(join.theirs()) != inBase;
        return byOurs == byTheirs ? OddSide::none : byOurs ? OddSide::ours : OddSide::theirs;
    }

    static bool standsInSide(const SplicedText& text, std::string_view line)
    {
        for (const Text* const version :
             {&text.join().base(), &text.join().ours(), &text.join().theirs()}) {
            const auto lines = splitLines(version->bytes());
            if (std::find(lines.begin(), lines.end(), line) != lines.end()) {
                return true;
            }
        }
        return false;
    }

    /// What differs in the tree though nobody was asked about it.
    Status compareTrees(const std::stop_token& stop)
    {
        std::vector<SlotChange> rest;
        for (std::size_t i = 0; i < m_decided.files().size(); ++i) {
            const SpliceFile& file = m_decided.files()[i];
            if (file.openCount() == 0) {
                continue;
            }
            // No answer gives what stands there, or the text is not there: its paths are told as such.
            if (file.outcome->question && !file.answer.isDecided) {
                const FileChoice first = file.outcome->question->answers.front().choice;
                rest.push_back(
                    {{i, SlotPlace::kQuestion}, {true, std::string(nameOf(first)), std::nullopt}});
            }
            for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
                if (file.text->isOpen(slot)) {
                    rest.push_back({{i, slot}, {true, std::string(kOwnText), std::string()}});
                }
            }
        }
        m_decided.put(rest);
        const auto result = m_decided.result(0);
        if (!result) {
            return ok();  // two answers put files at one path: no tree of ours to compare with
        }
        Overlay snapshots(m_place, *m_forecast.join.held);
        TRY_ASSIGN(const ObjectId joined, snapshots.holdResult(*result));
        TRY_ASSIGN(const auto changes, treeDifference(snapshots, joined, m_reading.merge.tree));
        for (const FileChange& change : changes) {
            if (stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            if (!m_told.contains(change.path)) {
                m_reading.odd.push_back(oddFile(change));
            }
        }
        return ok();
    }

    /// A file that is not as the join has it: one side's change is gone, or it is nobody's.
    [[nodiscard]] OddPlace oddFile(const FileChange& change) const
    {
        const FileChange* const ours = changeAt(m_forecast.join.oursChanges, change.path);
        const FileChange* const theirs = changeAt(m_forecast.join.theirsChanges, change.path);
        OddPlace odd{OddKind::neitherSide, change.path, 0, {}, OddSide::none};
        const auto& files = m_forecast.join.files;
        const auto file = std::find_if(files.begin(), files.end(), [&](const FileOutcome& outcome) {
            return outcome.path == change.path && outcome.isRenamed();
        });
        if (file != files.end() && change.after && file->ours != file->theirs
            && (change.after == file->ours || change.after == file->theirs)) {
            odd.kind = OddKind::changeDropped;
            odd.side = change.after == file->ours ? OddSide::theirs : OddSide::ours;
            return odd;
        }
        if ((ours != nullptr) != (theirs != nullptr)) {
            const FileChange& one = ours != nullptr ? *ours : *theirs;
            if (one.before == change.after) {
                odd.kind = OddKind::changeDropped;
                odd.side = ours != nullptr ? OddSide::ours : OddSide::theirs;
            }
        }
        return odd;
    }

    Place& m_place;
    const Forecast& m_forecast;
    DecidedJoin& m_decided;
    MergeReading& m_reading;
    std::set<RepoPath> m_told;
};
/// Of a merge of more than two parents: the files that are not as these join, one after the other.
Status
readOctopus(Place& place, CommitGraph* history, const std::stop_token& stop, MergeReading& reading)
{
    const auto& parents = reading.merge.parents;
    std::optional<CommitGraph> own;
    if (history == nullptr) {
        TRY_ASSIGN(auto stream, place.commitsFrom(parents));
        own.emplace(std::move(stream));
    }
    Overlay snapshots(place);
    TRY_ASSIGN(const auto tree,
               octopusTree(place, snapshots, own ? *own : *history, parents, stop));
    if (!tree) {
        reading.isUnreadable = true;
        return ok();
    }
    TRY_ASSIGN(const auto changes, treeDifference(snapshots, *tree, reading.merge.tree));
    for (const FileChange& change : changes) {
        reading.odd.push_back({OddKind::neitherSide, change.path, 0, {}, OddSide::none});
    }
    return ok();
}
}  // namespace

std::string_view nameOf(OddKind kind)
{
    return kOddNames[static_cast<std::size_t>(kind)];
}

Result<MergeReading>
readMerge(Place& place, const ObjectId& merge, CommitGraph* history, const std::stop_token& stop)
{
    MergeReading reading;
    TRY_ASSIGN(auto commits, place.readCommits({&merge, 1}));
    reading.merge = std::move(commits.front());
    const auto& parents = reading.merge.parents;
    if (parents.size() < 2) {
        return Error{ErrorCode::invalidInput, merge.brief(), "it has fewer than two parents"};
    }
    if (parents.size() > 2) {
        TRY(readOctopus(place, history, stop, reading));
        return reading;
    }
    TRY_ASSIGN(auto forecast,
               forecastJoin(place, parents[0], parents[1], {true, history}, {}, stop));
    const auto shared = std::make_shared<const Forecast>(std::move(forecast));
    DecidedJoin decided({Leg(shared, &shared->join)});
    TRY(Reader(place, *shared, decided, reading).read(stop));
    return reading;
}
}  // namespace rope
