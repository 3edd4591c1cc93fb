// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/command/forecast_command.h"

#include "core/join/forecast.h"
#include "core/system/factory/open_place.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/join_warnings.h"
#include "desktop/command/json_bytes.h"
#include "desktop/command/print_error.h"
#include "desktop/command/terminal_text.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/forecast_words.h"
#include "desktop/wording/shown_text.h"

#include <algorithm>
#include <atomic>
#include <nlohmann/json.hpp>
#include <thread>

namespace rope {
namespace {
using Json = nlohmann::ordered_json;

Json pathOrNull(const std::optional<FileVersion>& version, const RepoPath& path)
{
    return version ? Json(path) : Json(nullptr);
}

/// A name that was made for a file is told as git would call it.
const RepoPath& nameInJson(const FileOutcome& file, const RepoPath& path)
{
    return file.beside && file.beside->path == path ? file.beside->gitName : path;
}

Json fileJson(const FileOutcome& file, const RepoPath& path, bool isFirst)
{
    return {{"path", path},
            {"outcome", file.needsDecision() ? "conflict" : "clean"},
            {"kind", nameOf(file.kind)},
            {"regions", isFirst ? file.regionCount() : 0},
            {"warnings", isFirst && file.text ? warningsJson(*file.text) : Json::array()},
            {"paths",
             {{"base", pathOrNull(file.base, file.basePath)},
              {"ours", pathOrNull(file.ours, file.oursPath)},
              {"theirs", pathOrNull(file.theirs, file.theirsPath)}}}};
}

Json forecastJson(const Forecast& forecast, const ObjectId& tree, bool isRefused)
{
    Json bases = Json::array();
    for (const ObjectId& base : forecast.divergence.bases) {
        bases.push_back(base.hex());
    }
    Json files = Json::array();
    for (const FileOutcome& file : forecast.join.files) {
        files.push_back(fileJson(file, nameInJson(file, file.path), true));
        for (const RepoPath& path : file.alsoAt) {
            files.push_back(fileJson(file, nameInJson(file, path), false));
        }
    }
    Json clashes = Json::array();
    for (const auto& [first, second] : forecast.join.nameClashes) {
        clashes.push_back({first, second});
    }
    return {{"ours", forecast.ours.id.hex()},
            {"theirs", forecast.theirs.id.hex()},
            {"bases", bases},
            {"relation", nameOf(forecast.divergence.relation)},
            {"clean", forecast.isClean() && !isRefused},
            {"tree", tree.isNull() ? Json(nullptr) : Json(tree.hex())},
            {"files", files},
            {"nameClashes", clashes}};
}

/// What a forecast prints, and the exit code it asks for.
struct Report
{
    std::string out;
    std::string err;
    int exitCode = kExitError;
    std::shared_ptr<const Forecast> forecast;  ///< Kept where it is the only one, see leave().
};

Report errorReport(const Error& error)
{
    Report report;
    report.err = "rope-splice: " + describeInLine(error).toStdString() + "\n";
    if (!error.detail.empty()) {
        report.err += error.detail + "\n";
    }
    return report;
}

std::string inWords(const Forecast& forecast, const ObjectId& tree)
{
    std::string words = forecastInWords(forecast).toStdString() + "\n";
    if (forecast.divergence.bases.size() > 1) {
        words += "there are " + std::to_string(forecast.divergence.bases.size())
                 + " best common ancestors, merged into one base first\n";
    }
    for (const FileOutcome& file : forecast.join.files) {
        words +=
            shownPath(file.path).toStdString() + ": " + forecastInWords(file).toStdString() + "\n";
    }
    for (const NameClash& clash : forecast.join.nameClashes) {
        words += nameClashInWords(clash).toStdString() + "\n";
    }
    return tree.isNull() ? words : words + "tree " + tree.hex() + "\n";
}

Report forecastOne(Place& place,
                   CommitGraph* history,
                   const ForecastRequest& request,
                   const std::string& name)
{
    const auto ours = place.resolveCommit(request.ours);
    if (!ours) {
        return errorReport(ours.error());
    }
    const auto theirs = place.resolveCommit(name);
    if (!theirs) {
        return errorReport(theirs.error());
    }
    // The JSON tells nothing of what only one side has.
    const NewFolders newFolders =
        request.asJson && !request.writesTree ? NewFolders::leave : NewFolders::read;
    auto made = forecastJoin(place, *ours, *theirs, {request.joinsUnrelated, history, newFolders});
    if (!made) {
        return errorReport(made.error());
    }
    const auto forecast = std::make_shared<const Forecast>(std::move(*made));
    const bool isRefused =
        forecast->divergence.relation == Relation::unrelated && !request.joinsUnrelated;
    ObjectId tree;
    if (request.writesTree && forecast->isClean() && !isRefused) {
        const auto written = storeCleanTree(place, *forecast);
        if (!written) {
            return errorReport(written.error());
        }
        tree = *written;
    }
    Report report;
    if (request.asJson) {
        report.out = jsonText(forecastJson(*forecast, tree, isRefused));
    } else if (!isRefused) {
        report.out = (request.theirs.size() > 1 ? name + ": " : "") + inWords(*forecast, tree);
    }
    if (isRefused) {
        report.err =
            "rope-splice: " + request.ours + " and " + name
            + " have no commit in common. With --unrelated they are merged over an empty base.\n";
    } else {
        report.exitCode = forecast->isClean() ? kExitClean : kExitMustDecide;
    }
    if (request.theirs.size() == 1) {
        report.forecast = forecast;
    }
    return report;
}

/// The history of all that is named; null where something is not there, which is told for each.
std::unique_ptr<CommitGraph> historyOf(Place& place, const ForecastRequest& request)
{
    std::vector<ObjectId> tips;
    std::vector<std::string> names{request.ours};
    names.insert(names.end(), request.theirs.begin(), request.theirs.end());
    for (const std::string& name : names) {
        const auto tip = place.resolveCommit(name);
        if (!tip) {
            return nullptr;
        }
        tips.push_back(*tip);
    }
    auto stream = place.commitsFrom(tips);
    return stream ? std::make_unique<CommitGraph>(std::move(*stream)) : nullptr;
}

/// Takes branch after branch until none is left; each worker reads through a repository of its own.
void forecastUntilDone(Place& place,
                       const ForecastRequest& request,
                       std::atomic<std::size_t>& next,
                       std::vector<Report>& reports)
{
    place.expectCommits();
    std::unique_ptr<CommitGraph> history;
    if (reports.size() > 1) {
        history = historyOf(place, request);
    }
    for (std::size_t i = next++; i < reports.size(); i = next++) {
        reports[i] = forecastOne(place, history.get(), request, request.theirs[i]);
    }
}
}  // namespace

void runForecast(const ForecastRequest& request)
{
    // What a person names here is looked at, so what a partial copy lacks may be asked for.
    const PlacePermissions permissions{request.allowsPrograms, {}, true};
    const auto place = openPlace(request.folder, permissions);
    if (!place) {
        leave(printError(place.error()));
    }
    printLedFrom(**place);
    std::vector<Report> reports(request.theirs.size());
    std::atomic<std::size_t> next{0};
    std::jthread second;
    if (reports.size() > 1) {
        second = std::jthread([&] {
            // Where a second one cannot be opened, the first does all the work.
            if (auto own = openPlace(request.folder, permissions)) {
                forecastUntilDone(**own, request, next, reports);
            }
        });
    }
    forecastUntilDone(**place, request, next, reports);
    if (second.joinable()) {
        second.join();
    }
    int exitCode = kExitClean;
    for (const Report& report : reports) {
        printText(report.out);
        printComplaint(report.err);
        exitCode = std::max(exitCode, report.exitCode);
    }
    printLeftOut(**place);
    leave(exitCode);
}
}  // namespace rope
