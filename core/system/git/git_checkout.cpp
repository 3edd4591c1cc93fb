// SPDX-License-Identifier: GPL-3.0-or-later
// The checked-out place: what is not committed, what was left out, submodules, our own folder.
// Tested by tst_git_place.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"

#include <QDir>
#include <QDirIterator>
#include <QFile>
#include <QFileInfo>

#include <algorithm>

namespace rope {
Result<std::vector<UncommittedFile>> GitPlace::changedFiles(RunFor purpose)
{
    GitRunOptions options;
    options.purpose = purpose;
    // Every option that the person's configuration could change is given.
    TRY_ASSIGN(const std::string out,
               m_git.output({"-c",
                             "status.showStash=false",
                             "-c",
                             "core.untrackedCache=keep",
                             "status",
                             "--porcelain=v2",
                             "-z",
                             "--untracked-files=all",
                             "--ignored=no",
                             "--no-renames",
                             "--no-ahead-behind",
                             "--ignore-submodules=dirty"},
                            options));
    auto files = parseStatus(out);
    if (!files) {
        return Error{ErrorCode::corrupt, "status", out.substr(0, 500)};
    }
    return std::move(*files);
}

Result<std::vector<UncommittedFile>> GitPlace::uncommittedFiles()
{
    TRY_ASSIGN(auto files, changedFiles(RunFor::looking));
    const auto locked = m_programs.lockedFilters();
    std::string input;
    for (const UncommittedFile& file : files) {
        input.append(file.isUntracked ? std::string() : file.path + std::string(1, '\0'));
    }
    if (locked.empty() || input.empty()) {
        return files;
    }
    GitRunOptions options;
    options.input = input;
    TRY_ASSIGN(const std::string out,
               m_git.output({"check-attr", "-z", "--stdin", "filter"}, options));
    const auto values = parseAttributes(out);
    if (!values) {
        return Error{ErrorCode::corrupt, "check-attr", out.substr(0, 500)};
    }
    for (const AttributeValue& value : *values) {
        if (const auto filter = locked.find(value.value); filter != locked.end()) {
            m_leftOut.insert(filter->second);
        }
    }
    return files;
}

Result<std::vector<std::string>> GitPlace::programsLeftOut()
{
    return std::vector<std::string>(m_leftOut.begin(), m_leftOut.end());
}

Result<std::unique_ptr<Place>> GitPlace::openSubmodule(const RepoPath& path)
{
    for (const std::string& folder :
         {m_git.folder() + "/" + path, m_commonFolder + "/modules/" + path}) {
        if (!QFile::exists(QString::fromStdString(folder))) {
            continue;
        }
        auto place = GitPlace::open(folder);
        // A submodule that is not checked out is a plain folder inside our own working tree.
        if (place && (*place)->m_gitFolder != m_gitFolder) {
            return std::unique_ptr<Place>(std::move(*place));
        }
    }
    return Error{ErrorCode::notFound, path, "submodule"};
}

Result<std::vector<std::string>> GitPlace::watchedFolders()
{
    constexpr std::size_t kMostFolders = 200;  // a watcher costs the kernel something
    std::vector<std::string> folders{m_gitFolder};
    if (!m_isBare) {
        folders.push_back(m_git.folder());
    }
    QDirIterator refs(QString::fromStdString(m_commonFolder + "/refs"),
                      QDir::Dirs | QDir::NoDotAndDotDot | QDir::NoSymLinks,
                      QDirIterator::Subdirectories);
    folders.push_back(m_commonFolder + "/refs");
    while (refs.hasNext() && folders.size() < kMostFolders) {
        const std::string folder = refs.next().toStdString();
        if (!mentions(folder, "/refs/rope-splice")) {
            folders.push_back(folder);
        }
    }
    return folders;
}

Result<std::string> GitPlace::privateFolder()
{
    const std::string folder = m_gitFolder + "/rope-splice";
    const QString path = QString::fromStdString(folder);
    // A link that came along with somebody's copy of a repository must not lead our writing elsewhere.
    if (QFileInfo(path).isSymLink() || !QDir().mkpath(path)) {
        return Error{ErrorCode::io, folder, "cannot make this folder"};
    }
    return folder;
}
}  // namespace rope
