// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"
#include "core/snapshot/tree_changes.h"

#include <memory>
#include <optional>
#include <set>
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
    deletedByOurs,           ///< Ours deleted it, theirs edited it.
    deletedByTheirs,         ///< Theirs deleted it, ours edited it.
    renamedDeletedByOurs,    ///< Theirs renamed it, ours deleted it.
    renamedDeletedByTheirs,  ///< Ours renamed it, theirs deleted it.
    renamedTwice,            ///< Each side gave it another name.
    renamedOnto,             ///< Renamed onto a file of the other side, where lines decide nothing.
    inRenamedFolder,         ///< New in a folder that the other side renamed.
    inSplitFolder,           ///< New in a folder that the other side split between several.
    blockedByFile,           ///< As inRenamedFolder, but something stands there already.
    binary,                  ///< Both changed bytes that are no lines.
    tooLarge,                ///< Both changed a text too large to be joined by lines.
    notByLines,              ///< Both changed it, and its attributes forbid joining by lines.
    programLeftOut,          ///< Both changed it; the merge program it is set up for may not run.
    modes,                   ///< Both added the same text, one of them executable.
    symlink,                 ///< Both changed where a link points.
    submodule,               ///< Both moved a submodule.
    differentKinds,          ///< A file on one side, a link or submodule on the other.
    fileAgainstFolder,       ///< A file on one side stands where the other has a folder.
    nameRefused,             ///< Theirs adds it under a name that cannot be checked out here.
    putByHand,  ///< Somebody has put there what no side has; no join asks this, see core/join/found_file.h.
};
inline constexpr QuestionKind kLastQuestionKind = QuestionKind::putByHand;

/// One answer to a question about a file. The names are stored in the journal.
enum class FileChoice {
    ours,  ///< What ours has there; deletion, if ours deleted it.
    theirs,
    base,         ///< As it was before both.
    keepBoth,     ///< Both sides' files, or both names.
    aside,        ///< The file under a name beside the folder that stays.
    follow,       ///< Into the folder that the other side renamed its folder to.
    followOther,  ///< Into the second folder, of several.
    stay,         ///< Where it was added.
    found,        ///< As somebody has put it there by hand.
};
[[nodiscard]] std::string_view nameOf(FileChoice choice);
[[nodiscard]] std::optional<FileChoice> fileChoiceNamed(std::string_view name);

/// A name that was made for a file, because what it would be called by itself is taken.
struct NameBeside
{
    RepoPath path;  ///< Where it is put.
    RepoPath
        gitName;  ///< What git calls it there, `name~side`: only told in the command line's JSON.
};

/// A file put somewhere in the joined tree.
struct Placement
{
    RepoPath path;
    FileVersion version;        ///< Of joined text only the kind counts.
    bool isJoinedText = false;  ///< The file's joined text is put there, not the version's bytes.
    friend bool operator==(const Placement&, const Placement&) = default;
};

/// An answer and what it puts into the joined tree; nothing: the file is gone.
struct Answer
{
    FileChoice choice = FileChoice::ours;
    std::vector<Placement> puts;
};

struct FileQuestion
{
    QuestionKind kind = QuestionKind::binary;
    std::vector<Answer> answers;  ///< Most likely first; one choice at most once.

    /// Nothing where the question has no such answer.
    [[nodiscard]] const Answer* answerOf(FileChoice choice) const;
    /// The answer that is most as a side has it; the first where no answer is a side's own.
    /// REQUIRES: side is ours or theirs
    [[nodiscard]] FileChoice choiceFor(FileChoice side) const;
};

/// What a three-way join makes of one file that both sides touched, or that needs a decision.
/// A value, computed once; everything a person decides lives beside it (core/decide).
struct FileOutcome
{
    RepoPath path;  ///< Where it stands, or would by the first answer, in the joined tree.
    OutcomeKind kind = OutcomeKind::content;
    std::optional<FileVersion> base;
    std::optional<FileVersion> ours;
    std::optional<FileVersion> theirs;
    /// Where each version stands in its own tree; empty where there is no such version.
    RepoPath basePath;
    RepoPath oursPath;
    RepoPath theirsPath;
    /// Further paths that hang on the question, by name.
    std::vector<RepoPath> alsoAt;
    /// A name made for it that the question may use.
    std::optional<NameBeside> beside;
    /// Set where the sides' texts were joined by lines; holds the regions, if any.
    std::shared_ptr<const TextJoin> text;
    /// The kind of entry a joined text becomes.
    EntryKind joinedKind = EntryKind::file;
    /// The outcome where neither text nor question is set; nothing: the file is gone.
    std::optional<FileVersion> settled;
    std::optional<FileQuestion> question;
    /// Of QuestionKind::putByHand: the bytes that stand there. Null: no file, or one that cannot be shown.
    std::shared_ptr<const std::string> found;
    /// Lines that look like conflict markers and stand in a stored version: the file's own.
    std::set<std::string> ownMarkers;

    [[nodiscard]] std::size_t regionCount() const { return text ? text->regionCount() : 0; }
    [[nodiscard]] bool needsDecision() const { return question.has_value() || regionCount() > 0; }
    /// Whether any side, or the join, gave it another path than the base has.
    [[nodiscard]] bool isRenamed() const;
    /// What is put into the joined tree: by the answer if there is a question, else as it joined.
    /// REQUIRES: an answer of the question if there is one
    [[nodiscard]] std::vector<Placement> placements(std::optional<FileChoice> choice) const;
};
}  // namespace rope
