// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string_view>

namespace rope {
/// How a candidate came about. All that is told of a kind stands in one table: candidate_kind.cpp.
enum class CandidateKind {
    wordSplice,  ///< Both sides' edits joined word by word.
    ours,
    theirs,
    oursTheirs,  ///< All of ours, then all of theirs.
    theirsOurs,
    unionOfLines,  ///< The lines of both in one order, shared ones once.
    greater,       ///< The sides differ in one number alone: the greater one.
    base,
    neither,            ///< Nothing at all.
    lineSplice,         ///< Changed lines of both side by side, where they only touch.
    blindSplice,        ///< As lineSplice, where lines that differ in blanks alone are the same.
    rewrite,            ///< As a splice, theirs' rewritten names carried into our lines.
    movedEdit,          ///< Theirs, our edits made where theirs has moved the words to.
    list,               ///< Theirs, then ours, with the comma that makes them one list.
    earlierDecision,    ///< What was written for such a place in an earlier splice.
    pickedLines,        ///< Lines picked from the sides one by one.
    touchingSplice,     ///< Both sides' edits side by side, even where they touch.
    touchingOursFirst,  ///< The same, with our words first where both put some in at one place.
};
inline constexpr CandidateKind kLastCandidateKind = CandidateKind::touchingOursFirst;

/// Whose text a candidate is.
enum class Composition {
    oneText,   ///< A side's, the base's, or none.
    composed,  ///< Put together from both sides.
};

/// The kind's name: part of the command line's JSON, and stored in the journal.
[[nodiscard]] std::string_view nameOf(CandidateKind kind);
/// The kind of that name, or nothing.
[[nodiscard]] std::optional<CandidateKind> candidateKindNamed(std::string_view name);
/// What the kind is called for people, in English, beginning with a capital letter: in lists and, in
/// lower case, in commit messages.
[[nodiscard]] const char* labelInEnglish(CandidateKind kind);
[[nodiscard]] Composition compositionOf(CandidateKind kind);
/// Whether its text cannot be made again from the sides: it is what was stored.
[[nodiscard]] bool isKeptAsText(CandidateKind kind);
}  // namespace rope
