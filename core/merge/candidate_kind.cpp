// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/candidate_kind.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
struct KindRow
{
    CandidateKind kind;
    std::string_view name;
    const char* label;
    Composition composition;
};

using enum CandidateKind;
constexpr Composition kOne = Composition::oneText;
constexpr Composition kBoth = Composition::composed;

/// In the order of CandidateKind.
constexpr std::array kKinds{
    KindRow{wordSplice, "word-splice", "Both edits, word by word", kBoth},
    KindRow{ours, "ours", "Ours", kOne},
    KindRow{theirs, "theirs", "Theirs", kOne},
    KindRow{oursTheirs, "ours-theirs", "Ours, then theirs", kBoth},
    KindRow{theirsOurs, "theirs-ours", "Theirs, then ours", kBoth},
    KindRow{unionOfLines, "union", "The lines of both, each once", kBoth},
    KindRow{greater, "greater", "The greater number", kOne},
    KindRow{base, "base", "Base", kOne},
    KindRow{neither, "neither", "Remove these lines (drop both edits)", kOne},
    KindRow{lineSplice, "line-splice", "Both edits, line by line", kBoth},
    KindRow{blindSplice, "blind-splice", "Both edits, ignoring blanks", kBoth},
    KindRow{rewrite, "rewrite", "Both edits, with theirs' new names", kBoth},
    KindRow{movedEdit, "moved-edit", "Theirs, with our edit where theirs moved it", kBoth},
    KindRow{list, "list", "Both, as one list", kBoth},
    KindRow{earlierDecision, "earlier-decision", "As decided before", kBoth},
    KindRow{pickedLines, "picked-lines", "Own choice of lines", kBoth},
    KindRow{touchingSplice, "touching-splice", "Both edits, side by side", kBoth},
    KindRow{touchingOursFirst,
            "touching-splice-ours-first",
            "Both edits, side by side, ours first",
            kBoth},
};

const KindRow& rowOf(CandidateKind kind)
{
    return kKinds[static_cast<std::size_t>(kind)];
}
}  // namespace

std::string_view nameOf(CandidateKind kind)
{
    return rowOf(kind).name;
}

std::optional<CandidateKind> candidateKindNamed(std::string_view name)
{
    const auto found = std::find_if(
        kKinds.begin(), kKinds.end(), [name](const KindRow& row) { return row.name == name; });
    return found == kKinds.end() ? std::nullopt : std::optional(found->kind);
}

bool isKeptAsText(CandidateKind kind)
{
    return kind == CandidateKind::earlierDecision || kind == CandidateKind::pickedLines;
}

const char* labelInEnglish(CandidateKind kind)
{
    return rowOf(kind).label;
}

Composition compositionOf(CandidateKind kind)
{
    return rowOf(kind).composition;
}
}  // namespace rope
