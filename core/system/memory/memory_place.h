// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/place.h"

#include <map>
#include <set>

namespace rope {
/// Everything that a memory place holds: what a repository and its working tree are on a disk. A value,
/// so that a test can compare before and after.
struct MemoryState
{
    std::map<ObjectId, BlobBytes> blobs;
    std::map<ObjectId, std::vector<TreeEntry>> trees;
    std::map<ObjectId, Commit> commits;
    std::map<std::string, ObjectId> lines;  ///< By full name.
    std::string checkedOut;                 ///< Full name of a line.
    ObjectId workingTree;                   ///< What the files hold.
    std::map<std::string, ObjectId> keptAlive;
    std::map<ObjectId, std::string> notes;  ///< By commit.

    /// What a person could see: lines, files. Objects that nothing names are nobody's concern.
    [[nodiscard]] bool looksLike(const MemoryState& other) const
    {
        return lines == other.lines && checkedOut == other.checkedOut
               && workingTree == other.workingTree;
    }
};

/// The port's double for tests: a version-control system that lives in memory, with ids of its own,
/// two parents at most and no hooks. It can fail at any call, or end there as a crash would, and it
/// tells what was touched. One thread.
class MemoryPlace : public Place
{
public:
    MemoryPlace();

    // For tests
    [[nodiscard]] const MemoryState& state() const { return m_state; }
    /// Adds files to a tree (null: an empty one) and gives the new tree; an empty text removes a path.
    ObjectId makeTree(const ObjectId& from,
                      const std::vector<std::pair<RepoPath, std::optional<std::string>>>& files);
    /// Puts a whole tree of another place in, whatever ids that has; gives its id here.
    Result<ObjectId> importTree(Snapshots& other, const ObjectId& tree);
    ObjectId makeCommit(const ObjectId& tree, std::vector<ObjectId> parents, std::string message);
    void setLine(const std::string& ref, const ObjectId& commit) { m_state.lines[ref] = commit; }
    void checkOut(const std::string& ref);
    /// The n-th call from now on that could touch something fails; 0: none does.
    void failAt(std::size_t call)
    {
        m_failAt = call;
        m_calls = 0;
    }
    /// From the n-th such call on every call fails, as if the process had ended there.
    void crashAt(std::size_t call)
    {
        m_crashAt = call;
        m_calls = 0;
    }
    [[nodiscard]] std::size_t calls() const { return m_calls; }
    /// What was touched, in order: "line refs/heads/x", "files", "commit".
    [[nodiscard]] const std::vector<std::string>& touched() const { return m_touched; }

    [[nodiscard]] const Abilities& abilities() const override;
    [[nodiscard]] const std::string& root() const override { return m_root; }
    [[nodiscard]] const std::string& ledFrom() const override { return m_nothing; }

    Result<Standing> standing() override;
    Result<std::vector<Branch>> branches() override;
    Result<ObjectId> resolveCommit(std::string_view name) override;
    Result<bool> isShallow() override { return false; }
    Result<std::vector<LineMove>> movesOf(const std::string&) override
    {
        return std::vector<LineMove>();
    }
    Result<std::unique_ptr<CommitStream>> commitsFrom(std::span<const ObjectId> tips) override;
    Result<std::vector<Commit>> readCommits(std::span<const ObjectId> ids) override;

    Result<std::vector<TreeEntries>> readTrees(std::span<const ObjectId> ids) override;
    Status expectBlobs(std::span<const ObjectId> /*ids*/) override { return ok(); }
    Result<std::vector<BlobBytes>> readBlobs(std::span<const ObjectId> ids,
                                             std::uint64_t mostBytes) override;
    Result<std::vector<std::uint64_t>> blobSizes(std::span<const ObjectId> ids) override;
    [[nodiscard]] ObjectId idOfBlob(std::string_view bytes) const override;
    [[nodiscard]] ObjectId idOfTree(std::span<const TreeEntry> entries) const override;
    [[nodiscard]] bool canCheckOut(const RepoPath& /*path*/) const override { return true; }
    Result<std::vector<MergeRule>> mergeRules(std::span<const RepoPath> paths) override;
    Result<std::string> rulesStamp() override { return std::string("memory"); }
    Result<ProgramOutcome> runMergeProgram(const MergeRule& rule,
                                           const RepoPath& path,
                                           const std::string& base,
                                           const std::string& ours,
                                           const std::string& theirs) override;

    Result<std::optional<BegunJoin>> begunJoin() override { return std::optional<BegunJoin>{}; }
    Result<BegunFiles> begunFiles() override { return Error{ErrorCode::notFound, {}, {}}; }
    Result<std::vector<UncommittedFile>> uncommittedFiles() override;
    Result<ObjectId> saveWork(const std::string& message) override;
    Result<std::vector<RepoPath>> keepBeside(const std::vector<RepoPath>& paths) override;
    Result<std::vector<std::string>> programsLeftOut() override;
    Result<std::unique_ptr<Place>> openSubmodule(const RepoPath& path) override;
    Result<std::vector<std::string>> watchedFolders() override;
    Result<std::string> privateFolder() override { return m_root; }
    [[nodiscard]] WorkingTreeKind workingTreeKind() const override { return {}; }
    /// Where the journal of a test lies: a real folder.
    void setPrivateFolder(std::string folder) { m_root = std::move(folder); }

    Status prepareCopy(const std::string& /*folder*/,
                       const ObjectId& /*tree*/,
                       const ObjectId& /*commit*/) override
    {
        return ok();
    }
    Result<std::vector<RepoPath>> convertedPaths(const std::string& /*folder*/,
                                                 std::span<const RepoPath> /*paths*/) override
    {
        return std::vector<RepoPath>{};
    }
    Status writeConverted(const std::string& folder,
                          std::span<const RepoPath> paths,
                          const std::stop_token& stop) override;
    Result<std::string> conversionStamp() override { return std::string("memory"); }
    [[nodiscard]] std::vector<std::string> leadingVariables() const override { return {}; }

    Result<std::optional<Signature>> identity() override;
    Status setIdentity(const std::string& name, const std::string& email) override;
    Result<MessageConventions> messageConventions() override { return MessageConventions{}; }
    Result<ObjectId> storeTree(const ResultSnapshot& result) override;
    Result<RecordOutcome> record(const RecordingPlan& plan,
                                 const NoteSink& note,
                                 const ProgressSink& progress,
                                 const std::stop_token& stop) override;
    Result<std::optional<RecordOutcome>> recover(const RecordingNote& note) override;
    Status handBack(const HandBack& /*work*/, const NoteSink& /*note*/) override
    {
        return Error{ErrorCode::notFound, {}, {}};
    }
    Status removeOwnLine(const std::string& line, const ObjectId& expected) override;
    Status removeScratch() override { return ok(); }
    Status keepAlive(const std::string& name, const ObjectId& commit) override;
    Result<std::vector<std::string>> keptAlive() override;
    Result<ObjectId> keptCommit(const std::string& name) override;

    Result<std::vector<std::vector<FoundNote>>> notesOn(std::span<const ObjectId> commits) override;
    Result<std::size_t> sendNotes(const std::string& /*remote*/,
                                  const std::stop_token& /*stop*/) override
    {
        return std::size_t{0};
    }

    Result<std::vector<std::string>> remotes() override { return std::vector<std::string>{}; }
    Result<std::map<std::string, std::int64_t>> lastAsked() override;
    Status fetch(const std::function<void(const std::string&)>& answered,
                 const ProgressSink& progress,
                 const std::stop_token& stop) override;
    void setAsking(Asking /*how*/) override {}
    Result<RemoteLines> ask(const std::string& remote, const std::stop_token& stop) override;
    Result<SendTarget> sendTarget(const std::string& line) override;
    Result<std::string> send(const Sending& sending,
                             const ProgressSink& progress,
                             const std::stop_token& stop) override;
    Status removeLine(const std::string& remote,
                      const std::string& name,
                      const ObjectId& expected,
                      const std::stop_token& stop) override;
    void setMissingBytes(MissingBytes /*how*/) override {}

    Result<CheckSettings> checkSettings() override { return m_checkSettings; }
    Status setCheckSettings(const CheckSettings& settings) override
    {
        m_checkSettings = settings;
        return ok();
    }

private:
    /// Counts a call that could touch something; fails when a test says so.
    Status touch(const std::string& what);
    ObjectId storeFolder(std::span<const TreeEntry> entries);
    Status bringFiles(const ObjectId& tree);

    MemoryState m_state;
    std::string m_root = "/memory";
    std::string m_nothing;
    CheckSettings m_checkSettings;
    std::int64_t m_clock = 1'793'610'000;
    std::size_t m_failAt = 0;
    std::size_t m_crashAt = 0;
    std::size_t m_calls = 0;
    std::vector<std::string> m_touched;
};
}  // namespace rope
