// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_tree_join.cpp.
#include "core/snapshot/file_outcome.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
constexpr std::array<std::pair<FileChoice, std::string_view>, 5> kChoiceNames{{
    {FileChoice::ours, "ours"},
    {FileChoice::theirs, "theirs"},
    {FileChoice::base, "base"},
    {FileChoice::keepBoth, "keep-both"},
    {FileChoice::aside, "aside"},
}};
}  // namespace

std::string_view nameOf(OutcomeKind kind)
{
    switch (kind) {
    case OutcomeKind::content:
        return "content";
    case OutcomeKind::bothAdded:
        return "both-added";
    case OutcomeKind::modifyDelete:
        return "modify-delete";
    case OutcomeKind::renameRename:
        return "rename-rename";
    case OutcomeKind::renameDelete:
        return "rename-delete";
    case OutcomeKind::directoryFile:
        return "directory-file";
    case OutcomeKind::directoryRename:
        return "directory-rename";
    case OutcomeKind::mode:
        return "mode";
    case OutcomeKind::binary:
        return "binary";
    case OutcomeKind::symlink:
        return "symlink";
    case OutcomeKind::submodule:
        return "submodule";
    }
    return "";
}

std::string_view nameOf(FileChoice choice)
{
    for (const auto& [value, name] : kChoiceNames) {
        if (value == choice) {
            return name;
        }
    }
    return "";
}

std::optional<FileChoice> fileChoiceNamed(std::string_view name)
{
    for (const auto& [value, known] : kChoiceNames) {
        if (known == name) {
            return value;
        }
    }
    return std::nullopt;
}

std::vector<TreeEdit> editsOfChoice(const FileOutcome& outcome, FileChoice choice)
{
    ROPE_ASSERT(
        outcome.question
            && std::find(outcome.question->choices.begin(), outcome.question->choices.end(), choice)
                   != outcome.question->choices.end(),
        "an answer the question does not offer");
    const RepoPath& beside = outcome.question->beside;
    // In the way of a folder, the path itself belongs to the folder whatever is chosen.
    const bool isFolder = outcome.question->kind == QuestionKind::fileAgainstFolder;
    switch (choice) {
    case FileChoice::ours:
        return {{isFolder ? beside : outcome.path, outcome.ours}};
    case FileChoice::theirs:
        return {{isFolder ? beside : outcome.path, outcome.theirs}};
    case FileChoice::base:
        return {{outcome.path, outcome.base}};
    case FileChoice::keepBoth:
        return {{outcome.path, outcome.ours}, {beside, outcome.theirs}};
    case FileChoice::aside:
        return {{beside, outcome.ours ? outcome.ours : outcome.theirs}};
    }
    return {};
}
}  // namespace rope
