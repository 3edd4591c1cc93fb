// SPDX-License-Identifier: GPL-3.0-or-later
// The checked-out place: what is not committed, what was left out, submodules, our own folder.
// Tested by tst_git_place.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"
#include "core/system/git/scratch_folder.h"

#include <QDir>
#include <QDirIterator>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <utility>

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
    if (begunKind() != UnfinishedWork::none) {
        std::erase_if(files, [](const UncommittedFile& file) { return file.isStaged; });
    }
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

Result<GitPlace::WorkTrees> GitPlace::workTrees(RunFor purpose)
{
    TRY_ASSIGN(const auto begun, begunJoin());
    if (begun && begun->kind != UnfinishedWork::unknown) {
        TRY_ASSIGN(const BegunTrees trees, begunTrees(purpose));
        const ObjectId tips[] = {begun->ours};
        TRY_ASSIGN(const auto tip, readCommits(tips));
        return WorkTrees{trees.others, tip.front().tree};
    }
    TRY_ASSIGN(const IndexTrees trees, indexTrees(purpose));
    if (!trees.open.empty()) {
        return Error{ErrorCode::stale, "index", "half-joined files are staged", Reason::none};
    }
    return WorkTrees{trees.files, trees.staged};
}

Result<ObjectId> GitPlace::saveWork(const std::string& message)
{
    TRY_ASSIGN(const Standing now, standing());
    if (now.tip.isNull()) {
        return ObjectId{};
    }
    const ObjectId tips[] = {now.tip};
    TRY_ASSIGN(const auto tip, readCommits(tips));
    TRY_ASSIGN(const WorkTrees trees, workTrees(RunFor::looking));
    if (trees.files == tip.front().tree && trees.staged == tip.front().tree) {
        return ObjectId{};
    }
    GitRunOptions options;
    TRY_ASSIGN(const auto known, identity());
    if (!known) {  // work is put into safety whoever it is by, as git-stash does
        for (const char* role : {"AUTHOR", "COMMITTER"}) {
            options.environment.emplace_back("GIT_" + std::string(role) + "_NAME", "Rope Splice");
            options.environment.emplace_back("GIT_" + std::string(role) + "_EMAIL",
                                             "work@localhost");
        }
    }
    const auto commit = [&](const ObjectId& tree,
                            const std::vector<ObjectId>& parents,
                            const std::string& text) -> Result<ObjectId> {
        std::vector<std::string> arguments{"commit-tree", tree.hex()};
        for (const ObjectId& parent : parents) {
            arguments.insert(arguments.end(), {"-p", parent.hex()});
        }
        options.input = text;
        TRY_ASSIGN(const GitOutput written, m_git.run(arguments, options));
        const auto id = ObjectId::fromHex(withoutNewline(written.out));
        return written.exitCode == 0 && id ? Result<ObjectId>(*id)
                                           : writingError("commit-tree", written.err);
    };
    const std::string stagedMessage = "index: " + message;
    TRY_ASSIGN(const ObjectId staged, commit(trees.staged, {now.tip}, stagedMessage));
    return commit(trees.files, {now.tip, staged}, message);
}

Result<std::vector<RepoPath>> GitPlace::intendedPaths()
{
    TRY_ASSIGN(const std::string out,
               m_git.output({"status",
                             "--porcelain=v2",
                             "-z",
                             "--untracked-files=no",
                             "--no-renames",
                             "--ignore-submodules=all"}));
    return parseIntended(out);
}

Result<std::vector<RepoPath>> GitPlace::keepBeside(const std::vector<RepoPath>& paths)
{
    std::vector<RepoPath> names;
    for (const RepoPath& path : paths) {
        const std::string from = m_git.folder() + "/" + path;
        RepoPath name = path + ".mine";
        for (int number = 2;
             QFileInfo(QString::fromStdString(m_git.folder() + "/" + name)).exists()
             || QFileInfo(QString::fromStdString(m_git.folder() + "/" + name)).isSymLink();
             ++number) {
            name = path + ".mine-" + std::to_string(number);
        }
        if (std::rename(from.c_str(), (m_git.folder() + "/" + name).c_str()) != 0) {
            return Error{ErrorCode::io, path, std::strerror(errno)};
        }
        names.push_back(std::move(name));
    }
    return names;
}

Result<std::vector<std::string>> GitPlace::programsLeftOut()
{
    const auto leftOut = std::exchange(m_leftOut, {});
    return std::vector<std::string>(leftOut.begin(), leftOut.end());
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

/// See gitrepository-layout(5): a submodule's folder stands below "modules" of its superproject's.
WorkingTreeKind GitPlace::workingTreeKind() const
{
    constexpr std::string_view kModules = "/.git/modules/";
    constexpr std::string_view kOwn = "/.git";
    if (const std::size_t at = m_commonFolder.find(kModules); at != std::string::npos) {
        return {WorkingTreeKind::Kind::submodule, m_commonFolder.substr(0, at)};
    }
    if (m_gitFolder == m_commonFolder) {
        return {};
    }
    return {WorkingTreeKind::Kind::further,
            m_commonFolder.ends_with(kOwn)
                ? m_commonFolder.substr(0, m_commonFolder.size() - kOwn.size())
                : m_commonFolder};
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
