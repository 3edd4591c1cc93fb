// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_touching_splice.cpp.
#include "core/merge/touching_splice.h"

#include "core/diff/diff_tokens.h"
#include "core/merge/two_hunk_lists.h"

#include <algorithm>
#include <functional>

namespace rope {
namespace {
using Pieces = std::vector<std::string_view>;

std::string_view bytesOfPieces(const Pieces& pieces, LineRange range)
{
    if (range.begin == range.end) {
        return {};
    }
    const char* const first = pieces[range.begin].data();
    const std::string_view last = pieces[range.end - 1];
    return {first, static_cast<std::size_t>(last.data() + last.size() - first)};
}

bool overlapsAny(LineRange range, const std::vector<Hunk>& hunks)
{
    return std::any_of(
        hunks.begin(), hunks.end(), [&](const Hunk& hunk) { return overlap(range, hunk.before); });
}

LineRange shifted(LineRange range, std::int64_t by)
{
    return {static_cast<LineNumber>(range.begin + by), static_cast<LineNumber>(range.end + by)};
}

/// Moves what only puts in, or only removes, off the other side's hunks, as far as its own text stays what
/// it is: the shortest way first. It stays between its neighbours.
class Slider
{
public:
    Slider(Tokens base, Tokens side, std::vector<Hunk>& hunks, const std::vector<Hunk>& others)
        : m_base(base)
        , m_side(side)
        , m_hunks(hunks)
        , m_others(others)
    {
    }

    void slideAll()
    {
        for (std::size_t i = 0; i < m_hunks.size(); ++i) {
            const bool isPlain = m_hunks[i].before.isEmpty() || m_hunks[i].after.isEmpty();
            if (isPlain && overlapsAny(m_hunks[i].before, m_others)) {
                slide(i);
            }
        }
    }

private:
    [[nodiscard]] bool canGoOn(std::size_t index, const Hunk& hunk) const
    {
        const auto end = index + 1 < m_hunks.size() ? m_hunks[index + 1].before.begin
                                                    : static_cast<LineNumber>(m_base.size());
        if (hunk.before.end >= end) {
            return false;
        }
        const TokenId next = m_base[hunk.before.end];
        return hunk.after.isEmpty() ? m_base[hunk.before.begin] == next
                                    : m_side[hunk.after.begin] == next;
    }
    [[nodiscard]] bool canGoBack(std::size_t index, const Hunk& hunk) const
    {
        const LineNumber begin = index > 0 ? m_hunks[index - 1].before.end : 0;
        if (hunk.before.begin <= begin) {
            return false;
        }
        const TokenId previous = m_base[hunk.before.begin - 1];
        return hunk.after.isEmpty() ? m_base[hunk.before.end - 1] == previous
                                    : m_side[hunk.after.end - 1] == previous;
    }

    void slide(std::size_t index)
    {
        Hunk on = m_hunks[index];
        Hunk back = m_hunks[index];
        bool goesOn = true;
        bool goesBack = true;
        while (goesOn || goesBack) {
            goesOn = goesOn && canGoOn(index, on);
            if (goesOn) {
                on = {shifted(on.before, 1), shifted(on.after, 1)};
                if (!overlapsAny(on.before, m_others)) {
                    m_hunks[index] = on;
                    return;
                }
            }
            goesBack = goesBack && canGoBack(index, back);
            if (goesBack) {
                back = {shifted(back.before, -1), shifted(back.after, -1)};
                if (!overlapsAny(back.before, m_others)) {
                    m_hunks[index] = back;
                    return;
                }
            }
        }
    }

    Tokens m_base;
    Tokens m_side;
    std::vector<Hunk>& m_hunks;
    const std::vector<Hunk>& m_others;
};

/// What becomes of pieces that both sides claim; nothing: they clash.
using ClashJoin = std::function<std::optional<TouchingSplice>(const RegionTexts&)>;

/// Texts cut into lines or words, and where either side differs from the base.
struct Cut
{
    const Pieces& base;
    const Pieces& ours;
    const Pieces& theirs;
    std::vector<Hunk> oursHunks;
    std::vector<Hunk> theirsHunks;
};

/// Walks over the pieces of a base and takes both sides' hunks.
class Walk
{
public:
    /// `lineEnd`: put in where a piece that is not the last has none; empty: pieces are words.
    Walk(const Cut& cut, std::string_view lineEnd)
        : m_base(cut.base)
        , m_sides{&cut.ours, &cut.theirs}
        , m_hunks(cut.oursHunks, cut.theirsHunks)
        , m_lineEnd(lineEnd)
    {
    }

    std::optional<TouchingSplice> splice(const ClashJoin& clash)
    {
        while (!m_hunks.isAtEnd()) {
            if (!takeNext(clash)) {
                return std::nullopt;
            }
        }
        keepUntil(static_cast<LineNumber>(m_base.size()));
        return TouchingSplice{std::move(m_texts[1]),
                              m_hasTwoOrders ? std::optional(std::move(m_texts[0])) : std::nullopt};
    }

private:
    [[nodiscard]] std::string_view textOf(std::size_t side, LineRange range) const
    {
        return bytesOfPieces(*m_sides[side], range);
    }

    bool takeNext(const ClashJoin& clash)
    {
        const Hunk* const ours = m_hunks.ahead(0);
        const Hunk* const theirs = m_hunks.ahead(1);
        if (m_hunks.doOverlap()) {
            return takeOverlap(clash);
        }
        if (ours && theirs && ours->before == theirs->before) {
            takeBoth();  // both put in at one place: what both replace overlaps
            return true;
        }
        const bool isOursNext = !theirs || (ours && isBefore(*ours, *theirs));
        take(isOursNext ? 0 : 1);
        return true;
    }

    void takeBoth()
    {
        const std::string_view ours = textOf(0, m_hunks.ahead(0)->after);
        const std::string_view theirs = textOf(1, m_hunks.ahead(1)->after);
        keepUntil(m_hunks.ahead(0)->before.begin);
        if (ours == theirs) {
            append(ours, ours);
        } else {
            // Lines stand theirs first in either order: their place says less than that of words.
            const bool areLines = !m_lineEnd.empty();
            m_hasTwoOrders = m_hasTwoOrders || !areLines;
            append(areLines ? theirs : ours, theirs);
            append(areLines ? ours : theirs, ours);
        }
        m_hunks.skip(0);
        m_hunks.skip(1);
    }

    /// At one place, what is put in stands before what is replaced.
    static bool isBefore(const Hunk& one, const Hunk& other)
    {
        return one.before.begin != other.before.begin ? one.before.begin < other.before.begin
                                                      : one.before.isEmpty();
    }

    void take(std::size_t side)
    {
        const Hunk& hunk = *m_hunks.ahead(side);
        keepUntil(hunk.before.begin);
        append(textOf(side, hunk.after), textOf(side, hunk.after));
        m_at = std::max(m_at, hunk.before.end);
        m_hunks.skip(side);
    }

    /// Takes all hunks that overlap in one another.
    bool takeOverlap(const ClashJoin& clash)
    {
        keepUntil(std::min(m_hunks.ahead(0)->before.begin, m_hunks.ahead(1)->before.begin));
        const TwoHunkLists::Gathered all = m_hunks.gather();
        const std::string_view ours = textOf(0, all.side[0]);
        const std::string_view theirs = textOf(1, all.side[1]);
        m_at = all.base.end;
        if (ours == theirs) {
            append(ours, ours);
            return true;
        }
        const auto joined = clash({bytesOfPieces(m_base, all.base), ours, theirs});
        if (!joined) {
            return false;
        }
        m_hasTwoOrders = m_hasTwoOrders || joined->oursFirst;
        append(joined->oursFirst.value_or(joined->text), joined->text);
        return true;
    }

    void keepUntil(LineNumber end)
    {
        if (m_at < end) {
            append(bytesOfPieces(m_base, {m_at, end}), bytesOfPieces(m_base, {m_at, end}));
            m_at = end;
        }
    }

    void append(std::string_view withOursFirst, std::string_view withTheirsFirst)
    {
        const std::string_view pieces[] = {withOursFirst, withTheirsFirst};
        for (std::size_t order = 0; order < 2; ++order) {
            std::string& text = m_texts[order];
            const bool isCut = !text.empty() && !pieces[order].empty() && text.back() != '\n';
            if (!m_lineEnd.empty() && isCut) {
                text += m_lineEnd;
            }
            text += pieces[order];
        }
    }

    const Pieces& m_base;
    const Pieces* m_sides[2];
    TwoHunkLists m_hunks;
    std::string_view m_lineEnd;
    LineNumber m_at = 0;     ///< The next base piece.
    std::string m_texts[2];  ///< With ours first at one place, and with theirs.
    bool m_hasTwoOrders = false;
};

/// Moves both sides' hunks off each other's: theirs off ours as they are then.
void slideApart(Tokens base, Tokens ours, Tokens theirs, Cut& cut)
{
    Slider(base, ours, cut.oursHunks, cut.theirsHunks).slideAll();
    Slider(base, theirs, cut.theirsHunks, cut.oursHunks).slideAll();
}

std::optional<TouchingSplice> byWords(const RegionWords& words)
{
    Cut cut{words.base, words.ours, words.theirs, words.oursHunks, words.theirsHunks};
    slideApart(words.baseIds, words.oursIds, words.theirsIds, cut);
    return Walk(cut, {}).splice([](const RegionTexts&) { return std::optional<TouchingSplice>(); });
}
}  // namespace

std::optional<TouchingSplice> spliceTouching(const RegionWords& words)
{
    const RegionTexts& texts = words.texts;
    const Pieces base = splitLines(texts.base);
    const Pieces ours = splitLines(texts.ours);
    const Pieces theirs = splitLines(texts.theirs);
    LineInterner interner(base.size() + ours.size());
    const auto baseIds = interner.internAll(base);
    const auto oursIds = interner.internAll(ours);
    const auto theirsIds = interner.internAll(theirs);
    const auto differences = [&](const std::vector<TokenId>& side) {
        return diffTokens(baseIds, side, interner.idCount(), DiffMethod::myers).value();
    };
    Cut cut{base, ours, theirs, differences(oursIds), differences(theirsIds)};
    slideApart(baseIds, oursIds, theirsIds, cut);
    return Walk(cut, lineEndOf(texts)).splice([&](const RegionTexts& clash) {
        const bool isAll =
            clash.base == texts.base && clash.ours == texts.ours && clash.theirs == texts.theirs;
        return isAll ? byWords(words) : byWords(RegionWords(clash));
    });
}

std::optional<TouchingSplice> spliceTouching(const RegionTexts& texts)
{
    return isTooLargeForWords(texts) ? std::nullopt : spliceTouching(RegionWords(texts));
}
}  // namespace rope
