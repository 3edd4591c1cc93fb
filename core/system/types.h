// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/object_id.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// A path inside the repository: bytes, `/` between folders, no slash at either end.
using RepoPath = std::string;

/// Who did something, and when.
struct Signature
{
    std::string name;  ///< Bytes as stored; nearly always UTF-8.
    std::string email;
    std::int64_t time = 0;       ///< Seconds since 1970, UTC.
    std::string zone = "+0000";  ///< Of the clock, as stored.
};

struct Commit
{
    ObjectId id;
    ObjectId tree;
    std::vector<ObjectId> parents;
    Signature author;
    Signature committer;
    std::string message;
    std::string encoding;  ///< Of message and names, where it is told; empty: UTF-8.

    /// The message's first line.
    [[nodiscard]] std::string subject() const;
};

/// A commit's place in the graph, without its contents.
struct CommitLink
{
    ObjectId id;
    std::int64_t time = 0;  ///< Committer's clock, seconds since 1970.
    std::vector<ObjectId> parents;
};

enum class EntryKind { file, executable, symlink, folder, submodule };

/// Whether an entry holds lines or bytes of its own, executable or not.
[[nodiscard]] constexpr bool isRegular(EntryKind kind)
{
    return kind == EntryKind::file || kind == EntryKind::executable;
}

struct TreeEntry
{
    std::string name;  ///< One path component.
    EntryKind kind = EntryKind::file;
    ObjectId id;
    friend bool operator==(const TreeEntry&, const TreeEntry&) = default;
};

/// What a tree holds at a path, folders aside.
struct FileVersion
{
    EntryKind kind = EntryKind::file;
    ObjectId id;
    friend bool operator==(const FileVersion&, const FileVersion&) = default;
};

/// A path that two trees hold differently. Not both versions are missing.
struct FileChange
{
    RepoPath path;
    std::optional<FileVersion> before;
    std::optional<FileVersion> after;
};

/// The order of a tree's entries: by bytes, a folder as if its name ended in a slash.
/// Negative, zero or positive. A file and a folder of one name are different.
[[nodiscard]] int entryOrder(const TreeEntry& a, const TreeEntry& b);

struct Branch
{
    std::string ref;   ///< Full, unique name, as the repository calls it.
    std::string name;  ///< For people: "main", "origin/main".
    ObjectId tip;
    std::string upstreamRef;  ///< Full name of the branch it follows; empty if none.
    bool isShared = false;    ///< Known from a remote, as of when it was last asked.
    bool isFirst = false;     ///< The remote's first one: the team's main line of work.
};

/// Where the working tree stands.
struct Standing
{
    std::string ref;   ///< Full name of the branch; empty when on none.
    std::string name;  ///< For people.
    ObjectId tip;      ///< Null when the branch has no commit yet.
    bool hasWorkingTree = false;
};

/// What a working tree is beside other ones.
struct WorkingTreeKind
{
    enum class Kind {
        only,       ///< The repository's one working tree, or it has none.
        further,    ///< One of several of the same repository.
        submodule,  ///< Of a repository that stands inside another one.
    };
    Kind kind = Kind::only;
    std::string of;  ///< The folder of the repository it belongs to; empty: `only`.
};

/// A file of the working tree that differs from the last commit.
struct UncommittedFile
{
    RepoPath path;
    bool isUntracked = false;
    bool isStaged = false;  ///< Something else is staged of it than the last commit holds.
};
}  // namespace rope
