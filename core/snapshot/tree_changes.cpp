// SPDX-License-Identifier: GPL-3.0-or-later
// Folders are compared level by level, all of a level read in one request.
// Tested by tst_tree_join.cpp.
#include "core/snapshot/tree_changes.h"

#include <algorithm>
#include <map>

namespace rope {
namespace {
struct FolderPair
{
    RepoPath prefix;  ///< Empty or ending in a slash.
    ObjectId before;
    ObjectId after;
};

struct EntryPair
{
    const TreeEntry* before = nullptr;
    const TreeEntry* after = nullptr;
};

std::optional<FileVersion> fileVersion(const TreeEntry* entry)
{
    if (entry == nullptr || entry->kind == EntryKind::folder) {
        return std::nullopt;
    }
    return FileVersion{entry->kind, entry->id};
}

ObjectId folderId(const TreeEntry* entry)
{
    return entry != nullptr && entry->kind == EntryKind::folder ? entry->id : ObjectId{};
}

void compareFolders(const RepoPath& prefix,
                    const std::vector<TreeEntry>& before,
                    const std::vector<TreeEntry>& after,
                    TreeChanges& changes,
                    std::vector<FolderPair>& deeper)
{
    std::map<std::string_view, EntryPair> pairs;
    for (const TreeEntry& entry : before) {
        pairs[entry.name].before = &entry;
    }
    for (const TreeEntry& entry : after) {
        pairs[entry.name].after = &entry;
    }
    for (const auto& [name, pair] : pairs) {
        if (pair.before && pair.after && *pair.before == *pair.after) {
            continue;
        }
        const RepoPath path = prefix + std::string(name);
        FileChange change{path, fileVersion(pair.before), fileVersion(pair.after)};
        if ((change.before || change.after) && change.before != change.after) {
            changes.files.push_back(std::move(change));
        }
        const ObjectId beforeFolder = folderId(pair.before);
        const ObjectId afterFolder = folderId(pair.after);
        if (!beforeFolder.isNull() && afterFolder.isNull()) {
            changes.goneFolders.insert(path);
        }
        if (beforeFolder != afterFolder) {
            deeper.push_back({path + "/", beforeFolder, afterFolder});
        }
    }
}
}  // namespace

Result<TreeChanges> treeChanges(Repository& repository,
                                const ObjectId& before,
                                const ObjectId& after,
                                const std::stop_token& stop)
{
    TreeChanges changes;
    std::size_t depth = 0;
    std::vector<FolderPair> level;
    if (before != after) {
        level.push_back({{}, before, after});
    }
    while (!level.empty()) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        if (++depth > kMostFolders) {
            return Error{
                ErrorCode::corrupt, level.front().prefix.substr(0, 200), "folders without end"};
        }
        std::vector<ObjectId> ids;
        for (const FolderPair& folder : level) {
            ids.push_back(folder.before);
            ids.push_back(folder.after);
        }
        TRY_ASSIGN(const auto trees, repository.readTrees(ids));
        std::vector<FolderPair> deeper;
        for (std::size_t i = 0; i < level.size(); ++i) {
            compareFolders(level[i].prefix, trees[2 * i], trees[2 * i + 1], changes, deeper);
        }
        level = std::move(deeper);
    }
    std::sort(changes.files.begin(), changes.files.end(), [](const auto& a, const auto& b) {
        return a.path < b.path;
    });
    return changes;
}

Result<bool> holdsPath(Repository& repository, ObjectId tree, const RepoPath& path)
{
    for (std::size_t from = 0;;) {
        const ObjectId ids[] = {tree};
        TRY_ASSIGN(const auto trees, repository.readTrees(ids));
        const std::size_t slash = std::min(path.find('/', from), path.size());
        const std::string_view name = std::string_view(path).substr(from, slash - from);
        const auto found = std::find_if(trees.front().begin(),
                                        trees.front().end(),
                                        [&](const TreeEntry& e) { return e.name == name; });
        if (found == trees.front().end()) {
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
