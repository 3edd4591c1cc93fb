// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/consequences.h"
#include "core/merge/line_origin.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// How a candidate came about. The names (nameOf) are part of the command line's JSON.
enum class CandidateKind {
    wordSplice,  ///< Both sides' edits joined word by word.
    ours,
    theirs,
    oursTheirs,  ///< All of ours, then all of theirs.
    theirsOurs,
    unionOfLines,  ///< The lines of both in one order, shared ones once.
    greater,       ///< The sides differ in one number alone: the greater one.
    base,
    neither,  ///< Nothing at all.
};

[[nodiscard]] std::string_view nameOf(CandidateKind kind);
/// The kind of that name, or nothing.
[[nodiscard]] std::optional<CandidateKind> candidateKindNamed(std::string_view name);

/// One complete outcome for a region.
struct Candidate
{
    CandidateKind kind = CandidateKind::ours;
    std::string text;
    std::vector<LineOrigin> origins;        ///< One for each line of `text`.
    std::vector<Consequence> consequences;  ///< What taking it would mean, warnings last.
};

/// Returns the outcomes worth offering for a region, best first; no two with the same text.
/// Ours, theirs, base and nothing at all are always among them.
/// The order follows what people chose in such situations, see docs/candidates.md.
[[nodiscard]] std::vector<Candidate> candidatesFor(const RegionTexts& texts);

/// Returns the text one kind of candidate gives, or nothing where that kind does not apply.
[[nodiscard]] std::optional<std::string> candidateText(CandidateKind kind,
                                                       const RegionTexts& texts);
}  // namespace rope
