// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// How a stretch of output is to look, as its program wished (ECMA-48, "Select Graphic Rendition").
struct OutputStyle
{
    std::optional<std::uint32_t> ink;     ///< 0xRRGGBB
    std::optional<std::uint32_t> ground;  ///< 0xRRGGBB
    bool isBold = false;
    bool isFaint = false;
    bool isItalic = false;
    bool isUnderlined = false;
    friend bool operator==(const OutputStyle&, const OutputStyle&) = default;
};

/// A stretch of one line in one style.
struct OutputRun
{
    std::string text;  ///< Bytes, without control characters other than tabs.
    OutputStyle style;
};

/// A line of output.
struct OutputLine
{
    std::vector<OutputRun> runs;
    [[nodiscard]] std::string text() const;
};

/// Reads what a program says as text in lines. Colours and weights become styles; whatever else a
/// terminal would obey is left out; a carriage return begins its line anew, as progress does. It may be
/// given bytes in any portions. A line of more than kMostLineBytes is broken.
class OutputText
{
public:
    static constexpr std::size_t kMostLineBytes = 10'000;

    /// Takes more; gives the lines that are complete by it.
    std::vector<OutputLine> add(std::string_view bytes);
    /// What stands in the line that has not ended.
    [[nodiscard]] const OutputLine& unfinished() const { return m_line; }

private:
    enum class In {
        text,
        escape,    ///< Behind ESC.
        sequence,  ///< In "ESC [ … letter".
        string,    ///< In a text for the terminal itself: ends in BEL or ESC \.
        stringEscape,
    };
    void take(char c);
    void put(char c);
    void endSequence(char letter);

    In m_in = In::text;
    std::string m_sequence;
    bool m_returns = false;  ///< A carriage return came last.
    OutputStyle m_style;
    OutputLine m_line;
    std::size_t m_size = 0;
    std::vector<OutputLine>* m_lines = nullptr;  ///< Only while add() runs.
};
}  // namespace rope
