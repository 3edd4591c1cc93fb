// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_memory_place.cpp.
#include "core/system/memory/memory_place.h"

#include "core/base/digest.h"
#include "core/system/edited_tree.h"

#include <algorithm>
#include <deque>

namespace rope {
namespace {
const std::string kNextLine = "@";  // in a note: before the line that is checked out in the end
/// An id as no other system makes it: a digest of ours and four bytes that say of what.
ObjectId idOf(std::string_view kind, std::string_view bytes)
{
    const std::string hex =
        digestOfParts({kind, bytes}) + (kind == "blob" ? "b10bb10b" : "7ee57ee5");
    const auto id = ObjectId::fromHex(hex);
    ROPE_ASSERT(id.has_value(), "a digest has sixteen bytes");
    return *id;
}

class MemoryStream final : public CommitStream
{
public:
    explicit MemoryStream(std::deque<CommitLink> links)
        : m_links(std::move(links))
    {
    }
    Result<std::optional<CommitLink>> next() override
    {
        if (m_links.empty()) {
            return std::optional<CommitLink>{};
        }
        CommitLink link = std::move(m_links.front());
        m_links.pop_front();
        return std::optional(std::move(link));
    }
    [[nodiscard]] bool isTopological() const override { return false; }

private:
    std::deque<CommitLink> m_links;
};

Error missing(const ObjectId& id)
{
    return {ErrorCode::notFound, id.hex(), {}};
}

/// A recording's note: the step, the tree before, the commit, the line; blanks between.
std::string noteOf(const std::string& step,
                   const ObjectId& before,
                   const ObjectId& commit,
                   const std::string& line,
                   const ObjectId& after)
{
    return step + " " + before.hex() + " " + (commit.isNull() ? "-" : commit.hex()) + " " + line
           + " " + after.hex();
}
}  // namespace

MemoryPlace::MemoryPlace()
{
    m_state.checkedOut = "refs/heads/main";
}

Status MemoryPlace::touch(const std::string& what)
{
    ++m_calls;
    if ((m_failAt != 0 && m_calls == m_failAt) || (m_crashAt != 0 && m_calls >= m_crashAt)) {
        return Error{ErrorCode::io, what, "the test wants it so"};
    }
    m_touched.push_back(what);
    return ok();
}

ObjectId MemoryPlace::idOfBlob(std::string_view bytes) const
{
    return idOf("blob", bytes);
}

ObjectId MemoryPlace::idOfTree(std::span<const TreeEntry> entries) const
{
    std::string text;
    for (const TreeEntry& entry : entries) {
        text += std::to_string(static_cast<int>(entry.kind)) + entry.id.hex() + entry.name;
        text += '\0';
    }
    return idOf("tree", text);
}

ObjectId MemoryPlace::storeFolder(std::span<const TreeEntry> entries)
{
    const ObjectId id = idOfTree(entries);
    m_state.trees[id] = {entries.begin(), entries.end()};
    return id;
}

ObjectId
MemoryPlace::makeTree(const ObjectId& from,
                      const std::vector<std::pair<RepoPath, std::optional<std::string>>>& files)
{
    ResultSnapshot result{from, {}};
    for (const auto& [path, text] : files) {
        result.edits.push_back(
            text ? ResultEdit{path, FileVersion{}, std::make_shared<const std::string>(*text)}
                 : ResultEdit{path, {}, nullptr});
    }
    return storeTree(result).value();
}

Result<ObjectId> MemoryPlace::importTree(Snapshots& other, const ObjectId& tree)
{
    const ObjectId ids[] = {tree};
    TRY_ASSIGN(const auto read, other.readTrees(ids));
    std::vector<TreeEntry> entries = *read.front();
    for (TreeEntry& entry : entries) {
        if (entry.kind == EntryKind::folder) {
            TRY_ASSIGN(entry.id, importTree(other, entry.id));
        } else if (entry.kind != EntryKind::submodule) {
            const ObjectId blob[] = {entry.id};
            TRY_ASSIGN(const auto bytes, other.readBlobs(blob, kAnySize));
            entry.id = idOfBlob(*bytes.front());
            m_state.blobs[entry.id] = bytes.front();
        }
    }
    return storeFolder(entries);
}

ObjectId
MemoryPlace::makeCommit(const ObjectId& tree, std::vector<ObjectId> parents, std::string message)
{
    Commit commit;
    commit.tree = tree;
    commit.parents = std::move(parents);
    commit.message = std::move(message);
    commit.author = commit.committer = {"Maren Voss", "maren@slackwater.example", m_clock, "+0000"};
    m_clock += 3600;
    commit.id = idOf("commit", tree.hex() + std::to_string(m_clock) + commit.message);
    m_state.commits[commit.id] = commit;
    return commit.id;
}

void MemoryPlace::checkOut(const std::string& ref)
{
    m_state.checkedOut = ref;
    m_state.workingTree = m_state.commits.at(m_state.lines.at(ref)).tree;
}

const Abilities& MemoryPlace::abilities() const
{
    static constexpr Abilities kAbilities{true, true, false};
    return kAbilities;
}

Result<Standing> MemoryPlace::standing()
{
    const auto line = m_state.lines.find(m_state.checkedOut);
    return Standing{m_state.checkedOut,
                    m_state.checkedOut.substr(m_state.checkedOut.rfind('/') + 1),
                    line == m_state.lines.end() ? ObjectId{} : line->second,
                    true};
}

Result<std::vector<Branch>> MemoryPlace::branches()
{
    std::vector<Branch> branches;
    for (const auto& [ref, tip] : m_state.lines) {
        branches.push_back({ref, ref.substr(ref.rfind('/') + 1), tip, {}, false});
    }
    return branches;
}

Result<ObjectId> MemoryPlace::resolveCommit(std::string_view name)
{
    for (const auto& [ref, tip] : m_state.lines) {
        if (ref == name || ref == "refs/heads/" + std::string(name)) {
            return tip;
        }
    }
    return Error{ErrorCode::notFound, std::string(name), {}};
}

Result<std::unique_ptr<CommitStream>> MemoryPlace::commitsFrom(std::span<const ObjectId> tips)
{
    std::set<std::pair<std::int64_t, ObjectId>> todo;
    std::set<ObjectId> seen;
    const auto add = [&](const ObjectId& id) {
        if (m_state.commits.contains(id) && seen.insert(id).second) {
            todo.insert({m_state.commits.at(id).committer.time, id});
        }
    };
    for (const ObjectId& tip : tips) {
        add(tip);
    }
    std::deque<CommitLink> links;
    while (!todo.empty()) {
        const ObjectId id = std::prev(todo.end())->second;
        todo.erase(std::prev(todo.end()));
        const Commit& commit = m_state.commits.at(id);
        links.push_back({id, commit.committer.time, commit.parents});
        for (const ObjectId& parent : commit.parents) {
            add(parent);
        }
    }
    return std::unique_ptr<CommitStream>(new MemoryStream(std::move(links)));
}

Result<std::vector<Commit>> MemoryPlace::readCommits(std::span<const ObjectId> ids)
{
    std::vector<Commit> commits;
    for (const ObjectId& id : ids) {
        const auto found = m_state.commits.find(id);
        if (found == m_state.commits.end()) {
            return missing(id);
        }
        commits.push_back(found->second);
    }
    return commits;
}

Result<std::vector<TreeEntries>> MemoryPlace::readTrees(std::span<const ObjectId> ids)
{
    std::vector<TreeEntries> trees;
    for (const ObjectId& id : ids) {
        const auto found = m_state.trees.find(id);
        if (!id.isNull() && found == m_state.trees.end()) {
            return missing(id);
        }
        trees.push_back(std::make_shared<const std::vector<TreeEntry>>(
            id.isNull() ? std::vector<TreeEntry>{} : found->second));
    }
    return trees;
}

Result<std::vector<BlobBytes>> MemoryPlace::readBlobs(std::span<const ObjectId> ids,
                                                      std::uint64_t mostBytes)
{
    std::vector<BlobBytes> blobs;
    for (const ObjectId& id : ids) {
        const auto found = m_state.blobs.find(id);
        if (found == m_state.blobs.end()) {
            return missing(id);
        }
        blobs.push_back(found->second->size() > mostBytes ? nullptr : found->second);
    }
    return blobs;
}

Result<std::vector<std::uint64_t>> MemoryPlace::blobSizes(std::span<const ObjectId> ids)
{
    TRY_ASSIGN(const auto blobs, readBlobs(ids, kAnySize));
    std::vector<std::uint64_t> sizes;
    std::transform(blobs.begin(), blobs.end(), std::back_inserter(sizes), [](const auto& bytes) {
        return bytes->size();
    });
    return sizes;
}

Result<std::vector<MergeRule>> MemoryPlace::mergeRules(std::span<const RepoPath> paths)
{
    return std::vector<MergeRule>(paths.size());
}

Result<ProgramOutcome> MemoryPlace::runMergeProgram(const MergeRule& rule,
                                                    const RepoPath& /*path*/,
                                                    const std::string& /*base*/,
                                                    const std::string& /*ours*/,
                                                    const std::string& /*theirs*/)
{
    return Error{ErrorCode::systemFailed, rule.program, "none here", Reason::programFailed};
}

Result<std::vector<UncommittedFile>> MemoryPlace::uncommittedFiles()
{
    std::vector<UncommittedFile> files;
    TRY_ASSIGN(const Standing now, standing());
    if (!now.tip.isNull() && m_state.commits.at(now.tip).tree != m_state.workingTree) {
        files.push_back({"something", false});
    }
    return files;
}

Result<std::vector<std::string>> MemoryPlace::programsLeftOut()
{
    return std::vector<std::string>{};
}

Result<std::unique_ptr<Place>> MemoryPlace::openSubmodule(const RepoPath& path)
{
    return Error{ErrorCode::notFound, path, {}};
}

Result<std::vector<std::string>> MemoryPlace::watchedFolders()
{
    return std::vector<std::string>{};
}

Status MemoryPlace::writeConverted(const std::string& folder,
                                   std::span<const RepoPath> /*paths*/,
                                   const std::stop_token& /*stop*/)
{
    return Error{ErrorCode::unsupported, folder, {}};  // it names no such paths
}

Result<std::optional<Signature>> MemoryPlace::identity()
{
    return std::optional(Signature{"Maren Voss", "maren@slackwater.example", m_clock, "+0000"});
}

Status MemoryPlace::setIdentity(const std::string& name, const std::string& /*email*/)
{
    return Error{ErrorCode::unsupported, name, {}};
}

Result<ObjectId> MemoryPlace::storeTree(const ResultSnapshot& result)
{
    std::vector<TreeEdit> edits;
    for (const ResultEdit& edit : result.edits) {
        std::optional<FileVersion> version = edit.version;
        if (edit.bytes) {
            version->id = idOfBlob(*edit.bytes);
            m_state.blobs[version->id] = edit.bytes;
        }
        edits.push_back({edit.path, version});
    }
    return editedTree(*this, result.from, edits, [this](std::span<const TreeEntry> entries) {
        return Result<ObjectId>(storeFolder(entries));
    });
}

Status MemoryPlace::bringFiles(const ObjectId& tree)
{
    TRY(touch("files"));
    m_state.workingTree = tree;
    return ok();
}

Result<RecordOutcome> MemoryPlace::record(const RecordingPlan& plan,
                                          const NoteSink& note,
                                          const ProgressSink& /*progress*/,
                                          const std::stop_token& /*stop*/)
{
    TRY_ASSIGN(const Standing now, standing());
    const bool isWhereExpected = plan.keepsFiles ? m_state.lines[plan.line] == plan.expected
                                                 : now.ref == plan.line && now.tip == plan.expected;
    if (!isWhereExpected) {
        return Error{ErrorCode::stale, plan.lineName, {}, Reason::lineMoved};
    }
    if (plan.keepsFiles && now.ref == plan.line) {
        return Error{ErrorCode::stale, plan.lineName, m_root, Reason::checkedOut};
    }
    TRY_ASSIGN(const auto uncommitted, uncommittedFiles());
    if (!uncommitted.empty() && plan.work.isNull() && !plan.keepsFiles) {
        return Error{ErrorCode::stale, "something", {}, Reason::uncommitted};
    }
    if (!plan.work.isNull() && m_state.commits.at(plan.work).tree != m_state.workingTree) {
        return Error{ErrorCode::stale, "something", {}, Reason::workChanged};
    }
    const ObjectId before = m_state.workingTree;
    const std::string line = plan.nextLine.empty() ? plan.line : kNextLine + plan.nextLine;
    ObjectId commit = plan.commits.empty() ? plan.target : ObjectId{};
    ObjectId after;
    std::vector<RewrittenCommit> rewritten;
    const auto steps = [&]() -> Status {
        ObjectId last;
        if (plan.commits.empty()) {
            last = m_state.commits.at(plan.target).tree;
        } else {
            TRY_ASSIGN(last, storeTree(plan.commits.back().result));
        }
        after = last = plan.keepsFiles ? before : last;
        if (plan.workAfter) {
            TRY_ASSIGN(after, storeTree(*plan.workAfter));
        }
        TRY(note(noteOf("files", before, commit, line, after)));
        if (!plan.keepsFiles) {
            TRY(bringFiles(last));
        }
        TRY(note(noteOf("commits", before, commit, line, after)));
        for (const PlannedCommit& planned : plan.commits) {
            TRY(touch("commit"));
            TRY_ASSIGN(const ObjectId tree, storeTree(planned.result));
            std::vector<ObjectId> parents = planned.parents;
            std::replace(parents.begin(), parents.end(), ObjectId{}, commit);
            commit = makeCommit(tree, parents, planned.message);
            if (!planned.rewrites.isNull()) {
                rewritten.push_back({planned.rewrites, commit});
            }
            if (!planned.note.empty()) {
                m_state.notes[commit] = planned.note;
            }
            if (planned.author) {
                m_state.commits[commit].author = *planned.author;
            }
        }
        TRY(note(noteOf("line", before, commit, line, after)));
        TRY(touch("line " + line));
        if (plan.nextLine.empty()) {
            m_state.lines[plan.line] = commit;
        } else {
            m_state.checkedOut = plan.nextLine;
        }
        return ok();
    }();
    if (steps) {
        if (plan.workAfter) {
            if (const auto carried = bringFiles(after); !carried) {
                Error error = carried.error();
                error.reason = Reason::workNotBack;
                return error;
            }
        }
        return RecordOutcome{commit, {}, rewritten};
    }
    Error error = steps.error();
    if (const auto back = plan.keepsFiles ? ok() : bringFiles(before); !back) {
        error.reason = Reason::notUndone;
    }
    return error;
}

Result<std::optional<RecordOutcome>> MemoryPlace::recover(const RecordingNote& note)
{
    std::vector<std::string> words;
    for (std::size_t from = 0; from <= note.size();) {
        const std::size_t end = std::min(note.find(' ', from), note.size());
        words.push_back(note.substr(from, end - from));
        from = end + 1;
    }
    const auto before = words.size() == 5 ? ObjectId::fromHex(words[1]) : std::nullopt;
    if (!before) {
        return Error{ErrorCode::corrupt, "recording", note, Reason::journalUnreadable};
    }
    const auto commit = ObjectId::fromHex(words[2]);
    const bool isDone = words[3].starts_with(kNextLine)
                            ? kNextLine + m_state.checkedOut == words[3]
                            : commit && m_state.lines[words[3]] == *commit;
    if (commit && isDone) {
        TRY(bringFiles(ObjectId::fromHex(words[4]).value_or(m_state.workingTree)));
        return std::optional(RecordOutcome{*commit, {}, {}});
    }
    TRY(bringFiles(*before));
    return std::optional<RecordOutcome>{};
}

Status MemoryPlace::removeOwnLine(const std::string& line, const ObjectId& expected)
{
    if (m_state.lines[line] != expected || m_state.checkedOut == line) {
        return Error{ErrorCode::stale, line, {}, Reason::lineMoved};
    }
    TRY(touch("line " + line));
    m_state.lines.erase(line);
    return ok();
}

Status MemoryPlace::keepAlive(const std::string& name, const ObjectId& commit)
{
    TRY(touch("kept " + name));
    if (commit.isNull()) {
        m_state.keptAlive.erase(name);
    } else {
        m_state.keptAlive[name] = commit;
    }
    return ok();
}

Result<std::vector<std::vector<FoundNote>>> MemoryPlace::notesOn(std::span<const ObjectId> commits)
{
    std::vector<std::vector<FoundNote>> all;
    for (const ObjectId& commit : commits) {
        const auto found = m_state.notes.find(commit);
        all.emplace_back();
        if (found != m_state.notes.end()) {
            all.back().push_back({found->second, {}});
        }
    }
    return all;
}

Result<ObjectId> MemoryPlace::keptCommit(const std::string& name)
{
    const auto found = m_state.keptAlive.find(name);
    return found == m_state.keptAlive.end() ? Result<ObjectId>(Error{ErrorCode::notFound, name, {}})
                                            : Result<ObjectId>(found->second);
}

Result<std::vector<std::string>> MemoryPlace::keptAlive()
{
    std::vector<std::string> names;
    for (const auto& [name, commit] : m_state.keptAlive) {
        names.push_back(name);
    }
    return names;
}

Result<std::map<std::string, std::int64_t>> MemoryPlace::lastAsked()
{
    return std::map<std::string, std::int64_t>{};
}

Result<ObjectId> MemoryPlace::saveWork(const std::string& message)
{
    TRY_ASSIGN(const Standing now, standing());
    const ObjectId tree = m_state.commits.at(now.tip).tree;
    if (tree == m_state.workingTree) {
        return ObjectId{};
    }
    const ObjectId staged = makeCommit(tree, {now.tip}, "index: " + message);
    return makeCommit(m_state.workingTree, {now.tip, staged}, message);
}

Result<std::vector<RepoPath>> MemoryPlace::keepBeside(const std::vector<RepoPath>& paths)
{
    return paths;  // nothing here is untracked
}

Result<RemoteLines> MemoryPlace::ask(const std::string& remote, const std::stop_token& /*stop*/)
{
    return Error{ErrorCode::systemFailed, remote, "none here", Reason::remoteMissing};
}

Result<SendTarget> MemoryPlace::sendTarget(const std::string& /*line*/)
{
    return SendTarget{};
}

Result<std::string> MemoryPlace::send(const Sending& sending,
                                      const ProgressSink& /*progress*/,
                                      const std::stop_token& /*stop*/)
{
    return Error{ErrorCode::systemFailed, sending.remote, "none here", Reason::remoteMissing};
}

Status MemoryPlace::removeLine(const std::string& remote,
                               const std::string& /*name*/,
                               const ObjectId& /*expected*/,
                               const std::stop_token& /*stop*/)
{
    return Error{ErrorCode::systemFailed, remote, "none here", Reason::remoteMissing};
}

Status MemoryPlace::fetch(const std::function<void(const std::string&)>& /*answered*/,
                          const ProgressSink& /*progress*/,
                          const std::stop_token& /*stop*/)
{
    return ok();
}
}  // namespace rope
