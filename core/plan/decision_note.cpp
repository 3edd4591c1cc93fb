// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_decision_note.cpp.
#include "core/plan/decision_note.h"

#include "core/base/digest.h"
#include "core/text/text.h"

namespace rope {
namespace {
int lineCount(std::string_view text)
{
    return static_cast<int>(splitLines(text).size());
}

void addRegions(const Splice& splice, std::size_t file, std::vector<NotedDecision>& decisions)
{
    const SplicedText& text = *splice.files()[file].text;
    int line = 1;
    for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
        if (text.isRegion(slot)) {
            decisions.push_back({splice.files()[file].outcome->path,
                                 line,
                                 text.join().regionKey(text.regionOf(slot)),
                                 text.state(slot).choice,
                                 digestOfDecided(text.text(slot)),
                                 splice.reason({file, slot})});
        }
        line += lineCount(text.text(slot));
    }
}
}  // namespace

std::vector<NotedDecision> notedDecisions(const Splice& splice, std::size_t leg)
{
    std::vector<NotedDecision> decisions;
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const SpliceFile& file = splice.files()[i];
        if (file.leg != leg) {
            continue;
        }
        if (file.outcome->question) {
            decisions.push_back({file.outcome->path,
                                 0,
                                 {},
                                 file.answer.choice,
                                 {},
                                 splice.reason({i, SlotPlace::kQuestion})});
        }
        if (file.text) {
            addRegions(splice, i, decisions);
        }
    }
    return decisions;
}

std::string digestOfDecided(std::string_view text)
{
    return digestOfParts({text});
}

namespace {
/// Whether both tell of one place. Equal regions of a file follow each other in the same order.
bool isSamePlace(const NotedDecision& noted, const ReadDecision& read)
{
    return noted.path == read.path && (noted.line == 0) == (read.line == 0)
           && noted.region == read.key;
}

NoteRemark remarkOn(const NotedDecision& noted, const ReadDecision& read)
{
    const bool isAsNoted =
        read.line == 0 ? noted.choice == read.choice : noted.digest == digestOfDecided(read.text);
    return {noted.reason, isAsNoted ? std::nullopt : std::optional(noted.choice)};
}
}  // namespace

NoteComparison compareNote(const std::vector<NotedDecision>& note,
                           const std::vector<ReadDecision>& read)
{
    NoteComparison comparison;
    comparison.remarks.resize(read.size());
    std::size_t next = 0;  // most come in the same order
    for (const NotedDecision& noted : note) {
        std::size_t tried = 0;
        const auto at = [&] {
            return (next + tried) % read.size();
        };
        while (tried < read.size()
               && (comparison.remarks[at()] || !isSamePlace(noted, read[at()]))) {
            ++tried;
        }
        if (tried == read.size()) {
            comparison.gone.push_back(noted);
            continue;
        }
        comparison.remarks[at()] = remarkOn(noted, read[at()]);
        next = at() + 1;
    }
    return comparison;
}
}  // namespace rope
