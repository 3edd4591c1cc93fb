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

class TreeEditor
{
public:
    TreeEditor(Snapshots& snapshots, const FolderKeeper& keep)
        : m_snapshots(snapshots)
        , m_keep(keep)
    {
    }

    /// The edited folder's id, null if nothing is left in it.
    Result<ObjectId> edit(const ObjectId& tree, const EditNode& node, const RepoPath& prefix)
    {
        const ObjectId ids[] = {tree};
        TRY_ASSIGN(const auto read, m_snapshots.readTrees(ids));
        std::vector<TreeEntry> entries = *read.front();
        bool isInOrder = true;
        for (const auto& [name, child] : node.children) {
            const auto found = std::find_if(
                entries.begin(), entries.end(), [&n = name](const auto& e) { return e.name == n; });
            const auto before =
                found == entries.end() ? std::nullopt : std::optional<TreeEntry>(*found);
            TRY_ASSIGN(auto after, edited(before, name, *child, prefix));
            const bool isFound = found != entries.end();
            if (isFound && after && sortsAlike(*before, *after)) {
                *found = std::move(*after);
                continue;
            }
            if (isFound) {
                entries.erase(found);
            }
            if (after) {
                entries.push_back(std::move(*after));
                isInOrder = false;
            }
        }
        if (entries.empty() && !prefix.empty()) {
            return ObjectId{};
        }
        if (!isInOrder) {
            std::sort(entries.begin(), entries.end(), [](const TreeEntry& a, const TreeEntry& b) {
                return entryOrder(a, b) < 0;
            });
        }
        return m_keep(std::move(entries));
    }

private:
    /// Whether two entries of one name stand at the same place of their folder.
    static bool sortsAlike(const TreeEntry& a, const TreeEntry& b)
    {
        return (a.kind == EntryKind::folder) == (b.kind == EntryKind::folder);
    }

    /// What stands under this name after the edits; nothing if it is gone.
    Result<std::optional<TreeEntry>> edited(const std::optional<TreeEntry>& before,
                                            const std::string& name,
                                            const EditNode& node,
                                            const RepoPath& prefix)
    {
        const bool wasFolder = before && before->kind == EntryKind::folder;
        const bool becomesFile = node.isEdited && node.version;
        const bool staysFile = before && !wasFolder && !node.isEdited;
        ObjectId folder = wasFolder ? before->id : ObjectId{};
        if (!node.children.empty()) {
            TRY_ASSIGN(folder, edit(folder, node, prefix + name + "/"));
        }
        if (!folder.isNull() && (becomesFile || staysFile)) {
            return Error{ErrorCode::invalidInput, prefix + name, {}, Reason::pathTwice};
        }
        if (!folder.isNull()) {  // of a name that is a folder by now, no file needs to go any more
            return std::optional(TreeEntry{name, EntryKind::folder, folder});
        }
        if (becomesFile) {
            return std::optional(TreeEntry{name, node.version->kind, node.version->id});
        }
        return staysFile ? before : std::nullopt;
    }

    Snapshots& m_snapshots;
    const FolderKeeper& m_keep;
};
}  // namespace

Result<ObjectId> editedTree(Snapshots& snapshots,
                            const ObjectId& tree,
                            std::span<const TreeEdit> edits,
                            const FolderKeeper& keep)
{
    if (edits.empty() && !tree.isNull()) {
        return tree;
    }
    EditNode root;
    for (const TreeEdit& edit : edits) {
        insert(root, edit);
    }
    return TreeEditor(snapshots, keep).edit(tree, root, {});
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
        snapshots, result.from, edits, [&snapshots](const std::vector<TreeEntry>& entries) {
            return Result<ObjectId>(snapshots.idOfTree(entries));
        });
}
}  // namespace rope
