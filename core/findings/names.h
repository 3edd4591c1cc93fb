// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/definitions.h"
#include "core/findings/file_view.h"

#include <map>
#include <span>

namespace rope {
/// A file and its versions, as all finders over the whole tree take them.
struct CheckedSides
{
    const CheckedFile* file = nullptr;
    const SideViews* sides = nullptr;
};

/// A name that one side removed or gave another name, and that the other side newly uses.
struct GoneName
{
    std::string name;
    std::string newName;  ///< What the side wrote in its place; empty if nothing in particular.
    FindingSide side = FindingSide::ours;
    Language language = Language::prose;  ///< Of the file that defined it.
    RepoPath path;                        ///< Where the base defines it.
    LineNumber line = 0;
    std::size_t file = 0;  ///< That file, among those given.
};

/// Names that one side has nowhere any more in the files that it changed, that the base defines in one
/// of them, and that stand more often in what the other side made of a file than in the base. Where a
/// language has no definitions, a key or column of the base counts as one. By name.
[[nodiscard]] std::vector<GoneName> goneNames(std::span<const CheckedSides> files,
                                              DefinitionReader& definitions);

/// Whether a text defines a name, or has it as a key or column.
[[nodiscard]] bool isDefinedIn(const RepoPath& path,
                               const VersionView& version,
                               Language language,
                               std::string_view name,
                               DefinitionReader& definitions);

/// Finds where the result of a file uses such names in new lines.
void findGoneNames(const FileView& file,
                   const std::vector<GoneName>& gone,
                   DefinitionReader& definitions,
                   std::vector<Finding>& found);

/// For each side, each name that it replaced by one other: the other name and in how many places.
struct ReplacedNames
{
    using Targets = std::map<std::string, int, std::less<>>;
    std::map<std::string, Targets, std::less<>> ours;
    std::map<std::string, Targets, std::less<>> theirs;
    [[nodiscard]] const std::map<std::string, Targets, std::less<>>& of(FindingSide side) const
    {
        return side == FindingSide::ours ? ours : theirs;
    }
};
[[nodiscard]] ReplacedNames replacedNames(const SideViews& sides);

/// Finds names that one side wrote otherwise all over a file, and that new lines of the other still have.
void findRewritesLeft(const FileView& file,
                      const ReplacedNames& replaced,
                      std::vector<Finding>& found);
}  // namespace rope
