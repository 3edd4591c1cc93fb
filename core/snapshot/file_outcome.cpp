// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/snapshot/file_outcome.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
constexpr std::array<std::pair<FileChoice, std::string_view>, 9> kChoiceNames{{
    {FileChoice::ours, "ours"},
    {FileChoice::theirs, "theirs"},
    {FileChoice::base, "base"},
    {FileChoice::keepBoth, "keep-both"},
    {FileChoice::aside, "aside"},
    {FileChoice::follow, "follow"},
    {FileChoice::followOther, "follow-other"},
    {FileChoice::stay, "stay"},
    {FileChoice::found, "as-found"},
}};

constexpr std::array<std::pair<OutcomeKind, std::string_view>, 11> kKindNames{{
    {OutcomeKind::content, "content"},
    {OutcomeKind::bothAdded, "both-added"},
    {OutcomeKind::modifyDelete, "modify-delete"},
    {OutcomeKind::renameRename, "rename-rename"},
    {OutcomeKind::renameDelete, "rename-delete"},
    {OutcomeKind::directoryFile, "directory-file"},
    {OutcomeKind::directoryRename, "directory-rename"},
    {OutcomeKind::mode, "mode"},
    {OutcomeKind::binary, "binary"},
    {OutcomeKind::symlink, "symlink"},
    {OutcomeKind::submodule, "submodule"},
}};

template <typename Names, typename Value>
std::string_view nameIn(const Names& names, Value value)
{
    const auto found = std::find_if(
        names.begin(), names.end(), [value](const auto& entry) { return entry.first == value; });
    return found == names.end() ? std::string_view() : found->second;
}
}  // namespace

std::string_view nameOf(OutcomeKind kind)
{
    return nameIn(kKindNames, kind);
}

std::string_view nameOf(FileChoice choice)
{
    return nameIn(kChoiceNames, choice);
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

const Answer* FileQuestion::answerOf(FileChoice choice) const
{
    const auto found = std::find_if(
        answers.begin(), answers.end(), [choice](const Answer& a) { return a.choice == choice; });
    return found == answers.end() ? nullptr : &*found;
}

FileChoice FileQuestion::choiceFor(FileChoice side) const
{
    return answerOf(side) ? side : answers.front().choice;
}

bool FileOutcome::isRenamed() const
{
    return (ours && oursPath != path) || (theirs && theirsPath != path)
           || (base && basePath != path);
}

std::vector<Placement> FileOutcome::placements(std::optional<FileChoice> choice) const
{
    if (question) {
        const Answer* const answer = choice ? question->answerOf(*choice) : nullptr;
        ROPE_ASSERT(answer != nullptr, "an answer the question does not offer");
        return answer->puts;
    }
    if (text) {
        return {{path, {joinedKind, {}}, true}};
    }
    return settled ? std::vector<Placement>{{path, *settled, false}} : std::vector<Placement>{};
}
}  // namespace rope
