// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_tree_join.cpp.
#include "core/snapshot/tree_changes.h"

#include <algorithm>
#include <unordered_map>

namespace rope {
namespace {
struct FolderTriple
{
    RepoPath prefix;  ///< Empty or ending in a slash.
    ThreeTrees trees;
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

    /// The next entry with those of the same name and sort in the other trees; false at the end.
    /// A file and a folder of one name are two entries.
    bool next()
    {
        if (isSameInAll()) {
            return takeAll();
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
    /// Nearly all entries are there in all three trees.
    [[nodiscard]] bool isSameInAll() const
    {
        const TreeEntry* const first = headOf(0);
        return first != nullptr && isSameEntry(*first, headOf(1)) && isSameEntry(*first, headOf(2));
    }
    static bool isSameEntry(const TreeEntry& entry, const TreeEntry* other)
    {
        return other != nullptr && entry.name == other->name
               && (entry.kind == EntryKind::folder) == (other->kind == EntryKind::folder);
    }
    bool takeAll()
    {
        for (std::size_t i = 0; i < 3; ++i) {
            found[i] = headOf(i);
            ++m_at[i];
        }
        name = found[0]->name;
        isFolder = found[0]->kind == EntryKind::folder;
        return true;
    }
    [[nodiscard]] const TreeEntry* headOf(std::size_t i) const
    {
        return m_at[i] < m_lists[i]->size() ? &(*m_lists[i])[m_at[i]] : nullptr;
    }
    std::array<const Entries*, 3> m_lists;
    std::array<std::size_t, 3> m_at{};
};

void compareFolders(const RepoPath& prefix,
                    TripleWalk walk,
                    PerSide<TreeChanges>& changes,
                    std::vector<FolderTriple>& deeper)
{
    while (walk.next()) {
        const auto [base, ours, theirs] = walk.found;
        const PerSide<const TreeEntry*> sides{ours, theirs};
        const ThreeTrees ids{idOf(base), {idOf(ours), idOf(theirs)}};
        if (walk.isFolder) {
            if (ids.sides.ours == ids.base && ids.sides.theirs == ids.base) {
                continue;
            }
            const RepoPath path = prefix + std::string(walk.name);
            for (const Side side : kSides) {
                if (base && !sides[side]) {
                    changes[side].goneFolders.insert(path);
                }
            }
            deeper.push_back({path + "/", ids});
            continue;
        }
        for (const Side side : kSides) {
            const auto before = versionOf(base);
            const auto after = versionOf(sides[side]);
            if (before != after) {
                changes[side].files.push_back({prefix + std::string(walk.name), before, after});
            }
        }
    }
}
}  // namespace

Result<PerSide<TreeChanges>>
treeChanges(Snapshots& repository, const ThreeTrees& trees, const std::stop_token& stop)
{
    PerSide<TreeChanges> changes;
    std::vector<FolderTriple> level{{{}, trees}};
    for (std::size_t depth = 0; !level.empty(); ++depth) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        if (depth > kMostFolders) {
            return Error{
                ErrorCode::corrupt, level.front().prefix.substr(0, 200), "folders without end"};
        }
        std::vector<ObjectId> ids;
        std::unordered_map<ObjectId, std::size_t> places;
        for (const FolderTriple& folder : level) {
            for (const ObjectId& id :
                 {folder.trees.base, folder.trees.sides.ours, folder.trees.sides.theirs}) {
                if (places.insert({id, ids.size()}).second) {
                    ids.push_back(id);
                }
            }
        }
        TRY_ASSIGN(const auto read, repository.readTrees(ids));
        std::vector<FolderTriple> deeper;
        for (const FolderTriple& folder : level) {
            const auto entries = [&](const ObjectId& id) -> const Entries& {
                return *read[places.at(id)];
            };
            compareFolders(folder.prefix,
                           {entries(folder.trees.base),
                            entries(folder.trees.sides.ours),
                            entries(folder.trees.sides.theirs)},
                           changes,
                           deeper);
        }
        level = std::move(deeper);
    }
    for (const Side side : kSides) {
        std::sort(changes[side].files.begin(),
                  changes[side].files.end(),
                  [](const auto& a, const auto& b) { return a.path < b.path; });
    }
    return changes;
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
