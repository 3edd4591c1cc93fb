// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_trial.cpp.
#include "core/trial/output_text.h"

#include <array>
#include <charconv>

namespace rope {
namespace {
constexpr std::size_t kMostSequence = 64;
constexpr char kEscape = '\x1b';
constexpr char kBell = '\x07';

/// The sixteen colours, chosen to be told apart on a dark ground.
constexpr std::array<std::uint32_t, 16> kColours{0x7D8590,
                                                 0xF0857D,
                                                 0x86C98B,
                                                 0xE3B866,
                                                 0x82AEF2,
                                                 0xCE9AE0,
                                                 0x6FC7C4,
                                                 0xD5D2C8,
                                                 0x9AA2AC,
                                                 0xFFA39B,
                                                 0xA5E0AA,
                                                 0xF5D08A,
                                                 0xA6C8FF,
                                                 0xE3B8F2,
                                                 0x95E0DD,
                                                 0xFDFCF8};

/// Of the 256: sixteen, a cube of six steps, greys.
std::uint32_t indexedColour(unsigned index)
{
    if (index < kColours.size()) {
        return kColours[index];
    }
    if (index >= 232) {
        const std::uint32_t grey = 8 + 10 * (std::min(index, 255U) - 232);
        return grey << 16 | grey << 8 | grey;
    }
    const auto step = [](std::uint32_t level) {
        return level == 0 ? 0 : 55 + 40 * level;
    };
    const std::uint32_t cube = index - 16;
    return step(cube / 36) << 16 | step(cube / 6 % 6) << 8 | step(cube % 6);
}

std::vector<unsigned> numbersIn(std::string_view text)
{
    std::vector<unsigned> numbers;
    while (true) {
        const std::size_t size = std::min(text.find_first_of(";:"), text.size());
        unsigned number = 0;
        std::from_chars(text.data(), text.data() + size, number);
        numbers.push_back(number);
        if (size == text.size()) {
            return numbers;
        }
        text.remove_prefix(size + 1);
    }
}

/// Reads "5;N" or "2;R;G;B" behind a 38 or 48 at `at`, and moves `at` to its last number.
std::optional<std::uint32_t> extendedColour(const std::vector<unsigned>& numbers, std::size_t& at)
{
    const auto number = [&](std::size_t i) -> std::uint32_t {
        return at + i < numbers.size() ? std::min(numbers[at + i], 255U) : 0;
    };
    if (number(1) == 5) {
        const std::uint32_t colour = indexedColour(number(2));
        at += 2;
        return colour;
    }
    if (number(1) == 2) {
        const std::uint32_t colour = number(2) << 16 | number(3) << 8 | number(4);
        at += 4;
        return colour;
    }
    return std::nullopt;
}

void applyNumbers(const std::vector<unsigned>& numbers, OutputStyle& style)
{
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const unsigned number = numbers[i];
        if (number == 0) {
            style = {};
        } else if (number == 1) {
            style.isBold = true;
        } else if (number == 2) {
            style.isFaint = true;
        } else if (number == 3) {
            style.isItalic = true;
        } else if (number == 4) {
            style.isUnderlined = true;
        } else if (number == 22) {
            style.isBold = style.isFaint = false;
        } else if (number == 23) {
            style.isItalic = false;
        } else if (number == 24) {
            style.isUnderlined = false;
        } else if (number >= 30 && number <= 37) {
            style.ink = kColours[number - 30];
        } else if (number == 38) {
            style.ink = extendedColour(numbers, i);
        } else if (number == 39) {
            style.ink.reset();
        } else if (number >= 40 && number <= 47) {
            style.ground = kColours[number - 40];
        } else if (number == 48) {
            style.ground = extendedColour(numbers, i);
        } else if (number == 49) {
            style.ground.reset();
        } else if (number >= 90 && number <= 97) {
            style.ink = kColours[number - 90 + 8];
        } else if (number >= 100 && number <= 107) {
            style.ground = kColours[number - 100 + 8];
        }
    }
}
}  // namespace

std::string OutputLine::text() const
{
    std::string all;
    for (const OutputRun& run : runs) {
        all += run.text;
    }
    return all;
}

std::vector<OutputLine> OutputText::add(std::string_view bytes)
{
    std::vector<OutputLine> lines;
    m_lines = &lines;
    for (const char c : bytes) {
        take(c);
    }
    m_lines = nullptr;
    return lines;
}

void OutputText::take(char c)
{
    switch (m_in) {
    case In::text:
        put(c);
        return;
    case In::escape:
        m_sequence.clear();
        m_in = c == '['                                                   ? In::sequence
               : c == ']' || c == 'P' || c == '_' || c == '^' || c == 'X' ? In::string
                                                                          : In::text;
        return;
    case In::sequence:
        if (c >= '@' && c <= '~') {
            endSequence(c);
            m_in = In::text;
        } else if (m_sequence.size() < kMostSequence) {
            m_sequence += c;
        }
        return;
    case In::string:
        m_in = c == kBell ? In::text : c == kEscape ? In::stringEscape : In::string;
        return;
    case In::stringEscape:
        m_in = c == '\\' ? In::text : In::string;
        return;
    }
}

void OutputText::endSequence(char letter)
{
    const bool isPlain = m_sequence.find_first_not_of("0123456789;:") == std::string::npos;
    if (letter == 'm' && isPlain) {
        applyNumbers(numbersIn(m_sequence), m_style);
    } else if (letter == 'K' && m_sequence == "2") {
        m_line = {};
        m_size = 0;
    }
}

void OutputText::put(char c)
{
    if (c == kEscape) {
        m_in = In::escape;
        return;
    }
    if (c == '\r') {
        m_returns = true;
        return;
    }
    if (c == '\n' || m_size >= kMostLineBytes) {
        m_lines->push_back(std::move(m_line));
        m_line = {};
        m_size = 0;
        m_returns = false;
        if (c == '\n') {
            return;
        }
    }
    if (m_returns) {
        m_line = {};
        m_size = 0;
        m_returns = false;
    }
    const auto code = static_cast<unsigned char>(c);
    if ((code < ' ' && c != '\t') || code == 127) {
        return;
    }
    if (m_line.runs.empty() || m_line.runs.back().style != m_style) {
        m_line.runs.push_back({{}, m_style});
    }
    m_line.runs.back().text += c;
    ++m_size;
}
}  // namespace rope
