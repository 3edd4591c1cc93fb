// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_tree_join.cpp.
#include "core/snapshot/names_beside.h"

namespace rope {
namespace {
/// Where the extension of a path's name begins, its dot included; the end if there is none. The dot
/// that leads a hidden file's name begins no extension.
std::size_t extensionOf(const RepoPath& path)
{
    const std::size_t name = path.rfind('/') == RepoPath::npos ? 0 : path.rfind('/') + 1;
    const std::size_t dot = path.rfind('.');
    return dot == RepoPath::npos || dot <= name ? path.size() : dot;
}
}  // namespace

Result<bool> NamesBeside::isFree(const RepoPath& name) const
{
    if (m_given.contains(name) || m_givenGitNames.contains(name)) {
        return false;
    }
    TRY_ASSIGN(const bool isTaken, m_isTaken(name));
    return !isTaken;
}

Result<RepoPath> NamesBeside::makeFor(const RepoPath& path, std::string_view word)
{
    const std::size_t extension = extensionOf(path);
    for (int count = 1;; ++count) {
        const std::string number = count == 1 ? std::string() : "-" + std::to_string(count);
        RepoPath name = path.substr(0, extension);
        name.append(".").append(word).append(number).append(path, extension);
        TRY_ASSIGN(const bool isGood, isFree(name));
        if (isGood) {
            m_given.insert(name);
            return name;
        }
    }
}

Result<NameBeside> NamesBeside::make(const RepoPath& path, Side side)
{
    const std::string word = side == Side::ours ? "ours" : "theirs";
    NameBeside made;
    TRY_ASSIGN(made.path, makeFor(path, word));
    for (int count = 0; made.gitName.empty(); ++count) {
        RepoPath name = path;
        name.append("~").append(word);
        if (count > 0) {
            name.append("_").append(std::to_string(count));
        }
        TRY_ASSIGN(const bool isGood, isFree(name));
        made.gitName = isGood ? name : RepoPath();
    }
    m_givenGitNames.insert(made.gitName);
    return made;
}
}  // namespace rope
