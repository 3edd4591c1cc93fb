// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/candidates.h"

#include "core/diff/diff_tokens.h"
#include "core/diff/word_diff.h"
#include "core/merge/adoption.h"
#include "core/merge/line_splice.h"
#include "core/merge/touching_splice.h"
#include "core/merge/word_splice.h"
#include "core/text/words.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <optional>
#include <set>

namespace rope {
namespace {
/// Of a larger region nobody reads a text composed of both sides.
constexpr std::size_t kMostComposedBytes = 8'000'000;

// From these shares on (docs/candidates.md) theirs counts as having adopted what ours did.
constexpr double kAdopted = 0.25;        // of the lines that ours added in the file
constexpr double kBarelyAdopted = 0.10;  // at most so many: of its own
constexpr double kRemovedInFile = 0.5;   // of those that it removed in the file
constexpr double kRemovedAlike = 0.9;    // of those that it removed in the region

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

/// Both pieces, one behind the other. What both began or ended with stands around the region once, so that
/// between them it is put in again: each piece is as its side wrote it.
std::string bothInTurn(std::string_view first, std::string_view second, const RegionTexts& texts)
{
    if (!texts.base.empty() || first.empty() || second.empty()) {
        return inTurn(first, second, lineEndIn(texts));
    }
    const std::string_view lineEnd = lineEndIn(texts);
    std::string text(first);
    appendLines(text, texts.sharedBehind, lineEnd);
    appendLines(text, texts.sharedBefore, lineEnd);
    appendLines(text, second, lineEnd);
    return text;
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

/// What is composed word by word.
std::optional<std::string> composedText(CandidateKind kind, const RegionWords& words)
{
    if (kind == CandidateKind::wordSplice) {
        return spliceWords(words);
    }
    if (kind == CandidateKind::lineSplice || kind == CandidateKind::blindSplice) {
        return spliceLines(words,
                           kind == CandidateKind::lineSplice ? Blanks::count : Blanks::ignore);
    }
    if (kind == CandidateKind::movedEdit) {
        return movedEditText(words);
    }
    auto touching = spliceTouching(words);
    return !touching                               ? std::nullopt
           : kind == CandidateKind::touchingSplice ? std::optional(std::move(touching->text))
                                                   : std::move(touching->oursFirst);
}

/// Numbers with dots in them, such as versions.
std::set<std::string_view> dottedNumbers(std::string_view text)
{
    std::set<std::string_view> numbers;
    const auto isPart = [](char c) {
        return (c >= '0' && c <= '9') || c == '.';
    };
    for (std::size_t from = 0; from < text.size();) {
        std::size_t end = from;
        while (end < text.size() && isPart(text[end])) {
            ++end;
        }
        const std::string_view run = text.substr(from, end - from);
        const bool hasDigit = run.find_first_not_of('.') != std::string_view::npos;
        if (hasDigit && run.find('.') != std::string_view::npos) {
            numbers.insert(run);
        }
        from = std::max(end, from + 1);
    }
    return numbers;
}

/// Whether a text holds a version that nobody wrote, put together from parts of several.
bool hasMadeUpNumber(std::string_view text, const RegionTexts& texts)
{
    std::set<std::string_view> known = dottedNumbers(texts.base);
    known.merge(dottedNumbers(texts.ours));
    known.merge(dottedNumbers(texts.theirs));
    const auto numbers = dottedNumbers(text);
    return std::any_of(numbers.begin(), numbers.end(), [&known](std::string_view number) {
        return !known.contains(number);
    });
}

bool isByWords(CandidateKind kind)
{
    constexpr std::array kByWords{CandidateKind::wordSplice,
                                  CandidateKind::lineSplice,
                                  CandidateKind::blindSplice,
                                  CandidateKind::movedEdit,
                                  CandidateKind::touchingSplice,
                                  CandidateKind::touchingOursFirst};
    return std::find(kByWords.begin(), kByWords.end(), kind) != kByWords.end();
}

std::vector<Consequence>
consequencesOf(CandidateKind kind, std::string_view result, const RegionTexts& texts)
{
    std::vector<Consequence> signs;
    // Wherever it came from, what is a side's own text drops what the other did.
    kind = result == texts.ours     ? CandidateKind::ours
           : result == texts.theirs ? CandidateKind::theirs
           : result == texts.base   ? CandidateKind::base
                                    : kind;
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

/// The order to offer in. Where nothing tells whose text people take, `isUndecided`.
struct Ranking
{
    std::vector<CandidateKind> kinds;
    bool isUndecided = false;
};

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
candidateText(CandidateKind kind, const RegionTexts& texts, const FileHabits& file)
{
    switch (kind) {
    case CandidateKind::wordSplice:
    case CandidateKind::lineSplice:
    case CandidateKind::blindSplice:
    case CandidateKind::movedEdit:
    case CandidateKind::touchingSplice:
    case CandidateKind::touchingOursFirst:
        return isTooLargeForWords(texts) ? std::nullopt : composedText(kind, RegionWords(texts));
    case CandidateKind::ours:
        return std::string(texts.ours);
    case CandidateKind::theirs:
        return std::string(texts.theirs);
    case CandidateKind::oursTheirs:
        return bothInTurn(texts.ours, texts.theirs, texts);
    case CandidateKind::theirsOurs:
        return bothInTurn(texts.theirs, texts.ours, texts);
    case CandidateKind::unionOfLines:
        return unionText(texts);
    case CandidateKind::greater:
        return greaterText(texts);
    case CandidateKind::base:
        return std::string(texts.base);
    case CandidateKind::neither:
        return std::string();
    case CandidateKind::rewrite:
        if (auto rewritten = rewrittenText(texts, file.rewrites)) {
            return std::move(rewritten->text);
        }
        return std::nullopt;
    case CandidateKind::list:
        return listText(texts);
    case CandidateKind::earlierDecision:
    case CandidateKind::pickedLines:
        break;
    }
    return std::nullopt;
}

namespace {
/// The texts worth offering, in the order of a ranking.
class TextOffer
{
public:
    TextOffer(const RegionTexts& texts, const FileHabits& file, std::size_t most)
        : m_texts(texts)
        , m_file(file)
        , m_most(most)
    {
    }

    std::vector<CandidateView> all(const std::optional<std::string>& earlier,
                                   const std::stop_token& stop)
    {
        offer(CandidateKind::earlierDecision, earlier);
        const std::size_t earlierOnes = m_offered.size();
        const Ranking ranking = rankingOf(m_texts, m_file.adoption);
        bool areTouchingOffered = false;
        for (const CandidateKind kind : ranking.kinds) {
            if (stop.stop_requested() || isEnough()) {
                break;
            }
            offerKind(kind);
            // Where edits touch, both sides' may be wanted side by side: never first.
            const bool isPlace = ranking.isUndecided && !m_hasStrictSplice
                                     ? kind == CandidateKind::theirs
                                     : m_offered.size() >= earlierOnes + 2;
            if (isPlace && !areTouchingOffered) {
                areTouchingOffered = true;
                offerTouching();
            }
        }
        return std::move(m_offered);
    }

private:
    [[nodiscard]] bool isEnough() const { return m_offered.size() >= m_most; }

    void offerKind(CandidateKind kind)
    {
        if (const auto own = ownText(kind)) {
            add({kind, *own});
            return;
        }
        if (isByWords(kind)) {
            offerByWords(kind);
            return;
        }
        if (kind != CandidateKind::rewrite) {
            offer(kind, candidateText(kind, m_texts, m_file));
            return;
        }
        m_rewritten = rewrittenText(m_texts, m_file.rewrites);
        if (m_rewritten && !m_rewritten->hasTouching) {
            offer(kind, m_rewritten->text);
        }
    }

    void offerTouching()
    {
        if (!m_rewritten) {
            m_rewritten = rewrittenText(m_texts, m_file.rewrites);
        }
        if (m_rewritten && m_rewritten->hasTouching) {
            offer(CandidateKind::rewrite, m_rewritten->text);
        }
        offerByWords(CandidateKind::touchingSplice);
        offerByWords(CandidateKind::touchingOursFirst);
    }

    void offerByWords(CandidateKind kind)
    {
        if (isTooLargeForWords(m_texts)) {
            return;
        }
        if (!m_words) {
            m_words.emplace(m_texts);
        }
        if (auto text = composedText(kind, *m_words); text && !hasMadeUpNumber(*text, m_texts)) {
            offer(kind, std::move(text));
        }
    }

    /// Of the kinds that are a side's text as it stands.
    [[nodiscard]] std::optional<std::string_view> ownText(CandidateKind kind) const
    {
        switch (kind) {
        case CandidateKind::ours:
            return m_texts.ours;
        case CandidateKind::theirs:
            return m_texts.theirs;
        case CandidateKind::base:
            return m_texts.base;
        default:
            return std::nullopt;
        }
    }

    void offer(CandidateKind kind, std::optional<std::string> text)
    {
        if (!text) {
            return;
        }
        m_hasStrictSplice = m_hasStrictSplice || kind == CandidateKind::wordSplice
                            || kind == CandidateKind::lineSplice;
        add({kind, std::move(*text)});
    }

    /// Equal texts are offered once.
    void add(CandidateView offered)
    {
        if (!isEnough()
            && std::none_of(m_offered.begin(), m_offered.end(), [&](const CandidateView& other) {
                   return other.text() == offered.text();
               })) {
            m_offered.push_back(std::move(offered));
        }
    }

    const RegionTexts& m_texts;
    const FileHabits& m_file;
    std::size_t m_most;
    std::optional<RegionWords> m_words;  ///< Made where something is composed of them.
    std::optional<RewrittenText> m_rewritten;
    bool m_hasStrictSplice = false;
    std::vector<CandidateView> m_offered;
};
}  // namespace

std::vector<CandidateView> candidateViews(const RegionTexts& texts,
                                          const FileHabits& file,
                                          const std::optional<std::string>& earlier,
                                          const std::stop_token& stop,
                                          std::size_t most)
{
    return TextOffer(texts, file, most).all(earlier, stop);
}

std::vector<CandidateText> candidateTexts(const RegionTexts& texts,
                                          const FileHabits& file,
                                          const std::optional<std::string>& earlier,
                                          const std::stop_token& stop,
                                          std::size_t most)
{
    std::vector<CandidateText> candidates;
    for (CandidateView& offered : candidateViews(texts, file, earlier, stop, most)) {
        candidates.push_back({offered.kind(), offered.takeText()});
    }
    return candidates;
}

std::vector<Candidate> candidatesFor(const RegionTexts& texts,
                                     const FileHabits& file,
                                     const std::optional<std::string>& earlier,
                                     const std::stop_token& stop)
{
    std::vector<Candidate> candidates;
    for (CandidateText& offered : candidateTexts(texts, file, earlier, stop)) {
        Candidate candidate;
        candidate.kind = offered.kind;
        candidate.origins = originsOfLines(offered.text, texts, LineOrigin::both);
        candidate.consequences = consequencesOf(offered.kind, offered.text, texts);
        candidate.text = std::move(offered.text);
        candidates.push_back(std::move(candidate));
    }
    return candidates;
}
}  // namespace rope
