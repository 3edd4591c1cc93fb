// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QByteArray>
#include <QString>
#include <QtGlobal>

#include <random>
#include <string>
#include <vector>

namespace rope::test {
/// The seed of random tests: fixed, printed, and settable by ROPE_TEST_SEED.
inline unsigned randomSeed()
{
    static const unsigned kSeed = [] {
        const unsigned seed = qEnvironmentVariableIsSet("ROPE_TEST_SEED")
                                  ? qEnvironmentVariable("ROPE_TEST_SEED").toUInt()
                                  : 20261123U;
        qInfo("random seed %u", seed);
        return seed;
    }();
    return kSeed;
}

/// How many rounds a random test takes: so many, or what ROPE_TEST_ROUNDS says.
inline int roundsUnlessSaid(int rounds)
{
    return qEnvironmentVariableIsSet("ROPE_TEST_ROUNDS")
               ? qEnvironmentVariableIntValue("ROPE_TEST_ROUNDS")
               : rounds;
}

using Random = std::mt19937;

inline int below(Random& random, int limit)
{
    return std::uniform_int_distribution<int>(0, limit - 1)(random);
}

/// A text of up to `mostLines` lines over a small alphabet, so that lines repeat; sometimes without a last line end.
inline std::string randomText(Random& random, int mostLines, int alphabet)
{
    std::string text;
    for (int lines = below(random, mostLines + 1); lines > 0; --lines) {
        text += static_cast<char>('a' + below(random, alphabet));
        text += '\n';
    }
    if (!text.empty() && below(random, 8) == 0) {
        text.pop_back();
    }
    return text;
}

/// Numbered lines, all different.
inline std::string numberedText(int lines)
{
    std::string text;
    for (int i = 0; i < lines; ++i) {
        text += "line number " + std::to_string(i) + "\n";
    }
    return text;
}

/// The text after some edits: lines changed, removed, or put in. `mark` makes new lines one's own.
inline std::string
edited(Random& random, const std::string& text, int edits, const std::string& mark)
{
    std::vector<std::string> lines;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t end = text.find('\n', from);
        const std::size_t next = end == std::string::npos ? text.size() : end + 1;
        lines.push_back(text.substr(from, next - from));
        from = next;
    }
    for (int i = 0; i < edits; ++i) {
        const std::string fresh = mark + std::to_string(below(random, 1000)) + "\n";
        const auto at =
            static_cast<std::ptrdiff_t>(below(random, static_cast<int>(lines.size()) + 1));
        const int what = below(random, 3);
        if (what == 0 || at == static_cast<std::ptrdiff_t>(lines.size())) {
            lines.insert(lines.begin() + at, fresh);
        } else if (what == 1) {
            lines[static_cast<std::size_t>(at)] = fresh;
        } else {
            lines.erase(lines.begin() + at);
        }
    }
    std::string out;
    for (const std::string& line : lines) {
        out += line;
    }
    return out;
}
}  // namespace rope::test
