// SPDX-License-Identifier: GPL-3.0-or-later
// Candidates of every region: no text twice, one origin a line, the sides always among them.
#include "core/merge/candidates.h"
#include "tests/fuzz/three_versions.h"

#include <set>

using namespace rope;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto [base, ours, theirs] = fuzz::threeVersions(data, size);
    const TextJoin join = joinTexts(base, ours, theirs).value();
    const FileHabits habits = habitsOf(join);
    for (std::size_t i = 0; i < join.regionCount(); ++i) {
        const RegionTexts texts = join.regionTexts(i);
        std::set<std::string> seen;
        for (const Candidate& candidate : candidatesFor(texts, habits)) {
            fuzz::require(seen.insert(candidate.text).second, "no text is offered twice");
            fuzz::require(candidate.origins.size() == splitLines(candidate.text).size(),
                          "one origin for each line");
        }
        for (const std::string_view side : {texts.base, texts.ours, texts.theirs}) {
            fuzz::require(seen.contains(std::string(side)), "the sides are offered");
        }
    }
    return 0;
}
