// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/attribute_reader.h"
#include "core/system/git/git_begun_steps.h"
#include "core/system/git/local_programs.h"
#include "core/system/git/object_reader.h"
#include "core/system/place.h"

#include <map>
#include <memory>
#include <unordered_map>

namespace rope {
class StoredGraph;
class WorkingTree;

/// The port to git, through its public commands. See docs/architecture.md for which does what.
class GitPlace final : public Place
{
public:
    /// Opens the repository that `folder` lies in, bare or not.
    /// Errors: `notFound` (Reason::noSuchFolder, ::notARepository), `systemFailed`
    /// (Reason::ownedByOther), `io`.
    static Result<std::unique_ptr<GitPlace>> open(const std::string& folder,
                                                  const ProgramTrust& trust = {});

    [[nodiscard]] const Abilities& abilities() const override;
    [[nodiscard]] const std::string& root() const override { return m_git.folder(); }
    [[nodiscard]] const std::string& ledFrom() const override { return m_ledFrom; }

    Result<Standing> standing() override;
    Result<std::vector<Branch>> branches() override;
    Result<ObjectId> resolveCommit(std::string_view name) override;
    Result<bool> isShallow() override;
    Result<std::vector<LineMove>> movesOf(const std::string& ref) override;
    Result<std::unique_ptr<CommitStream>> commitsFrom(std::span<const ObjectId> tips) override;
    void expectCommits() override;
    Result<std::vector<Commit>> readCommits(std::span<const ObjectId> ids) override;

    Result<std::vector<TreeEntries>> readTrees(std::span<const ObjectId> ids) override;
    Status eachTree(std::span<const ObjectId> ids, const TreeSink& take) override;
    Status expectBlobs(std::span<const ObjectId> ids) override;
    Result<std::vector<BlobBytes>> readBlobs(std::span<const ObjectId> ids,
                                             std::uint64_t mostBytes) override;
    Status
    eachBlob(std::span<const ObjectId> ids, std::uint64_t mostBytes, const BlobSink& take) override;
    Result<std::vector<std::uint64_t>> blobSizes(std::span<const ObjectId> ids) override;
    [[nodiscard]] ObjectId idOfBlob(std::string_view bytes) const override;
    [[nodiscard]] ObjectId idOfTree(std::span<const TreeEntry> entries) const override;
    [[nodiscard]] bool canCheckOut(const RepoPath& path) const override;
    Result<std::vector<MergeRule>> mergeRules(std::span<const RepoPath> paths) override;
    [[nodiscard]] RenameRules renameRules() const override;
    Result<std::string> rulesStamp() override;
    Result<ProgramOutcome> runMergeProgram(const MergeRule& rule,
                                           const RepoPath& path,
                                           const std::string& base,
                                           const std::string& ours,
                                           const std::string& theirs) override;

    Result<std::optional<BegunJoin>> begunJoin() override;
    Result<BegunFiles> begunFiles() override;
    Result<std::vector<UncommittedFile>> uncommittedFiles() override;
    Result<ObjectId> saveWork(const std::string& message) override;
    Result<std::vector<RepoPath>> keepBeside(const std::vector<RepoPath>& paths) override;
    Result<std::vector<std::string>> programsLeftOut() override;
    Result<std::unique_ptr<Place>> openSubmodule(const RepoPath& path) override;
    Result<std::vector<std::string>> watchedFolders() override;
    Result<std::string> privateFolder() override;
    [[nodiscard]] WorkingTreeKind workingTreeKind() const override;

    Status
    prepareCopy(const std::string& folder, const ObjectId& tree, const ObjectId& commit) override;
    Result<std::vector<RepoPath>> convertedPaths(const std::string& folder,
                                                 std::span<const RepoPath> paths) override;
    Status writeConverted(const std::string& folder,
                          std::span<const RepoPath> paths,
                          const std::stop_token& stop) override;
    Result<std::string> conversionStamp() override;
    [[nodiscard]] std::vector<std::string> leadingVariables() const override;

    Result<std::optional<Signature>> identity() override;
    Status setIdentity(const std::string& name, const std::string& email) override;
    Result<MessageConventions> messageConventions() override;
    Result<ObjectId> storeTree(const ResultSnapshot& result) override;
    Result<RecordOutcome> record(const RecordingPlan& plan,
                                 const NoteSink& note,
                                 const ProgressSink& progress,
                                 const std::stop_token& stop) override;
    Result<std::optional<RecordOutcome>> recover(const RecordingNote& note) override;
    Status handBack(const HandBack& work, const NoteSink& note) override;
    Status removeOwnLine(const std::string& line, const ObjectId& expected) override;
    Status removeScratch() override;
    Status keepAlive(const std::string& name, const ObjectId& commit) override;
    Result<std::vector<std::string>> keptAlive() override;
    Result<ObjectId> keptCommit(const std::string& name) override;

    Result<std::vector<std::vector<FoundNote>>> notesOn(std::span<const ObjectId> commits) override;
    Result<std::size_t> sendNotes(const std::string& remote, const std::stop_token& stop) override;

    Result<std::vector<std::string>> remotes() override;
    Result<std::map<std::string, std::int64_t>> lastAsked() override;
    Status fetch(const std::function<void(const std::string&)>& answered,
                 const ProgressSink& progress,
                 const std::stop_token& stop) override;
    void setAsking(Asking how) override { m_asking = std::move(how); }
    Result<RemoteLines> ask(const std::string& remote, const std::stop_token& stop) override;
    Result<SendTarget> sendTarget(const std::string& line) override;
    Result<std::string> send(const Sending& sending,
                             const ProgressSink& progress,
                             const std::stop_token& stop) override;
    Status removeLine(const std::string& remote,
                      const std::string& name,
                      const ObjectId& expected,
                      const std::stop_token& stop) override;
    void setMissingBytes(MissingBytes how) override { m_missingBytes = std::move(how); }

    Result<CheckSettings> checkSettings() override;
    Status setCheckSettings(const CheckSettings& settings) override;

    // For the steps of recording, in this folder.
    [[nodiscard]] const GitProcess& git() const { return m_git; }
    [[nodiscard]] const std::string& gitFolder() const { return m_gitFolder; }
    [[nodiscard]] bool isForeignTree() const { return m_isForeignTree; }
    /// As uncommittedFiles(), with the repository's own filters: a person asked for what follows.
    Result<std::vector<UncommittedFile>> changedFiles(RunFor purpose);
    /// What tracked files hold, and what is staged, each as a tree. While only looking, files with a
    /// filter of the repository's own that may not run are taken as they are. Errors: as saveWork().
    struct WorkTrees
    {
        ObjectId files;
        ObjectId staged;
    };
    Result<WorkTrees> workTrees(RunFor purpose);
    /// What stands in the files of a begun join and beside it. Errors: `notFound` where there is none.
    struct BegunTrees
    {
        BegunFiles join;
        ObjectId all;     ///< All tracked files as they are.
        ObjectId others;  ///< As the last commit, with what does not belong to the join.
    };
    Result<BegunTrees> begunTrees(RunFor purpose);
    [[nodiscard]] UnfinishedWork begunKind() const;
    Result<std::map<std::string, std::string>> remoteAddresses();
    [[nodiscard]] BegunSteps begunSteps(UnfinishedWork kind) const;
    /// What git keeps of a begun join: equal while nobody has gone on with it. Empty: there is none.
    [[nodiscard]] std::string begunHeads() const;
    /// Nothing says any more that a join was begun here. Errors: `io`.
    Status forgetBegun();
    /// Whether a branch stands where it is expected. Errors: `stale` (Reason::lineMoved).
    Status checkLine(const std::string& ref, const ObjectId& expected);
    /// Errors: `stale` (Reason::checkedOut) with the folder as detail.
    Status checkNotCheckedOut(const std::string& ref);
    /// Whether there are filters of the repository's own that do not run while it is only looked at.
    [[nodiscard]] bool hasLockedFilters() const { return !m_programs.lockedFilters().empty(); }
    /// Files that were added with intent only (git-add(1), --intent-to-add): the index has no content.
    Result<std::vector<RepoPath>> intendedPaths();

private:
    explicit GitPlace(const std::string& folder)
        : m_git(folder)
        , m_reader(m_git)
        , m_attributes(m_git)
    {
    }
    Status readBegunSteps(BegunJoin& begun);
    /// For a command that may ask a person for something.
    [[nodiscard]] GitRunOptions askingOptions(const ProgressSink& progress,
                                              const std::stop_token& stop) const;
    /// What the tracked files hold, and what is staged, without half-joined files.
    struct IndexTrees
    {
        ObjectId files;
        ObjectId staged;
        std::vector<RepoPath> open;
    };
    Result<IndexTrees> indexTrees(RunFor purpose);
    /// The tree that an index holds; empty: one's own index.
    Result<ObjectId> treeOfIndex(const std::string& index);
    /// Parses and keeps a folder that was read. Errors: `corrupt`.
    Result<TreeEntries> keptTree(const ObjectReader::Object& object);
    /// Tells folders that were read before, and those that are asked for because of them; the others
    /// go to `unread`.
    Status tellKept(std::vector<ObjectId> ids, const TreeSink& take, std::vector<ObjectId>& unread);
    void keepSmall(const ObjectId& id, const BlobBytes& bytes);
    /// Takes what `git config` has listed of the keys that name programs.
    Status takeConfig(const GitOutput& listed, const ProgramTrust& trust);
    /// Whether a working tree is that of another repository than this one.
    [[nodiscard]] Result<bool> belongsToAnother(const std::string& workingTree) const;
    /// `rev-list` that waits for its tips.
    struct StartedRevList
    {
        std::unique_ptr<PipedProcess> process;
        bool isTopological = false;
    };
    [[nodiscard]] Result<StartedRevList> startRevList() const;
    [[nodiscard]] bool usesStoredGraph() const;
    /// Null where there is none that tells history as it is.
    [[nodiscard]] std::shared_ptr<const StoredGraph> storedGraph() const;
    /// A folder that is to be stored.
    struct KeptFolder
    {
        ObjectId id;
        std::vector<TreeEntry> entries;
    };
    /// Whether an object is stored as a file of its own, which is young from now on.
    [[nodiscard]] bool isStoredByItself(const ObjectId& id) const;
    /// Stores each content as the blob of that id.
    Status storeBlobs(std::span<const ObjectId> ids, std::span<const BlobBytes> contents);
    Status storeFolders(std::span<const KeptFolder> folders);
    /// Reads objects; where a partial copy lacks some, they are asked of its remote, if that is allowed, and
    /// `read` is called once more.
    Status readWithMissing(std::span<const ObjectId> ids, const std::function<Status()>& read);
    [[nodiscard]] Result<std::vector<ObjectId>> missingOf(std::span<const ObjectId> ids);
    Status fetchMissing(std::span<const ObjectId> ids);
    /// Whether any of the files that give attributes to these paths exists.
    [[nodiscard]] bool mayHaveAttributes(std::span<const RepoPath> paths) const;
    [[nodiscard]] MergeRule ruleOf(std::string value);
    /// Files besides those of a tree that give attributes to any path.
    [[nodiscard]] std::vector<std::string> attributeFiles() const;
    /// What these files hold and what is configured, as one digest.
    [[nodiscard]] std::string stampOf(const std::vector<std::string>& files) const;

    GitProcess m_git;
    std::string m_gitFolder;     ///< This working tree's own git folder, absolute.
    std::string m_commonFolder;  ///< The git folder all linked working trees share, absolute.
    std::string m_ledFrom;
    bool m_isForeignTree = false;  ///< The working tree that it leads to is another repository's.
    bool m_isBare = false;
    bool m_usesSha256 = false;
    MissingBytes m_missingBytes;
    Asking m_asking;
    LocalPrograms m_programs;
    std::set<std::string> m_leftOut;  ///< Commands that were not run.
    ObjectReader m_reader;
    StartedRevList m_revListAhead;  ///< Where commits are expected.
    AttributeReader m_attributes;
    std::unordered_map<ObjectId, TreeEntries>
        m_trees;                                      ///< Read before; emptied when it grows large.
    std::unordered_map<ObjectId, BlobBytes> m_blobs;  ///< As m_trees, of small ones.
    std::size_t m_keptBytes = 0;                      ///< Of m_blobs.
};
}  // namespace rope
