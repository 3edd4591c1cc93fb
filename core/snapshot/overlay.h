// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/edited_tree.h"
#include "core/system/snapshots.h"

#include <unordered_map>

namespace rope {
/// Files and folders that exist in memory only, by id. A value.
struct HeldObjects
{
    std::unordered_map<ObjectId, BlobBytes> blobs;
    std::unordered_map<ObjectId, TreeEntries> trees;

    [[nodiscard]] bool isEmpty() const { return blobs.empty() && trees.empty(); }
    [[nodiscard]] bool has(const ObjectId& id) const
    {
        return blobs.contains(id) || trees.contains(id);
    }
};

/// A system's snapshots with held objects laid over them: reads find both, nothing is written below.
/// One thread. The snapshots below must outlive it.
class Overlay final : public Snapshots
{
public:
    explicit Overlay(Snapshots& below, HeldObjects held = {})
        : m_below(below)
        , m_held(std::move(held))
    {
    }

    ObjectId holdBlob(std::string bytes);
    ObjectId holdTree(std::vector<TreeEntry> entries);
    /// The tree that another becomes by some edits; see editedTree().
    Result<ObjectId> holdEditedTree(const ObjectId& tree, std::span<const TreeEdit> edits);
    /// The tree that a result would be stored as, with all that is new in it.
    Result<ObjectId> holdResult(const ResultSnapshot& result);
    [[nodiscard]] const HeldObjects& held() const { return m_held; }

    Result<std::vector<TreeEntries>> readTrees(std::span<const ObjectId> ids) override;
    Status eachTree(std::span<const ObjectId> ids, const TreeSink& take) override;
    Status expectBlobs(std::span<const ObjectId> ids) override;
    Result<std::vector<BlobBytes>> readBlobs(std::span<const ObjectId> ids,
                                             std::uint64_t mostBytes) override;
    Status
    eachBlob(std::span<const ObjectId> ids, std::uint64_t mostBytes, const BlobSink& take) override;
    Result<std::vector<std::uint64_t>> blobSizes(std::span<const ObjectId> ids) override;
    [[nodiscard]] ObjectId idOfBlob(std::string_view bytes) const override;
    [[nodiscard]] ObjectId idOfTree(std::span<const TreeEntry> entries) const override;
    [[nodiscard]] bool isStored(const ObjectId& id) const override { return !m_held.has(id); }
    [[nodiscard]] bool canCheckOut(const RepoPath& path) const override;
    Result<std::vector<MergeRule>> mergeRules(std::span<const RepoPath> paths) override;
    [[nodiscard]] RenameRules renameRules() const override { return m_below.renameRules(); }
    Result<std::string> rulesStamp() override { return m_below.rulesStamp(); }
    Result<ProgramOutcome> runMergeProgram(const MergeRule& rule,
                                           const RepoPath& path,
                                           const std::string& base,
                                           const std::string& ours,
                                           const std::string& theirs) override;

private:
    /// Tells held folders, and those that are asked for because of them; the others go to `below`.
    Status tellHeld(std::vector<ObjectId> ids, const TreeSink& take, std::vector<ObjectId>& below);
    [[nodiscard]] std::vector<ObjectId> notHeld(std::span<const ObjectId> ids) const;

    Snapshots& m_below;
    HeldObjects m_held;
};
}  // namespace rope
