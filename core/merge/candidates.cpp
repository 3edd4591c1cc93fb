// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/candidates.h"

#include "core/diff/diff_tokens.h"
#include "core/merge/adoption.h"
#include "core/merge/candidate_order.h"
#include "core/merge/hunk_overlap.h"
#include "core/merge/line_splice.h"
#include "core/merge/touching_splice.h"
#include "core/merge/word_splice.h"
#include "core/text/words.h"

#include <algorithm>
#include <array>
#include <optional>
#include <set>

namespace rope {
namespace {
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

/// Both pieces, one behind the other. What both began or ended with stands around the region once, so that
/// between them it is put in again: each piece is as its side wrote it.
std::string bothInTurn(std::string_view first, std::string_view second, const RegionTexts& texts)
{
    if (!texts.base.empty() || first.empty() || second.empty()) {
        return inTurn(first, second, lineEndOf(texts));
    }
    const std::string_view lineEnd = lineEndOf(texts);
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
    const std::string_view lineEnd = lineEndOf(texts);
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
    return inTurn(text, texts.ours, lineEndOf(texts));
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

/// What is lost with edits of a side: what it wrote, or where it only removed something.
struct LossKinds
{
    ConsequenceKind written;
    ConsequenceKind removed;
};

void addLoss(LossKinds kinds, const EditCount& lost, std::vector<Consequence>& signs)
{
    if (lost.edits == 0) {
        return;
    }
    if (lost.written > 0 || lost.removed == 0) {
        signs.push_back({kinds.written, std::max(lost.written, 1), lost.word});
    } else {
        signs.push_back({kinds.removed, lost.removed, {}});
    }
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
    const auto dropOurs = [&](const EditCount& lost) {
        addLoss({ConsequenceKind::dropsOurs, ConsequenceKind::undoesOursRemoval}, lost, signs);
        return lost.edits > 0;
    };
    const auto dropTheirs = [&](const EditCount& lost) {
        addLoss({ConsequenceKind::dropsTheirs, ConsequenceKind::undoesTheirsRemoval}, lost, signs);
        return lost.edits > 0;
    };
    switch (kind) {
    case CandidateKind::ours:
        if (dropTheirs(editsOf(texts.base, texts.theirs)) && adoptionOfNames(texts).byOurs) {
            signs.push_back({ConsequenceKind::oursHasIt, 0, {}});
        }
        break;
    case CandidateKind::theirs:
        if (dropOurs(editsOf(texts.base, texts.ours)) && adoptionOfNames(texts).byTheirs) {
            signs.push_back({ConsequenceKind::theirsHasIt, 0, {}});
        }
        break;
    case CandidateKind::base:
    case CandidateKind::neither:
        (void)dropOurs(editsOf(texts.base, texts.ours));
        (void)dropTheirs(editsOf(texts.base, texts.theirs));
        break;
    case CandidateKind::rewrite:  // the same edits, with other names in them
        signs.push_back({ConsequenceKind::keepsBothEdits, 0, {}});
        break;
    default:
        (void)dropOurs(lostEdits(texts.base, texts.ours, texts.theirs, result));
        (void)dropTheirs(lostEdits(texts.base, texts.theirs, texts.ours, result));
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

}  // namespace

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

namespace {
bool needsSafeFirst(const CandidateView& first, const RegionTexts& texts, const FileHabits& file)
{
    return !mayDrop(first.kind(), first.text(), texts, file)
           && losesAnEdit(consequencesOf(first.kind(), first.text(), texts));
}
}  // namespace

void putSafeFirst(std::vector<Candidate>& candidates,
                  const RegionTexts& texts,
                  const FileHabits& file)
{
    std::sort(candidates.begin(), candidates.end(), [](const Candidate& a, const Candidate& b) {
        return a.rank < b.rank;
    });
    if (candidates.empty() || !losesAnEdit(candidates.front().consequences)
        || mayDrop(candidates.front().kind, candidates.front().text, texts, file)) {
        return;
    }
    std::stable_sort(
        candidates.begin(), candidates.end(), [&texts](const Candidate& a, const Candidate& b) {
            return groupOf(a.text, a.consequences, texts) < groupOf(b.text, b.consequences, texts);
        });
}

std::vector<CandidateView> candidateViews(const RegionTexts& texts,
                                          const FileHabits& file,
                                          const std::optional<std::string>& earlier,
                                          const std::stop_token& stop,
                                          std::size_t most)
{
    auto views = TextOffer(texts, file, most).all(earlier, stop);
    if (views.empty() || !needsSafeFirst(views.front(), texts, file)) {
        return views;
    }
    if (most <= views.size()) {  // of those that were left out, one may be safe
        views = TextOffer(texts, file, ~std::size_t{0}).all(earlier, stop);
    }
    std::vector<int> groups;
    groups.reserve(views.size());
    for (const CandidateView& view : views) {
        groups.push_back(
            groupOf(view.text(), consequencesOf(view.kind(), view.text(), texts), texts));
    }
    std::vector<CandidateView> ordered;
    for (const int group : {0, 1, 2}) {
        for (CandidateView& view : views) {
            if (groups[static_cast<std::size_t>(&view - views.data())] == group
                && ordered.size() < most) {
                ordered.push_back(std::move(view));
            }
        }
    }
    return ordered;
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
    for (CandidateView& offered : TextOffer(texts, file, ~std::size_t{0}).all(earlier, stop)) {
        Candidate candidate;
        candidate.kind = offered.kind();
        candidate.origins = originsOfLines(offered.text(), texts, LineOrigin::both);
        candidate.consequences = consequencesOf(offered.kind(), offered.text(), texts);
        candidate.text = offered.takeText();
        candidate.rank = candidates.size();
        candidates.push_back(std::move(candidate));
    }
    putSafeFirst(candidates, texts, file);
    return candidates;
}
}  // namespace rope
