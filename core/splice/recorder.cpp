// SPDX-License-Identifier: GPL-3.0-or-later
// The working tree is brought to the result first, as git itself does when it merges: hooks look at
// the working tree and at what is staged, and must find the result there. The branch moves last, in
// one step, from the commit it had when the splice began. See docs/recording.md.
// Tested by tst_recorder.cpp.
#include "core/splice/recorder.h"

#include "core/snapshot/tree_writer.h"
#include "core/splice/commit_message.h"

#include <QFile>

#include <algorithm>

namespace rope {
namespace {
const char* stepName(RecordStep step)
{
    switch (step) {
    case RecordStep::bringingWorkingTree:
        return "bringing-working-tree";
    case RecordStep::committing:
        return "committing";
    case RecordStep::movingBranch:
        return "moving-branch";
    case RecordStep::finishing:
        return "finishing";
    case RecordStep::undoing:
        return "undoing";
    }
    return "";
}

/// The branch holds both commits now; a ref that cannot be removed does no harm.
void letGo(Repository& repository, const SplicePlan& plan)
{
    (void)repository.keepAlive(plan.id + "/ours", {});
    (void)repository.keepAlive(plan.id + "/theirs", {});
}

class Recording
{
public:
    Recording(Repository& repository,
              Journal& journal,
              const RecordRequest& request,
              const ProgressSink& progress)
        : m_repository(repository)
        , m_journal(journal)
        , m_request(request)
        , m_progress(progress)
    {
    }

    Result<Recorded> run()
    {
        TRY(checkBefore());
        TRY_ASSIGN(m_note.resultTree, writeResultTree());
        Result<Recorded> recorded = recordSteps();
        if (!recorded && m_note.step != RecordStep::finishing) {
            if (auto undone = undo(); !undone) {
                // The journal still says what is to be undone; the next start tries again.
                Error error = std::move(recorded).error();
                error.detail += "\n" + undone.error().detail;
                return error;
            }
        }
        return recorded;
    }

private:
    Status checkBefore()
    {
        if (tidiedMessage(m_request.message).empty()) {
            return Error{ErrorCode::invalidInput, "message", {}};
        }
        if (!m_request.result.unencodable.empty()) {
            return Error{
                ErrorCode::invalidInput, m_request.result.unencodable.front(), kUnencodable};
        }
        TRY_ASSIGN(const auto identity, m_repository.identity());
        if (!identity) {
            return Error{ErrorCode::noIdentity, {}, {}};
        }
        TRY_ASSIGN(const Standing standing, m_repository.standing());
        if (standing.ref != m_request.plan.oursRef || standing.tip != m_request.plan.ours) {
            return Error{ErrorCode::stale, m_request.plan.oursName, "now at " + standing.tip.hex()};
        }
        TRY_ASSIGN(const auto files, m_repository.uncommittedFiles());
        std::string names;
        for (const UncommittedFile& file : files) {
            names += file.isUntracked ? "" : (names.empty() ? "" : ", ") + file.path;
        }
        if (!names.empty()) {
            return Error{ErrorCode::stale, names, "uncommitted"};
        }
        const ObjectId ids[] = {m_request.plan.ours};
        TRY_ASSIGN(const auto commits, m_repository.readCommits(ids));
        m_note.oursTree = commits.front().tree;
        return ok();
    }

    Result<ObjectId> writeResultTree()
    {
        std::vector<TreeEdit> edits = m_request.result.edits;
        std::vector<std::string> contents;
        for (const TextEdit& text : m_request.result.texts) {
            contents.push_back(text.bytes);
        }
        TRY_ASSIGN(const auto ids, m_repository.writeBlobs(contents, Storage::stored));
        for (std::size_t i = 0; i < ids.size(); ++i) {
            edits.push_back({m_request.result.texts[i].path,
                             FileVersion{m_request.result.texts[i].kind, ids[i]}});
        }
        return writeEditedTree(m_repository, m_note.oursTree, edits);
    }

    Status enter(RecordStep step)
    {
        m_note.step = step;
        TRY(m_journal.noteRecording(m_request.plan.id, m_note));
        if (m_progress) {
            m_progress({stepName(step), 0, 0});
        }
        return ok();
    }

    Result<Recorded> recordSteps()
    {
        TRY(enter(RecordStep::bringingWorkingTree));
        TRY(m_repository.bringWorkingTree(m_note.oursTree, m_note.resultTree));
        TRY(enter(RecordStep::committing));
        TRY(runHook(HookPoint::beforeMergeCommit));
        TRY_ASSIGN(const ObjectId staged, m_repository.stagedTree());
        m_note.resultTree = staged;  // a hook may have staged more, as git lets it
        TRY_ASSIGN(const std::string message, checkedMessage());
        TRY_ASSIGN(m_note.commit,
                   m_repository.writeCommit(
                       {staged, {m_request.plan.ours, m_request.plan.theirs}, message}));
        TRY(enter(RecordStep::movingBranch));
        TRY(m_repository.moveBranch(m_request.plan.oursRef,
                                    m_request.plan.ours,
                                    m_note.commit,
                                    "merge " + m_request.plan.theirsName + ": spliced"));
        TRY(enter(RecordStep::finishing));
        // git ignores what a post-merge hook answers: the merge is there.
        (void)runHook(HookPoint::afterMerge);
        letGo(m_repository, m_request.plan);
        TRY(m_journal.endRecording(m_request.plan.id, SpliceState::recorded, m_note.commit));
        const ObjectId ids[] = {m_note.commit};
        TRY_ASSIGN(auto commits, m_repository.readCommits(ids));
        return Recorded{std::move(commits.front()), m_hookOutput};
    }

    Status runHook(HookPoint point, const std::string& messageFile = {})
    {
        auto output = m_repository.runHook(point, messageFile);
        if (!output) {
            m_hookOutput += output.error().detail;
            return std::move(output).error();
        }
        m_hookOutput += *output;
        return ok();
    }

    /// The message after the repository's hooks had their say.
    Result<std::string> checkedMessage()
    {
        TRY_ASSIGN(const std::string folder, m_repository.privateFolder());
        QFile file(QString::fromStdString(folder + "/MERGE_MSG"));
        const std::string tidy = tidiedMessage(m_request.message);
        const auto size = static_cast<qint64>(tidy.size());
        if (!file.open(QIODevice::WriteOnly | QIODevice::Truncate)
            || file.write(tidy.data(), size) != size || !file.flush()) {
            return Error{
                ErrorCode::io, file.fileName().toStdString(), file.errorString().toStdString()};
        }
        file.close();
        TRY(runHook(HookPoint::prepareMessage, file.fileName().toStdString()));
        TRY(runHook(HookPoint::checkMessage, file.fileName().toStdString()));
        if (!file.open(QIODevice::ReadOnly)) {
            return Error{
                ErrorCode::io, file.fileName().toStdString(), file.errorString().toStdString()};
        }
        std::string message = tidiedMessage(file.readAll().toStdString());
        file.close();
        file.remove();
        if (message.empty()) {
            return Error{ErrorCode::invalidInput, "message", "a hook left it empty"};
        }
        return message;
    }

    Status undo()
    {
        const bool mayHaveChanged = m_note.step != RecordStep::bringingWorkingTree;
        TRY(enter(RecordStep::undoing));
        TRY_ASSIGN(const ObjectId staged, m_repository.stagedTree());
        if (mayHaveChanged || staged != m_note.oursTree) {
            TRY(m_repository.bringWorkingTree(staged, m_note.oursTree));
        }
        return m_journal.endRecording(m_request.plan.id, SpliceState::open, {});
    }

    Repository& m_repository;
    Journal& m_journal;
    const RecordRequest& m_request;
    const ProgressSink& m_progress;
    RecordingNote m_note;
    std::string m_hookOutput;
};

Result<Recovery> recover(Repository& repository, Journal& journal, const SplicePlan& plan)
{
    TRY_ASSIGN(const auto note, journal.recordingNote(plan.id));
    Recovery recovery{plan, false, {}};
    if (!note) {
        TRY(journal.setState(plan.id, SpliceState::open));
        return recovery;
    }
    auto tip = repository.resolveCommit(plan.oursRef);
    if (tip && !note->commit.isNull() && *tip == note->commit) {
        TRY(journal.endRecording(plan.id, SpliceState::recorded, note->commit));
        letGo(repository, plan);
        recovery.isFinished = true;
        recovery.commit = note->commit;
        return recovery;
    }
    TRY_ASSIGN(const Standing standing, repository.standing());
    if (standing.ref == plan.oursRef && standing.tip == plan.ours) {
        TRY(repository.restoreWorkingTree(note->oursTree, note->resultTree));
    }
    TRY(journal.endRecording(plan.id, SpliceState::open, {}));
    return recovery;
}
}  // namespace

Result<Recorded> recordSplice(Repository& repository,
                              Journal& journal,
                              const RecordRequest& request,
                              const ProgressSink& progress)
{
    return Recording(repository, journal, request, progress).run();
}

Result<std::optional<Recovery>> recoverRecording(Repository& repository, Journal& journal)
{
    TRY_ASSIGN(const auto interrupted, journal.splices(SpliceState::recording));
    std::optional<Recovery> last;
    for (const JournalEntry& entry : interrupted) {
        TRY_ASSIGN(last, recover(repository, journal, entry.plan));
    }
    return last;
}
}  // namespace rope
