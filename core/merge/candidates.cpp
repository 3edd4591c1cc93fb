// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/candidates.h"

#include "core/diff/diff_tokens.h"
#include "core/diff/word_diff.h"
#include "core/merge/adoption.h"
#include "core/merge/line_splice.h"
#include "core/merge/word_splice.h"
#include "core/text/words.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <optional>

namespace rope {
namespace {
/// Of a larger region nobody reads a text composed of both sides.
constexpr std::size_t kMostComposedBytes = 8'000'000;

/// Adds to a text, with a line end before where its last line has none.
void appendLines(std::string& text, std::string_view more, std::string_view lineEnd)
{
    if (!text.empty() && !more.empty() && !text.ends_with('\n')) {
        text += lineEnd;
    }
    text.append(more);
}

std::string inTurn(std::string_view first, std::string_view second, std::string_view lineEnd)
{
    std::string text(first);
    appendLines(text, second, lineEnd);
    return text;
}

std::string_view lineEndIn(const RegionTexts& texts)
{
    return texts.ours.find("\r\n") != std::string_view::npos ? "\r\n" : "\n";
}

/// All lines of both in one order: what they share once, then at each place theirs before ours.
std::optional<std::string> unionText(const RegionTexts& texts)
{
    const auto ours = splitLines(texts.ours);
    const auto theirs = splitLines(texts.theirs);
    LineInterner interner(ours.size() + theirs.size());
    const auto oursIds = interner.internAll(ours);
    const auto theirsIds = interner.internAll(theirs);
    const auto hunks = diffTokens(oursIds, theirsIds, interner.idCount(), DiffMethod::myers);
    const std::string_view lineEnd = lineEndIn(texts);
    std::string text;
    LineNumber at = 0;
    for (const Hunk& hunk : *hunks) {
        for (; at < hunk.before.begin; ++at) {
            text += ours[at];
        }
        for (LineNumber i = hunk.after.begin; i < hunk.after.end; ++i) {
            appendLines(text, theirs[i], lineEnd);
        }
        for (; at < hunk.before.end; ++at) {
            appendLines(text, ours[at], lineEnd);
        }
    }
    for (; at < ours.size(); ++at) {
        appendLines(text, ours[at], lineEnd);
    }
    return text;
}

bool isNumber(std::string_view word)
{
    return !word.empty() && word.size() <= 18
           && std::all_of(word.begin(), word.end(), [](char c) { return c >= '0' && c <= '9'; });
}

long long numberIn(std::string_view word)
{
    long long value = 0;
    std::from_chars(word.data(), word.data() + word.size(), value);
    return value;
}

/// Where the sides differ in numbers alone: the first two of these, which decide. So 2.10 is later than
/// 2.9, and a later date is greater whatever follows.
struct DecidingNumbers
{
    std::string_view ours;
    std::string_view theirs;
    [[nodiscard]] bool isOursGreater() const { return numberIn(ours) > numberIn(theirs); }
};

std::optional<DecidingNumbers> decidingNumbers(const RegionTexts& texts)
{
    const auto ours = splitWords(texts.ours);
    const auto theirs = splitWords(texts.theirs);
    if (ours.size() != theirs.size()) {
        return std::nullopt;
    }
    std::optional<DecidingNumbers> deciding;
    for (std::size_t i = 0; i < ours.size(); ++i) {
        if (ours[i] == theirs[i]) {
            continue;
        }
        if (!isNumber(ours[i]) || !isNumber(theirs[i])) {
            return std::nullopt;
        }
        if (!deciding) {
            deciding = {ours[i], theirs[i]};
        }
    }
    return deciding;
}

std::optional<std::string> greaterText(const RegionTexts& texts)
{
    const auto deciding = decidingNumbers(texts);
    if (!deciding) {
        return std::nullopt;
    }
    return std::string(deciding->isOursGreater() ? texts.ours : texts.theirs);
}

/// Theirs' items and ours as one list: where all lines but the last of each end in a comma, so must
/// the line between. Nothing where that is not so.
std::optional<std::string> listText(const RegionTexts& texts)
{
    std::size_t inner = 0;
    for (const std::string_view side : {texts.theirs, texts.ours}) {
        const auto lines = splitLines(side);
        for (std::size_t i = 0; i < lines.size(); ++i) {
            const std::size_t end = lines[i].find_last_not_of(" \t\r\n");
            const bool hasComma = end != std::string_view::npos && lines[i][end] == ',';
            if (end == std::string_view::npos || hasComma == (i + 1 == lines.size())) {
                return std::nullopt;
            }
            inner += hasComma ? 1 : 0;
        }
        if (lines.empty()) {
            return std::nullopt;
        }
    }
    if (inner == 0) {
        return std::nullopt;
    }
    std::string text(texts.theirs);
    text.insert(text.find_last_not_of(" \t\r\n") + 1, ",");
    return inTurn(text, texts.ours, lineEndIn(texts));
}

std::vector<Consequence>
consequencesOf(CandidateKind kind, std::string_view result, const RegionTexts& texts)
{
    std::vector<Consequence> signs;
    const int oursEdits = countEdits(texts.base, texts.ours);
    const int theirsEdits = countEdits(texts.base, texts.theirs);
    const auto drop = [&](ConsequenceKind what, int edits) {
        if (edits > 0) {
            signs.push_back({what, edits, {}});
        }
    };
    switch (kind) {
    case CandidateKind::ours:
        drop(ConsequenceKind::dropsTheirs, theirsEdits);
        break;
    case CandidateKind::theirs:
        drop(ConsequenceKind::dropsOurs, oursEdits);
        break;
    case CandidateKind::greater:
        drop(result == texts.ours ? ConsequenceKind::dropsTheirs : ConsequenceKind::dropsOurs,
             result == texts.ours ? theirsEdits : oursEdits);
        break;
    case CandidateKind::base:
    case CandidateKind::neither:
        drop(ConsequenceKind::dropsOurs, oursEdits);
        drop(ConsequenceKind::dropsTheirs, theirsEdits);
        break;
    default:
        drop(ConsequenceKind::dropsOurs, lostEdits(texts.base, texts.ours, texts.theirs, result));
        drop(ConsequenceKind::dropsTheirs, lostEdits(texts.base, texts.theirs, texts.ours, result));
        if (signs.empty()) {
            signs.push_back({ConsequenceKind::keepsBothEdits, 0, {}});
        }
        break;
    }
    if (compositionOf(kind) == Composition::composed) {
        const auto fromText = textConsequences(result, texts);
        signs.insert(signs.end(), fromText.begin(), fromText.end());
    }
    std::stable_partition(
        signs.begin(), signs.end(), [](const Consequence& c) { return !c.isWarning(); });
    return signs;
}

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

/// The order to offer in, by what the two sides did; see docs/candidates.md for the measurement.
std::vector<CandidateKind> rankedKinds(const RegionTexts& texts)
{
    using enum CandidateKind;
    if (texts.base.size() + texts.ours.size() + texts.theirs.size() > kMostComposedBytes) {
        return {theirs, ours, base, neither};
    }
    const std::vector<CandidateKind> rest{wordSplice,
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
                                          neither};
    const auto startingWith = [&rest](std::vector<CandidateKind> kinds) {
        for (const CandidateKind kind : rest) {
            if (std::find(kinds.begin(), kinds.end(), kind) == kinds.end()) {
                kinds.push_back(kind);
            }
        }
        return kinds;
    };
    if (texts.base.empty()) {
        return adoptionIn(texts).byTheirs
                   ? startingWith({theirs, list, theirsOurs, oursTheirs, ours})
                   : startingWith({list, theirsOurs, oursTheirs, theirs, ours});
    }
    if (differsInBlanksOnly(texts.ours, texts.base)) {
        return startingWith({theirs, blindSplice, ours});
    }
    if (differsInBlanksOnly(texts.theirs, texts.base)) {
        return startingWith({blindSplice, ours, theirs});
    }
    const Adoption adoption = adoptionIn(texts);
    if (hasShrunk(texts.theirs, texts.ours, texts.base)
        || (adoption.byTheirs && !hasShrunk(texts.ours, texts.theirs, texts.base))) {
        return startingWith({theirs});
    }
    if (hasShrunk(texts.ours, texts.theirs, texts.base)) {
        return startingWith({ours, theirs});
    }
    if (adoption.byOurs) {
        return startingWith({greater, ours, theirs, rewrite});
    }
    return startingWith({greater, rewrite, wordSplice, lineSplice, theirs, ours});
}
}  // namespace

std::string decidingNumber(const RegionTexts& texts)
{
    const auto deciding = decidingNumbers(texts);
    return !deciding                   ? std::string()
           : deciding->isOursGreater() ? std::string(deciding->ours)
                                       : std::string(deciding->theirs);
}

std::vector<Consequence> consequencesOfText(std::string_view text, const RegionTexts& texts)
{
    return consequencesOf(CandidateKind::earlierDecision, text, texts);
}

std::optional<std::string>
candidateText(CandidateKind kind, const RegionTexts& texts, const Rewrites& rewrites)
{
    switch (kind) {
    case CandidateKind::wordSplice:
        return spliceWords(texts);
    case CandidateKind::ours:
        return std::string(texts.ours);
    case CandidateKind::theirs:
        return std::string(texts.theirs);
    case CandidateKind::oursTheirs:
        return inTurn(texts.ours, texts.theirs, lineEndIn(texts));
    case CandidateKind::theirsOurs:
        return inTurn(texts.theirs, texts.ours, lineEndIn(texts));
    case CandidateKind::unionOfLines:
        return unionText(texts);
    case CandidateKind::greater:
        return greaterText(texts);
    case CandidateKind::base:
        return std::string(texts.base);
    case CandidateKind::neither:
        return std::string();
    case CandidateKind::lineSplice:
        return spliceLines(texts, Blanks::count);
    case CandidateKind::blindSplice:
        return spliceLines(texts, Blanks::ignore);
    case CandidateKind::rewrite:
        return rewrittenText(texts, rewrites);
    case CandidateKind::movedEdit:
        return movedEditText(texts);
    case CandidateKind::list:
        return listText(texts);
    case CandidateKind::earlierDecision:
    case CandidateKind::pickedLines:
        break;
    }
    return std::nullopt;
}

std::vector<Candidate> candidatesFor(const RegionTexts& texts,
                                     const Rewrites& rewrites,
                                     const std::optional<std::string>& earlier,
                                     const std::stop_token& stop)
{
    std::vector<Candidate> candidates;
    const auto offer = [&](CandidateKind kind, std::optional<std::string> text) {
        const auto hasText = [&](const Candidate& other) {
            return other.text == *text;
        };
        if (!text || std::any_of(candidates.begin(), candidates.end(), hasText)) {
            return;
        }
        Candidate candidate;
        candidate.kind = kind;
        candidate.origins = originsOfLines(*text, texts, LineOrigin::both);
        candidate.consequences = consequencesOf(kind, *text, texts);
        candidate.text = std::move(*text);
        candidates.push_back(std::move(candidate));
    };
    offer(CandidateKind::earlierDecision, earlier);
    for (const CandidateKind kind : rankedKinds(texts)) {
        if (stop.stop_requested()) {
            break;
        }
        offer(kind, candidateText(kind, texts, rewrites));
    }
    return candidates;
}
}  // namespace rope
