// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of work that are looked at before they move or go, and the refs by which splices keep things alive.
// Tested by tst_other_lines.cpp, tst_recorder.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"
#include "core/system/git/scratch_folder.h"
#include "core/text/text.h"

#include <QDir>
#include <QFile>

#include <algorithm>
#include <set>

namespace rope {
Status GitPlace::keepAlive(const std::string& name, const ObjectId& commit)
{
    const std::string ref = "refs/rope-splice/" + name;
    const bool letsGo = commit.isNull();
    std::string request = (letsGo ? "delete " : "update ") + ref;
    request.append(1, '\0');
    request.append(letsGo ? std::string() : commit.hex()).append(1, '\0');
    if (!letsGo) {
        request.append(1, '\0');
    }
    GitRunOptions options;
    options.input = request;
    options.settings = {{"core.hooksPath", "/dev/null"}};  // what is ours is no hook's affair
    TRY_ASSIGN(const GitOutput kept, m_git.run({"update-ref", "--stdin", "-z"}, options));
    if (kept.exitCode != 0 && !(letsGo && mentions(kept.err, "unable to resolve"))) {
        return writingError(ref, kept.err);
    }
    return ok();
}

Status GitPlace::checkLine(const std::string& ref, const ObjectId& expected)
{
    const auto tip = resolveCommit(ref);
    if (!tip || *tip != expected) {
        return Error{ErrorCode::stale,
                     ref.substr(ref.find('/', ref.find('/') + 1) + 1),
                     tip ? "now at " + tip->hex() : tip.error().detail,
                     Reason::lineMoved};
    }
    return ok();
}

Status GitPlace::checkNotCheckedOut(const std::string& ref)
{
    TRY_ASSIGN(const std::string listed, m_git.output({"worktree", "list", "--porcelain", "-z"}));
    std::string folder;
    for (std::size_t from = 0; from < listed.size();) {
        const std::size_t end = std::min(listed.find('\0', from), listed.size());
        const std::string line = listed.substr(from, end - from);
        if (line.starts_with("worktree ")) {
            folder = line.substr(9);
        } else if (line == "branch " + ref) {
            return Error{ErrorCode::stale,
                         ref.substr(ref.find('/', ref.find('/') + 1) + 1),
                         folder,
                         Reason::checkedOut};
        }
        from = end + 1;
    }
    return ok();
}

Status GitPlace::removeOwnLine(const std::string& line, const ObjectId& expected)
{
    TRY(checkLine(line, expected));
    TRY(checkNotCheckedOut(line));
    std::string request = "delete " + line;
    request.append(1, '\0').append(expected.hex()).append(1, '\0');
    GitRunOptions options;
    options.input = request;
    TRY_ASSIGN(const GitOutput removed, m_git.run({"update-ref", "--stdin", "-z"}, options));
    if (removed.exitCode != 0) {
        return writingError(line, removed.err);
    }
    constexpr std::string_view kBranches = "refs/heads/";
    if (line.starts_with(kBranches)) {
        // What was set up for it means nothing any more; where nothing was, this does nothing.
        (void)m_git.run(
            {"config", "--local", "--remove-section", "branch." + line.substr(kBranches.size())});
    }
    return ok();
}

Status GitPlace::removeScratch()
{
    TRY_ASSIGN(const std::string folder, privateFolder());
    removeLeftScratch(folder);
    return ok();
}

Result<ObjectId> GitPlace::keptCommit(const std::string& name)
{
    return resolveCommit("refs/rope-splice/" + name);
}

namespace {
/// What the journals of all working trees of a repository are known by, but for one of them.
std::set<std::string> otherJournals(const std::string& commonFolder, const std::string& own)
{
    std::vector<QString> folders{QString::fromStdString(commonFolder)};
    const QDir worktrees(QString::fromStdString(commonFolder) + QStringLiteral("/worktrees"));
    for (const QString& name : worktrees.entryList(QDir::Dirs | QDir::NoDotAndDotDot)) {
        folders.push_back(worktrees.filePath(name));
    }
    std::set<std::string> ids;
    for (const QString& folder : folders) {
        QFile file(folder + QStringLiteral("/rope-splice/journal-id"));
        if (folder.toStdString() != own && file.open(QIODevice::ReadOnly)) {
            ids.insert(file.readLine(100).trimmed().toStdString());
        }
    }
    return ids;
}
}  // namespace

Result<std::vector<std::string>> GitPlace::keptAlive()
{
    TRY_ASSIGN(const std::string out,
               m_git.output({"for-each-ref", "--format=%(refname)", "refs/rope-splice/"}));
    constexpr std::string_view kPrefix = "refs/rope-splice/";
    const std::set<std::string> others = otherJournals(m_commonFolder, m_gitFolder);
    std::vector<std::string> names;
    for (const std::string_view line : splitLines(out)) {
        std::string name = withoutNewline(std::string(line.substr(kPrefix.size())));
        if (!others.contains(name.substr(0, name.find('/')))) {
            names.push_back(std::move(name));
        }
    }
    return names;
}
}  // namespace rope
