// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_command.cpp.
#include "desktop/course/trial_tasks.h"

#include "core/base/digest.h"
#include "core/snapshot/overlay.h"
#include "core/system/edited_tree.h"
#include "core/trial/check_commands.h"
#include "core/trial/scratch_copies.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

namespace rope {
namespace {
constexpr std::size_t kMostOutputs = 40;

std::string copiesFolder()
{
    return trialFolder() + "/copies";
}

std::string outputsFolder()
{
    return trialFolder() + "/outputs";
}

std::string runnerProgram()
{
    const QString own = QCoreApplication::applicationDirPath();
    for (const char* place : {"/rope-splice-run", "/../bin/rope-splice-run"}) {
        const QFileInfo program(own + QLatin1String(place));
        if (program.isExecutable()) {
            return program.canonicalFilePath().toStdString();
        }
    }
    return "rope-splice-run";
}
}  // namespace

std::string trialFolder()
{
    return (QStandardPaths::writableLocation(QStandardPaths::CacheLocation)
            + QStringLiteral("/trials"))
        .toStdString();
}

std::string outputFileOf(const ObjectId& tree, const std::string& command)
{
    return outputsFolder() + "/" + tree.hex() + "-" + digestOfParts({command}) + ".txt";
}

Result<TrialFacts> trialFacts(const PlaceAddress& address,
                              const std::shared_ptr<const Join>& join,
                              const DecidedResult& decided)
{
    TRY_ASSIGN(const ResultSnapshot result, decided.get());
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    Overlay snapshots(*place, *join->held);
    TrialFacts facts;
    TRY_ASSIGN(facts.tree, idOfResult(snapshots, result));
    auto shared = sharedCommandsOf(snapshots, result);
    if (shared) {
        facts.shared = std::move(*shared);
    } else {
        facts.sharedProblem = shared.error();
    }
    return facts;
}

Result<TrialOutcome> runTrial(const PlaceAddress& address,
                              const TrialFiles& files,
                              const std::vector<std::string>& commands,
                              const TrialSinks& sinks,
                              const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    // A person asked for this: what a partial copy lacks is asked of its remote.
    place->setAsking(address.asking);
    place->setMissingBytes({true, sinks.progress, stop});
    TRY_ASSIGN(const auto copy, takeScratchCopy(copiesFolder(), files.copy));
    QDir().mkpath(QString::fromStdString(outputsFolder()));
    // What commands said of a private repository is nobody else's business.
    QFile::setPermissions(QString::fromStdString(trialFolder()),
                          QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    TrialOutcome outcome;
    outcome.tree = files.tree;
    if (files.result) {
        TRY_ASSIGN(const ResultSnapshot result, files.result->get());
        TRY_ASSIGN(outcome.tree, place->storeTree(result));
    }
    TRY_ASSIGN(outcome.layout,
               layOut(*place,
                      {outcome.tree, files.commit, files.withSubmodules},
                      copy->folder(),
                      sinks.progress,
                      stop));
    for (std::size_t i = 0; i < commands.size() && !stop.stop_requested(); ++i) {
        const std::string outputFile = outputFileOf(outcome.tree, commands[i]);
        QFile::remove(QString::fromStdString(outputFile));
        sinks.started(i, outputFile);
        auto words = wordsOf(commands[i]);
        if (!words) {
            outcome.runs.push_back({commands[i], {}, words.error()});
            continue;
        }
        std::uint64_t offset = 0;
        outcome.runs.push_back({commands[i],
                                outputFile,
                                runCommand(
                                    {runnerProgram(),
                                     std::move(*words),
                                     filesFolderOf(copy->folder()),
                                     place->leadingVariables(),
                                     outputFile},
                                    [&](std::string_view bytes) {
                                        sinks.said(i, offset, bytes);
                                        offset += bytes.size();
                                    },
                                    stop)});
    }
    return outcome;
}

void cleanTrials(const std::stop_token& stop)
{
    removeOldCopies(copiesFolder(), {}, stop);
    removeOldFiles(outputsFolder(), kMostOutputs);
}

void removeTrials(const std::stop_token& stop)
{
    removeOldCopies(copiesFolder(), {0, 0, 0}, stop);
    removeOldFiles(outputsFolder(), 0);
}
}  // namespace rope
