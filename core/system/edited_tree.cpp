// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_tree_join.cpp.
#include "core/system/edited_tree.h"

#include <algorithm>
#include <map>
#include <memory>

namespace rope {
namespace {
/// The edits below one folder, by the next path component.
struct EditNode
{
    std::map<std::string, std::unique_ptr<EditNode>> children;
    bool isEdited = false;
    std::optional<FileVersion> version;
};

void insert(EditNode& root, const TreeEdit& edit)
{
    EditNode* node = &root;
    for (std::size_t from = 0; from <= edit.path.size();) {
        const std::size_t slash = std::min(edit.path.find('/', from), edit.path.size());
        auto& child = node->children[edit.path.substr(from, slash - from)];
        if (!child) {
            child = std::make_unique<EditNode>();
        }
        node = child.get();
        from = slash + 1;
    }
    node->isEdited = true;
    node->version = edit.version;
}

/// The edited folder's id, null if nothing is left in it.
Result<ObjectId> makeFolder(Snapshots& snapshots,
                            const ObjectId& tree,
                            const EditNode& node,
                            const RepoPath& prefix,
                            const TreeSink& keep)
{
    const ObjectId ids[] = {tree};
    TRY_ASSIGN(const auto read, snapshots.readTrees(ids));
    std::vector<TreeEntry> entries = *read.front();
    for (const auto& [name, child] : node.children) {
        const auto found = std::find_if(
            entries.begin(), entries.end(), [&n = name](const auto& e) { return e.name == n; });
        std::optional<TreeEntry> present;
        if (found != entries.end()) {
            present = *found;
            entries.erase(found);
        }
        if (!child->children.empty()) {
            const bool isFolder = present && present->kind == EntryKind::folder;
            TRY_ASSIGN(const ObjectId folder,
                       makeFolder(snapshots,
                                  isFolder ? present->id : ObjectId{},
                                  *child,
                                  prefix + name + "/",
                                  keep));
            if (!folder.isNull()) {
                if (child->isEdited && child->version) {
                    return Error{
                        ErrorCode::invalidInput, prefix + name, "a file and a folder of this name"};
                }
                entries.push_back({name, EntryKind::folder, folder});
                continue;
            }
        }
        if (child->isEdited && child->version) {
            entries.push_back({name, child->version->kind, child->version->id});
        } else if (child->isEdited && present && present->kind == EntryKind::folder) {
            entries.push_back(*present);  // a file is gone that a folder has replaced already
        }
    }
    if (entries.empty() && !prefix.empty()) {
        return ObjectId{};
    }
    std::sort(entries.begin(), entries.end(), [](const TreeEntry& a, const TreeEntry& b) {
        return entryOrder(a, b) < 0;
    });
    return keep(entries);
}
}  // namespace

Result<ObjectId> editedTree(Snapshots& snapshots,
                            const ObjectId& tree,
                            std::span<const TreeEdit> edits,
                            const TreeSink& keep)
{
    if (edits.empty() && !tree.isNull()) {
        return tree;
    }
    EditNode root;
    for (const TreeEdit& edit : edits) {
        insert(root, edit);
    }
    return makeFolder(snapshots, tree, root, {}, keep);
}

Result<ObjectId> idOfResult(Snapshots& snapshots, const ResultSnapshot& result)
{
    std::vector<TreeEdit> edits;
    edits.reserve(result.edits.size());
    for (const ResultEdit& edit : result.edits) {
        edits.push_back({edit.path, edit.version});
        if (edit.bytes) {
            edits.back().version->id = snapshots.idOfBlob(*edit.bytes);
        }
    }
    return editedTree(
        snapshots, result.from, edits, [&snapshots](std::span<const TreeEntry> entries) {
            return Result<ObjectId>(snapshots.idOfTree(entries));
        });
}
}  // namespace rope
