// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/file_view.h"

#include <span>
#include <unordered_map>

namespace rope {
/// A file that one side removed or gave another name.
struct GoneFile
{
    RepoPath path;     ///< In the base.
    RepoPath newPath;  ///< Empty: it was removed.
    FindingSide side = FindingSide::ours;
};

/// Those of some files, and where one is gone and an equal one came, its new name.
[[nodiscard]] std::vector<GoneFile> goneFiles(std::span<const CheckedFile> files);

/// Gone files by the first word of their names, for looking many up at once.
class GoneFileIndex
{
public:
    explicit GoneFileIndex(std::vector<GoneFile> files);
    [[nodiscard]] bool isEmpty() const { return m_files.empty(); }
    [[nodiscard]] const std::vector<GoneFile>& files() const { return m_files; }
    /// Places in files() of those whose last part begins with this word.
    [[nodiscard]] std::span<const std::size_t> beginningWith(std::string_view word) const;

private:
    std::vector<GoneFile> m_files;
    std::unordered_map<std::string_view, std::vector<std::size_t>> m_byWord;
};

/// Finds new lines that name such a file: in an include, an import, a link, a list of a build, a path.
/// `present`: paths that the result has after all.
void findGoneFiles(const FileView& file,
                   const GoneFileIndex& gone,
                   const std::unordered_map<RepoPath, bool>& present,
                   std::vector<Finding>& found);
}  // namespace rope
