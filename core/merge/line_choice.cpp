// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_line_choice.cpp.
#include "core/merge/line_choice.h"

#include "core/base/assert.h"
#include "core/diff/diff_tokens.h"

#include <algorithm>
#include <unordered_map>

namespace rope {
namespace {
/// How a side's lines hang on the base: what it added before each line of it (and at its end), and what it
/// made of each.
struct SideLines
{
    std::vector<std::vector<std::string_view>> addedBefore;
    std::vector<std::optional<MarkedLine>> madeOf;  ///< Kept or edited; nothing if it is gone.
    std::vector<std::string_view> lines;
};

SideLines sideLines(std::string_view base, std::string_view side)
{
    SideLines out;
    out.lines = splitLines(side);
    const std::size_t count = splitLines(base).size();
    out.addedBefore.resize(count + 1);
    out.madeOf.resize(count);
    std::size_t next = 0;
    for (MarkedLine& marked : markLines(base, side)) {
        switch (marked.kind) {
        case MarkedLine::Kind::added:
            out.addedBefore[next].push_back(out.lines[marked.line]);
            break;
        case MarkedLine::Kind::removed:
            next = marked.line + 1;
            break;
        case MarkedLine::Kind::kept:
        case MarkedLine::Kind::edited:
            next = marked.other + 1;
            out.madeOf[marked.other] = std::move(marked);
            break;
        }
    }
    return out;
}

OfferedLine offered(std::string_view text, bool inBase, bool inOurs, bool inTheirs)
{
    OfferedLine line;
    line.text = text;
    line.inBase = inBase;
    line.inOurs = inOurs;
    line.inTheirs = inTheirs;
    return line;
}

/// What both added at one place: shared lines once, else theirs before ours.
void appendAdded(const std::vector<std::string_view>& theirs,
                 const std::vector<std::string_view>& ours,
                 std::vector<OfferedLine>& column)
{
    LineInterner interner(theirs.size() + ours.size());
    const auto a = interner.internAll(theirs);
    const auto b = interner.internAll(ours);
    const auto hunks = diffTokens(a, b, interner.idCount());
    ROPE_ASSERT(hunks.hasValue(), "a diff without a stop token cannot be cancelled");
    LineNumber at = 0;
    const auto appendShared = [&](LineNumber end) {
        for (; at < end; ++at) {
            column.push_back(offered(theirs[at], false, true, true));
        }
    };
    for (const Hunk& hunk : *hunks) {
        appendShared(hunk.before.begin);
        for (; at < hunk.before.end; ++at) {
            column.push_back(offered(theirs[at], false, false, true));
        }
        for (LineNumber i = hunk.after.begin; i < hunk.after.end; ++i) {
            column.push_back(offered(ours[i], false, true, false));
        }
    }
    appendShared(static_cast<LineNumber>(theirs.size()));
}

/// A line of the base and what the sides made of it.
void appendBaseLine(std::string_view text,
                    const SideLines& theirs,
                    const SideLines& ours,
                    std::size_t number,
                    std::vector<OfferedLine>& column)
{
    const auto isKept = [](const std::optional<MarkedLine>& made) {
        return made && made->kind == MarkedLine::Kind::kept;
    };
    const auto& byTheirs = theirs.madeOf[number];
    const auto& byOurs = ours.madeOf[number];
    column.push_back(offered(text, true, isKept(byOurs), isKept(byTheirs)));
    if (byTheirs && !isKept(byTheirs)) {
        const std::string_view line = theirs.lines[byTheirs->line];
        const bool isShared = byOurs && ours.lines[byOurs->line] == line;
        column.push_back(offered(line, false, isShared, true));
        column.back().words = byTheirs->words;
        if (isShared) {
            return;
        }
    }
    if (byOurs && !isKept(byOurs)) {
        column.push_back(offered(ours.lines[byOurs->line], false, true, false));
        column.back().words = byOurs->words;
    }
}
}  // namespace

LineOrigin OfferedLine::origin() const
{
    return inBase               ? LineOrigin::base
           : inOurs && inTheirs ? LineOrigin::both
           : inOurs             ? LineOrigin::ours
                                : LineOrigin::theirs;
}

LineChoice::LineChoice(const RegionTexts& texts)
    : m_lineEnd(texts.ours.find("\r\n") != std::string_view::npos ? "\r\n" : "\n")
{
    const auto base = splitLines(texts.base);
    const SideLines theirs = sideLines(texts.base, texts.theirs);
    const SideLines ours = sideLines(texts.base, texts.ours);
    for (std::size_t i = 0; i <= base.size(); ++i) {
        appendAdded(theirs.addedBefore[i], ours.addedBefore[i], m_lines);
        if (i < base.size()) {
            appendBaseLine(base[i], theirs, ours, i, m_lines);
        }
    }
    for (std::size_t i = 0; i < m_lines.size(); ++i) {
        const bool beginsPart = i == 0 || (m_lines[i - 1].isAgreed() && !m_lines[i].isAgreed());
        if (beginsPart) {
            m_parts.push_back({i, i});
        }
        m_parts.back().end = i + 1;
        m_lines[i].part = m_parts.size() - 1;
    }
    m_placeOf.resize(m_lines.size());
}

void LineChoice::rebuildPlaces()
{
    std::fill(m_placeOf.begin(), m_placeOf.end(), std::nullopt);
    for (std::size_t place = 0; place < m_order.size(); ++place) {
        m_placeOf[m_order[place]] = place;
    }
}

std::optional<std::size_t> LineChoice::placeOf(std::size_t line) const
{
    return m_placeOf[line];
}

void LineChoice::toggle(std::size_t line)
{
    if (const auto place = placeOf(line)) {
        m_order.erase(m_order.begin() + static_cast<std::ptrdiff_t>(*place));
    } else {
        // Behind the nearest taken line above it.
        auto at = m_order.begin();
        for (std::size_t above = line; above-- > 0;) {
            if (const auto before = placeOf(above)) {
                at = m_order.begin() + static_cast<std::ptrdiff_t>(*before) + 1;
                break;
            }
        }
        m_order.insert(at, line);
    }
    rebuildPlaces();
}

bool LineChoice::move(std::size_t line, int direction)
{
    const auto place = placeOf(line);
    if (!place || (direction < 0 ? *place == 0 : *place + 1 >= m_order.size())) {
        return false;
    }
    std::swap(m_order[*place], m_order[direction < 0 ? *place - 1 : *place + 1]);
    rebuildPlaces();
    return true;
}

std::vector<std::size_t> LineChoice::linesOf(std::size_t part, PartChoice choice) const
{
    std::vector<std::size_t> taken;
    std::vector<std::size_t> later;  // of the side that comes second, up to the next shared line
    const LinePart& range = m_parts[part];
    for (std::size_t i = range.begin; i < range.end; ++i) {
        const OfferedLine& line = m_lines[i];
        switch (choice) {
        case PartChoice::ours:
            if (line.inOurs) {
                taken.push_back(i);
            }
            continue;
        case PartChoice::theirs:
            if (line.inTheirs) {
                taken.push_back(i);
            }
            continue;
        case PartChoice::base:
            if (line.inBase) {
                taken.push_back(i);
            }
            continue;
        case PartChoice::bothOursFirst:
        case PartChoice::bothTheirsFirst:
            break;
        }
        if (line.inOurs && line.inTheirs) {
            taken.insert(taken.end(), later.begin(), later.end());
            later.clear();
            taken.push_back(i);
        } else if (!line.inBase) {  // what one side changed or removed of the base is not of both
            const bool isFirst = line.inOurs == (choice == PartChoice::bothOursFirst);
            (isFirst ? taken : later).push_back(i);
        }
    }
    taken.insert(taken.end(), later.begin(), later.end());
    return taken;
}

std::vector<std::size_t> LineChoice::takenOf(std::size_t part) const
{
    std::vector<std::size_t> taken;
    std::copy_if(m_order.begin(), m_order.end(), std::back_inserter(taken), [&](std::size_t line) {
        return m_lines[line].part == part;
    });
    return taken;
}

void LineChoice::choose(std::size_t part, PartChoice choice)
{
    const auto wanted = linesOf(part, choice);
    // It stands where the part stood, else behind the parts before it.
    std::size_t at = m_order.size();
    for (std::size_t place = 0; place < m_order.size(); ++place) {
        if (m_lines[m_order[place]].part >= part) {
            at = place;
            break;
        }
    }
    const auto isOfPart = [&](std::size_t line) {
        return m_lines[line].part == part;
    };
    at -= static_cast<std::size_t>(std::count_if(
        m_order.begin(), m_order.begin() + static_cast<std::ptrdiff_t>(at), isOfPart));
    std::erase_if(m_order, isOfPart);
    m_order.insert(m_order.begin() + static_cast<std::ptrdiff_t>(at), wanted.begin(), wanted.end());
    rebuildPlaces();
}

std::optional<PartChoice> LineChoice::choiceOf(std::size_t part) const
{
    const auto taken = takenOf(part);
    for (const PartChoice choice : {PartChoice::ours,
                                    PartChoice::theirs,
                                    PartChoice::bothOursFirst,
                                    PartChoice::bothTheirsFirst,
                                    PartChoice::base}) {
        if (linesOf(part, choice) == taken) {
            return choice;
        }
    }
    return std::nullopt;
}

void LineChoice::setTo(std::string_view text)
{
    std::unordered_map<std::string_view, std::vector<std::size_t>> places;
    for (std::size_t i = m_lines.size(); i-- > 0;) {
        places[m_lines[i].text].push_back(i);  // the first one last
    }
    m_order.clear();
    for (const std::string_view line : splitLines(text)) {
        const auto found = places.find(line);
        if (found == places.end() || found->second.empty()) {
            continue;
        }
        // The next one further down, if there is one: equal lines keep their order.
        auto& left = found->second;
        const auto next = std::find_if(left.rbegin(), left.rend(), [this](std::size_t place) {
            return m_order.empty() || place > m_order.back();
        });
        const auto taken = next == left.rend() ? left.end() - 1 : std::prev(next.base());
        m_order.push_back(*taken);
        left.erase(taken);
    }
    rebuildPlaces();
}

std::string LineChoice::text() const
{
    std::string text;
    for (const std::size_t line : m_order) {
        if (!text.empty() && !text.ends_with('\n')) {
            text += m_lineEnd;
        }
        text += m_lines[line].text;
    }
    return text;
}

std::vector<LineOrigin> LineChoice::origins() const
{
    std::vector<LineOrigin> origins;
    std::transform(m_order.begin(),
                   m_order.end(),
                   std::back_inserter(origins),
                   [this](std::size_t line) { return m_lines[line].origin(); });
    return origins;
}
}  // namespace rope
