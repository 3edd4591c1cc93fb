// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/repository/git/held_objects.h"
#include "core/repository/git/object_reader.h"
#include "core/repository/repository.h"

#include <map>
#include <memory>
#include <unordered_map>

namespace rope {
/// The port to git, through its public commands. See docs/architecture.md for which does what.
class GitRepository final : public Repository
{
public:
    /// Opens the repository that `folder` lies in, bare or not.
    /// Errors: `notFound` when there is none, `io`, `gitFailed`.
    static Result<std::unique_ptr<GitRepository>> open(const std::string& folder);
    ~GitRepository() override;

    /// The working tree's root, or the repository itself when bare. Absolute.
    [[nodiscard]] const std::string& root() const { return m_git.folder(); }

    Result<Standing> standing() override;
    Result<std::vector<Branch>> branches() override;
    Result<ObjectId> resolveCommit(std::string_view name) override;
    Result<std::optional<std::int64_t>> lastAsked() override;
    Result<bool> isShallow() override;
    Result<UnfinishedWork> unfinishedWork() override;
    Result<std::vector<UncommittedFile>> uncommittedFiles() override;

    Result<std::unique_ptr<CommitStream>> commitsFrom(std::span<const ObjectId> tips) override;
    Result<std::vector<Commit>> readCommits(std::span<const ObjectId> ids) override;
    Result<std::vector<TreeEntries>> readTrees(std::span<const ObjectId> ids) override;
    Result<std::vector<BlobBytes>> readBlobs(std::span<const ObjectId> ids,
                                             std::uint64_t mostBytes) override;
    Result<std::vector<std::uint64_t>> blobSizes(std::span<const ObjectId> ids) override;

    Result<std::vector<MergeRule>> mergeRules(std::span<const RepoPath> paths) override;
    Result<ProgramOutcome> runMergeProgram(const MergeRule& rule,
                                           const RepoPath& path,
                                           const std::string& base,
                                           const std::string& ours,
                                           const std::string& theirs) override;
    Result<std::unique_ptr<Repository>> openSubmodule(const RepoPath& path) override;

    Result<std::vector<ObjectId>> writeBlobs(std::span<const std::string> contents,
                                             Storage storage) override;
    Result<ObjectId> writeTree(std::span<const TreeEntry> entries, Storage storage) override;
    [[nodiscard]] bool isHeld(const ObjectId& id) const override { return m_held.has(id); }
    Result<ObjectId> writeCommit(const CommitDraft& draft) override;

    Result<std::optional<Signature>> identity() override;
    Status setIdentity(const std::string& name, const std::string& email) override;
    Status bringWorkingTree(const ObjectId& fromTree, const ObjectId& toTree) override;
    Status restoreWorkingTree(const ObjectId& tree, const ObjectId& leftover) override;
    Result<ObjectId> stagedTree() override;
    Result<std::string> runHook(HookPoint point, const std::string& messageFile) override;
    Status moveBranch(const std::string& ref,
                      const ObjectId& expected,
                      const ObjectId& target,
                      const std::string& reason) override;
    Status keepAlive(const std::string& name, const ObjectId& commit) override;
    Result<std::string> privateFolder() override;

    Status fetch(const ProgressSink& progress, const std::stop_token& stop) override;

private:
    GitRepository(std::string folder, bool isBare);
    /// The blob a working-tree file would be stored as; null when there is no such file.
    Result<ObjectId> workingBlob(const RepoPath& path);
    Result<std::map<RepoPath, ObjectId>> blobsAt(const ObjectId& tree,
                                                 const std::vector<UncommittedFile>& files);
    Result<std::vector<ObjectId>> hashFiles(std::span<const std::string> contents);

    /// Whether any of the files that give attributes to these paths exists.
    [[nodiscard]] bool mayHaveAttributes(std::span<const RepoPath> paths) const;

    GitProcess m_git;
    std::string m_gitFolder;     ///< This working tree's own git folder, absolute.
    std::string m_commonFolder;  ///< The git folder all linked working trees share, absolute.
    bool m_isBare;
    ObjectReader m_reader;
    HeldObjects m_held;
    std::unordered_map<ObjectId, TreeEntries>
        m_trees;  ///< Read before; emptied when it grows large.
    /// The user's configuration of merge programs; read once, as nobody changes it meanwhile.
    std::optional<std::map<std::string, std::string>> m_mergeConfig;
    std::unique_ptr<QProcess> m_treeWriter;  ///< `mktree --batch`, started at first use.
};
}  // namespace rope
