// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_begun_decisions.cpp.
#include "core/join/found_file.h"

#include "core/system/path_finder.h"
#include "core/system/tree_difference.h"
#include "core/text/text.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
constexpr std::array<std::pair<EntryKind, std::string_view>, 4> kModes{{
    {EntryKind::file, "100644"},
    {EntryKind::executable, "100755"},
    {EntryKind::symlink, "120000"},
    {EntryKind::submodule, "160000"},
}};

/// Of a kind that is among them: files come from trees, and no tree has another.
std::string_view modeOf(EntryKind kind)
{
    const auto known = std::find_if(
        kModes.begin(), kModes.end(), [kind](const auto& mode) { return mode.first == kind; });
    return known == kModes.end() ? std::string_view("0") : known->second;
}

Placement placed(const RepoPath& path, const FileVersion& version)
{
    return {path, version, false};
}

/// What a side has there; no placement: no file.
std::vector<Placement> placedBy(const std::optional<FileVersion>& version, const RepoPath& path)
{
    return version ? std::vector{placed(path, *version)} : std::vector<Placement>{};
}

/// As the join asks, but for answers that hold a joined text; of a file that it does not ask about, each side's.
std::vector<Answer> answersOf(const FileOutcome& outcome)
{
    if (!outcome.question && outcome.ours == outcome.theirs) {
        const bool isAsBefore = outcome.ours == outcome.base;
        return {{isAsBefore ? FileChoice::base : FileChoice::ours,
                 placedBy(outcome.ours, outcome.oursPath)}};
    }
    std::vector<Answer> answers;
    for (const Answer& answer :
         outcome.question ? outcome.question->answers : std::vector<Answer>{}) {
        const bool holdsText = std::any_of(answer.puts.begin(),
                                           answer.puts.end(),
                                           [](const Placement& put) { return put.isJoinedText; });
        if (!holdsText) {
            answers.push_back(answer);
        }
    }
    const auto isOffered = [&](const std::vector<Placement>& puts) {
        return std::any_of(answers.begin(), answers.end(), [&](const Answer& answer) {
            return answer.puts == puts;
        });
    };
    for (const auto& [choice, version, path] :
         {std::tuple(FileChoice::theirs, &outcome.theirs, &outcome.theirsPath),
          std::tuple(FileChoice::ours, &outcome.ours, &outcome.oursPath)}) {
        const bool isNamed =
            std::any_of(answers.begin(), answers.end(), [c = choice](const auto& answer) {
                return answer.choice == c;
            });
        if (auto puts = placedBy(*version, *path); !isNamed && !isOffered(puts)) {
            answers.push_back({choice, std::move(puts)});
        }
    }
    return answers;
}

const FileOutcome* outcomeAt(const Join& join, const RepoPath& path)
{
    const auto found = std::find_if(
        join.files.begin(), join.files.end(), [&](const auto& file) { return file.path == path; });
    return found == join.files.end() ? nullptr : &*found;
}

/// Of a path that the join has no outcome for: what each side has there.
Result<FileOutcome> sidesAt(Snapshots& snapshots, const Join& join, const RepoPath& path)
{
    FileOutcome outcome;
    outcome.path = path;
    const FileChange* const byOurs = changeAt(join.oursChanges, path);
    const FileChange* const byTheirs = changeAt(join.theirsChanges, path);
    if (byOurs == nullptr && byTheirs == nullptr) {
        TRY_ASSIGN(outcome.base, PathFinder(snapshots, join.ours.tree).find(path));
    } else {
        outcome.base = byOurs != nullptr ? byOurs->before : byTheirs->before;
    }
    outcome.ours = byOurs != nullptr ? byOurs->after : outcome.base;
    outcome.theirs = byTheirs != nullptr ? byTheirs->after : outcome.base;
    outcome.basePath = outcome.base ? path : RepoPath();
    outcome.oursPath = outcome.ours ? path : RepoPath();
    outcome.theirsPath = outcome.theirs ? path : RepoPath();
    return outcome;
}

/// The bytes of what stands there, if it is a file that can be shown.
Result<BlobBytes> bytesOf(Snapshots& snapshots, const FoundFiles& found, const RepoPath& path)
{
    const auto there = found.find(path);
    if (there == found.end() || !there->second || !isRegular(there->second->kind)) {
        return BlobBytes();
    }
    TRY_ASSIGN(const auto blobs, snapshots.readBlobs({&there->second->id, 1}, Text::kMaxBytes));
    return blobs.front();
}
}  // namespace

std::set<RepoPath> pathsOf(const FileOutcome& outcome)
{
    std::set<RepoPath> paths{outcome.path, outcome.basePath, outcome.oursPath, outcome.theirsPath};
    paths.insert(outcome.alsoAt.begin(), outcome.alsoAt.end());
    for (const Answer& answer :
         outcome.question ? outcome.question->answers : std::vector<Answer>{}) {
        for (const Placement& put : answer.puts) {
            paths.insert(put.path);
        }
    }
    for (const Placement& put :
         outcome.question ? std::vector<Placement>{} : outcome.placements({})) {
        paths.insert(put.path);
    }
    paths.erase(RepoPath());
    return paths;
}

std::string foundText(const FoundFiles& found)
{
    std::string text;
    for (const auto& [path, version] : found) {
        text += version ? std::string(modeOf(version->kind)) + ' ' + version->id.hex()
                        : std::string("0 ");
        text += '\t' + path + '\0';
    }
    return text;
}

std::optional<FoundFiles> foundIn(std::string_view text)
{
    FoundFiles found;
    while (!text.empty()) {
        const std::size_t blank = text.find(' ');
        const std::size_t tab = text.find('\t', blank == std::string_view::npos ? 0 : blank);
        const std::size_t end = text.find('\0', tab == std::string_view::npos ? 0 : tab);
        if (blank == std::string_view::npos || tab == std::string_view::npos
            || end == std::string_view::npos) {
            return std::nullopt;
        }
        const std::string_view mode = text.substr(0, blank);
        const auto kind = std::find_if(
            kModes.begin(), kModes.end(), [&](const auto& known) { return known.second == mode; });
        const auto id = ObjectId::fromHex(text.substr(blank + 1, tab - blank - 1));
        const bool isThere = mode != "0";
        if (isThere && (kind == kModes.end() || !id)) {
            return std::nullopt;
        }
        found[RepoPath(text.substr(tab + 1, end - tab - 1))] =
            isThere ? std::optional(FileVersion{kind->first, *id}) : std::nullopt;
        text.remove_prefix(end + 1);
    }
    return found;
}

Result<OwnedOutcome>
foundOutcome(Snapshots& snapshots, const Join& join, const RepoPath& path, const FoundFiles& found)
{
    FileOutcome outcome;
    if (const FileOutcome* const joined = outcomeAt(join, path)) {
        outcome = *joined;
    } else {
        TRY_ASSIGN(outcome, sidesAt(snapshots, join, path));
    }
    std::vector<Answer> answers = answersOf(outcome);
    Answer stays{FileChoice::found, {}};
    for (const auto& [at, version] : found) {
        if (version) {
            stays.puts.push_back(placed(at, *version));
        }
    }
    answers.insert(answers.begin(), std::move(stays));
    outcome.question = FileQuestion{QuestionKind::putByHand, std::move(answers)};
    outcome.text = nullptr;
    outcome.settled = {};
    for (const auto& [at, version] : found) {
        if (at != path) {
            outcome.alsoAt.push_back(at);
        }
    }
    TRY_ASSIGN(outcome.found, bytesOf(snapshots, found, path));
    return std::make_shared<const FileOutcome>(std::move(outcome));
}
}  // namespace rope
