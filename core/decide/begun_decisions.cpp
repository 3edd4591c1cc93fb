// SPDX-License-Identifier: GPL-3.0-or-later
// A file with markers is read as if the first side had been taken wherever they stand; what is read so
// stays open, and all else was decided.
// Tested by tst_begun_decisions.cpp.
#include "core/decide/begun_decisions.h"

#include "core/decide/inferred_decisions.h"
#include "core/join/found_file.h"
#include "core/merge/marker_blocks.h"
#include "core/system/path_finder.h"
#include "core/text/text.h"

#include <algorithm>
#include <map>
#include <set>

namespace rope {
namespace {
/// Lines of a text, each end one behind the last.
struct Stretch
{
    std::size_t begin = 0;
    std::size_t end = 0;
};

bool touch(const Stretch& a, const Stretch& b)
{
    return a.begin <= b.end && b.begin <= a.end;
}

/// A text without its markers: the first side stands where they stood.
struct Unmarked
{
    std::string text;
    std::vector<Stretch> open;  ///< Of that text.
};

Unmarked unmarked(std::string_view marked, const std::set<std::string>& ownMarkers)
{
    const auto lines = splitLines(marked);
    auto blocks = markerBlocks(lines);
    std::erase_if(blocks, [&](const MarkerBlock& block) {
        return ownMarkers.contains(std::string(lines[block.begin]));
    });
    Unmarked result;
    std::size_t count = 0;
    const auto append = [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            result.text += lines[i];
            ++count;
        }
    };
    std::size_t at = 0;
    for (const MarkerBlock& block : blocks) {
        append(at, block.begin);
        const std::size_t begin = count;
        append(block.firstBegin, block.firstEnd);
        result.open.push_back({begin, count});
        at = block.end;
    }
    append(at, lines.size());
    return result;
}

class BegunReader
{
public:
    BegunReader(DecidedJoin& decided,
                Snapshots& snapshots,
                const BegunFiles& files,
                const std::stop_token& stop)
        : m_decided(decided)
        , m_snapshots(snapshots)
        , m_files(files)
        , m_finder(snapshots, files.tree)
        , m_stop(stop)
    {
    }

    Result<BegunDecisions> read()
    {
        TRY(putInferred(m_decided, m_snapshots, m_files.tree, m_stop));
        TRY(takeUpOthers());
        const std::set<RepoPath> open(m_files.open.begin(), m_files.open.end());
        for (std::size_t i = 0; i < m_decided.files().size(); ++i) {
            const SpliceFile& file = m_decided.files()[i];
            const auto paths = pathsOf(*file.outcome);
            const bool isOpen = std::any_of(
                paths.begin(), paths.end(), [&](const auto& path) { return open.contains(path); });
            if (file.own) {
                continue;  // it is made of what stands there
            }
            if (isOpen && file.outcome->question) {
                m_decided.put({{{i, SlotPlace::kQuestion}, {}}});
            } else if (file.outcome->question && !file.answer.isDecided) {
                TRY(takeAsFound(file.outcome->path,
                                paths));  // none of its answers gives what is there
                continue;
            }
            if (file.text) {
                TRY(readText(i, isOpen));
            }
        }
        return std::move(m_read);
    }

private:
    /// What stands for a file of the splice.
    Result<std::optional<FileVersion>> versionOf(const SpliceFile& file)
    {
        std::optional<FileVersion> there;
        for (const RepoPath& path :
             {file.outcome->path, file.outcome->oursPath, file.outcome->theirsPath}) {
            if (!there && !path.empty()) {
                TRY_ASSIGN(there, m_finder.find(path));
            }
        }
        return there;
    }

    /// Its text; nothing where that is none.
    Result<std::optional<std::string>> textOf(const SpliceFile& file,
                                              const std::optional<FileVersion>& there)
    {
        if (!there || !isRegular(there->kind)) {
            return std::optional<std::string>{};
        }
        TRY_ASSIGN(const auto blobs, m_snapshots.readBlobs({&there->id, 1}, kAnySize));
        return decodedFor(file.text->join(), *blobs.front());
    }

    Status readText(std::size_t index, bool isOpen)
    {
        const SpliceFile& file = m_decided.files()[index];
        TRY_ASSIGN(const auto there, versionOf(file));
        TRY_ASSIGN(const auto marked, textOf(file, there));
        auto read = marked ? markedStates(*file.text, *marked, file.outcome->ownMarkers, m_stop)
                           : std::nullopt;
        const bool isOther = !marked || (!read && there->kind != file.outcome->joinedKind);
        if (isOther && !isOpen && !file.outcome->question) {
            return takeAsFound(file.outcome->path, pathsOf(*file.outcome));
        }
        if (!read) {
            return ok();  // it was read as a whole
        }
        for (auto& [slot, text] : read->edited) {
            m_read.offered.push_back({{index, slot}, std::move(text)});
        }
        std::vector<SlotChange> changes;
        for (std::size_t slot = 0; slot < read->states.size(); ++slot) {
            changes.push_back({{index, slot}, std::move(read->states[slot])});
        }
        m_decided.put(changes);
        return ok();
    }

    /// The paths that a file of the splice is read from: all of them where an answer is still to be found.
    /// What it leaves is to be empty, and somebody may have put something there.
    static std::set<RepoPath> pathsReadOf(const SpliceFile& file)
    {
        if (file.outcome->question && !file.answer.isDecided) {
            return pathsOf(*file.outcome);
        }
        std::set<RepoPath> paths;
        for (const Placement& put : file.outcome->placements(fileChoiceNamed(file.answer.choice))) {
            paths.insert(put.path);
        }
        return paths;
    }

    /// Files that the join has no outcome for: where they are not as one side alone would have them,
    /// somebody edited them.
    Status takeUpOthers()
    {
        const Join& join = *m_decided.legs().front();
        std::map<RepoPath, std::optional<FileVersion>> expected;
        PathFinder ours(m_snapshots, join.ours.tree);
        for (const RepoPath& path : m_files.settled) {
            TRY_ASSIGN(expected[path], ours.find(path));
        }
        for (const TreeEdit& edit : settledEdits(join)) {
            expected[edit.path] = edit.version;
        }
        for (const SpliceFile& file : m_decided.files()) {
            for (const RepoPath& path : pathsReadOf(file)) {
                expected.erase(path);
            }
        }
        for (const auto& [path, version] : expected) {
            TRY_ASSIGN(const auto there, m_finder.find(path));
            if (there != version) {
                TRY(takeUp(path, there));
            }
        }
        return ok();
    }

    Status takeUp(const RepoPath& path, const std::optional<FileVersion>& there)
    {
        TRY_ASSIGN(OwnedOutcome outcome,
                   oneSidedOutcome(m_snapshots, *m_decided.legs().front(), path));
        if (!outcome || !there || there->kind != outcome->joinedKind) {
            return takeAsFound(path, {path});
        }
        TRY_ASSIGN(const auto blobs, m_snapshots.readBlobs({&there->id, 1}, kAnySize));
        const auto edited = decodedFor(*outcome->text, *blobs.front());
        if (!edited) {
            return takeAsFound(path, {path});
        }
        const std::size_t index = m_decided.takeUp(std::move(outcome));
        std::vector<SlotChange> changes;
        const auto states = inferredStates(*m_decided.files()[index].text, *edited, m_stop);
        for (std::size_t slot = 0; slot < states.size(); ++slot) {
            changes.push_back({{index, slot}, states[slot]});
        }
        m_decided.put(changes);
        return ok();
    }

    /// Where no answer and no candidate gives what was put there.
    Status takeAsFound(const RepoPath& path, const std::set<RepoPath>& paths)
    {
        FoundFiles found;
        for (const RepoPath& at : paths) {
            TRY_ASSIGN(found[at], m_finder.find(at));
        }
        TRY_ASSIGN(OwnedOutcome outcome,
                   foundOutcome(m_snapshots, *m_decided.legs().front(), path, found));
        const std::size_t index = m_decided.takeUp(std::move(outcome));
        m_decided.put({{{index, SlotPlace::kQuestion},
                        {true, std::string(nameOf(FileChoice::found)), foundText(found)}}});
        return ok();
    }

    DecidedJoin& m_decided;
    Snapshots& m_snapshots;
    const BegunFiles& m_files;
    PathFinder m_finder;
    const std::stop_token& m_stop;
    BegunDecisions m_read;
};

/// What a decided or half-decided file puts where; nothing: it cannot be said yet.
std::optional<std::map<RepoPath, ResultEdit>> editsOf(const SpliceFile& file,
                                                      const SplicePlan& plan)
{
    std::map<RepoPath, ResultEdit> edits;
    for (const RepoPath& path : pathsOf(*file.outcome)) {
        edits[path] = {path, {}, nullptr};
    }
    const auto choice = fileChoiceNamed(file.answer.choice);
    for (const Placement& put : file.outcome->placements(choice)) {
        if (!put.isJoinedText || !file.text) {
            edits[put.path] = {put.path, put.version, nullptr};
            continue;
        }
        auto bytes = file.text->join().encoded(textWithMarkers(*file.text, plan));
        if (!bytes) {
            return std::nullopt;
        }
        edits[put.path] = {put.path,
                           FileVersion{put.version.kind, {}},
                           std::make_shared<const std::string>(std::move(*bytes))};
    }
    return edits;
}
}  // namespace

std::optional<MarkedStates> markedStates(const SplicedText& text,
                                         std::string_view marked,
                                         const std::set<std::string>& ownMarkers,
                                         const std::stop_token& stop)
{
    const Unmarked found = unmarked(marked, ownMarkers);
    if (found.open.empty()) {
        return std::nullopt;
    }
    MarkedStates read{inferredStates(text, found.text, stop), {}};
    std::size_t line = 0;
    for (std::size_t slot = 0; slot < read.states.size(); ++slot) {
        SlotState& state = read.states[slot];
        const std::string stands = state.text ? *state.text : std::string(text.joinedText(slot));
        const Stretch here{line, line + splitLines(stands).size()};
        line = here.end;
        const bool isOpen =
            std::any_of(found.open.begin(), found.open.end(), [&](const Stretch& open) {
                return text.isRegion(slot) ? touch(here, open)
                                           : here.begin < open.end && open.begin < here.end;
            });
        if (isOpen && text.isRegion(slot) && state.choice == kOwnText) {
            read.edited[slot] = stands;
        }
        if (isOpen) {
            state = {};
        }
    }
    return read;
}

std::string textWithMarkers(const SplicedText& text, const SplicePlan& plan)
{
    constexpr std::size_t kMarkerLength = 7;
    std::string marked;
    const auto marker = [&](char sign, const std::string& label) {
        if (!marked.empty() && marked.back() != '\n') {
            marked += '\n';
        }
        marked += std::string(kMarkerLength, sign) + (label.empty() ? "" : " " + label) + "\n";
    };
    for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
        if (!text.isOpen(slot)) {
            marked += text.text(slot);
            continue;
        }
        const RegionTexts region = text.join().regionTexts(text.regionOf(slot));
        // Whoever goes on with a rebase finds first what is checked out.
        const bool isRebase = plan.kind == SpliceKind::rebase;
        marker('<', isRebase ? plan.theirsName : plan.oursName);
        marked += isRebase ? region.theirs : region.ours;
        marker('|', "base");
        marked += region.base;
        marker('=', {});
        marked += isRebase ? region.ours : region.theirs;
        marker('>', isRebase ? plan.oursName : plan.theirsName);
    }
    return marked;
}

Result<BegunDecisions> putBegun(DecidedJoin& decided,
                                Snapshots& snapshots,
                                const BegunFiles& files,
                                const std::stop_token& stop)
{
    return BegunReader(decided, snapshots, files, stop).read();
}

BegunTexts begunTexts(const Splice& splice)
{
    std::map<RepoPath, ResultEdit> all;
    std::set<RepoPath> settled;
    for (const SpliceFile& file : splice.files()) {
        const bool isAsked = file.outcome->question && !file.answer.isDecided;
        const auto edits = isAsked || file.leg != 0 ? std::nullopt : editsOf(file, splice.plan());
        if (!edits) {
            continue;
        }
        for (const auto& [path, edit] : *edits) {
            ResultEdit& known = all[path];
            known = known.version ? known : edit;
            if (file.openCount() == 0) {
                settled.insert(path);
            }
        }
    }
    BegunTexts texts{{}, {settled.begin(), settled.end()}};
    for (auto& [path, edit] : all) {
        edit.path = path;
        texts.edits.push_back(std::move(edit));
    }
    return texts;
}
}  // namespace rope
