// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/history.h"
#include "core/system/types.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

// One parser for each output of git that is read. All take bytes from outside: they answer with
// nothing, never with a guess, when these are not what git documents.
namespace rope {
struct ObjectHeader
{
    ObjectId id;
    std::string type;
    std::uint64_t size = 0;
};
/// `<id> <type> <size>`, as `cat-file --batch-command` writes it.
[[nodiscard]] std::optional<ObjectHeader> parseObjectHeader(std::string_view line);

/// A raw tree object of ids with `idBytes` bytes. Names that no tree may hold, and
/// entries out of order or twice, make it nothing.
[[nodiscard]] std::optional<std::vector<TreeEntry>> parseTree(std::string_view bytes,
                                                              std::size_t idBytes);

/// A raw commit object.
[[nodiscard]] std::optional<Commit> parseCommit(const ObjectId& id, std::string_view bytes);

/// `<time> <id> <parent>…`, as `rev-list --timestamp --parents` writes it.
[[nodiscard]] std::optional<CommitLink> parseCommitLink(std::string_view line);

/// NUL-separated fields, five a branch: see kBranchFormat.
[[nodiscard]] std::optional<std::vector<Branch>> parseBranches(std::string_view bytes);
inline constexpr const char* kBranchFormat =
    "%(refname)%00%(objectname)%00%(upstream)%00%(symref)%00%(objecttype)%00";

/// `status --porcelain=v2 -z`.
[[nodiscard]] std::optional<std::vector<UncommittedFile>> parseStatus(std::string_view bytes);

/// Of the same: the paths that were added with intent only.
[[nodiscard]] std::vector<RepoPath> parseIntended(std::string_view bytes);

/// A path's value of one attribute: "unspecified", "set", "unset" or its own.
struct AttributeValue
{
    std::string path;
    std::string attribute;
    std::string value;
};
/// `check-attr -z`.
[[nodiscard]] std::optional<std::vector<AttributeValue>> parseAttributes(std::string_view bytes);

/// A listed reflog, "<id> <name>@{<seconds>}" a line, newest first; returned oldest first. Lines that are none
/// are left out.
[[nodiscard]] std::vector<LineMove> parseReflog(std::string_view bytes);

/// A value of the configuration as git reads it, git-config(1) "boolean"; nothing: it is none.
[[nodiscard]] std::optional<bool> boolOf(std::string_view value);

/// `Name <email> time zone`, as `git var` and commits write it.
[[nodiscard]] std::optional<Signature> parseSignature(std::string_view text);

/// Whether git puts a file of that path into a working tree: no part of it may be, or be taken on
/// other file systems for, git's own folder (core.protectNTFS, which is on by default), nor be longer
/// than file systems take.
[[nodiscard]] bool isCheckedOut(std::string_view path);

/// The mode number git writes for a kind of entry.
[[nodiscard]] std::string_view modeOf(EntryKind kind);
}  // namespace rope
