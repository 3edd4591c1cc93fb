// SPDX-License-Identifier: GPL-3.0-or-later
// What findings are worth: reads cases, one JSON object a line (path, base, ours, theirs, human), joins
// each with the first candidate in every region, and tells by kind how many findings there are and how
// many point at lines that the person changed; and how many there are on the person's own result.
// `tests/measure/findings_on_corpus.sh` runs it; docs/findings.md has the figures.
#include "core/findings/tree_checker.h"
#include "core/join/forecast.h"
#include "core/merge/line_origin.h"
#include "core/system/git/git_place.h"
#include "core/text/text.h"
#include "tests/support/checked_texts.h"

#include <array>
#include <chrono>
#include <cstdio>
#include <iostream>
#include <nlohmann/json.hpp>

using namespace rope;
using namespace rope::test;

namespace {
struct Tally
{
    int joined = 0;   ///< Findings on what was joined.
    int changed = 0;  ///< Of them, those whose lines the person has not.
    int outside = 0;  ///< Of them, those outside of regions.
    int outsideChanged = 0;
    int shipped = 0;  ///< Findings on what the person made of it.
};

bool isInRegion(const CheckedResult& result, LineRange lines)
{
    return std::any_of(result.regions.begin(), result.regions.end(), [&](const LineRange& region) {
        return lines.begin <= region.end && region.begin <= lines.end;
    });
}

/// A person's own text, as a result: its lines are those of the sides, or by hand.
std::shared_ptr<const CheckedResult> humanResult(const CheckedFile& file, const std::string& human)
{
    auto result = std::make_shared<CheckedResult>();
    result->text = shared(human);
    result->origins =
        originsOfLines(human, {*file.base, *file.ours, *file.theirs}, LineOrigin::hand);
    return result;
}

bool isTextual(const nlohmann::json& line, const char* key)
{
    return line.contains(key) && line[key].is_string();
}
}  // namespace

namespace {
/// How long it takes to check all cases together, and again after one decision.
void measureTime()
{
    std::vector<CheckedFile> files;
    std::vector<std::shared_ptr<const CheckedResult>> results;
    std::size_t bytes = 0;
    std::string text;
    while (std::getline(std::cin, text)) {
        const auto line = nlohmann::json::parse(text, nullptr, false);
        if (isTextual(line, "base") && isTextual(line, "ours") && isTextual(line, "theirs")) {
            auto joined = joinedForChecking(line["id"], line["base"], line["ours"], line["theirs"]);
            bytes += joined.result->text->size();
            files.push_back(std::move(joined.file));
            results.push_back(std::move(joined.result));
        }
    }
    TreeChecker checker(files);
    const auto time = [&](const char* what) {
        const auto begin = std::chrono::steady_clock::now();
        const auto report = checker.check(results);
        const auto ms = std::chrono::duration_cast<std::chrono::milliseconds>(
            std::chrono::steady_clock::now() - begin);
        std::printf("%s: %lld ms, %zu findings, %zu files of %zu bytes\n",
                    what,
                    static_cast<long long>(ms.count()),
                    report.findings.size(),
                    files.size(),
                    bytes);
    };
    time("all files");
    for (const std::size_t changed : {std::size_t{0}, files.size() / 2}) {
        results[changed] = std::make_shared<CheckedResult>(*results[changed]);
        time("one decision");
    }
}
}  // namespace

namespace {
/// Tells what is found where one commit of a repository is joined into another without a question.
int tellOfBranches(const char* folder, const char* ours, const char* theirs)
{
    auto place = GitPlace::open(folder);
    if (!place) {
        return 2;
    }
    const auto oursId = (*place)->resolveCommit(ours);
    const auto theirsId = (*place)->resolveCommit(theirs);
    auto forecast =
        oursId && theirsId ? forecastJoin(**place, *oursId, *theirsId) : Result<Forecast>(Error{});
    if (!forecast || !forecast->isClean()) {
        std::printf("not clean\n");
        return 1;
    }
    const auto shared = std::make_shared<const Forecast>(std::move(*forecast));
    const auto files = readCheckedFiles(**place, shared->join);
    if (!files) {
        return 2;
    }
    const Splice splice({"id", "ref", "ours", "theirs", *oursId, *theirsId}, shared);
    const CheckReport report = TreeChecker(*files, Told::all).check(resultsOf(splice, *files));
    std::printf("%zu files\n", files->size());
    for (const Finding& finding : report.findings) {
        std::printf("%s %s:%u %s -> %s\n",
                    std::string(nameOf(finding.kind)).c_str(),
                    finding.path.c_str(),
                    finding.lines.begin + 1,
                    finding.name.c_str(),
                    finding.other.c_str());
    }
    return 0;
}
}  // namespace

int main(int argc, char** argv)
{
    if (argc > 4 && std::string_view(argv[1]) == "--branches") {
        return tellOfBranches(argv[2], argv[3], argv[4]);
    }
    if (argc > 1 && std::string_view(argv[1]) == "--time") {
        measureTime();
        return 0;
    }
    const bool tells = argc > 1 && std::string_view(argv[1]) == "--tell";
    std::array<Tally, static_cast<std::size_t>(kLastFindingKind) + 1> tallies;
    int files = 0;
    int clean = 0;
    int stretches = 0;
    int changedStretches = 0;
    std::string text;
    while (std::getline(std::cin, text)) {
        const auto line = nlohmann::json::parse(text, nullptr, false);
        if (!isTextual(line, "base") || !isTextual(line, "ours") || !isTextual(line, "theirs")
            || !isTextual(line, "human")) {
            continue;
        }
        const std::string human = line["human"];
        const CheckedTexts joined =
            joinedForChecking(line["path"], line["base"], line["ours"], line["theirs"]);
        ++files;
        clean += joined.result->regions.empty() ? 1 : 0;
        TreeChecker checker({joined.file}, Told::all);
        const CheckReport report = checker.check({joined.result});
        const auto partners = lineUp(human, *joined.result->text);
        // What a finding must do better than: any stretch that one side brought.
        for (LineNumber at = 0; at < partners.size(); ++at) {
            const LineOrigin origin = joined.result->origins[at];
            const bool begins = at == 0 || joined.result->origins[at - 1] != origin;
            if (origin != LineOrigin::base && begins && !isInRegion(*joined.result, {at, at + 1})) {
                ++stretches;
                changedStretches += partners[at] == kNoLine ? 1 : 0;
            }
        }
        for (const Finding& finding : report.findings) {
            Tally& tally = tallies[static_cast<std::size_t>(finding.kind)];
            bool isChanged = false;
            for (LineNumber at = finding.lines.begin; at < finding.lines.end; ++at) {
                isChanged = isChanged || partners[at] == kNoLine;
            }
            const bool isOutside = !isInRegion(*joined.result, finding.lines);
            ++tally.joined;
            tally.changed += isChanged ? 1 : 0;
            tally.outside += isOutside ? 1 : 0;
            tally.outsideChanged += isOutside && isChanged ? 1 : 0;
            if (tells) {
                std::printf("%s %s:%u %s '%s' -> '%s' %s\n",
                            line["id"].dump().c_str(),
                            finding.path.c_str(),
                            finding.lines.begin + 1,
                            std::string(nameOf(finding.kind)).c_str(),
                            finding.name.c_str(),
                            finding.other.c_str(),
                            isChanged ? "changed" : "kept");
            }
        }
        for (const Finding& finding : checker.check({humanResult(joined.file, human)}).findings) {
            ++tallies[static_cast<std::size_t>(finding.kind)].shipped;
        }
    }
    std::printf(
        "%d files, %d joined without a region; of %d stretches outside of regions that a side "
        "brought, the person has %d otherwise\n",
        files,
        clean,
        stretches,
        changedStretches);
    std::printf(
        "%-18s %8s %8s %8s %8s %8s\n", "kind", "found", "changed", "outside", "changed", "shipped");
    for (std::size_t i = 0; i < tallies.size(); ++i) {
        const Tally& tally = tallies[i];
        std::printf("%-18s %8d %8d %8d %8d %8d\n",
                    std::string(nameOf(static_cast<FindingKind>(i))).c_str(),
                    tally.joined,
                    tally.changed,
                    tally.outside,
                    tally.outsideChanged,
                    tally.shipped);
    }
    return 0;
}
