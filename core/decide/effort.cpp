// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_effort.cpp.
#include "core/decide/effort.h"

#include "core/merge/file_signs.h"

#include <algorithm>

namespace rope {
namespace {
/// Candidates of larger regions take too long for a forecast.
constexpr std::size_t kMostRegionBytes = 200'000;

bool keepsAllEdits(const Candidate& candidate)
{
    return std::none_of(
        candidate.consequences.begin(), candidate.consequences.end(), [](const auto& consequence) {
            return consequence.isLoss() || consequence.isWarning();
        });
}

std::optional<FirstCandidate> firstOf(const SpliceFile& file,
                                      std::size_t region,
                                      const FileSigns& signs,
                                      const std::stop_token& stop)
{
    const RegionTexts texts = file.text->join().regionTexts(region);
    if (texts.ours.size() + texts.theirs.size() + texts.base.size() > kMostRegionBytes) {
        return std::nullopt;
    }
    auto candidates = candidatesFor(texts, file.text->habits(), {}, stop);
    if (stop.stop_requested() || candidates.empty()) {
        return std::nullopt;
    }
    addFileConsequences(candidates, file.text->join(), region, signs);
    putSafeFirst(candidates, texts, file.text->habits());
    Candidate& best = candidates.front();
    FirstCandidate first;
    first.region = region;
    first.kind = best.kind;
    first.keepsAllEdits = keepsAllEdits(best);
    first.text = std::move(best.text);
    return first;
}

void count(Effort& effort, const std::optional<FirstCandidate>& first)
{
    (!first                                      ? effort.yours
     : first->kind == CandidateKind::greater     ? effort.greater
     : first->keepsAllEdits                      ? effort.keepingAll
                                                 : effort.yours) += 1;
}
}  // namespace

std::optional<Effort> effortOf(const Leg& join, const std::stop_token& stop)
{
    if (join->regionCount() > kMostRegionsOfEffort) {
        return std::nullopt;
    }
    const DecidedJoin decided({join});
    Effort effort;
    for (const SpliceFile& file : decided.files()) {
        effort.yours += file.outcome->question ? 1U : 0U;
        const std::size_t regions = file.text ? file.text->join().regionCount() : 0;
        if (regions == 0) {
            continue;
        }
        const FileSigns signs = signsOf(file.text->join());
        for (std::size_t region = 0; region < regions; ++region) {
            auto first = firstOf(file, region, signs, stop);
            if (stop.stop_requested()) {
                return std::nullopt;
            }
            count(effort, first);
            if (first) {
                first->file = static_cast<std::size_t>(file.outcome - join->files.data());
                effort.regions.push_back(std::move(*first));
            }
        }
    }
    return effort;
}
}  // namespace rope
