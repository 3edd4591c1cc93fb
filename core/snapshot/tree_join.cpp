// SPDX-License-Identifier: GPL-3.0-or-later
// Every entry that a side touched (join_entries.h) becomes one of these:
//   only ours touched it      stays as ours has it
//   only theirs touched it    taken over
//   both made the same of it  settled
//   one deleted, one edited   a question
//   both edited or added it   texts are joined by lines; anything else is a question
// and last, a file that ends up where a folder stays moves aside; where that hangs on answers, a free
// name is kept ready for it.
// Tested by tst_forecast.cpp.
#include "core/snapshot/tree_join.h"

#include "core/snapshot/content_join.h"
#include "core/snapshot/join_entries.h"
#include "core/snapshot/names_beside.h"
#include "core/snapshot/questions.h"
#include "core/snapshot/repo_paths.h"

#include <algorithm>

namespace rope {
namespace {
std::optional<FileVersion> versionOf(const std::optional<PlacedVersion>& placed)
{
    return placed ? std::optional(placed->version) : std::nullopt;
}

RepoPath pathOf(const std::optional<PlacedVersion>& placed)
{
    return placed ? placed->path : RepoPath();
}

EntryKind joinedKind(EntryKind base, EntryKind ours, EntryKind theirs)
{
    return ours == base ? theirs : ours;
}

using Origins = PerSide<std::optional<JoinEntry::Origin>>;

/// The mode that a side's version has, once it is joined with the file that it was renamed from.
EntryKind kindOfSide(const FileVersion& version, const std::optional<JoinEntry::Origin>& origin)
{
    return origin && isRegular(origin->base.version.kind) && isRegular(origin->other.version.kind)
               ? joinedKind(origin->base.version.kind, version.kind, origin->other.version.kind)
               : version.kind;
}

/// Where a renamed file came from matters only if the other side has changed it there.
Origins changedOrigins(const JoinEntry& entry)
{
    Origins origins = entry.origins;
    for (const Side side : kSides) {
        if (origins[side] && origins[side]->other.version == origins[side]->base.version) {
            origins[side].reset();
        }
    }
    return origins;
}

class TreeJoiner
{
public:
    TreeJoiner(Snapshots& repository,
               const ThreeTrees& trees,
               const TreeJoinOptions& options,
               const ProgressSink& progress,
               const std::stop_token& stop)
        : m_repository(repository)
        , m_trees(trees)
        , m_options(options)
        , m_progress(progress)
        , m_stop(stop)
        , m_names([this](const RepoPath& path) { return isTaken(path); })
    {
    }

    Result<TreeJoin> join()
    {
        TRY_ASSIGN(auto changes, changesOfSides());
        RenameRules renames = m_repository.renameRules();
        if (!m_options.followsFolders) {
            renames.folders = RenameRules::Folders::stay;
        }
        TRY_ASSIGN(m_entries,
                   pairEntries(m_repository, m_trees, changes, renames, m_progress, m_stop));
        if (renames.folders == RenameRules::Folders::follow) {
            followFoldersUnasked();
        }
        askForTwins();
        for (const auto& [path, entry] : m_entries) {
            TRY(sort(path, entry));
        }
        const auto rules = m_options.rules ? m_options.rules : std::make_shared<MergeRules>();
        TRY(joinContents(m_repository, m_open, *rules, m_names, m_progress, m_stop));
        for (OpenFile& open : m_open) {
            TRY(askForConcern(open.outcome, m_entries.at(open.entryPath), m_names));
            m_join.files.push_back(std::move(open.outcome));
        }
        TRY(moveFilesOutOfFolders());
        if (m_options.checksNames) {
            askAboutRefusedNames();
        }
        TRY(nameAsides());
        m_join.oursChanges = std::move(changes.ours.files);
        m_join.theirsChanges = std::move(changes.theirs.files);
        m_join.newFolders = {std::move(changes.ours.newFolders),
                             std::move(changes.theirs.newFolders)};
        std::sort(m_join.files.begin(), m_join.files.end(), [](const auto& a, const auto& b) {
            return a.path < b.path;
        });
        std::stable_sort(m_join.theirsEdits.begin(),
                         m_join.theirsEdits.end(),
                         [](const auto& a, const auto& b) { return a.path < b.path; });
        return std::move(m_join);
    }

private:
    Result<PerSide<TreeChanges>> changesOfSides()
    {
        TRY_ASSIGN(auto changes, treeChanges(m_repository, m_trees, m_stop, m_options.newFolders));
        if (m_options.checksNames && !changes.theirs.newFolders.empty()) {
            TRY_ASSIGN(const bool areNamesFine,
                       allCanBeCheckedOut(m_repository, changes.theirs.newFolders, m_stop));
            if (!areNamesFine) {
                return treeChanges(m_repository, m_trees, m_stop);
            }
        }
        return changes;
    }

    FileOutcome outcomeOf(const RepoPath& path, const JoinEntry& entry) const
    {
        FileOutcome file;
        file.path = path;
        file.base = versionOf(entry.base);
        file.ours = versionOf(entry.sides.ours);
        file.theirs = versionOf(entry.sides.theirs);
        file.basePath = trueName(pathOf(entry.base));
        file.oursPath = pathOf(entry.sides.ours);
        file.theirsPath = pathOf(entry.sides.theirs);
        file.kind = file.base ? OutcomeKind::content : OutcomeKind::bothAdded;
        return file;
    }

    /// A name that only a virtual base has is nobody's: what it stands for.
    [[nodiscard]] RepoPath trueName(const RepoPath& path) const
    {
        const auto found = m_options.madeUp.find(path);
        return found == m_options.madeUp.end() ? path : found->second;
    }

    void followFoldersUnasked()
    {
        for (auto& [path, entry] : m_entries) {
            if (entry.concern == Concern::movedWithFolder) {
                entry.concern = Concern::none;
            }
        }
    }

    /// A virtual base may hold one file under two names. Where each side dropped another one of them,
    /// both would go without a word.
    void askForTwins()
    {
        for (const auto& [first, second] : m_options.twins) {
            const auto a = m_entries.find(first);
            const auto b = m_entries.find(second);
            if (a == m_entries.end() || b == m_entries.end()) {
                continue;
            }
            for (const Side side : kSides) {
                const Side other = otherSide(side);
                if (a->second.base && b->second.base && a->second.sides[side]
                    && !a->second.sides[other] && !b->second.sides[side]
                    && b->second.sides[other]) {
                    JoinEntry& kept = side == Side::ours ? a->second : b->second;
                    JoinEntry& gone = side == Side::ours ? b->second : a->second;
                    kept.sides.theirs = gone.sides.theirs;
                    kept.concern = Concern::renamedTwice;
                    kept.by = Side::ours;
                    m_done.insert(side == Side::ours ? second : first);
                }
            }
        }
    }

    Status sort(const RepoPath& path, const JoinEntry& entry)
    {
        const bool isNobodys =
            !entry.sides.ours && !entry.sides.theirs && m_options.madeUp.contains(path);
        if (m_done.contains(path) || isNobodys) {
            return ok();
        }
        TRY_ASSIGN(const bool isOneFile, joinNamesOfOneFile(path, entry));
        if (isOneFile) {
            return ok();
        }
        const bool isPlain =
            entry.concern == Concern::none && !entry.origins.ours && !entry.origins.theirs;
        const bool isMoved = entry.sides.ours && entry.sides.ours->path != path;
        if (isPlain && !isMoved && !entry.isTouchedBy(Side::theirs)) {
            keepOurs(path, entry);
            return ok();
        }
        if (isPlain && !entry.isTouchedBy(Side::ours)) {
            takeTheirs(path, entry);
            return ok();
        }
        FileOutcome file = outcomeOf(path, entry);
        const Origins origins = changedOrigins(entry);
        if (!entry.sides.ours || !entry.sides.theirs) {
            sortOneSided(file, entry);
        } else {
            TRY(classifyBoth(file, origins));
        }
        for (const auto& origin : {entry.origins.ours, entry.origins.theirs}) {
            if (origin) {
                m_join.folded.insert(origin->other.path);
            }
        }
        m_open.push_back({std::move(file), path, origins});
        return ok();
    }

    void keepOurs(const RepoPath& path, const JoinEntry& entry)
    {
        if (entry.sides.ours) {
            m_standing.emplace_back(path, &entry);
        }
    }

    void takeTheirs(const RepoPath& path, const JoinEntry& entry)
    {
        if (entry.sides.ours && (entry.sides.ours->path != path || !entry.sides.theirs)) {
            m_join.theirsEdits.push_back({entry.sides.ours->path, std::nullopt});
        }
        if (entry.sides.theirs) {
            m_join.theirsEdits.push_back({path, entry.sides.theirs->version});
            m_standing.emplace_back(path, &entry);
        }
    }

    /// One file that each side gave another name: one outcome, unless a name is taken as well.
    Result<bool> joinNamesOfOneFile(const RepoPath& path, const JoinEntry& entry)
    {
        if (entry.concern != Concern::renamedTwice) {
            return false;
        }
        if (entry.base && entry.sides.ours && entry.sides.theirs) {  // twins
            FileOutcome file = outcomeOf(path, entry);
            TRY(classifyBoth(file, {}));
            file.alsoAt = {file.theirsPath};
            m_open.push_back({std::move(file), path, {}});
            return true;
        }
        const RepoPath& otherName = entry.otherPaths.front();
        const auto partner = m_entries.find(otherName);
        if (partner == m_entries.end() || partner->second.concern != Concern::renamedTwice
            || entry.sides[otherSide(entry.by)]
            || partner->second.sides[otherSide(partner->second.by)]) {
            return false;
        }
        const JoinEntry& oursEntry = entry.by == Side::ours ? entry : partner->second;
        const JoinEntry& theirsEntry = entry.by == Side::ours ? partner->second : entry;
        JoinEntry whole;
        whole.base = oursEntry.origins.ours->base;
        whole.sides.ours = oursEntry.sides.ours;
        whole.sides.theirs = theirsEntry.sides.theirs;
        FileOutcome file = outcomeOf(entry.by == Side::ours ? path : otherName, whole);
        TRY(classifyBoth(file, {}));
        file.alsoAt = {entry.by == Side::ours ? otherName : path, file.basePath};
        m_done.insert(otherName);
        m_open.push_back({std::move(file), path, {}});
        return true;
    }

    static void sortOneSided(FileOutcome& file, const JoinEntry& entry)
    {
        if (!file.ours && !file.theirs) {
            return;  // both deleted it: settled as gone
        }
        if (entry.concern == Concern::none && file.base) {
            askDeleted(file);
        } else {
            file.settled = file.ours ? file.ours : file.theirs;
        }
    }

    /// Settles or asks what can be told without reading contents; leaves the rest to joinContents().
    Status classifyBoth(FileOutcome& file, const Origins& origins)
    {
        const bool isText = isRegular(file.ours->kind) && isRegular(file.theirs->kind);
        if (!isText && file.ours == file.theirs) {
            file.settled = file.ours;
            return ok();
        }
        if (!isText) {
            return classifySpecial(file);
        }
        const PerSide<EntryKind> kinds{kindOfSide(*file.ours, origins.ours),
                                       kindOfSide(*file.theirs, origins.theirs)};
        const bool hasBase = file.base && isRegular(file.base->kind);
        file.joinedKind =
            hasBase ? joinedKind(file.base->kind, kinds.ours, kinds.theirs) : kinds.ours;
        const ObjectId baseId = hasBase ? file.base->id : ObjectId{};
        if (!hasBase && kinds.ours != kinds.theirs) {
            askModes(file);
        } else if (file.ours->id == file.theirs->id || file.theirs->id == baseId) {
            file.settled = FileVersion{file.joinedKind, file.ours->id};
        } else if (file.ours->id == baseId) {
            file.settled = FileVersion{file.joinedKind, file.theirs->id};
        }
        return ok();
    }

    Status classifySpecial(FileOutcome& file)
    {
        if (file.ours->kind != file.theirs->kind) {
            if (file.base && file.ours == file.base) {
                file.settled = file.theirs;
            } else if (file.base && file.theirs == file.base) {
                file.settled = file.ours;
            } else {
                return askKinds(file, m_names);
            }
        } else if (file.base && file.ours == file.base) {
            file.settled = file.theirs;
        } else if (file.base && file.theirs == file.base) {
            file.settled = file.ours;
        } else {
            askSpecial(file);
        }
        return ok();
    }

    /// A path that is a file here and a folder there: the folder stays, the file moves aside.
    Status moveFilesOutOfFolders()
    {
        std::vector<const Standing*> files;
        files.reserve(m_standing.size());
        for (const Standing& standing : m_standing) {
            files.push_back(&standing);
        }
        std::vector<Standing> joined;
        for (const FileOutcome& file : m_join.files) {
            // Of a file with two names either may be its own.
            const bool hasTwo =
                file.question && file.question->kind == QuestionKind::renamedTwice && file.theirs;
            for (const RepoPath& path : {file.path, hasTwo ? file.theirsPath : file.path}) {
                const auto entry = m_entries.find(path);
                if (entry != m_entries.end() && staysThere(file)) {
                    joined.emplace_back(entry->first, &entry->second);
                }
            }
        }
        std::transform(joined.begin(),
                       joined.end(),
                       std::back_inserter(files),
                       [](const Standing& standing) { return &standing; });
        std::sort(files.begin(), files.end(), [](const auto* a, const auto* b) {
            return a->first < b->first;
        });
        const auto folders = sidesWithFolder(files);
        if (folders.empty()) {
            return ok();
        }
        for (FileOutcome& file : m_join.files) {
            const auto folder = folders.find(file.path);
            if (folder != folders.end() && staysThere(file)) {
                TRY(askAside(file, fileSide(folder->second), m_names));
            }
        }
        for (const auto& [path, entry] : m_standing) {
            const auto folder = folders.find(path);
            if (folder == folders.end()) {
                continue;
            }
            FileOutcome file = outcomeOf(RepoPath(path), *entry);
            file.settled =
                file.theirs && entry->isTouchedBy(Side::theirs) ? file.theirs : file.ours;
            std::erase_if(m_join.theirsEdits, [&p = path](const TreeEdit& edit) {
                return edit.path == p && edit.version;
            });
            TRY(askAside(file, fileSide(folder->second), m_names));
            m_join.files.push_back(std::move(file));
        }
        return ok();
    }

    /// A path that any answer gives a file, and whose the file would be.
    using Claim = std::pair<RepoPath, std::string_view>;

    static void claimAll(const FileOutcome& file, std::vector<Claim>& claims)
    {
        const auto claim = [&](const std::vector<Placement>& puts) {
            for (const Placement& put : puts) {
                const bool isOurs = file.ours && put.path == file.oursPath;
                const bool isTheirs = file.theirs && put.path == file.theirsPath;
                claims.emplace_back(put.path, isOurs ? "ours" : isTheirs ? "theirs" : "base");
            }
        };
        if (!file.question) {
            claim(file.placements({}));
        } else {
            for (const Answer& answer : file.question->answers) {
                claim(answer.puts);
            }
        }
        // Whatever is put by hand or into a virtual base, which may be any version.
        claims.emplace_back(file.path, file.ours ? "ours" : file.theirs ? "theirs" : "base");
    }

    /// Finds where answers may put two files that cannot both stand, and a free name for one of them.
    Status nameAsides()
    {
        std::vector<Claim> asked;
        for (const FileOutcome& file : m_join.files) {
            if (file.needsDecision() || file.text) {
                claimAll(file, asked);
            }
        }
        if (asked.empty()) {
            return ok();
        }
        std::map<std::string_view, std::string_view> standing;
        for (const auto& [path, entry] : m_standing) {
            standing.emplace(path, entry->sides.ours ? "ours" : "theirs");
        }
        for (const FileOutcome& file : m_join.files) {
            if (!file.question && !file.text && file.settled) {
                standing.emplace(file.path, file.ours ? "ours" : "theirs");
            }
        }
        std::map<std::string_view, std::string_view> all = standing;
        for (const auto& [path, whose] : asked) {
            all.emplace(path, whose);
        }
        std::map<RepoPath, std::string_view> crowded;
        for (const auto& [path, whose] : asked) {
            if (standing.contains(path)) {
                crowded.emplace(path, whose);
            }
            for (RepoPath folder = folderOfPath(path); !folder.empty();
                 folder = folderOfPath(folder)) {
                if (const auto file = all.find(folder); file != all.end()) {
                    crowded.emplace(folder, file->second);
                }
            }
            const std::string within = path + "/";
            const auto inside = all.lower_bound(within);
            if (inside != all.end() && liesIn(inside->first, path)) {
                crowded.emplace(path, whose);
            }
        }
        for (const auto& [path, whose] : crowded) {
            TRY_ASSIGN(m_join.asides[path], m_names.makeFor(path, whose));
        }
        return ok();
    }

    static bool staysThere(const FileOutcome& file)
    {
        return file.question || file.text || file.settled;
    }

    static Side fileSide(const PerSide<bool>& hasFolder)
    {
        return hasFolder.ours ? Side::theirs : Side::ours;
    }

    using Standing = std::pair<std::string_view, const JoinEntry*>;

    /// The paths of these files that are folders of others of them, and which side has them as such.
    /// Takes them by path: what lies in a folder stands behind it, among what begins like its name.
    static std::map<std::string_view, PerSide<bool>>
    sidesWithFolder(const std::vector<const Standing*>& files)
    {
        std::map<std::string_view, PerSide<bool>> folders;
        for (auto file = files.begin(); file != files.end(); ++file) {
            const std::string_view path = (*file)->first;
            for (auto next = std::next(file);
                 next != files.end() && (*next)->first.starts_with(path);
                 ++next) {
                if ((*next)->first.size() == path.size() || (*next)->first[path.size()] != '/') {
                    continue;
                }
                PerSide<bool>& has = folders[path];
                for (const Side side : kSides) {
                    const auto& version = (*next)->second->sides[side];
                    has[side] = has[side] || (version && liesIn(version->path, RepoPath(path)));
                }
            }
        }
        return folders;
    }

    /// What git would refuse to put into the working tree cannot join by itself.
    void askAboutRefusedNames()
    {
        std::erase_if(m_join.theirsEdits, [this](const TreeEdit& edit) {
            const auto entry = m_entries.find(edit.path);
            const bool isNew =
                edit.version && entry != m_entries.end() && !entry->second.sides.ours;
            if (!isNew || m_repository.canCheckOut(edit.path)) {
                return false;
            }
            FileOutcome file = outcomeOf(edit.path, entry->second);
            askRefusedName(file);
            m_join.files.push_back(std::move(file));
            return true;
        });
    }

    /// Whether a name is in use on either side, or was before.
    Result<bool> isTaken(const RepoPath& path)
    {
        bool isTaken = m_entries.contains(path);
        for (const Side side : kSides) {
            if (!isTaken) {
                TRY_ASSIGN(isTaken, holdsPath(m_repository, m_trees.sides[side], path));
            }
        }
        return isTaken;
    }

    Snapshots& m_repository;
    const ThreeTrees& m_trees;
    const TreeJoinOptions& m_options;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    NamesBeside m_names;
    JoinEntries m_entries;
    std::set<RepoPath> m_done;  ///< Entries that became part of another's outcome.
    std::vector<OpenFile> m_open;
    std::vector<Standing>
        m_standing;  ///< Files only one side touched, and that are there; by path.
    TreeJoin m_join;
};
}  // namespace

bool TreeJoin::isClean() const
{
    return std::none_of(
        files.begin(), files.end(), [](const FileOutcome& file) { return file.needsDecision(); });
}

Result<TreeJoin> joinTrees(Snapshots& repository,
                           const ObjectId& base,
                           const ObjectId& ours,
                           const ObjectId& theirs,
                           const TreeJoinOptions& options,
                           const ProgressSink& progress,
                           const std::stop_token& stop)
{
    const ThreeTrees trees{base, {ours, theirs}};
    return TreeJoiner(repository, trees, options, progress, stop).join();
}

std::vector<TreeEdit> settledEdits(const TreeJoin& join)
{
    std::vector<TreeEdit> edits;
    for (const FileOutcome& file : join.files) {
        const bool isSettled = !file.question && !file.text;
        if (isSettled && file.settled == file.ours && (!file.ours || file.path == file.oursPath)) {
            continue;
        }
        if (file.ours) {
            edits.push_back({file.oursPath, std::nullopt});
        }
        if (isSettled && file.settled) {
            edits.push_back({file.path, file.settled});
        }
    }
    edits.insert(edits.end(), join.theirsEdits.begin(), join.theirsEdits.end());
    std::stable_partition(
        edits.begin(), edits.end(), [](const TreeEdit& edit) { return !edit.version; });
    return edits;
}
}  // namespace rope
