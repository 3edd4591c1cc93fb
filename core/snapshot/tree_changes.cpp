// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_tree_join.cpp.
#include "core/snapshot/tree_changes.h"

#include <algorithm>
#include <map>
#include <unordered_map>
#include <utility>

namespace rope {
namespace {
/// One folder in three trees.
struct FolderTriple
{
    RepoPath prefix;  ///< Empty or ending in a slash.
    ThreeTrees trees;
    std::size_t depth = 0;
    std::size_t unread = 0;  ///< How many of the three are still to come.
};

using Entries = std::vector<TreeEntry>;

std::optional<FileVersion> versionOf(const TreeEntry* entry)
{
    return entry ? std::optional(FileVersion{entry->kind, entry->id}) : std::nullopt;
}

ObjectId idOf(const TreeEntry* entry)
{
    return entry ? entry->id : ObjectId{};
}

/// Walks the entries of three trees in their common order.
class TripleWalk
{
public:
    TripleWalk(const Entries& base, const Entries& ours, const Entries& theirs)
        : m_lists{&base, &ours, &theirs}
    {
    }

    /// The next entry that is not equal in all three, with those of the same name and sort in the other
    /// trees; false at the end. A file and a folder of one name are two entries.
    bool nextDiffering()
    {
        while (isEqualInAll()) {
            for (std::size_t& at : m_at) {
                ++at;
            }
        }
        const TreeEntry* least = nullptr;
        for (std::size_t i = 0; i < 3; ++i) {
            if (const TreeEntry* const head = headOf(i);
                head && (!least || entryOrder(*head, *least) < 0)) {
                least = head;
            }
        }
        if (!least) {
            return false;
        }
        for (std::size_t i = 0; i < 3; ++i) {
            const TreeEntry* const head = headOf(i);
            found[i] = head && (head == least || entryOrder(*head, *least) == 0) ? head : nullptr;
            m_at[i] += found[i] ? 1U : 0U;
        }
        name = least->name;
        isFolder = least->kind == EntryKind::folder;
        return true;
    }

    std::array<const TreeEntry*, 3> found{};  ///< In base, ours and theirs.
    std::string_view name;
    bool isFolder = false;

private:
    /// As nearly all entries are.
    [[nodiscard]] bool isEqualInAll() const
    {
        const TreeEntry* const first = headOf(0);
        return first != nullptr && isEqual(*first, 1) && isEqual(*first, 2);
    }
    [[nodiscard]] bool isEqual(const TreeEntry& first, std::size_t i) const
    {
        if (m_lists[i] == m_lists[0] && m_at[i] == m_at[0]) {
            return true;
        }
        const TreeEntry* const head = headOf(i);
        return head != nullptr && first.id == head->id && first == *head;
    }
    [[nodiscard]] const TreeEntry* headOf(std::size_t i) const
    {
        return m_at[i] < m_lists[i]->size() ? &(*m_lists[i])[m_at[i]] : nullptr;
    }
    std::array<const Entries*, 3> m_lists;
    std::array<std::size_t, 3> m_at{};
};

/// Whether only one side has it.
bool isNew(const ThreeTrees& folder)
{
    return folder.base.isNull() && folder.sides.ours.isNull() != folder.sides.theirs.isNull();
}

/// Tells how the entries of a folder differ; folders below it that do, go to `deeper`.
void compareFolders(const FolderTriple& folder,
                    TripleWalk walk,
                    PerSide<TreeChanges>& changes,
                    std::vector<FolderTriple>& deeper)
{
    while (walk.nextDiffering()) {
        const auto [base, ours, theirs] = walk.found;
        const PerSide<const TreeEntry*> sides{ours, theirs};
        const ThreeTrees ids{idOf(base), {idOf(ours), idOf(theirs)}};
        if (walk.isFolder) {
            const RepoPath path = folder.prefix + std::string(walk.name);
            for (const Side side : kSides) {
                if (base && !sides[side]) {
                    changes[side].goneFolders.insert(path);
                }
            }
            deeper.push_back({path + "/", ids, folder.depth + 1});
            continue;
        }
        for (const Side side : kSides) {
            const auto before = versionOf(base);
            const auto after = versionOf(sides[side]);
            if (before != after) {
                changes[side].files.push_back(
                    {folder.prefix + std::string(walk.name), before, after});
            }
        }
    }
}
/// Walks three trees side by side: a folder is compared as soon as all three of it are there.
class ThreeTreesWalk
{
public:
    ThreeTreesWalk(Snapshots& snapshots, const std::stop_token& stop, NewFolders newFolders)
        : m_snapshots(snapshots)
        , m_stop(stop)
        , m_leavesNew(newFolders == NewFolders::leave)
    {
    }

    Result<PerSide<TreeChanges>> walk(const ThreeTrees& trees)
    {
        TRY(read({{{}, trees, 0}}));
        sortFiles();
        m_leavesNew = false;
        TRY(read(leaveNewFolders()));
        sortFiles();
        return std::move(m_changes);
    }

private:
    Status read(std::vector<FolderTriple> folders)
    {
        std::vector<ObjectId> wanted;
        TRY(enter(std::move(folders), wanted));
        return m_snapshots.eachTree(
            wanted,
            [this](const ObjectId& id, const TreeEntries& entries, std::vector<ObjectId>& more) {
                return take(id, entries, more);
            });
    }

    void sortFiles()
    {
        for (const Side side : kSides) {
            std::sort(m_changes[side].files.begin(),
                      m_changes[side].files.end(),
                      [](const auto& a, const auto& b) { return a.path < b.path; });
        }
    }

    /// Tells of the new folders that may stay unread; returns the others.
    std::vector<FolderTriple> leaveNewFolders()
    {
        if (hasDeletions()) {
            return std::move(m_new);
        }
        std::vector<FolderTriple> others;
        for (FolderTriple& folder : m_new) {
            const Side side = folder.trees.sides.ours.isNull() ? Side::theirs : Side::ours;
            RepoPath path = folder.prefix.substr(0, folder.prefix.size() - 1);
            if (isChanged(otherSide(side), path)) {
                others.push_back(std::move(folder));
            } else {
                m_changes[side].newFolders.push_back({std::move(path), folder.trees.sides[side]});
            }
        }
        return others;
    }

    [[nodiscard]] bool hasDeletions() const
    {
        return std::any_of(kSides.begin(), kSides.end(), [this](Side side) {
            const auto& files = m_changes[side].files;
            return !m_changes[side].goneFolders.empty()
                   || std::any_of(files.begin(), files.end(), [](const FileChange& change) {
                          return !change.after;
                      });
        });
    }

    [[nodiscard]] bool isChanged(Side side, const RepoPath& path) const
    {
        const auto& files = m_changes[side].files;
        return std::binary_search(files.begin(),
                                  files.end(),
                                  FileChange{path, {}, {}},
                                  [](const auto& a, const auto& b) { return a.path < b.path; });
    }

    /// Puts folders where they wait for what is not read of them, or compares them.
    Status enter(std::vector<FolderTriple> folders, std::vector<ObjectId>& wanted)
    {
        for (std::size_t i = 0; i < folders.size(); ++i) {  // it may grow
            FolderTriple folder = std::move(folders[i]);
            if (m_stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            if (folder.depth > kMostFolders) {
                return Error{
                    ErrorCode::corrupt, folder.prefix.substr(0, 200), "folders without end"};
            }
            if (m_leavesNew && isNew(folder.trees)) {
                m_new.push_back(std::move(folder));
                continue;
            }
            const std::size_t place = m_folders.size();
            const auto [base, sides] = folder.trees;
            for (const ObjectId& id : {base, sides.ours, sides.theirs}) {
                if (!id.isNull() && await(id, place, wanted)) {
                    ++folder.unread;
                }
            }
            if (folder.unread == 0) {
                compare(folder, folders);
            } else {
                m_folders.push_back(std::move(folder));
            }
        }
        return ok();
    }

    /// Whether a folder has to wait for a tree, and did not already.
    bool await(const ObjectId& id, std::size_t place, std::vector<ObjectId>& wanted)
    {
        const auto [at, isNew] = m_known.try_emplace(id);
        auto& [entries, waiting] = at->second;
        if (isNew) {
            wanted.push_back(id);
        }
        if (entries || (!waiting.empty() && waiting.back() == place)) {
            return false;
        }
        waiting.push_back(place);
        return true;
    }

    Status take(const ObjectId& id, const TreeEntries& entries, std::vector<ObjectId>& more)
    {
        if (m_stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        Known& known = m_known[id];
        known.entries = entries;
        std::vector<FolderTriple> deeper;
        for (const std::size_t place : std::exchange(known.waiting, {})) {
            FolderTriple& folder = m_folders[place];
            if (--folder.unread == 0) {
                compare(std::exchange(folder, {}), deeper);
            }
        }
        return enter(std::move(deeper), more);
    }

    void compare(const FolderTriple& folder, std::vector<FolderTriple>& deeper)
    {
        const auto [base, sides] = folder.trees;
        compareFolders(
            folder, {entries(base), entries(sides.ours), entries(sides.theirs)}, m_changes, deeper);
    }

    [[nodiscard]] const Entries& entries(const ObjectId& id) const
    {
        static const Entries kNone;
        return id.isNull() ? kNone : *m_known.at(id).entries;
    }

    /// A tree that was asked for.
    struct Known
    {
        TreeEntries entries;               ///< Null until it has come.
        std::vector<std::size_t> waiting;  ///< Places of the folders that wait for it.
    };

    Snapshots& m_snapshots;
    const std::stop_token& m_stop;
    bool m_leavesNew;
    std::vector<FolderTriple> m_new;  ///< Folders that only one side has, not looked into yet.
    PerSide<TreeChanges> m_changes;
    std::vector<FolderTriple> m_folders;  ///< That wait, or waited.
    std::unordered_map<ObjectId, Known> m_known;
};
}  // namespace

Result<PerSide<TreeChanges>> treeChanges(Snapshots& repository,
                                         const ThreeTrees& trees,
                                         const std::stop_token& stop,
                                         NewFolders newFolders)
{
    return ThreeTreesWalk(repository, stop, newFolders).walk(trees);
}

Result<bool> allCanBeCheckedOut(Snapshots& repository,
                                std::span<const NewFolder> folders,
                                const std::stop_token& stop)
{
    // Where a folder stands first; by its length alone what is below can become too long a path.
    std::unordered_map<ObjectId, std::size_t> prefixes;
    std::vector<ObjectId> wanted;
    constexpr std::size_t kLongPath = 2'000;  // looked at in full, by the caller
    bool areAll = true;
    const auto await = [&](const ObjectId& id, std::size_t prefix, std::vector<ObjectId>& ids) {
        areAll = areAll && prefix < kLongPath;
        const auto [known, isNewId] = prefixes.try_emplace(id, prefix);
        areAll = areAll && (isNewId || known->second >= prefix);
        if (isNewId && areAll) {
            ids.push_back(id);
        }
    };
    for (const NewFolder& folder : folders) {
        areAll = areAll && repository.canCheckOut(folder.path);
        await(folder.tree, folder.path.size(), wanted);
    }
    TRY(repository.eachTree(
        wanted,
        [&](const ObjectId& id, const TreeEntries& entries, std::vector<ObjectId>& more) -> Status {
            if (stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            const std::size_t prefix = prefixes.at(id);
            for (const TreeEntry& entry : *entries) {
                areAll = areAll && repository.canCheckOut(entry.name);
                if (entry.kind == EntryKind::folder) {
                    await(entry.id, prefix + 1 + entry.name.size(), more);
                }
            }
            return ok();
        }));
    return areAll;
}

namespace {
/// A folder in several trees, as the distinct ids that it has there.
class ReadAhead
{
public:
    ReadAhead(Snapshots& snapshots, const std::stop_token& stop)
        : m_snapshots(snapshots)
        , m_stop(stop)
    {
    }

    Status read(std::span<const ObjectId> trees)
    {
        std::vector<ObjectId> wanted;
        enter({{trees.begin(), trees.end()}, 0}, wanted);
        return m_snapshots.eachTree(
            wanted,
            [this](const ObjectId& id, const TreeEntries& entries, std::vector<ObjectId>& more) {
                return take(id, entries, more);
            });
    }

private:
    struct Folder
    {
        std::vector<ObjectId> ids;
        std::size_t depth = 0;
        std::size_t unread = 0;
    };

    void enter(Folder folder, std::vector<ObjectId>& wanted)
    {
        for (const ObjectId& id : folder.ids) {
            // A tree that stands at several places is looked into at the first alone.
            if (m_read.try_emplace(id).second) {
                wanted.push_back(id);
                m_place[id] = m_folders.size();
                ++folder.unread;
            }
        }
        m_folders.push_back(std::move(folder));
    }

    Status take(const ObjectId& id, const TreeEntries& entries, std::vector<ObjectId>& more)
    {
        if (m_stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        m_read[id] = entries;
        Folder& folder = m_folders[m_place.at(id)];
        if (--folder.unread > 0) {
            return ok();
        }
        if (folder.depth == kMostFolders) {
            return Error{ErrorCode::corrupt, id.hex(), "folders without end"};
        }
        const std::size_t depth = folder.depth + 1;
        for (auto& below : differingBelow(std::exchange(folder, {}))) {
            enter({std::move(below), depth}, more);
        }
        return ok();
    }

    /// The folders in one that are not the same in all of its trees.
    [[nodiscard]] std::vector<std::vector<ObjectId>> differingBelow(const Folder& folder) const
    {
        std::map<std::string_view, std::pair<std::vector<ObjectId>, std::size_t>> byName;
        std::size_t trees = 0;
        for (const ObjectId& id : folder.ids) {
            const TreeEntries& entries = m_read.at(id);
            trees += entries ? 1U : 0U;
            for (std::size_t i = 0; entries && i < entries->size(); ++i) {
                const TreeEntry& entry = (*entries)[i];
                if (entry.kind == EntryKind::folder) {
                    auto& [ids, count] = byName[entry.name];
                    ++count;
                    if (std::find(ids.begin(), ids.end(), entry.id) == ids.end()) {
                        ids.push_back(entry.id);
                    }
                }
            }
        }
        std::vector<std::vector<ObjectId>> differing;
        for (auto& [name, found] : byName) {
            if (found.first.size() > 1 || found.second < trees) {
                differing.push_back(std::move(found.first));
            }
        }
        return differing;
    }

    Snapshots& m_snapshots;
    const std::stop_token& m_stop;
    std::vector<Folder> m_folders;
    std::unordered_map<ObjectId, TreeEntries> m_read;   ///< Null: was asked for.
    std::unordered_map<ObjectId, std::size_t> m_place;  ///< Of the folder that waits for it.
};
}  // namespace

Status
readAhead(Snapshots& repository, std::span<const ObjectId> trees, const std::stop_token& stop)
{
    return ReadAhead(repository, stop).read(trees);
}

Result<bool> holdsPath(Snapshots& repository, ObjectId tree, const RepoPath& path)
{
    for (std::size_t from = 0;;) {
        const ObjectId ids[] = {tree};
        TRY_ASSIGN(const auto trees, repository.readTrees(ids));
        const std::size_t slash = std::min(path.find('/', from), path.size());
        const std::string_view name = std::string_view(path).substr(from, slash - from);
        const auto found = std::find_if(trees.front()->begin(),
                                        trees.front()->end(),
                                        [&](const TreeEntry& e) { return e.name == name; });
        if (found == trees.front()->end()) {
            return false;
        }
        if (slash == path.size()) {
            return true;
        }
        if (found->kind != EntryKind::folder) {
            return false;
        }
        tree = found->id;
        from = slash + 1;
    }
}
}  // namespace rope
