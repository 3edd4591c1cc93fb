// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_repository.cpp.
#include "core/repository/git/git_repository.h"

#include "core/repository/git/git_parsers.h"
#include "core/text/text.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>

#include <algorithm>

namespace rope {
namespace {
constexpr int kAnswerMs = 120'000;
constexpr std::size_t kMostKeptTrees = 20'000;

std::string withoutLineEnd(std::string text)
{
    while (text.ends_with('\n')) {
        text.pop_back();
    }
    return text;
}

bool mentions(const std::string& text, std::string_view part)
{
    return text.find(part) != std::string::npos;
}

/// What git's complaint about writing means, when it says which of a few common things happened.
Error writingError(std::string subject, std::string detail)
{
    ErrorCode code = ErrorCode::gitFailed;
    if (mentions(detail, ".lock") && mentions(detail, "File exists")) {
        code = ErrorCode::busy;
    } else if (mentions(detail, "No space left") || mentions(detail, "Permission denied")
               || mentions(detail, "Read-only file system") || mentions(detail, "File too large")
               || mentions(detail, "unable to write")) {
        code = ErrorCode::io;
    } else if (mentions(detail, "would be overwritten") || mentions(detail, "not uptodate")
               || mentions(detail, "but expected")) {
        code = ErrorCode::stale;
    } else if (mentions(detail, "tell me who you are") || mentions(detail, "empty ident name")
               || mentions(detail, "auto-detect")) {
        code = ErrorCode::noIdentity;
    } else if (mentions(detail, "gpg failed") || mentions(detail, "failed to sign")
               || mentions(detail, "cannot run gpg")) {
        code = ErrorCode::refused;
    }
    return {code, std::move(subject), std::move(detail)};
}

/// `rev-list`, read as it comes and stopped when nobody wants more.
class RevListStream final : public CommitStream
{
public:
    explicit RevListStream(std::unique_ptr<QProcess> process)
        : m_process(std::move(process))
    {
    }
    ~RevListStream() override
    {
        m_process->kill();
        m_process->waitForFinished(1000);
    }

    Result<std::optional<CommitLink>> next() override
    {
        while (!m_process->canReadLine()) {
            if (!m_process->waitForReadyRead(kAnswerMs) && !m_process->canReadLine()) {
                m_process->waitForFinished(1000);
                if (m_process->exitCode() != 0 || m_process->bytesAvailable() > 0) {
                    return Error{ErrorCode::corrupt,
                                 "rev-list",
                                 m_process->readAllStandardError().toStdString()};
                }
                return std::optional<CommitLink>{};
            }
        }
        auto link = parseCommitLink(withoutLineEnd(m_process->readLine().toStdString()));
        if (!link) {
            return Error{ErrorCode::corrupt, "rev-list", {}};
        }
        return link;
    }

private:
    std::unique_ptr<QProcess> m_process;
};
}  // namespace

GitRepository::GitRepository(std::string folder, bool isBare)
    : m_git(std::move(folder))
    , m_isBare(isBare)
    , m_reader(m_git)
{
}

Result<std::unique_ptr<GitRepository>> GitRepository::open(const std::string& folder)
{
    const QFileInfo place(QString::fromStdString(folder));
    if (!place.isDir()) {
        return Error{ErrorCode::notFound, folder, "no such folder"};
    }
    const GitProcess git(place.absoluteFilePath().toStdString());
    TRY_ASSIGN(const GitOutput asked,
               git.run({"rev-parse",
                        "--path-format=absolute",
                        "--show-object-format",
                        "--absolute-git-dir",
                        "--git-common-dir",
                        "--show-toplevel"}));
    const bool hasWorkingTree = asked.exitCode == 0;
    // Bare: git answers all but the last and says why.
    const bool isBare = !hasWorkingTree && mentions(asked.err, "must be run in a work tree");
    if (!hasWorkingTree && !isBare) {
        const bool isNone = mentions(asked.err, "not a git repository");
        return Error{isNone ? ErrorCode::notFound : ErrorCode::gitFailed, folder, asked.err};
    }
    const auto lines = splitLines(asked.out);
    if (lines.size() != (hasWorkingTree ? 4 : 3)) {
        return Error{ErrorCode::unsupported, folder, "a line break in the path of a repository"};
    }
    std::unique_ptr<GitRepository> repository(
        new GitRepository(withoutLineEnd(std::string(lines.back())), isBare));
    repository->m_held = HeldObjects(lines[0] == "sha256\n");
    repository->m_gitFolder = withoutLineEnd(std::string(lines[1]));
    repository->m_commonFolder = withoutLineEnd(std::string(lines[2]));
    return repository;
}

GitRepository::~GitRepository()
{
    if (m_treeWriter) {
        m_treeWriter->closeWriteChannel();
        m_treeWriter->waitForFinished(2000);
    }
}

Result<Standing> GitRepository::standing()
{
    Standing standing;
    standing.hasWorkingTree = !m_isBare;
    TRY_ASSIGN(const GitOutput symbolic, m_git.run({"symbolic-ref", "--quiet", "HEAD"}));
    if (symbolic.exitCode == 0) {
        standing.ref = withoutLineEnd(symbolic.out);
        standing.name =
            standing.ref.starts_with("refs/heads/") ? standing.ref.substr(11) : standing.ref;
    }
    auto head = resolveCommit("HEAD");
    if (head) {
        standing.tip = *head;
    } else if (head.error().code != ErrorCode::notFound) {
        return std::move(head).error();
    }
    return standing;
}

Result<std::vector<Branch>> GitRepository::branches()
{
    TRY_ASSIGN(const std::string out,
               m_git.output({"for-each-ref",
                             std::string("--format=") + kBranchFormat,
                             "--sort=-committerdate",
                             "refs/heads",
                             "refs/remotes"}));
    auto branches = parseBranches(out);
    if (!branches) {
        return Error{ErrorCode::corrupt, "for-each-ref", out.substr(0, 500)};
    }
    return std::move(*branches);
}

Result<ObjectId> GitRepository::resolveCommit(std::string_view name)
{
    TRY_ASSIGN(const ObjectReader::Object object, m_reader.lookUp(std::string(name) + "^{commit}"));
    return object.id;
}

Result<std::optional<std::int64_t>> GitRepository::lastAsked()
{
    std::optional<std::int64_t> latest;
    for (const std::string& folder : {m_gitFolder, m_commonFolder}) {
        const QFileInfo mark(QString::fromStdString(folder + "/FETCH_HEAD"));
        if (mark.exists()) {
            latest =
                std::max<std::int64_t>(latest.value_or(0), mark.lastModified().toSecsSinceEpoch());
        }
    }
    return latest;
}

Result<bool> GitRepository::isShallow()
{
    TRY_ASSIGN(const std::string out, m_git.output({"rev-parse", "--is-shallow-repository"}));
    return withoutLineEnd(out) == "true";
}

Result<UnfinishedWork> GitRepository::unfinishedWork()
{
    const auto has = [&](const char* name) {
        return QFileInfo::exists(QString::fromStdString(m_gitFolder) + QLatin1Char('/')
                                 + QLatin1String(name));
    };
    if (has("rebase-merge") || has("rebase-apply")) {
        return UnfinishedWork::rebase;
    }
    if (has("MERGE_HEAD")) {
        return UnfinishedWork::merge;
    }
    if (has("CHERRY_PICK_HEAD")) {
        return UnfinishedWork::cherryPick;
    }
    return has("REVERT_HEAD") ? UnfinishedWork::revert : UnfinishedWork::none;
}

Result<std::vector<UncommittedFile>> GitRepository::uncommittedFiles()
{
    TRY_ASSIGN(const std::string out,
               m_git.output({"status", "--porcelain=v2", "-z", "--untracked-files=all"}));
    auto files = parseStatus(out);
    if (!files) {
        return Error{ErrorCode::corrupt, "status", out.substr(0, 500)};
    }
    return std::move(*files);
}

Result<std::unique_ptr<CommitStream>> GitRepository::commitsFrom(std::span<const ObjectId> tips)
{
    std::vector<std::string> arguments{"rev-list", "--timestamp", "--parents"};
    for (const ObjectId& tip : tips) {
        arguments.push_back(tip.hex());
    }
    TRY_ASSIGN(auto process, m_git.start(arguments));
    process->closeWriteChannel();
    return std::unique_ptr<CommitStream>(new RevListStream(std::move(process)));
}

Result<std::vector<Commit>> GitRepository::readCommits(std::span<const ObjectId> ids)
{
    TRY_ASSIGN(const auto objects, m_reader.contents(ids));
    std::vector<Commit> commits;
    for (const ObjectReader::Object& object : objects) {
        auto commit = object.type == "commit" ? parseCommit(object.id, object.bytes) : std::nullopt;
        if (!commit) {
            return Error{ErrorCode::corrupt, object.id.hex(), "not a readable commit"};
        }
        commits.push_back(std::move(*commit));
    }
    return commits;
}

Result<std::vector<TreeEntries>> GitRepository::readTrees(std::span<const ObjectId> ids)
{
    static const TreeEntries kEmpty = std::make_shared<const std::vector<TreeEntry>>();
    if (m_trees.size() > kMostKeptTrees) {
        m_trees.clear();
    }
    std::vector<ObjectId> wanted;
    std::copy_if(ids.begin(), ids.end(), std::back_inserter(wanted), [this](const ObjectId& id) {
        return !id.isNull() && !m_held.has(id) && !m_trees.contains(id);
    });
    TRY_ASSIGN(const auto objects, m_reader.contents(wanted));
    for (std::size_t i = 0; i < objects.size(); ++i) {
        auto entries = objects[i].type == "tree" ? parseTree(objects[i].bytes, wanted[i].size())
                                                 : std::nullopt;
        if (!entries) {
            return Error{
                ErrorCode::corrupt,
                wanted[i].hex(),
                "not a folder, or one with entries that no folder may hold or out of order"};
        }
        m_trees[wanted[i]] = std::make_shared<const std::vector<TreeEntry>>(std::move(*entries));
    }
    std::vector<TreeEntries> trees;
    trees.reserve(ids.size());
    for (const ObjectId& id : ids) {
        const TreeEntries held = id.isNull() ? kEmpty : m_held.tree(id);
        if (!held && m_held.has(id)) {
            return Error{
                ErrorCode::corrupt,
                id.hex(),
                "not a folder, or one with entries that no folder may hold or out of order"};
        }
        trees.push_back(held ? held : m_trees.at(id));
    }
    return trees;
}

Result<std::vector<BlobBytes>> GitRepository::readBlobs(std::span<const ObjectId> ids,
                                                        std::uint64_t mostBytes)
{
    std::vector<ObjectId> wanted;
    std::copy_if(ids.begin(), ids.end(), std::back_inserter(wanted), [this](const ObjectId& id) {
        return !m_held.has(id);
    });
    TRY_ASSIGN(auto objects, m_reader.contents(wanted, mostBytes));
    std::vector<BlobBytes> blobs;
    blobs.reserve(ids.size());
    std::size_t next = 0;
    for (const ObjectId& id : ids) {
        if (m_held.has(id)) {
            const BlobBytes held = m_held.blob(id);
            if (!held) {
                return Error{ErrorCode::corrupt, id.hex(), "a file's content is a tree"};
            }
            blobs.push_back(held->size() > mostBytes ? nullptr : held);
            continue;
        }
        ObjectReader::Object& object = objects[next++];
        if (object.type != "blob") {
            return Error{
                ErrorCode::corrupt, object.id.hex(), "a file's content is a " + object.type};
        }
        blobs.push_back(object.size > mostBytes
                            ? nullptr
                            : std::make_shared<const std::string>(std::move(object.bytes)));
    }
    return blobs;
}

Result<std::vector<std::uint64_t>> GitRepository::blobSizes(std::span<const ObjectId> ids)
{
    std::vector<ObjectId> wanted;
    std::copy_if(ids.begin(), ids.end(), std::back_inserter(wanted), [this](const ObjectId& id) {
        return !m_held.has(id);
    });
    TRY_ASSIGN(const auto objects, m_reader.headers(wanted));
    std::vector<std::uint64_t> sizes;
    sizes.reserve(ids.size());
    std::size_t next = 0;
    for (const ObjectId& id : ids) {
        const BlobBytes held = m_held.blob(id);
        sizes.push_back(held ? held->size() : objects[next++].size);
    }
    return sizes;
}

Result<std::vector<ObjectId>> GitRepository::writeBlobs(std::span<const std::string> contents,
                                                        Storage storage)
{
    if (contents.empty()) {
        return std::vector<ObjectId>{};
    }
    if (storage == Storage::held) {
        std::vector<ObjectId> ids;
        std::transform(contents.begin(),
                       contents.end(),
                       std::back_inserter(ids),
                       [this](const std::string& bytes) { return m_held.holdBlob(bytes); });
        return ids;
    }
    return hashFiles(contents);
}

/// Lays the contents in files beside each other and has one git process store them all.
Result<std::vector<ObjectId>> GitRepository::hashFiles(std::span<const std::string> contents)
{
    TRY_ASSIGN(const std::string folder, privateFolder());
    const QTemporaryDir scratch(QString::fromStdString(folder) + QStringLiteral("/blobs-XXXXXX"));
    std::string paths;
    for (std::size_t i = 0; i < contents.size(); ++i) {
        QFile file(scratch.filePath(QString::number(i)));
        const auto size = static_cast<qint64>(contents[i].size());
        if (!file.open(QIODevice::WriteOnly) || file.write(contents[i].data(), size) != size
            || !file.flush()) {
            return Error{
                ErrorCode::io, file.fileName().toStdString(), file.errorString().toStdString()};
        }
        paths += file.fileName().toStdString() + "\n";
    }
    GitRunOptions options;
    options.input = paths;
    TRY_ASSIGN(const GitOutput written,
               m_git.run({"hash-object", "-w", "--no-filters", "--stdin-paths"}, options));
    if (written.exitCode != 0) {
        return writingError("hash-object", written.err);
    }
    std::vector<ObjectId> ids;
    for (const std::string_view line : splitLines(written.out)) {
        const auto id = ObjectId::fromHex(line.substr(0, line.size() - 1));
        if (!id) {
            return Error{ErrorCode::corrupt, "hash-object", written.out.substr(0, 500)};
        }
        ids.push_back(*id);
    }
    if (ids.size() != contents.size()) {
        return Error{ErrorCode::corrupt, "hash-object", written.err};
    }
    return ids;
}

Result<ObjectId> GitRepository::writeTree(std::span<const TreeEntry> entries, Storage storage)
{
    if (storage == Storage::held) {
        return m_held.holdTree(entries);
    }
    if (!m_treeWriter) {
        TRY_ASSIGN(m_treeWriter, m_git.start({"mktree", "-z", "--missing", "--batch"}));
    }
    std::string request;
    for (const TreeEntry& entry : entries) {
        const std::string_view type = entry.kind == EntryKind::folder      ? "tree"
                                      : entry.kind == EntryKind::submodule ? "commit"
                                                                           : "blob";
        request.append(modeOf(entry.kind))
            .append(" ")
            .append(type)
            .append(" ")
            .append(entry.id.hex());
        request.append("\t").append(entry.name).append(1, '\0');
    }
    request.append(1, '\0');
    m_treeWriter->write(request.data(), static_cast<qint64>(request.size()));
    while (!m_treeWriter->canReadLine()) {
        if (!m_treeWriter->waitForReadyRead(kAnswerMs) && !m_treeWriter->canReadLine()) {
            m_treeWriter->waitForFinished(1000);
            Error error =
                writingError("mktree", m_treeWriter->readAllStandardError().toStdString());
            m_treeWriter.reset();
            return error;
        }
    }
    const auto id = ObjectId::fromHex(withoutLineEnd(m_treeWriter->readLine().toStdString()));
    if (!id) {
        return Error{ErrorCode::corrupt, "mktree", {}};
    }
    return *id;
}

Result<ObjectId> GitRepository::writeCommit(const CommitDraft& draft)
{
    std::vector<std::string> arguments{"commit-tree", draft.tree.hex()};
    for (const ObjectId& parent : draft.parents) {
        arguments.insert(arguments.end(), {"-p", parent.hex()});
    }
    // commit-tree leaves the signing preference to its caller.
    TRY_ASSIGN(const GitOutput sign,
               m_git.run({"config", "--type=bool", "--get", "commit.gpgSign"}));
    if (withoutLineEnd(sign.out) == "true") {
        arguments.emplace_back("-S");
    }
    arguments.insert(arguments.end(), {"-F", "-"});
    GitRunOptions options;
    options.input = draft.message;
    TRY_ASSIGN(const GitOutput written, m_git.run(arguments, options));
    const auto id = ObjectId::fromHex(withoutLineEnd(written.out));
    if (written.exitCode != 0 || !id) {
        return writingError("commit-tree", written.err);
    }
    return *id;
}

Result<std::optional<Signature>> GitRepository::identity()
{
    // user.useConfigOnly: a name guessed from the machine is nobody's identity.
    TRY_ASSIGN(const GitOutput asked,
               m_git.run({"-c", "user.useConfigOnly=true", "var", "GIT_COMMITTER_IDENT"}));
    if (asked.exitCode != 0) {
        return std::optional<Signature>{};
    }
    return parseSignature(asked.out);
}

Status GitRepository::setIdentity(const std::string& name, const std::string& email)
{
    const auto hasControl = [](const std::string& text) {
        return text.empty() || std::any_of(text.begin(), text.end(), [](char c) {
                   return static_cast<unsigned char>(c) < ' ' || c == '<' || c == '>';
               });
    };
    if (hasControl(name) || hasControl(email)) {
        return Error{ErrorCode::invalidInput, hasControl(name) ? name : email, {}};
    }
    for (const auto& [key, value] :
         {std::pair("user.name", name), std::pair("user.email", email)}) {
        TRY_ASSIGN(const GitOutput set, m_git.run({"config", "--local", key, value}));
        if (set.exitCode != 0) {
            return writingError(key, set.err);
        }
    }
    return ok();
}

Status GitRepository::bringWorkingTree(const ObjectId& fromTree, const ObjectId& toTree)
{
    TRY_ASSIGN(const GitOutput refreshed, m_git.run({"update-index", "-q", "--refresh"}));
    (void)refreshed;  // it only says which files differ; read-tree judges these itself
    TRY_ASSIGN(const GitOutput read,
               m_git.run({"read-tree", "-m", "-u", fromTree.hex(), toTree.hex()}));
    if (read.exitCode != 0) {
        return writingError(m_git.folder(), read.err);
    }
    return ok();
}

Result<ObjectId> GitRepository::workingBlob(const RepoPath& path)
{
    const QFileInfo file(QString::fromStdString(m_git.folder() + "/" + path));
    if (!file.exists() && !file.isSymLink()) {
        return ObjectId{};
    }
    GitRunOptions options;
    std::string target;
    std::vector<std::string> arguments{"hash-object"};
    if (file.isSymLink()) {
        target = file.symLinkTarget().toStdString();
        options.input = target;
        arguments.emplace_back("--stdin");
    } else {
        arguments.insert(arguments.end(), {"--", path});
    }
    TRY_ASSIGN(const std::string out, m_git.output(arguments, options));
    return ObjectId::fromHex(withoutLineEnd(out)).value_or(ObjectId{});
}

Result<std::map<RepoPath, ObjectId>>
GitRepository::blobsAt(const ObjectId& tree, const std::vector<UncommittedFile>& files)
{
    std::map<RepoPath, ObjectId> blobs;
    for (const UncommittedFile& file : files) {
        auto found = m_reader.lookUp(tree.hex() + ":" + file.path);
        if (found) {
            blobs[file.path] = found->id;
        } else if (found.error().code != ErrorCode::notFound) {
            return std::move(found).error();
        }
    }
    return blobs;
}

Status GitRepository::restoreWorkingTree(const ObjectId& tree, const ObjectId& leftover)
{
    TRY_ASSIGN(const auto files, uncommittedFiles());
    TRY_ASSIGN(const auto own, blobsAt(tree, files));
    TRY_ASSIGN(const auto other, blobsAt(leftover, files));
    std::vector<RepoPath> added;
    for (const UncommittedFile& file : files) {
        const auto inOwn = own.find(file.path);
        const auto inOther = other.find(file.path);
        if (file.isUntracked && inOther == other.end()) {
            continue;  // it was there before and is nobody's concern
        }
        TRY_ASSIGN(const ObjectId present, workingBlob(file.path));
        const bool isOwn = inOwn != own.end() ? present == inOwn->second : present.isNull();
        const bool isOther = inOther != other.end() ? present == inOther->second : present.isNull();
        if (!isOwn && !isOther) {
            return Error{ErrorCode::stale, file.path, "changed since"};
        }
        if (file.isUntracked && isOther && !present.isNull() && inOwn == own.end()) {
            added.push_back(file.path);
        }
    }
    TRY_ASSIGN(const GitOutput reset, m_git.run({"read-tree", "--reset", "-u", tree.hex()}));
    if (reset.exitCode != 0) {
        return writingError(m_git.folder(), reset.err);
    }
    for (const RepoPath& path : added) {
        QFile::remove(QString::fromStdString(m_git.folder() + "/" + path));
    }
    return ok();
}

Result<ObjectId> GitRepository::stagedTree()
{
    TRY_ASSIGN(const GitOutput written, m_git.run({"write-tree"}));
    const auto id = ObjectId::fromHex(withoutLineEnd(written.out));
    if (written.exitCode != 0 || !id) {
        return writingError("write-tree", written.err);
    }
    return *id;
}

Result<std::string> GitRepository::runHook(HookPoint point, const std::string& messageFile)
{
    std::vector<std::string> arguments{"hook", "run", "--ignore-missing"};
    std::string name;
    switch (point) {
    case HookPoint::beforeMergeCommit:
        name = "pre-merge-commit";
        break;
    case HookPoint::prepareMessage:
        name = "prepare-commit-msg";
        break;
    case HookPoint::checkMessage:
        name = "commit-msg";
        break;
    case HookPoint::afterMerge:
        name = "post-merge";
        break;
    }
    arguments.push_back(name);
    if (point == HookPoint::prepareMessage) {
        arguments.insert(arguments.end(), {"--", messageFile, "merge"});
    } else if (point == HookPoint::checkMessage) {
        arguments.insert(arguments.end(), {"--", messageFile});
    } else if (point == HookPoint::afterMerge) {
        arguments.insert(arguments.end(), {"--", "0"});  // not a squash
    }
    GitRunOptions options;
    options.keepsLocale = true;
    // What git merge tells its hooks: no editor will follow, and which index holds the result.
    options.environment = {
        {"GIT_EDITOR", ":"}, {"GIT_INDEX_FILE", m_gitFolder + "/index"}, {"GIT_DIR", m_gitFolder}};
    TRY_ASSIGN(const GitOutput ran, m_git.run(arguments, options));
    if (ran.exitCode != 0) {
        return Error{ErrorCode::refused, name, ran.err + ran.out};
    }
    return ran.err + ran.out;
}

Status GitRepository::moveBranch(const std::string& ref,
                                 const ObjectId& expected,
                                 const ObjectId& target,
                                 const std::string& reason)
{
    std::string request = "update " + ref;
    request.append(1, '\0')
        .append(target.hex())
        .append(1, '\0')
        .append(expected.hex())
        .append(1, '\0');
    GitRunOptions options;
    options.input = request;
    TRY_ASSIGN(const GitOutput moved,
               m_git.run({"update-ref", "-m", reason, "--stdin", "-z"}, options));
    if (moved.exitCode != 0) {
        return writingError(ref, moved.err);
    }
    return ok();
}

Status GitRepository::keepAlive(const std::string& name, const ObjectId& commit)
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
    TRY_ASSIGN(const GitOutput kept, m_git.run({"update-ref", "--stdin", "-z"}, options));
    if (kept.exitCode != 0 && !(letsGo && mentions(kept.err, "unable to resolve"))) {
        return writingError(ref, kept.err);
    }
    return ok();
}

Result<std::string> GitRepository::privateFolder()
{
    const std::string folder = m_gitFolder + "/rope-splice";
    if (!QDir().mkpath(QString::fromStdString(folder))) {
        return Error{ErrorCode::io, folder, "cannot make this folder"};
    }
    return folder;
}

Status GitRepository::fetch(const ProgressSink& progress, const std::stop_token& stop)
{
    GitRunOptions options;
    options.stop = stop;
    options.onErrorText = [&progress](std::string_view text) {
        const std::size_t lastLine =
            text.find_last_of("\r\n", text.size() - std::min<std::size_t>(2, text.size()));
        if (progress) {
            progress({withoutLineEnd(std::string(
                          text.substr(lastLine == std::string_view::npos ? 0 : lastLine + 1))),
                      0,
                      0});
        }
    };
    TRY_ASSIGN(const GitOutput fetched, m_git.run({"fetch", "--progress", "--all"}, options));
    if (fetched.exitCode != 0) {
        return Error{ErrorCode::gitFailed, "fetch", fetched.err};
    }
    return ok();
}
}  // namespace rope
