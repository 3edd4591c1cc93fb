// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/merge_file_command.h"

#include "core/base/whole_file.h"
#include "core/merge/candidates.h"
#include "core/merge/marked_text.h"
#include "core/text/encoding.h"
#include "desktop/app/command_line.h"
#include "desktop/app/join_warnings.h"
#include "desktop/app/json_bytes.h"
#include "desktop/app/terminal_text.h"

#include <atomic>
#include <nlohmann/json.hpp>
#include <thread>
#include <vector>

namespace rope {
namespace {
using Json = nlohmann::ordered_json;

int fail(const Error& error)
{
    return printSentence(error.subject + " could not be read or written: " + error.detail + ".");
}

/// The candidates of every region. Each region by itself, so that two share the work.
std::vector<std::vector<CandidateText>> candidatesOf(const TextJoin& join)
{
    constexpr std::size_t kManyRegions = 32;
    const FileHabits habits = habitsOf(join);
    std::vector<std::vector<CandidateText>> candidates(join.regionCount());
    std::atomic<std::size_t> next{0};
    const auto work = [&] {
        for (std::size_t i = next++; i < candidates.size(); i = next++) {
            candidates[i] = candidateTexts(join.regionTexts(i), habits);
        }
    };
    {
        std::jthread second;  // waited for at the end of this block
        if (candidates.size() >= kManyRegions) {
            second = std::jthread(work);
        }
        work();
    }
    return candidates;
}

Json mergeJson(const TextJoin& join, const MarkedText& marked)
{
    const bool isValid =
        isUtf8(join.base().bytes()) && isUtf8(join.ours().bytes()) && isUtf8(join.theirs().bytes());
    const auto inJson = [isValid](std::string_view bytes) {
        return isValid ? std::string(bytes) : utf8FromLatin1(bytes);
    };
    const auto found = candidatesOf(join);
    Json regions = Json::array();
    for (std::size_t i = 0; i < join.regionCount(); ++i) {
        const RegionTexts texts = join.regionTexts(i);
        Json candidates = Json::array();
        for (const CandidateText& candidate : found[i]) {
            candidates.push_back(
                {{"kind", nameOf(candidate.kind)}, {"text", inJson(candidate.text)}});
        }
        regions.push_back({{"line", marked.regionLines[i] + 1},
                           {"base", inJson(texts.base)},
                           {"ours", inJson(texts.ours)},
                           {"theirs", inJson(texts.theirs)},
                           {"candidates", std::move(candidates)}});
    }
    return {{"clean", join.isClean()},
            {"encoding",
             join.form() ? join.form()->encoding
             : isValid   ? "UTF-8"
                         : "ISO-8859-1"},
            {"text", inJson(marked.text)},
            {"regions", std::move(regions)},
            {"warnings", warningsJson(join)}};
}
}  // namespace

int runMergeFile(const MergeFileRequest& request)
{
    std::string texts[3];
    const std::string* const paths[] = {&request.base, &request.ours, &request.theirs};
    for (int i = 0; i < 3; ++i) {
        auto bytes = readWholeFile(*paths[i]);
        if (!bytes) {
            return fail(bytes.error());
        }
        if (isBeyondLines(*bytes)) {
            return printSentence(*paths[i] + " is not text: it cannot be joined by lines.");
        }
        texts[i] = std::move(*bytes);
    }
    const auto join = joinTexts(std::move(texts[0]), std::move(texts[1]), std::move(texts[2]));
    if (!join) {
        return fail(join.error());
    }
    const bool hasLabels = request.labels.size() == 3;
    const MarkedText marked = markedText(*join,
                                         {hasLabels ? request.labels[1] : request.ours,
                                          hasLabels ? request.labels[0] : request.base,
                                          hasLabels ? request.labels[2] : request.theirs,
                                          request.markerSize});
    const int exitCode = join->isClean() ? kExitClean : kExitMustDecide;
    // In its own encoding; the names in the markers may be beyond that, then it is left as UTF-8.
    std::optional<std::string> encoded;
    if (join->form()) {
        encoded = join->encoded(marked.text);
    }
    const std::string& bytes = encoded ? *encoded : marked.text;
    if (!request.output.empty()) {
        if (const auto written = writeWholeFile(request.output, bytes); !written) {
            return fail(written.error());
        }
    }
    if (request.asJson) {
        printBytes(jsonText(mergeJson(*join, marked)));
    } else if (request.output.empty()) {
        printBytes(bytes);
    }
    return exitOf(exitCode);
}
}  // namespace rope
