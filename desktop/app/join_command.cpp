// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/app/join_command.h"

#include "core/repository/git/git_repository.h"
#include "core/splice/commit_message.h"
#include "core/splice/recorder.h"
#include "desktop/app/command_line.h"
#include "desktop/app/print_error.h"
#include "desktop/wording/merge_words.h"

#include <QDateTime>
#include <QUuid>

#include <cstdio>

namespace rope {
namespace {
int refuse(const char* sentence)
{
    std::fprintf(stderr, "rope-splice: %s\n", sentence);
    return kExitError;
}

void printOpen(const Forecast& forecast)
{
    std::printf("%s\n", forecastInWords(forecast).toUtf8().constData());
    for (const FileOutcome& file : forecast.join.files) {
        if (file.needsDecision()) {
            std::printf("%s: %s\n",
                        shownPath(file.path).toUtf8().constData(),
                        forecastInWords(file).toUtf8().constData());
        }
    }
    std::printf("Nothing was changed. Open the window to decide: rope-splice\n");
}

/// What stands against recording here at all; null if nothing does.
const char* obstacle(const Standing& standing, UnfinishedWork unfinished)
{
    if (!standing.hasWorkingTree) {
        return "this repository is bare: join in a clone of it.";
    }
    if (standing.ref.empty() || standing.tip.isNull()) {
        return "you are on no branch with a commit. Switch to a branch first: git switch NAME.";
    }
    return unfinished == UnfinishedWork::none
               ? nullptr
               : "a join that was begun on the command line is not finished. Finish or abort it "
                 "there first.";
}

Result<Recorded> record(Repository& repository,
                        Journal& journal,
                        const SplicePlan& plan,
                        const std::shared_ptr<const Forecast>& forecast,
                        const std::string& message)
{
    const Splice splice(plan, forecast);
    TRY(repository.keepAlive(plan.id + "/ours", plan.ours));
    TRY(repository.keepAlive(plan.id + "/theirs", plan.theirs));
    TRY(journal.begin(plan, QDateTime::currentSecsSinceEpoch()));
    auto recorded =
        recordSplice(repository,
                     journal,
                     {plan, splice.result(), message.empty() ? proposedMessage(splice) : message});
    if (!recorded) {
        // Nobody is there to go on with it: what was begun here ends here.
        (void)journal.setState(plan.id, SpliceState::abandoned);
        (void)repository.keepAlive(plan.id + "/ours", {});
        (void)repository.keepAlive(plan.id + "/theirs", {});
    }
    return recorded;
}

int joinInto(Repository& repository, Journal& journal, const JoinRequest& request)
{
    const auto standing = repository.standing();
    const auto unfinished = repository.unfinishedWork();
    if (!standing || !unfinished) {
        return printError(standing ? unfinished.error() : standing.error());
    }
    if (const char* const sentence = obstacle(*standing, *unfinished)) {
        return refuse(sentence);
    }
    const auto open = journal.splices(SpliceState::open);
    if (!open) {
        return printError(open.error());
    }
    if (!open->empty()) {
        return refuse("a splice is open in this repository. Record or abandon it in the window.");
    }
    const auto theirs = repository.resolveCommit(request.theirs);
    if (!theirs) {
        return printError({theirs.error().code, request.theirs, theirs.error().detail});
    }
    auto forecast = forecastJoin(repository, standing->tip, *theirs, {request.joinsUnrelated});
    if (!forecast) {
        return printError(forecast.error());
    }
    switch (forecast->divergence.relation) {
    case Relation::same:
    case Relation::oursAhead:
        std::printf("%s\n", forecastInWords(*forecast).toUtf8().constData());
        return kExitClean;
    case Relation::theirsAhead:
        if (!request.commitsFastForward) {
            return refuse(
                "nothing has parted: the branch can simply move on (git merge --ff-only). "
                "With --commit a commit with two parents is recorded all the same.");
        }
        break;
    case Relation::unrelated:
        if (!request.joinsUnrelated) {
            return refuse("the two have no commit in common. With --unrelated they are joined over "
                          "an empty base.");
        }
        break;
    case Relation::diverged:
        break;
    }
    if (!forecast->isClean()) {
        printOpen(*forecast);
        return kExitMustDecide;
    }
    SplicePlan plan{QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString(),
                    standing->ref,
                    standing->name,
                    request.theirs,
                    standing->tip,
                    *theirs};
    const auto recorded = record(repository,
                                 journal,
                                 plan,
                                 std::make_shared<const Forecast>(std::move(*forecast)),
                                 request.message);
    if (!recorded) {
        return printError(recorded.error());
    }
    std::fputs(recorded->hookOutput.c_str(), stderr);
    std::printf("%s\n", recorded->commit.id.hex().c_str());
    return kExitClean;
}
}  // namespace

int runJoin(const JoinRequest& request)
{
    auto repository = GitRepository::open(request.folder);
    if (!repository) {
        return printError(repository.error());
    }
    const auto folder = (*repository)->privateFolder();
    if (!folder) {
        return printError(folder.error());
    }
    auto journal = Journal::open(*folder);
    if (!journal) {
        return printError(journal.error());
    }
    if (const auto recovered = recoverRecording(**repository, **journal); !recovered) {
        return printError(recovered.error());
    }
    return joinInto(**repository, **journal, request);
}
}  // namespace rope
