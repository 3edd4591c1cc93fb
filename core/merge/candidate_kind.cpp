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
    KindRow{wordSplice, "word-splice", "Word splice", kBoth},
    KindRow{ours, "ours", "Ours", kOne},
    KindRow{theirs, "theirs", "Theirs", kOne},
    KindRow{oursTheirs, "ours-theirs", "Ours, then theirs", kBoth},
    KindRow{theirsOurs, "theirs-ours", "Theirs, then ours", kBoth},
    KindRow{unionOfLines, "union", "Lines of both, once", kBoth},
    KindRow{greater, "greater", "The greater value", kOne},
    KindRow{base, "base", "Base", kOne},
    KindRow{neither, "neither", "Neither", kOne},
    KindRow{lineSplice, "line-splice", "Line splice", kBoth},
    KindRow{blindSplice, "blind-splice", "Line splice, blanks aside", kBoth},
    KindRow{rewrite, "rewrite", "Splice with theirs' new names", kBoth},
    KindRow{movedEdit, "moved-edit", "Theirs, our edit moved along", kBoth},
    KindRow{list, "list", "Both as one list", kBoth},
    KindRow{earlierDecision, "earlier-decision", "As decided before", kBoth},
    KindRow{pickedLines, "picked-lines", "Own choice of lines", kBoth},
    KindRow{touchingSplice, "touching-splice", "Splice of touching edits", kBoth},
    KindRow{touchingOursFirst,
            "touching-splice-ours-first",
            "Splice of touching edits, ours first",
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
