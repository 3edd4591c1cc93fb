// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/consequences.h"
#include "core/merge/line_origin.h"
#include "core/merge/rewrites.h"

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
    neither,      ///< Nothing at all.
    lineSplice,   ///< Changed lines of both side by side, where they only touch.
    blindSplice,  ///< As lineSplice, where lines that differ in blanks alone are the same.
    rewrite,      ///< As a splice, theirs' rewritten names carried into our lines.
    movedEdit,    ///< Theirs, our edits made where theirs has moved the words to.
    list,         ///< Theirs, then ours, with the comma that makes them one list.
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
/// Ours, theirs, base and nothing at all are always among them; of a region of over 8 MB only these.
/// The order follows what people chose in such situations, see docs/candidates.md.
/// `rewrites`: what theirs did all over the file (theirsRewrites()); without it, that kind is left out.
[[nodiscard]] std::vector<Candidate> candidatesFor(const RegionTexts& texts,
                                                   const Rewrites& rewrites = {});

/// Returns the text one kind of candidate gives, or nothing where that kind does not apply.
[[nodiscard]] std::optional<std::string>
candidateText(CandidateKind kind, const RegionTexts& texts, const Rewrites& rewrites = {});
}  // namespace rope
