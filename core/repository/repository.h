// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/repository/types.h"

#include <memory>
#include <span>
#include <stop_token>

namespace rope {
/// Commits one by one, newest first by the committers' clocks, each once.
class CommitStream
{
public:
    virtual ~CommitStream() = default;
    /// The next commit, or nothing at the end of history. Errors: `corrupt`, `gitFailed`.
    virtual Result<std::optional<CommitLink>> next() = 0;
};

/// No limit on what is read.
inline constexpr std::uint64_t kAnySize = ~std::uint64_t{0};

/// The bytes of a blob, shared between whoever reads them.
using BlobBytes = std::shared_ptr<const std::string>;

/// How the repository wants a file to be joined.
struct MergeRule
{
    enum class How {
        lines,         ///< By lines, as any text.
        whole,         ///< Not by lines: a person picks a side.
        unionOfLines,  ///< By lines; where the sides clash, the lines of both.
        program,       ///< By a program that the user has set up.
    };
    How how = How::lines;
    std::string program;           ///< The command as set up.
    std::size_t markerLength = 7;  ///< Of conflict markers in such a file.
};

/// What a user's own merge program made of three versions.
struct ProgramOutcome
{
    bool isClean = false;
    std::string bytes;
};

/// Where a new object goes.
enum class Storage {
    stored,  ///< Into the repository; nothing refers to it until a branch moves.
    held,    ///< Only into this instance's memory, which reads find; with the id it would have.
};

/// The entries of a folder, shared between whoever reads them; never null.
using TreeEntries = std::shared_ptr<const std::vector<TreeEntry>>;

/// The port to a version-control system: what a splice needs of it and no more.
/// An instance belongs to one thread at a time; open one per worker. Nothing is cached that another
/// program could change; folders never change, so they are. Every call may fail with `io`, `gitFailed` or `corrupt` besides those named.
class Repository
{
public:
    virtual ~Repository() = default;

    // Where we stand
    virtual Result<Standing> standing() = 0;
    virtual Result<std::vector<Branch>> branches() = 0;
    /// The commit that a branch name, tag or id stands for. Errors: `notFound`, `invalidInput`.
    virtual Result<ObjectId> resolveCommit(std::string_view name) = 0;
    /// When any remote was last asked, in seconds since 1970; nothing if never.
    virtual Result<std::optional<std::int64_t>> lastAsked() = 0;
    /// Whether history is cut off somewhere because only the newest part was copied.
    virtual Result<bool> isShallow() = 0;
    virtual Result<UnfinishedWork> unfinishedWork() = 0;
    /// Files that differ from the last commit, by path; untracked ones too, ignored ones not.
    virtual Result<std::vector<UncommittedFile>> uncommittedFiles() = 0;

    // Reading
    virtual Result<std::unique_ptr<CommitStream>> commitsFrom(std::span<const ObjectId> tips) = 0;
    virtual Result<std::vector<Commit>> readCommits(std::span<const ObjectId> ids) = 0;
    /// One list per id, entries in the repository's order. A null id reads as an empty folder.
    /// Errors: `corrupt` for an entry whose name no tree may hold (`..`, one with a slash, …).
    virtual Result<std::vector<TreeEntries>> readTrees(std::span<const ObjectId> ids) = 0;
    /// Bytes of each blob, in the order asked; null for one of more than `mostBytes`.
    /// Errors: `notFound`.
    virtual Result<std::vector<BlobBytes>> readBlobs(std::span<const ObjectId> ids,
                                                     std::uint64_t mostBytes) = 0;
    /// Sizes in bytes, in the order asked. Errors: `notFound`.
    virtual Result<std::vector<std::uint64_t>> blobSizes(std::span<const ObjectId> ids) = 0;

    // How to join
    /// One rule for each path.
    virtual Result<std::vector<MergeRule>> mergeRules(std::span<const RepoPath> paths) = 0;
    /// Runs the program of a rule as the repository's own tools would. Errors: `io`; `gitFailed` when
    /// it fails rather than finding a clash, with the command as subject.
    virtual Result<ProgramOutcome> runMergeProgram(const MergeRule& rule,
                                                   const RepoPath& path,
                                                   const std::string& base,
                                                   const std::string& ours,
                                                   const std::string& theirs) = 0;
    /// The repository that is checked out at a submodule's path. Errors: `notFound`.
    virtual Result<std::unique_ptr<Repository>> openSubmodule(const RepoPath& path) = 0;

    // Writing objects
    virtual Result<std::vector<ObjectId>> writeBlobs(std::span<const std::string> contents,
                                                     Storage storage) = 0;
    virtual Result<ObjectId> writeTree(std::span<const TreeEntry> entries, Storage storage) = 0;
    /// Whether an object is only held, not stored.
    [[nodiscard]] virtual bool isHeld(const ObjectId& id) const = 0;
    /// Errors: `noIdentity`; `refused` when signing is asked for and fails.
    virtual Result<ObjectId> writeCommit(const CommitDraft& draft) = 0;

    // Recording
    virtual Result<std::optional<Signature>> identity() = 0;
    virtual Status setIdentity(const std::string& name, const std::string& email) = 0;
    /// Brings the working tree from one tree to another, as a switch of branches would.
    /// Errors: `busy` when another program holds the working tree; `stale` when a file in it differs.
    virtual Status bringWorkingTree(const ObjectId& fromTree, const ObjectId& toTree) = 0;
    /// Undoes a bringWorkingTree(tree, leftover) that was cut off anywhere. Files that hold neither
    /// tree's content are somebody's work: then nothing is touched.
    /// Errors: `stale` with such a file as subject; `busy`.
    virtual Status restoreWorkingTree(const ObjectId& tree, const ObjectId& leftover) = 0;
    /// The tree that the working tree's next commit would hold.
    virtual Result<ObjectId> stagedTree() = 0;
    /// Runs the repository's own check; gives what it printed. `messageFile` is where it may read and
    /// change the commit message. Errors: `refused`, with what it printed as detail.
    virtual Result<std::string> runHook(HookPoint point, const std::string& messageFile) = 0;
    /// Moves a branch if it still stands at `expected`. Errors: `stale`, nothing moved.
    virtual Status moveBranch(const std::string& ref,
                              const ObjectId& expected,
                              const ObjectId& target,
                              const std::string& reason) = 0;
    /// Keeps a commit from being cleaned away, under a name of ours. A null id lets it go.
    virtual Status keepAlive(const std::string& name, const ObjectId& commit) = 0;
    /// A folder of our own inside the repository, which is made if need be.
    virtual Result<std::string> privateFolder() = 0;

    // The remote
    virtual Status fetch(const ProgressSink& progress, const std::stop_token& stop) = 0;
};
}  // namespace rope
