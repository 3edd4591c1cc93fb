// SPDX-License-Identifier: GPL-3.0-or-later
// What `git merge` and its like leave behind when they stop (git-merge(1), "HOW TO RESOLVE CONFLICTS"):
// files of one line each in the git folder, and an index with half-joined entries.
// Tested by tst_begun_join.cpp.
#include "core/base/digest.h"
#include "core/system/git/git_errors.h"
#include "core/system/git/git_place.h"
#include "core/system/git/scratch_folder.h"
#include "core/system/tree_difference.h"
#include "core/text/text.h"

#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>

#include <algorithm>
#include <filesystem>
#include <set>

namespace rope {
namespace {
constexpr qint64 kMostStateBytes = 200'000;
constexpr std::size_t kBriefIdLength = 7;

std::string bytesOf(const std::string& path)
{
    QFile file(QString::fromStdString(path));
    return file.open(QIODevice::ReadOnly) ? file.read(kMostStateBytes).toStdString()
                                          : std::string();
}

/// What a merge was begun with, as the first line of its proposed message names it.
std::string nameIn(const std::string& message)
{
    const std::string line = message.substr(0, message.find('\n'));
    if (!line.starts_with("Merge ")) {
        return {};
    }
    const std::size_t begin = line.find('\'');
    const std::size_t end = begin == std::string::npos ? begin : line.find('\'', begin + 1);
    return end == std::string::npos ? std::string() : line.substr(begin + 1, end - begin - 1);
}

/// The paths of `ls-files -u -z`, each once.
std::vector<RepoPath> openPathsIn(const std::string& listed)
{
    std::set<RepoPath> paths;
    for (std::size_t from = 0; from < listed.size();) {
        const std::size_t end = std::min(listed.find('\0', from), listed.size());
        const std::size_t tab = listed.find('\t', from);
        paths.insert(listed.substr(tab + 1, end - tab - 1));
        from = end + 1;
    }
    return {paths.begin(), paths.end()};
}

/// A copy of the index that is as old as the original: what was edited in the second in which git
/// wrote that is told by its age alone (git's racy-git.txt).
Status copyIndex(const std::string& from, const std::string& to)
{
    namespace fs = std::filesystem;
    std::error_code error;
    if (!fs::exists(from, error)) {
        return ok();
    }
    fs::copy_file(from, to, fs::copy_options::overwrite_existing, error);
    if (!error) {
        fs::last_write_time(to, fs::last_write_time(from, error), error);
    }
    return error ? Status(Error{ErrorCode::io, to, error.message()}) : ok();
}
}  // namespace

Result<std::optional<BegunJoin>> GitPlace::begunJoin()
{
    BegunJoin begun;
    begun.kind = begunKind();
    TRY_ASSIGN(const std::string unmerged, m_git.output({"ls-files", "-u", "-z"}));
    begun.open = openPathsIn(unmerged);
    if (begun.kind == UnfinishedWork::none) {
        if (begun.open.empty()) {
            return std::optional<BegunJoin>{};
        }
        begun.kind = UnfinishedWork::unknown;
    }
    TRY_ASSIGN(const Standing standing, this->standing());
    begun.line = standing.ref;
    begun.lineName = standing.name;
    begun.lineTip = standing.tip;
    begun.ours = standing.tip;
    if (begun.kind == UnfinishedWork::unknown || begun.kind == UnfinishedWork::patches) {
        begun.obstacle = begun.kind == UnfinishedWork::patches ? BegunObstacle::noCommits
                                                               : BegunObstacle::otherKind;
        return std::optional(std::move(begun));
    }
    if (begun.kind != UnfinishedWork::merge) {
        TRY(readBegunSteps(begun));
        return std::optional(std::move(begun));
    }
    begun.message = bytesOf(m_gitFolder + "/MERGE_MSG");
    begun.theirsName = nameIn(begun.message);
    const std::string heads = begunHeads();
    const auto lines = splitLines(heads);
    const auto theirs = lines.empty()
                            ? std::nullopt
                            : ObjectId::fromHex(withoutNewline(std::string(lines.front())));
    if (lines.size() > 1) {
        begun.obstacle = BegunObstacle::manyTips;
    } else if (QFileInfo::exists(QString::fromStdString(m_gitFolder + "/MERGE_AUTOSTASH"))) {
        begun.obstacle = BegunObstacle::ownWorkKept;
    } else if (!theirs || !resolveCommit(theirs->hex())) {
        begun.obstacle = BegunObstacle::damaged;
    } else {
        begun.theirs = *theirs;
    }
    return std::optional(std::move(begun));
}

/// Of a rebase, a cherry-pick or a revert.
Status GitPlace::readBegunSteps(BegunJoin& begun)
{
    const BegunSteps steps = begunSteps(begun.kind);
    if (begun.kind == UnfinishedWork::rebase) {
        begun.line = steps.line;
        begun.lineName = steps.line.substr(
            steps.line.starts_with("refs/heads/") ? std::string_view("refs/heads/").size() : 0);
        begun.theirsName = steps.onto.substr(0, kBriefIdLength);
    } else {
        begun.message = bytesOf(m_gitFolder + "/MERGE_MSG");
    }
    if (begun.line.empty()) {
        begun.obstacle = BegunObstacle::noLine;
    } else if (steps.keepsOwnWork) {
        begun.obstacle = BegunObstacle::ownWorkKept;
    } else if (steps.hasOtherSteps || steps.stopped.empty()) {
        begun.obstacle = BegunObstacle::otherSteps;
    }
    if (begun.obstacle != BegunObstacle::none) {
        return ok();
    }
    std::vector<ObjectId> commits;
    std::vector<std::string> names{steps.stopped};
    names.insert(names.end(), steps.next.begin(), steps.next.end());
    if (begun.kind == UnfinishedWork::rebase) {
        names.push_back(steps.lineTip);
    }
    for (const std::string& name : names) {
        const auto commit = resolveCommit(name);
        if (!commit) {
            begun.obstacle = BegunObstacle::damaged;
            return ok();
        }
        commits.push_back(*commit);
    }
    if (begun.kind == UnfinishedWork::rebase) {
        begun.lineTip = commits.back();
        commits.pop_back();
    }
    TRY_ASSIGN(const auto read, readCommits(commits));
    const bool isRebase = begun.kind == UnfinishedWork::rebase;
    if (std::any_of(read.begin(), read.end(), [isRebase](const Commit& commit) {
            return commit.parents.size() != 1 && !(isRebase && commit.parents.empty());
        })) {
        begun.obstacle = BegunObstacle::otherSteps;
        return ok();
    }
    begun.theirs = commits.front();
    begun.next.assign(commits.begin() + 1, commits.end());
    return ok();
}

BegunSteps GitPlace::begunSteps(UnfinishedWork kind) const
{
    return kind == UnfinishedWork::rebase
               ? begunRebase(m_gitFolder)
               : begunSequence(m_gitFolder,
                               kind == UnfinishedWork::revert ? "REVERT_HEAD" : "CHERRY_PICK_HEAD");
}

UnfinishedWork GitPlace::begunKind() const
{
    const auto has = [&](const char* name) {
        return QFileInfo::exists(QString::fromStdString(m_gitFolder) + QLatin1Char('/')
                                 + QLatin1String(name));
    };
    // git-am(1) and one of the ways to rebase keep their state in one folder.
    return has("rebase-apply/applying")                 ? UnfinishedWork::patches
           : has("rebase-merge") || has("rebase-apply") ? UnfinishedWork::rebase
           : has("MERGE_HEAD")                          ? UnfinishedWork::merge
           : has("CHERRY_PICK_HEAD")                    ? UnfinishedWork::cherryPick
           : has("REVERT_HEAD")                         ? UnfinishedWork::revert
                                                        : UnfinishedWork::none;
}

std::string GitPlace::begunHeads() const
{
    const UnfinishedWork kind = begunKind();
    if (kind == UnfinishedWork::none) {
        return {};
    }
    return kind == UnfinishedWork::merge
               ? bytesOf(m_gitFolder + "/MERGE_HEAD")
               : digestOfParts({std::to_string(static_cast<int>(kind)), begunSteps(kind).raw});
}

Status GitPlace::forgetBegun()
{
    TRY(forgetBegunSteps(m_gitFolder));
    for (const char* name : {"MERGE_HEAD", "MERGE_MODE", "MERGE_MSG", "AUTO_MERGE"}) {
        QFile file(QString::fromStdString(m_gitFolder) + QLatin1Char('/') + QLatin1String(name));
        if (file.exists() && !file.remove()) {
            return Error{
                ErrorCode::io, file.fileName().toStdString(), file.errorString().toStdString()};
        }
    }
    return ok();
}

Result<ObjectId> GitPlace::treeOfIndex(const std::string& index)
{
    GitRunOptions options;
    options.purpose = RunFor::acting;
    if (!index.empty()) {
        options.environment = {{"GIT_INDEX_FILE", index}};
    }
    TRY_ASSIGN(const GitOutput written, m_git.run({"write-tree"}, options));
    const auto tree = ObjectId::fromHex(withoutNewline(written.out));
    if (written.exitCode != 0 || !tree) {
        return writingError("write-tree", written.err);
    }
    return *tree;
}

Result<GitPlace::IndexTrees> GitPlace::indexTrees(RunFor purpose)
{
    GitRunOptions options;
    options.purpose = purpose;
    TRY_ASSIGN(const std::string unmerged, m_git.output({"ls-files", "-u", "-z"}, options));
    IndexTrees trees;
    trees.open = openPathsIn(unmerged);
    TRY_ASSIGN(const std::string folder, privateFolder());
    const QTemporaryDir scratch(scratchTemplate(folder, "work"));
    // In copies of the index: nobody's own one is touched.
    const std::string index = scratch.filePath(QStringLiteral("index")).toStdString();
    if (trees.open.empty()) {
        TRY_ASSIGN(trees.staged, treeOfIndex({}));
    } else {
        TRY(copyIndex(m_gitFolder + "/index", index));
        std::string gone;
        const std::string nobody(m_usesSha256 ? 64 : 40, '0');
        for (const RepoPath& path : trees.open) {
            gone.append("0 ").append(nobody).append(1, '\t').append(path).append(1, '\0');
        }
        options.environment = {{"GIT_INDEX_FILE", index}};
        options.input = gone;
        TRY_ASSIGN(const GitOutput taken,
                   m_git.run({"update-index", "-z", "--index-info"}, options));
        if (taken.exitCode != 0) {
            return writingError("update-index", taken.err);
        }
        TRY_ASSIGN(trees.staged, treeOfIndex(index));
    }
    TRY(copyIndex(m_gitFolder + "/index", index));
    options.environment = {{"GIT_INDEX_FILE", index}};
    options.input = {};
    options.settings = {{"core.hooksPath", "/dev/null"}};  // it is a copy of the index
    TRY_ASSIGN(const GitOutput added, m_git.run({"add", "-u"}, options));
    if (added.exitCode != 0) {
        return writingError("add", added.err);
    }
    TRY_ASSIGN(trees.files, treeOfIndex(index));
    return trees;
}

Result<GitPlace::BegunTrees> GitPlace::begunTrees(RunFor purpose)
{
    TRY_ASSIGN(const auto begun, begunJoin());
    if (!begun || begun->ours.isNull()) {
        return Error{ErrorCode::notFound, "a begun join", {}};
    }
    const ObjectId tips[] = {begun->ours};
    TRY_ASSIGN(const auto commits, readCommits(tips));
    const ObjectId before = commits.front().tree;
    TRY_ASSIGN(const IndexTrees trees, indexTrees(purpose));
    BegunTrees read;
    read.all = trees.files;
    read.join.open = trees.open;
    std::set<RepoPath> own(trees.open.begin(), trees.open.end());
    TRY_ASSIGN(const auto staged, treeDifference(*this, before, trees.staged));
    for (const FileChange& change : staged) {
        if (own.insert(change.path).second) {
            read.join.settled.push_back(change.path);
        }
    }
    TRY_ASSIGN(const auto changes, treeDifference(*this, before, trees.files));
    ResultSnapshot ofJoin{before, {}};
    ResultSnapshot others{before, {}};
    for (const FileChange& change : changes) {
        (own.contains(change.path) ? ofJoin : others)
            .edits.push_back({change.path, change.after, nullptr});
    }
    TRY_ASSIGN(read.join.tree, storeTree(ofJoin));
    TRY_ASSIGN(read.others, storeTree(others));
    std::string open;
    for (const RepoPath& path : read.join.open) {
        open.append(path).append(1, '\0');
    }
    read.join.stamp = digestOfParts({begunHeads(), begun->ours.hex(), read.join.tree.hex(), open});
    return read;
}

Result<BegunFiles> GitPlace::begunFiles()
{
    TRY_ASSIGN(BegunTrees trees, begunTrees(RunFor::looking));
    return std::move(trees.join);
}
}  // namespace rope
