// SPDX-License-Identifier: GPL-3.0-or-later
// Finding the repository, and its history. The other parts of the port stand beside this file.
// Tested by tst_git_place.cpp.
#include "core/system/git/git_place.h"

#include "core/base/whole_file.h"
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/stored_graph_stream.h"
#include "core/text/encoding.h"
#include "core/text/text.h"

#include <QDir>
#include <QFileInfo>

#include <algorithm>
#include <fcntl.h>
#include <filesystem>

namespace rope {
namespace {
constexpr int kAnswerMs = 120'000;

/// `rev-list`, read as it comes and stopped when nobody wants more.
class RevListStream final : public CommitStream
{
public:
    RevListStream(std::unique_ptr<PipedProcess> process, bool isTopological)
        : m_process(std::move(process))
        , m_isTopological(isTopological)
    {
    }

    Result<std::optional<CommitLink>> next() override
    {
        std::size_t end = m_read.find('\n', m_at);
        while (end == std::string::npos) {
            TRY_ASSIGN(const bool isMore, readMore());
            if (!isMore) {
                return std::optional<CommitLink>{};
            }
            end = m_read.find('\n', m_at);
        }
        auto link = parseCommitLink(std::string_view(m_read).substr(m_at, end - m_at));
        m_at = end + 1;
        if (!link) {
            return Error{ErrorCode::corrupt, "rev-list", {}};
        }
        return link;
    }

    [[nodiscard]] bool isTopological() const override { return m_isTopological; }

private:
    /// Reads what has come since; false at the end.
    Result<bool> readMore()
    {
        constexpr std::size_t kMostAtOnce = 1 << 16;
        m_read.erase(0, std::exchange(m_at, 0));
        const std::size_t before = m_read.size();
        m_read.resize(before + kMostAtOnce);
        const auto got = m_process->read(std::span(m_read).subspan(before), kAnswerMs);
        m_read.resize(before + (got ? *got : 0));
        if (!got || *got == 0) {
            if (got && m_process->wait() == 0 && m_read.empty()) {
                return false;
            }
            return m_process->wasKilled()
                       ? Error{ErrorCode::systemFailed, "rev-list", {}, Reason::readerKilled}
                       : Error{ErrorCode::corrupt, "rev-list", m_process->errorText()};
        }
        return true;
    }

    std::unique_ptr<PipedProcess> m_process;
    std::string m_read;  ///< What came and was not given out yet, from m_at.
    std::size_t m_at = 0;
    bool m_isTopological;
};

/// The same folder under a path that is valid UTF-8, as Qt needs it: where the path is not, by way of
/// a descriptor that stays open as long as this process, and that programs it starts inherit.
std::string reachablePath(const std::string& folder)
{
    if (isUtf8(folder)) {
        return folder;
    }
    const int descriptor = ::open(folder.c_str(), O_PATH | O_DIRECTORY);
    return descriptor < 0 ? folder : "/proc/self/fd/" + std::to_string(descriptor);
}

Error openingError(const std::string& folder, const std::string& complaint)
{
    if (mentions(complaint, "not a git repository")) {
        return {ErrorCode::notFound, folder, complaint, Reason::notARepository};
    }
    const bool isForeign = mentions(complaint, "dubious ownership");
    return {ErrorCode::systemFailed,
            folder,
            complaint,
            isForeign ? Reason::ownedByOther : Reason::none};
}

bool liesBelow(const std::string& path, const std::string& folder)
{
    return path == folder || folder == "/" || path.starts_with(folder + "/");
}
}  // namespace

Result<std::unique_ptr<GitPlace>> GitPlace::open(const std::string& folder,
                                                 const ProgramTrust& trust)
{
    std::error_code error;
    const std::filesystem::path given = std::filesystem::canonical(folder, error);
    if (error || !std::filesystem::is_directory(given, error)) {
        return Error{ErrorCode::notFound, folder, "no such folder", Reason::noSuchFolder};
    }
    std::unique_ptr<GitPlace> place(new GitPlace(reachablePath(given.string())));
    // Beside each other: git finds the same repository for both.
    TRY_ASSIGN(const auto config,
               place->m_git.startPiped(
                   {"config", "--show-scope", "-z", "--get-regexp", LocalPrograms::kKeys}));
    TRY_ASSIGN(const auto where,
               place->m_git.startPiped({"rev-parse",
                                        "--path-format=absolute",
                                        "--show-object-format",
                                        "--absolute-git-dir",
                                        "--git-common-dir",
                                        "--show-toplevel"}));
    TRY_ASSIGN(const GitOutput asked, GitProcess::finish(*where));
    const bool hasWorkingTree = asked.exitCode == 0;
    // Bare: git answers all but the last and says why.
    place->m_isBare = !hasWorkingTree && mentions(asked.err, "must be run in a work tree");
    if (!hasWorkingTree && !place->m_isBare) {
        return openingError(folder, asked.err);
    }
    std::vector<std::string> lines;
    for (const std::string_view line : splitLines(asked.out)) {
        lines.push_back(withoutNewline(std::string(line)));
    }
    if (lines.size() != (hasWorkingTree ? 4 : 3)) {
        return Error{ErrorCode::unsupported, folder, "a line break in the path of a repository"};
    }
    place->m_usesSha256 = lines[0] == "sha256";
    place->m_gitFolder = reachablePath(lines[1]);
    if (hasWorkingTree && !liesBelow(given.string(), lines[3])) {
        place->m_ledFrom = given.string();
        TRY_ASSIGN(place->m_isForeignTree, place->belongsToAnother(lines[3]));
    }
    place->m_commonFolder = lines[2] == lines[1] ? place->m_gitFolder : reachablePath(lines[2]);
    place->m_git.setPlace(reachablePath(lines.back()), place->m_gitFolder, hasWorkingTree);
    TRY(place->m_reader.startAhead());
    TRY_ASSIGN(const GitOutput listed, GitProcess::finish(*config));
    TRY(place->takeConfig(listed, trust));
    return place;
}

Result<bool> GitPlace::belongsToAnother(const std::string& workingTree) const
{
    const GitProcess there(reachablePath(workingTree));
    TRY_ASSIGN(
        const GitOutput asked,
        there.run(
            {"rev-parse", "--path-format=absolute", "--absolute-git-dir", "--show-toplevel"}));
    const auto lines = splitLines(asked.out);
    return asked.exitCode == 0 && lines.size() == 2
           && withoutNewline(std::string(lines[0])) != m_gitFolder
           && withoutNewline(std::string(lines[1])) == workingTree;
}

Status GitPlace::takeConfig(const GitOutput& listed, const ProgramTrust& trust)
{
    if (listed.exitCode > 1) {  // 1: nothing of the kind is set
        return Error{ErrorCode::systemFailed, "git config", listed.err};
    }
    auto programs = LocalPrograms::parse(listed.out, trust);
    if (!programs) {
        return Error{ErrorCode::corrupt, "git config", listed.out.substr(0, 500)};
    }
    m_programs = std::move(*programs);
    m_git.setOverrides(m_programs.overrides());
    return ok();
}

const Abilities& GitPlace::abilities() const
{
    static constexpr Abilities kAbilities{true, true, true};
    return kAbilities;
}

Result<Standing> GitPlace::standing()
{
    Standing standing;
    standing.hasWorkingTree = !m_isBare;
    TRY_ASSIGN(const GitOutput symbolic, m_git.run({"symbolic-ref", "--quiet", "HEAD"}));
    if (symbolic.exitCode == 0) {
        standing.ref = withoutNewline(symbolic.out);
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

Result<std::vector<Branch>> GitPlace::branches()
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

Result<ObjectId> GitPlace::resolveCommit(std::string_view name)
{
    auto object = m_reader.lookUp(std::string(name) + "^{commit}");
    if (!object) {
        Error error = std::move(object).error();
        error.subject = name;
        return error;
    }
    return object->id;
}

Result<bool> GitPlace::isShallow()
{
    TRY_ASSIGN(const std::string out, m_git.output({"rev-parse", "--is-shallow-repository"}));
    return withoutNewline(out) == "true";
}

Result<std::vector<LineMove>> GitPlace::movesOf(const std::string& ref)
{
    TRY_ASSIGN(const GitOutput listed,
               m_git.run({"reflog", "show", "--date=unix", "--format=%H %gd", ref, "--"}));
    // Without a reflog there is nothing to be listed, which is no error.
    return listed.exitCode == 0 ? parseReflog(listed.out) : std::vector<LineMove>();
}

bool GitPlace::usesStoredGraph() const
{
    const LocalPrograms::Value* const preference = m_programs.value("core.commitgraph");
    return !preference || preference->value != "false";
}

/// As git does, it is passed over where history is cut off or told otherwise than the commits tell it.
std::shared_ptr<const StoredGraph> GitPlace::storedGraph() const
{
    const auto exists = [this](const char* name) {
        return QFileInfo::exists(QString::fromStdString(m_commonFolder + name));
    };
    if (!usesStoredGraph() || exists("/shallow") || exists("/info/grafts")
        || exists("/refs/replace")) {
        return nullptr;
    }
    const auto packed = readWholeFile(m_commonFolder + "/packed-refs");
    if (packed && packed->find(" refs/replace/") != std::string::npos) {
        return nullptr;
    }
    return StoredGraph::load(m_commonFolder + "/objects", m_usesSha256);
}

Result<GitPlace::StartedRevList> GitPlace::startRevList() const
{
    // With a commit graph git knows each commit's place without its ancestors, so that children can
    // come before parents without all of history being read first.
    const std::string info = m_commonFolder + "/objects/info/";
    const bool hasGraph = usesStoredGraph()
                          && (QFileInfo::exists(QString::fromStdString(info + "commit-graph"))
                              || QFileInfo::exists(QString::fromStdString(
                                  info + "commit-graphs/commit-graph-chain")));
    std::vector<std::string> arguments{"rev-list", "--timestamp", "--parents", "--stdin"};
    if (hasGraph) {
        arguments.emplace_back("--topo-order");
    }
    TRY_ASSIGN(auto process, m_git.startPiped(arguments));
    return StartedRevList{std::move(process), hasGraph};
}

void GitPlace::expectCommits()
{
    if (storedGraph() != nullptr) {
        return;
    }
    if (auto started = startRevList()) {
        m_revListAhead = std::move(*started);
    }
}

Result<std::unique_ptr<CommitStream>> GitPlace::commitsFrom(std::span<const ObjectId> tips)
{
    auto [process, isTopological] = std::exchange(m_revListAhead, {});
    const bool isStarted = process && process->isRunning();
    if (auto graph = isStarted ? nullptr : storedGraph()) {
        TRY_ASSIGN(
            auto stream,
            StoredGraphStream::begin(std::move(graph), tips, [this](std::span<const ObjectId> ids) {
                return readCommits(ids);
            }));
        if (stream) {
            return stream;
        }
    }
    if (!isStarted) {
        TRY_ASSIGN(auto started, startRevList());
        process = std::move(started.process);
        isTopological = started.isTopological;
    }
    std::string names;
    for (const ObjectId& tip : tips) {
        names += tip.hex() + "\n";
    }
    TRY(process->write(names));
    process->closeInput();
    return std::unique_ptr<CommitStream>(new RevListStream(std::move(process), isTopological));
}

Result<std::vector<Commit>> GitPlace::readCommits(std::span<const ObjectId> ids)
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
}  // namespace rope
