// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/candidate_order.h"

#include "core/merge/adoption.h"

#include <algorithm>
#include <string>

namespace rope {
namespace {
/// Of a larger region nobody reads a text composed of both sides.
constexpr std::size_t kMostComposedBytes = 8'000'000;

// From these shares on (docs/candidates.md) theirs counts as having adopted what ours did.
constexpr double kAdopted = 0.25;        // of the lines that ours added in the file
constexpr double kBarelyAdopted = 0.10;  // at most so many: of its own
constexpr double kRemovedInFile = 0.5;   // of those that it removed in the file
constexpr double kRemovedAlike = 0.9;    // of those that it removed in the region
/// Up to this share of ours' new lines, nothing says that theirs has taken over ours' work (docs/candidates.md).
constexpr double kNotTakenOver = 0.05;

bool differsInBlanksOnly(std::string_view a, std::string_view b)
{
    const auto isBlank = [](char c) {
        return c == ' ' || c == '\t' || c == '\r' || c == '\n';
    };
    auto left = a.begin();
    auto right = b.begin();
    for (;;) {
        left = std::find_if_not(left, a.end(), isBlank);
        right = std::find_if_not(right, b.end(), isBlank);
        if (left == a.end() || right == b.end()) {
            return left == a.end() && right == b.end();
        }
        if (*left++ != *right++) {
            return false;
        }
    }
}

/// Whether a side removed most of what the other kept, in the main.
bool hasShrunk(std::string_view side, std::string_view other, std::string_view base)
{
    return side.size() * 100 <= base.size() * 35 && other.size() * 100 >= base.size() * 60;
}

bool isAtLeast(const std::optional<double>& share, double least)
{
    return share && *share >= least;
}

/// Whether theirs has only formatted the base: blanks and quotation marks.
bool isFormatted(std::string_view theirs, std::string_view base)
{
    const auto plain = [](std::string_view text) {
        std::string rest;
        std::copy_if(text.begin(), text.end(), std::back_inserter(rest), [](char c) {
            return std::string_view(" \t\r\n'\"`").find(c) == std::string_view::npos;
        });
        return rest;
    };
    return theirs != base && plain(theirs) == plain(base);
}

/// All kinds, as they follow those that come first.
std::vector<CandidateKind> kindsBehind(std::vector<CandidateKind> first, const RegionTexts& texts)
{
    using enum CandidateKind;
    for (const CandidateKind kind : {wordSplice,
                                     lineSplice,
                                     blindSplice,
                                     greater,
                                     rewrite,
                                     theirs,
                                     ours,
                                     movedEdit,
                                     list,
                                     theirsOurs,
                                     unionOfLines,
                                     oursTheirs,
                                     base,
                                     neither}) {
        // Two versions of the same lines side by side were never what people made of them.
        const bool hasTwoVersions =
            kind == theirsOurs || kind == oursTheirs || kind == unionOfLines;
        const bool isOffered = texts.base.empty() || !hasTwoVersions;
        if (isOffered && std::find(first.begin(), first.end(), kind) == first.end()) {
            first.push_back(kind);
        }
    }
    return first;
}

/// Where nothing stood in the base.
std::vector<CandidateKind> kindsOfAdditions(const RegionTexts& texts, const FileAdoption& adoption)
{
    using enum CandidateKind;
    const auto known = knownShare(texts, adoption);
    const bool isNewToTheirs =
        known && *known == 0 && (!adoption.added || *adoption.added <= kBarelyAdopted);
    if (adoptionIn(texts).byTheirs && !isNewToTheirs) {
        return {theirs, list, theirsOurs, oursTheirs, ours};
    }
    return isAtLeast(adoption.added, kAdopted)
               ? std::vector{theirs, list, theirsOurs, oursTheirs, ours}
               : std::vector{list, theirsOurs, oursTheirs, theirs, ours};
}

/// Whether what a side's own text drops was done by that side too, in the main.
bool hasOthersEdits(std::string_view text, const RegionTexts& texts)
{
    return (text == texts.ours && adoptionOfNames(texts).byOurs)
           || (text == texts.theirs && adoptionOfNames(texts).byTheirs);
}

/// Whether what a side's own text drops is how the other side has laid the text out.
bool isOnlyLayout(std::string_view text, const RegionTexts& texts)
{
    return (text == texts.theirs && differsInBlanksOnly(texts.ours, texts.base))
           || (text == texts.ours
               && (differsInBlanksOnly(texts.theirs, texts.base)
                   || isFormatted(texts.theirs, texts.base)));
}
}  // namespace

/// By what the two sides did; see docs/candidates.md for the measurement.
Ranking rankingOf(const RegionTexts& texts, const FileAdoption& file)
{
    using enum CandidateKind;
    const auto startingWith = [&texts](std::vector<CandidateKind> kinds) {
        return Ranking{kindsBehind(std::move(kinds), texts), false};
    };
    if (texts.base.size() + texts.ours.size() + texts.theirs.size() > kMostComposedBytes) {
        return {{theirs, ours, base, neither}, false};
    }
    if (texts.base.empty()) {
        return startingWith(kindsOfAdditions(texts, file));
    }
    if (differsInBlanksOnly(texts.ours, texts.base)) {
        return startingWith({theirs, blindSplice, ours});
    }
    if (differsInBlanksOnly(texts.theirs, texts.base)) {
        return startingWith({blindSplice, ours, theirs});
    }
    const Adoption region = adoptionIn(texts);
    const bool isOursShrunk = hasShrunk(texts.ours, texts.theirs, texts.base);
    if (hasShrunk(texts.theirs, texts.ours, texts.base)) {
        return startingWith({theirs});
    }
    if (isFormatted(texts.theirs, texts.base)) {
        return startingWith({ours, wordSplice, lineSplice, blindSplice, theirs});
    }
    if (isOursShrunk) {
        return isAtLeast(removedToo(texts), kRemovedAlike) ? startingWith({theirs, ours})
                                                           : startingWith({ours, theirs});
    }
    if (region.byTheirs) {
        return startingWith({theirs});
    }
    if (region.byOurs) {
        return isAtLeast(file.added, kAdopted) || isAtLeast(file.removed, kRemovedInFile)
                   ? startingWith({theirs, greater})
                   : startingWith({wordSplice, lineSplice, theirs, greater, ours, rewrite});
    }
    if (isAtLeast(file.added, kAdopted)) {
        return startingWith({theirs, greater, rewrite, wordSplice, lineSplice});
    }
    return {kindsBehind({greater, rewrite, wordSplice, lineSplice, theirs, ours}, texts), true};
}

bool losesAnEdit(const std::vector<Consequence>& consequences)
{
    return std::any_of(
        consequences.begin(), consequences.end(), [](const Consequence& c) { return c.isLoss(); });
}

/// Whether a candidate may stand first although it drops an edit. A rewritten text has the edits of both, with
/// other names in them.
bool mayDrop(CandidateKind kind,
             std::string_view text,
             const RegionTexts& texts,
             const FileHabits& file)
{
    return kind == CandidateKind::earlierDecision || kind == CandidateKind::rewrite
           || file.takenOver > kNotTakenOver || hasOthersEdits(text, texts)
           || isOnlyLayout(text, texts);
}

int groupOf(std::string_view text,
            const std::vector<Consequence>& consequences,
            const RegionTexts& texts)
{
    const bool hasWarning = std::any_of(consequences.begin(),
                                        consequences.end(),
                                        [](const Consequence& c) { return c.isWarning(); });
    if (hasWarning) {
        return 2;
    }
    return !losesAnEdit(consequences) ? 1 : hasOthersEdits(text, texts) ? 0 : 2;
}
}  // namespace rope
