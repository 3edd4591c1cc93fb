// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/names.h"

namespace rope {
/// How many arguments something takes.
struct Arity
{
    int least = 0;
    int most = 0;  ///< kAnyNumber where there is no end.
    friend bool operator==(const Arity&, const Arity&) = default;
};
inline constexpr int kAnyNumber = 1'000;

/// Read off a signature as ctags tells it: "(day, lock, size=None)".
[[nodiscard]] Arity arityOf(std::string_view signature, Language language);

/// How many arguments a call has whose opening bracket stands at `open`; nothing where it does not end,
/// is longer than a screen, or spreads a list.
[[nodiscard]] std::optional<int> argumentCount(std::string_view text, std::size_t open);

/// Something that one side lets take other arguments than the base does.
struct ChangedSignature
{
    std::string name;
    FindingSide side = FindingSide::ours;
    Language language = Language::prose;
    std::string before;
    std::string after;
    Arity takenBefore;
    Arity takenAfter;
    RepoPath path;  ///< Of the side's definition.
    LineNumber line = 0;
    std::string lineText;  ///< Of that definition, blanks at its ends aside.
};

/// Those that the other side newly calls. By name.
[[nodiscard]] std::vector<ChangedSignature> changedSignatures(std::span<const CheckedSides> files,
                                                              DefinitionReader& definitions);

/// Finds new calls that fit what such a name took before and not what it takes now.
void findOldCalls(const FileView& file,
                  const std::vector<ChangedSignature>& changed,
                  std::vector<Finding>& found);
}  // namespace rope
