// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/line_origin.h"
#include "core/merge/region_reading.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// A line that base, ours or theirs has at a region. Lines that several have stand once.
struct OfferedLine
{
    std::string_view text;  ///< With its end. A view into the region's texts.
    bool inBase = false;
    bool inOurs = false;
    bool inTheirs = false;
    std::size_t part = 0;
    std::vector<WordMark> words;  ///< Where it was made of the line of the base above it.

    [[nodiscard]] bool isAgreed() const { return inBase && inOurs && inTheirs; }
    [[nodiscard]] LineOrigin origin() const;
};

/// Lines [begin, end) of the column, up to and with lines on which all three agree.
struct LinePart
{
    std::size_t begin = 0;
    std::size_t end = 0;
};

enum class PartChoice { ours, theirs, bothOursFirst, bothTheirsFirst, base };

/// All lines of a region in their common order, and which of them are taken, in what order. A value but
/// for the texts, which must outlive it. One thread.
class LineChoice
{
public:
    LineChoice() = default;
    explicit LineChoice(const RegionTexts& texts);

    [[nodiscard]] const std::vector<OfferedLine>& lines() const { return m_lines; }
    [[nodiscard]] const std::vector<LinePart>& parts() const { return m_parts; }

    [[nodiscard]] bool isTaken(std::size_t line) const { return placeOf(line).has_value(); }
    /// A line's number in the outcome, from 0; nothing if it is left.
    [[nodiscard]] std::optional<std::size_t> placeOf(std::size_t line) const;
    [[nodiscard]] std::size_t takenCount() const { return m_order.size(); }
    /// Takes a line, behind those that stand before it in the column; or leaves it.
    void toggle(std::size_t line);
    /// Moves a taken line one place down (1) or up (-1) in the outcome; false at its ends.
    bool move(std::size_t line, int direction);

    void choose(std::size_t part, PartChoice choice);
    /// The choice that gives what is taken of a part; nothing if it was picked by line.
    [[nodiscard]] std::optional<PartChoice> choiceOf(std::size_t part) const;
    /// Sets the marks as a text has them: its lines are looked for in the column, in order.
    void setTo(std::string_view text);

    /// The outcome, and one origin for each of its lines.
    [[nodiscard]] std::string text() const;
    [[nodiscard]] std::vector<LineOrigin> origins() const;

    friend bool operator==(const LineChoice& a, const LineChoice& b)
    {
        return a.m_order == b.m_order;
    }

private:
    [[nodiscard]] std::vector<std::size_t> linesOf(std::size_t part, PartChoice choice) const;
    [[nodiscard]] std::vector<std::size_t> takenOf(std::size_t part) const;

    std::vector<OfferedLine> m_lines;
    std::vector<LinePart> m_parts;
    std::vector<std::size_t> m_order;                   ///< Taken lines as they follow each other.
    std::vector<std::optional<std::size_t>> m_placeOf;  ///< By line: the inverse of m_order.
    std::string m_lineEnd;
    void rebuildPlaces();
};
}  // namespace rope
