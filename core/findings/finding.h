// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"
#include "core/text/line_range.h"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// What a finding points at. Measured in docs/findings.md.
enum class FindingKind {
    nameGone,          ///< A name that one side removed or renamed is newly used by the other.
    definedTwice,      ///< Both sides define one name in one scope.
    importedTwice,     ///< An import or include stands twice.
    keyTwice,          ///< A key stands twice in one section of a structured text.
    signatureChanged,  ///< One side changed what a name takes, the other calls it as before.
    importGone,        ///< One side removed an import that the other's new lines need.
    fileGone,          ///< One side removed or renamed a file that the other newly names.
    bracketsOpen,      ///< Brackets balance in both sides and not in the result.
    quoteOpen,         ///< The same of quotation marks.
    indentBroken,      ///< The same of blocks that are told by their indent.
    tagsUnbalanced,    ///< The same of tags.
    doesNotParse,      ///< Both sides parse as what the file is, the result does not.
    nearEdits,         ///< Both sides changed lines close to each other.
    sameFunction,      ///< Both sides changed the same function.
    movedBlock,        ///< One side moved a block that the other edited at its old place.
    rewriteLeft,  ///< One side wrote another name everywhere; the other's new lines have the old one.
    addedTwice,     ///< Both sides added the same at two places.
    markersLeft,    ///< A conflict marker that no side has.
    lineRepeated,   ///< A line stands twice in a row where two sides meet.
    foreignText,    ///< Text outside the regions that no side has.
    changeDropped,  ///< A decision dropped all that one side changed in a file.
};
inline constexpr FindingKind kLastFindingKind = FindingKind::changeDropped;

/// "name-gone". Stable: stored in journals and told in JSON.
[[nodiscard]] std::string_view nameOf(FindingKind kind);

/// Whether a kind is told unless a person asks for all: those that cry wolf are not.
[[nodiscard]] bool isToldByDefault(FindingKind kind);

/// Whether it only deserves a look, rather than being probably wrong.
[[nodiscard]] bool isRemark(FindingKind kind);

/// Who made it so.
enum class FindingSide { none, ours, theirs, both };

/// Bytes of the result that are to be replaced by others.
struct Mend
{
    std::size_t position = 0;
    std::size_t length = 0;
    std::string text;
    friend bool operator==(const Mend&, const Mend&) = default;
};

/// A place in a joined or decided result that deserves a look. A value.
struct Finding
{
    FindingKind kind = FindingKind::nameGone;
    RepoPath path;      ///< In the result.
    LineRange lines;    ///< Of the result; at least one where the file has any.
    std::string name;   ///< What it is about: a name, a key, a file, a line; bytes.
    std::string other;  ///< What took its place, or where: the new name, the parser's words.
    FindingSide side =
        FindingSide::none;  ///< Whose change is behind it: who removed, moved, renamed.
    RepoPath
        otherPath;  ///< Where that side did it, in the base or the result; empty: nowhere else.
    LineNumber otherLine = 0;
    int count = 0;  ///< Of lines, arguments, brackets: as the kind has it.
    std::optional<Mend> mend{};
    /// What it is known by while other things change: a digest of what it says and of its line.
    std::string key{};
};

/// A file that was not looked at, and why.
struct NotChecked
{
    enum class Why {
        tooLarge,  ///< More than kMostCheckedBytes, or a line of more than kMostLineBytes.
        tooDeep,   ///< Brackets nested deeper than kMostNested.
    };
    RepoPath path;
    Why why = Why::tooLarge;
    friend bool operator==(const NotChecked&, const NotChecked&) = default;
};
inline constexpr std::size_t kMostCheckedBytes = 4'000'000;
inline constexpr std::size_t kMostLineBytes = 200'000;
inline constexpr std::size_t kMostNested = 1'000;
}  // namespace rope
