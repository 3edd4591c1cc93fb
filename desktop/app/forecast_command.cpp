// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/forecast_command.h"

#include "core/repository/git/git_repository.h"
#include "core/splice/forecast.h"
#include "desktop/app/command_line.h"
#include "desktop/app/json_bytes.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/merge_words.h"

#include <cstdio>
#include <nlohmann/json.hpp>

namespace rope {
namespace {
using Json = nlohmann::ordered_json;

int fail(const Error& error)
{
    std::fprintf(stderr, "rope-splice: %s\n", qPrintable(describeInLine(error)));
    if (!error.detail.empty()) {
        std::fprintf(stderr, "%s\n", error.detail.c_str());
    }
    return kExitError;
}

Json pathOrNull(const std::optional<FileVersion>& version, const RepoPath& path)
{
    return version ? Json(path) : Json(nullptr);
}

Json fileJson(const FileOutcome& file, const RepoPath& path)
{
    return {{"path", path},
            {"outcome", file.needsDecision() ? "conflict" : "clean"},
            {"kind", nameOf(file.kind)},
            {"regions", path == file.path ? file.regionCount() : 0},
            {"paths",
             {{"base", pathOrNull(file.base, file.basePath)},
              {"ours", pathOrNull(file.ours, file.oursPath)},
              {"theirs", pathOrNull(file.theirs, file.theirsPath)}}}};
}

Json forecastJson(const Forecast& forecast, const ObjectId& tree)
{
    Json bases = Json::array();
    for (const ObjectId& base : forecast.divergence.bases) {
        bases.push_back(base.hex());
    }
    Json files = Json::array();
    for (const FileOutcome& file : forecast.join.files) {
        files.push_back(fileJson(file, file.path));
        for (const RepoPath& path : file.alsoAt) {
            files.push_back(fileJson(file, path));
        }
    }
    const bool isUnrelated = forecast.divergence.relation == Relation::unrelated;
    return {{"ours", forecast.ours.id.hex()},
            {"theirs", forecast.theirs.id.hex()},
            {"bases", bases},
            {"relation", nameOf(forecast.divergence.relation)},
            {"clean", forecast.isClean() && !isUnrelated},
            {"tree", tree.isNull() ? Json(nullptr) : Json(tree.hex())},
            {"files", files}};
}

void printWords(const Forecast& forecast, const ObjectId& tree)
{
    std::printf("%s\n", forecastInWords(forecast).toUtf8().constData());
    if (forecast.divergence.bases.size() > 1) {
        std::printf("there are %zu best common ancestors, joined to one base first\n",
                    forecast.divergence.bases.size());
    }
    for (const FileOutcome& file : forecast.join.files) {
        std::printf("%s: %s\n", file.path.c_str(), forecastInWords(file).toUtf8().constData());
    }
    if (!tree.isNull()) {
        std::printf("tree %s\n", tree.hex().c_str());
    }
}
}  // namespace

int runForecast(const ForecastRequest& request)
{
    auto repository = GitRepository::open(request.folder);
    if (!repository) {
        return fail(repository.error());
    }
    Repository& port = **repository;
    const auto ours = port.resolveCommit(request.ours);
    if (!ours) {
        return fail({ours.error().code, request.ours, ours.error().detail});
    }
    const auto theirs = port.resolveCommit(request.theirs);
    if (!theirs) {
        return fail({theirs.error().code, request.theirs, theirs.error().detail});
    }
    const auto forecast = forecastJoin(port, *ours, *theirs);
    if (!forecast) {
        return fail(forecast.error());
    }
    const bool isUnrelated = forecast->divergence.relation == Relation::unrelated;
    ObjectId tree;
    if (request.writesTree && forecast->isClean() && !isUnrelated) {
        const auto written = writeCleanTree(port, *forecast);
        if (!written) {
            return fail(written.error());
        }
        tree = *written;
    }
    if (request.asJson) {
        std::fputs(jsonText(forecastJson(*forecast, tree)).c_str(), stdout);
    } else if (!isUnrelated) {
        printWords(*forecast, tree);
    }
    if (isUnrelated) {
        std::fprintf(stderr,
                     "rope-splice: %s and %s have no commit in common.\n",
                     request.ours.c_str(),
                     request.theirs.c_str());
        return kExitError;
    }
    return forecast->isClean() ? kExitClean : kExitMustDecide;
}
}  // namespace rope
