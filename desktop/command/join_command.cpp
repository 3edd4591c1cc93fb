// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/join_command.h"

#include "core/logbook/recorder.h"
#include "core/plan/commit_message.h"
#include "core/plan/recording_plan.h"
#include "core/system/factory/open_place.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/print_error.h"
#include "desktop/command/stop_signals.h"
#include "desktop/command/terminal_text.h"
#include "desktop/wording/forecast_words.h"
#include "desktop/wording/obstacles.h"
#include "desktop/wording/shown_text.h"

#include <QDateTime>
#include <QUuid>

namespace rope {
namespace {
void printOpen(const Forecast& forecast)
{
    printText(forecastInWords(forecast).toStdString() + "\n");
    for (const FileOutcome& file : forecast.join.files) {
        if (file.needsDecision()) {
            printText(shownPath(file.path).toStdString() + ": "
                      + forecastInWords(file).toStdString() + "\n");
        }
    }
    printText("Nothing was changed. Open the window to decide: rope-splice\n");
}

Result<Recorded> record(Place& place,
                        Journal& journal,
                        const SplicePlan& plan,
                        const std::shared_ptr<const Forecast>& forecast,
                        const std::string& message,
                        const std::stop_token& stop)
{
    const Splice splice(plan, forecast);
    TRY_ASSIGN(const RecordingPlan recording,
               recordingPlanOf(splice, message.empty() ? proposedMessage(splice) : message));
    JournalEntry entry;
    entry.plan = plan;
    entry.begunBy = BegunBy::command;
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    const Join& join = forecast->join;
    return recordAtOnce(
        place, journal, entry, {{join.base, join.ours, join.theirs}}, recording, stop);
}

int joinInto(Place& place,
             Journal& journal,
             const JoinRequest& request,
             const std::stop_token& stop)
{
    const auto standing = place.standing();
    const auto begun = place.begunJoin();
    if (!standing || !begun) {
        return printError(standing ? begun.error() : standing.error());
    }
    if (const QString obstacle = obstacleToRecording(*standing, *begun); !obstacle.isEmpty()) {
        return printSentence(obstacle.toStdString());
    }
    if (const auto free = journal.checkLineIsFree(standing->ref, standing->name); !free) {
        return printError(free.error());
    }
    const auto theirs = place.resolveCommit(request.theirs);
    if (!theirs) {
        return printError(theirs.error());
    }
    auto forecast = forecastJoin(place, standing->tip, *theirs, {request.joinsUnrelated});
    if (!forecast) {
        return printError(forecast.error());
    }
    switch (forecast->divergence.relation) {
    case Relation::same:
    case Relation::oursAhead:
        printText(forecastInWords(*forecast).toStdString() + "\n");
        return exitOf(kExitClean);
    case Relation::theirsAhead:
        if (!request.commitsFastForward) {
            return printSentence(
                "Nothing has parted: the branch can simply move on (git merge --ff-only). "
                "With --commit a commit with two parents is recorded all the same.");
        }
        break;
    case Relation::unrelated:
        if (!request.joinsUnrelated) {
            return printSentence("The two have no commit in common. With --unrelated they are "
                                 "merged over an empty base.");
        }
        break;
    case Relation::diverged:
        break;
    }
    if (!forecast->isClean()) {
        printOpen(*forecast);
        printLeftOut(place);
        return exitOf(kExitMustDecide);
    }
    const auto settings = place.checkSettings();
    if (!settings) {
        return printError(settings.error());
    }
    if (settings->isRequired) {
        return printSentence("It merges cleanly, but this repository requires its check command to "
                             "pass before anything is recorded (rope-splice.checkRequired). "
                             "Nothing was changed. Check and record it in the window: rope-splice");
    }
    SplicePlan plan{QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString(),
                    standing->ref,
                    standing->name,
                    request.theirs,
                    standing->tip,
                    *theirs};
    const auto recorded = record(place,
                                 journal,
                                 plan,
                                 std::make_shared<const Forecast>(std::move(*forecast)),
                                 request.message,
                                 stop);
    if (!recorded) {
        return printError(recorded.error());
    }
    printComplaint(recorded->hookOutput);
    printText(recorded->commit.id.hex() + "\n");
    return exitOf(kExitClean);
}
}  // namespace

int runJoin(const JoinRequest& request)
{
    const std::stop_token stop = stopOnSignals();
    // A commit that cannot be told about is recorded all the same: what was asked for is done.
    const auto place = openPlace(request.folder, {request.allowsPrograms, {}, true});
    if (!place) {
        return printError(place.error());
    }
    printLedFrom(**place);
    const auto folder = (*place)->privateFolder();
    if (!folder) {
        return printError(folder.error());
    }
    const auto journal = Journal::open(*folder);
    if (!journal) {
        return printError(journal.error());
    }
    if (!(*journal)->setAsideAs().empty()) {
        printComplaint("rope-splice: the journal could not be read. It is kept as "
                       + (*journal)->setAsideAs() + ", and a new one was begun.\n");
    }
    if (!(*journal)->isOurs()) {
        const auto cutOff = (*journal)->splices(SpliceState::recording);
        if (!cutOff || !cutOff->empty()) {
            return printError(Error{ErrorCode::refused, *folder, {}, Reason::begunElsewhere});
        }
        (void)(*journal)->adopt();  // somebody works here; where it cannot be kept, that is all
    }
    if (const auto recovered = recoverRecording(**place, **journal); !recovered) {
        return printError(recovered.error());
    }
    return joinInto(**place, **journal, request, stop);
}
}  // namespace rope
