// SPDX-License-Identifier: GPL-3.0-or-later
// Four steps over one map of paths:
//   1. every path that a side touched, with what each side has there
//   2. renames found on either side, and what they say of whole folders
//   3. what one side put into a folder that the other renamed goes along
//   4. each rename brings base and the other side's version to the new path
// Tested by tst_forecast.cpp.
#include "core/snapshot/join_entries.h"

#include "core/snapshot/repo_paths.h"

#include <algorithm>

namespace rope {
namespace {
std::optional<PlacedVersion> placed(const std::optional<FileVersion>& version, const RepoPath& path)
{
    return version ? std::optional(PlacedVersion{*version, path}) : std::nullopt;
}

class EntryPairer
{
public:
    EntryPairer(Snapshots& repository,
                const ThreeTrees& trees,
                const PerSide<TreeChanges>& changes,
                const RenameRules& rules,
                const ProgressSink& progress,
                const std::stop_token& stop)
        : m_repository(repository)
        , m_trees(trees)
        , m_changes(changes)
        , m_rules(rules)
        , m_progress(progress)
        , m_stop(stop)
    {
    }

    Result<JoinEntries> pairAll()
    {
        enterChanges();
        TRY(followRenames(m_rules.folders != RenameRules::Folders::stay));
        std::erase_if(m_entries, [](const auto& entry) { return entry.second.isEmpty(); });
        return std::move(m_entries);
    }

private:
    void enterChanges()
    {
        for (const Side side : kSides) {
            for (const FileChange& change : m_changes[side].files) {
                const auto [at, isNew] = m_entries.try_emplace(change.path);
                JoinEntry& entry = at->second;
                if (isNew) {
                    entry.base = placed(change.before, change.path);
                    entry.sides[otherSide(side)] = entry.base;
                }
                entry.sides[side] = placed(change.after, change.path);
            }
        }
    }

    /// What a side did at a path; null: nothing.
    [[nodiscard]] const FileChange* changeAt(Side side, const RepoPath& path) const
    {
        const auto& files = m_changes[side].files;
        const auto at = std::lower_bound(
            files.begin(), files.end(), path, [](const FileChange& change, const RepoPath& wanted) {
                return change.path < wanted;
            });
        return at != files.end() && at->path == path ? &*at : nullptr;
    }

    /// What the other side has to do with the files of this one.
    [[nodiscard]] RenameInterest interestOf(Side other, const std::set<RepoPath>& contested) const
    {
        RenameInterest interest;
        interest.matters = [this, other, &contested](const FileChange& deleted) {
            return changeAt(other, deleted.path) != nullptr || liesInAny(deleted.path, contested);
        };
        interest.isEditedByOther = [this, other](const RepoPath& path) {
            const FileChange* const change = changeAt(other, path);
            return change != nullptr && change->before && change->after;
        };
        interest.isAddedByOther = [this, other](const RepoPath& path) {
            const FileChange* const change = changeAt(other, path);
            return change != nullptr && !change->before;
        };
        return interest;
    }

    Status followRenames(bool followsFolders)
    {
        PerSide<std::set<RepoPath>> contested;
        for (const Side side : kSides) {
            if (followsFolders) {
                contested[side] =
                    contestedFolders(m_changes[side].goneFolders, m_changes[otherSide(side)].files);
            }
            TRY_ASSIGN(m_renames[side],
                       findRenames(m_repository,
                                   m_changes[side].files,
                                   interestOf(otherSide(side), contested[side]),
                                   m_rules,
                                   m_progress,
                                   m_stop));
        }
        if (followsFolders) {
            TRY(followFolders(contested));
        }
        PerSide<std::map<RepoPath, RepoPath>> byOldPath;
        std::set<RepoPath> oldPaths;
        for (const Side side : kSides) {
            for (const Rename& rename : m_renames[side]) {
                byOldPath[side][rename.from] = rename.to;
                oldPaths.insert(rename.from);
            }
        }
        for (const RepoPath& from : oldPaths) {
            const auto ours = byOldPath.ours.find(from);
            const auto theirs = byOldPath.theirs.find(from);
            if (ours != byOldPath.ours.end() && theirs != byOldPath.theirs.end()) {
                renamedByBoth(from, ours->second, theirs->second);
            } else if (ours != byOldPath.ours.end()) {
                renamedByOne(from, ours->second, Side::ours);
            } else {
                renamedByOne(from, theirs->second, Side::theirs);
            }
        }
        return ok();
    }

    Status followFolders(const PerSide<std::set<RepoPath>>& contested)
    {
        PerSide<FolderRenames> folders;
        for (const Side side : kSides) {
            folders[side] = folderRenames(m_renames[side], contested[side]);
        }
        // A folder that both renamed speaks for itself, file by file.
        for (auto it = folders.ours.to.begin(); it != folders.ours.to.end();) {
            const bool isBoth = folders.theirs.to.erase(it->first) > 0;
            it = isBoth ? folders.ours.to.erase(it) : std::next(it);
        }
        for (const Side side : kSides) {
            TRY(moveIntoRenamedFolders(side, folders[otherSide(side)], folders[side]));
        }
        return ok();
    }

    /// Everything that a side added or renamed to somewhere: the paths it is new at.
    [[nodiscard]] std::vector<RepoPath> newPaths(Side side) const
    {
        std::vector<RepoPath> paths;
        for (const FileChange& change : m_changes[side].files) {
            if (!change.before && change.after) {
                paths.push_back(change.path);
            }
        }
        return paths;
    }

    Status
    moveIntoRenamedFolders(Side side, const FolderRenames& folders, const FolderRenames& ownFolders)
    {
        std::map<RepoPath, std::vector<RepoPath>> arrivals;
        for (const RepoPath& path : newPaths(side)) {
            const RepoPath folder = folders.folderAbove(path);
            if (folder.empty()) {
                continue;
            }
            if (folders.split.contains(folder)) {
                worry(path, Concern::splitFolder, side, splitTargets(folders, folder, path));
            } else if (!ownFolders.to.contains(folders.to.at(folder))) {
                // (Where this side renamed the new folder in its turn, the file's own path stands.)
                arrivals[folders.followed(path, folder)].push_back(path);
            }
        }
        for (const auto& [target, sources] : arrivals) {
            TRY_ASSIGN(bool isTaken, holdsPath(m_repository, m_trees.sides[side], target));
            // A path the base has belongs to another file, even if it is gone by now; unless the
            // file comes back to where it was.
            isTaken = isTaken
                      || (m_entries.contains(target) && m_entries[target].base
                          && !forgetRename(side, target, sources.front()));
            if (isTaken || sources.size() > 1) {
                for (const RepoPath& source : sources) {
                    worry(source, Concern::blockedFolder, side, {target});
                }
            } else {
                move(sources.front(), target, side);
            }
        }
        return ok();
    }

    /// Drops a rename that a move undoes. Whether there was one.
    bool forgetRename(Side side, const RepoPath& from, const RepoPath& to)
    {
        return std::erase(m_renames[side], Rename{from, to}) > 0;
    }

    static std::vector<RepoPath>
    splitTargets(const FolderRenames& folders, const RepoPath& folder, const RepoPath& path)
    {
        std::vector<RepoPath> targets;
        for (const RepoPath& target : folders.split.at(folder)) {
            targets.push_back(joinPath(target, path.substr(folder.size() + 1)));
        }
        return targets;
    }

    void worry(const RepoPath& path, Concern concern, Side by, std::vector<RepoPath> otherPaths)
    {
        JoinEntry& entry = m_entries[path];
        entry.concern = concern;
        entry.by = by;
        entry.otherPaths = std::move(otherPaths);
    }

    void move(const RepoPath& from, const RepoPath& to, Side side)
    {
        m_entries[to].sides[side] = m_entries[from].sides[side];
        m_entries[from].sides[side].reset();
        worry(to, Concern::movedWithFolder, side, {from});
        for (Rename& rename : m_renames[side]) {
            if (rename.to == from) {
                rename.to = to;
            }
        }
    }

    void renamedByBoth(const RepoPath& from, const RepoPath& oursTo, const RepoPath& theirsTo)
    {
        const PlacedVersion base = *m_entries[from].base;
        m_entries.erase(from);
        if (oursTo == theirsTo) {
            m_entries[oursTo].base = base;
            return;
        }
        const PlacedVersion ours = *m_entries[oursTo].sides.ours;
        const PlacedVersion theirs = *m_entries[theirsTo].sides.theirs;
        m_entries[oursTo].origins.ours = JoinEntry::Origin{base, theirs};
        m_entries[theirsTo].origins.theirs = JoinEntry::Origin{base, ours};
        worry(oursTo, Concern::renamedTwice, Side::ours, {theirsTo, from});
        worry(theirsTo, Concern::renamedTwice, Side::theirs, {oursTo, from});
    }

    void renamedByOne(const RepoPath& from, const RepoPath& to, Side by)
    {
        const Side other = otherSide(by);
        JoinEntry& old = m_entries[from];
        const std::optional<PlacedVersion> kept = old.sides[other];
        JoinEntry& target = m_entries[to];
        const bool isOtherKind =
            kept && isRegular(kept->version.kind) != isRegular(target.sides[by]->version.kind);
        const bool isTaken = target.sides[other].has_value() && !isOtherKind;
        if (isTaken) {
            if (kept) {
                target.origins[by] = JoinEntry::Origin{*old.base, *kept};
            } else {
                target.concern = Concern::renamedOntoAdded;
                target.by = by;
                target.otherPaths = {from};
            }
            old.sides[other] = old.base;  // it leaves its old place without a further question
            return;
        }
        target.base = old.base;
        if (isOtherKind) {
            old.base.reset();  // what the other side has there now is a file of its own
            return;
        }
        if (kept) {
            target.sides[other] = kept;
        } else {
            target.concern = Concern::renamedAndDeleted;
            target.by = by;
        }
        m_entries.erase(from);
    }

    Snapshots& m_repository;
    const ThreeTrees& m_trees;
    const PerSide<TreeChanges>& m_changes;
    const RenameRules& m_rules;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    JoinEntries m_entries;
    PerSide<std::vector<Rename>> m_renames;
};
}  // namespace

Result<JoinEntries> pairEntries(Snapshots& repository,
                                const ThreeTrees& trees,
                                const PerSide<TreeChanges>& changes,
                                const RenameRules& rules,
                                const ProgressSink& progress,
                                const std::stop_token& stop)
{
    return EntryPairer(repository, trees, changes, rules, progress, stop).pairAll();
}
}  // namespace rope
