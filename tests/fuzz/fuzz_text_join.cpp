// SPDX-License-Identifier: GPL-3.0-or-later
// The promises of a text join: identity, symmetry, nothing lost, markers where they are said to be.
#include "core/merge/marked_text.h"
#include "core/merge/text_join.h"
#include "tests/fuzz/three_versions.h"

using namespace rope;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto [base, ours, theirs] = fuzz::threeVersions(data, size);
    const TextJoin join = joinTexts(base, ours, theirs).value();
    const TextJoin swapped = joinTexts(base, theirs, ours).value();
    fuzz::require(join.regionCount() == swapped.regionCount(), "swapping the sides keeps regions");
    if (join.isClean()) {
        const auto bytes = join.encoded(join.cleanText());
        fuzz::require(bytes == swapped.encoded(swapped.cleanText()), "swapping keeps the result");
        if (ours == base) {
            fuzz::require(bytes == theirs, "an unchanged side gives the other");
        }
        if (ours == theirs) {
            fuzz::require(bytes == ours, "the same change gives that change");
        }
    } else {
        fuzz::require(ours != base && theirs != base && ours != theirs, "no region without need");
    }
    LineNumber line = 0;
    for (const Chunk& chunk : join.chunks()) {
        fuzz::require(chunk.base.begin == line, "chunks follow each other");
        line = chunk.base.end;
    }
    fuzz::require(line == join.base().lineCount(), "chunks cover the base");
    const MarkedText marked = markedText(join);
    const auto lines = splitLines(marked.text);
    for (const LineNumber region : marked.regionLines) {
        fuzz::require(lines[region].starts_with("<<<<<<<"), "a marker stands where it is said");
    }
    (void)clashText(join, {.length = 9});
    (void)unionText(join);
    return 0;
}
