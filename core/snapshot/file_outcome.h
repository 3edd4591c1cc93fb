// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"
#include "core/snapshot/tree_changes.h"

#include <memory>
#include <optional>
#include <string_view>
#include <vector>

namespace rope {
/// What an outcome is about. The names (nameOf) are part of the command line's JSON.
enum class OutcomeKind {
    content,
    bothAdded,
    modifyDelete,
    renameRename,
    renameDelete,
    directoryFile,
    directoryRename,
    mode,
    binary,
    symlink,
    submodule,
};
[[nodiscard]] std::string_view nameOf(OutcomeKind kind);

/// A question about a file that is not about its lines.
enum class QuestionKind {
    deletedByOurs,      ///< Ours deleted it, theirs edited it.
    deletedByTheirs,    ///< Theirs deleted it, ours edited it.
    binary,             ///< Both changed bytes that are no lines.
    tooLarge,           ///< Both changed a text too large to be joined by lines.
    modes,              ///< Both added the same text, one of them executable.
    symlink,            ///< Both changed where a link points.
    submodule,          ///< Both moved a submodule.
    differentKinds,     ///< A file on one side, a link or submodule on the other.
    fileAgainstFolder,  ///< A file on one side stands where the other has a folder.
};

/// One answer to a question about a file. The names are stored in the journal.
enum class FileChoice {
    ours,  ///< What ours has there; deletion, if ours deleted it.
    theirs,
    base,      ///< As it was before both.
    keepBoth,  ///< Ours at its path, theirs beside it under the name `beside`.
    aside,     ///< The file under the name `beside`, out of the folder's way.
};
[[nodiscard]] std::string_view nameOf(FileChoice choice);
[[nodiscard]] std::optional<FileChoice> fileChoiceNamed(std::string_view name);

struct FileQuestion
{
    QuestionKind kind = QuestionKind::binary;
    std::vector<FileChoice> choices;  ///< What can be answered, most likely first.
    RepoPath beside;                  ///< The second name for keepBoth and aside; else empty.
};

/// What a three-way join makes of one path that both sides touched, or that needs a decision.
/// A value, computed once; everything a person decides lives beside it (core/splice).
struct FileOutcome
{
    RepoPath path;
    OutcomeKind kind = OutcomeKind::content;
    std::optional<FileVersion> base;
    std::optional<FileVersion> ours;
    std::optional<FileVersion> theirs;
    /// Set where the sides' texts were joined by lines; holds the regions, if any.
    std::shared_ptr<const TextJoin> text;
    /// The kind of entry a joined text becomes.
    EntryKind joinedKind = EntryKind::file;
    /// The outcome where neither text nor question is set; nothing: the path is gone.
    std::optional<FileVersion> settled;
    std::optional<FileQuestion> question;

    [[nodiscard]] std::size_t regionCount() const { return text ? text->regionCount() : 0; }
    [[nodiscard]] bool needsDecision() const { return question.has_value() || regionCount() > 0; }
};

/// An entry of the joined tree that is not as ours has it. Nothing: the path is gone.
struct TreeEdit
{
    RepoPath path;
    std::optional<FileVersion> version;
};

/// Where a text stands that is yet to be written: its path, its kind of entry and its bytes.
struct TextEdit
{
    RepoPath path;
    EntryKind kind = EntryKind::file;
    std::string bytes;
};

/// Returns what an answer makes of the tree. REQUIRES: outcome.question allows `choice`.
[[nodiscard]] std::vector<TreeEdit> editsOfChoice(const FileOutcome& outcome, FileChoice choice);
}  // namespace rope
