// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_marked_lines.cpp.
#include "core/diff/marked_lines.h"

#include "core/base/assert.h"
#include "core/diff/diff_tokens.h"
#include "core/text/text.h"
#include "core/text/words.h"

#include <algorithm>
#include <optional>
#include <unordered_map>

namespace rope {
namespace {
constexpr std::size_t kMostPairs = 40'000;  // of one hunk: beyond it whole lines are told
constexpr std::size_t kMostWords = 400;     // of a line: beyond it the whole line is told
constexpr std::size_t kLeastRareWord = 3;   // letters: a shorter word says little by itself
constexpr std::string_view kBlanks = " \t\r\n";

using Words = std::vector<std::string_view>;
using Counts = std::unordered_map<std::string_view, int>;

bool isBlank(std::string_view word)
{
    return kBlanks.find(word[0]) != std::string_view::npos;
}

std::size_t lettersOf(std::string_view word)
{
    return isBlank(word) ? 0 : word.size();
}

std::size_t lettersOf(const Words& words, LineRange range)
{
    std::size_t letters = 0;
    for (LineNumber i = range.begin; i < range.end; ++i) {
        letters += lettersOf(words[i]);
    }
    return letters;
}

/// What lies between indent and line end, and where it begins.
struct Content
{
    std::size_t begin = 0;
    Words words;
    std::size_t letters = 0;
};

Content contentOf(std::string_view line)
{
    Content content;
    const std::size_t begin = line.find_first_not_of(kBlanks);
    if (begin == std::string_view::npos) {
        return content;
    }
    content.begin = begin;
    content.words = splitWords(line.substr(begin, line.find_last_not_of(kBlanks) + 1 - begin));
    content.letters = lettersOf(content.words, {0, static_cast<LineNumber>(content.words.size())});
    return content;
}

/// How often each word stands in some lines.
Counts countWords(const std::vector<Content>& lines)
{
    Counts counts;
    for (const Content& line : lines) {
        for (const std::string_view word : line.words) {
            ++counts[word];
        }
    }
    return counts;
}

/// The lines of one hunk, on both sides.
struct Stretch
{
    std::vector<Content> other;
    std::vector<Content> text;
    Counts inOther;
    Counts inText;

    [[nodiscard]] bool isRare(std::string_view word) const
    {
        return isName(word) && word.size() >= kLeastRareWord && inOther.at(word) == 1
               && inText.at(word) == 1;
    }
};

/// Whether words that two lines have in common belong together: two that follow each other, or a rare
/// one.
bool isRunKept(const Stretch& stretch, const Words& words, LineRange range)
{
    int said = 0;
    for (LineNumber i = range.begin; i < range.end; ++i) {
        if (isBlank(words[i])) {
            continue;
        }
        if (++said == 2 || stretch.isRare(words[i])) {
            return true;
        }
    }
    return false;
}

/// The places where one line differs from another. What is kept between two of them says enough by
/// itself; at the line's ends a single sign may stay.
std::vector<Hunk> wordHunks(const Stretch& stretch, const Words& other, const Words& text)
{
    LineInterner interner(other.size() + text.size());
    const auto a = interner.internAll(other);
    const auto b = interner.internAll(text);
    const auto hunks = diffTokens(a, b, interner.idCount(), DiffMethod::myers);
    ROPE_ASSERT(hunks.hasValue(), "a diff without a stop token cannot be cancelled");
    std::vector<Hunk> merged;
    for (const Hunk& hunk : *hunks) {
        if (merged.empty()
            || isRunKept(stretch, text, {merged.back().after.end, hunk.after.begin})) {
            merged.push_back(hunk);
        } else {
            merged.back().before.end = hunk.before.end;
            merged.back().after.end = hunk.after.end;
        }
    }
    return merged;
}

/// The share of letters that two lines have in common in runs that say something, from 0 to 1.
double shareKept(const Stretch& stretch,
                 const Content& other,
                 const Content& text,
                 const std::vector<Hunk>& hunks)
{
    std::size_t kept = 0;
    LineRange run;
    const auto addRun = [&](LineNumber end) {
        run.end = end;
        kept += isRunKept(stretch, text.words, run) ? lettersOf(text.words, run) : 0;
    };
    for (const Hunk& hunk : hunks) {
        addRun(hunk.after.begin);
        run.begin = hunk.after.end;
    }
    addRun(static_cast<LineNumber>(text.words.size()));
    return static_cast<double>(kept)
           / static_cast<double>(std::max<std::size_t>(1, std::max(other.letters, text.letters)));
}

/// No pair can have more in common than this: letters of words that both have, wherever they stand.
double mostShareKept(const Content& other, const Content& text)
{
    Counts counts;
    for (const std::string_view word : other.words) {
        ++counts[word];
    }
    std::size_t common = 0;
    for (const std::string_view word : text.words) {
        common += counts[word]-- > 0 ? lettersOf(word) : 0;
    }
    return static_cast<double>(common)
           / static_cast<double>(std::max<std::size_t>(1, std::max(other.letters, text.letters)));
}

constexpr double kMostlyKept = 0.5;

struct Pair
{
    std::size_t other = 0;
    std::size_t text = 0;
    double share = 0;
    std::vector<Hunk> hunks;
};

std::vector<Pair> likelyPairs(const Stretch& stretch)
{
    std::vector<Pair> pairs;
    for (std::size_t i = 0; i < stretch.other.size(); ++i) {
        for (std::size_t j = 0; j < stretch.text.size(); ++j) {
            const Content& a = stretch.other[i];
            const Content& b = stretch.text[j];
            if (a.words.empty() || b.words.empty() || a.words.size() > kMostWords
                || b.words.size() > kMostWords || mostShareKept(a, b) < kMostlyKept) {
                continue;
            }
            auto hunks = wordHunks(stretch, a.words, b.words);
            const double share = shareKept(stretch, a, b, hunks);
            if (share >= kMostlyKept) {
                pairs.push_back({i, j, share, std::move(hunks)});
            }
        }
    }
    return pairs;
}

/// Best match first; no two cross. In the order of the lines.
std::vector<Pair> pairUp(const Stretch& stretch)
{
    if (stretch.other.size() * stretch.text.size() > kMostPairs) {
        return {};
    }
    std::vector<Pair> likely = likelyPairs(stretch);
    std::stable_sort(likely.begin(), likely.end(), [](const Pair& a, const Pair& b) {
        return a.share > b.share;
    });
    std::vector<Pair> taken;
    for (Pair& pair : likely) {
        const bool fits = std::all_of(taken.begin(), taken.end(), [&](const Pair& other) {
            return (pair.other < other.other && pair.text < other.text)
                   || (pair.other > other.other && pair.text > other.text);
        });
        if (fits) {
            taken.push_back(std::move(pair));
        }
    }
    std::sort(
        taken.begin(), taken.end(), [](const Pair& a, const Pair& b) { return a.text < b.text; });
    return taken;
}

std::string joined(const Words& words, LineRange range)
{
    std::string text;
    for (LineNumber i = range.begin; i < range.end; ++i) {
        text += words[i];
    }
    return text;
}

std::vector<WordMark>
marksOf(const Content& other, const Content& text, const std::vector<Hunk>& hunks)
{
    std::vector<WordMark> marks;
    std::size_t at = text.begin;
    LineNumber word = 0;
    const auto goTo = [&](LineNumber end) {
        for (; word < end; ++word) {
            at += text.words[word].size();
        }
        return at;
    };
    for (const Hunk& hunk : hunks) {
        const std::size_t begin = goTo(hunk.after.begin);
        marks.push_back({begin, goTo(hunk.after.end), joined(other.words, hunk.before)});
    }
    return marks;
}

/// Appends what became of one hunk's lines.
void appendHunk(const std::vector<std::string_view>& otherLines,
                const std::vector<std::string_view>& lines,
                const Hunk& hunk,
                std::vector<MarkedLine>& marked)
{
    Stretch stretch;
    std::transform(otherLines.begin() + hunk.before.begin,
                   otherLines.begin() + hunk.before.end,
                   std::back_inserter(stretch.other),
                   contentOf);
    std::transform(lines.begin() + hunk.after.begin,
                   lines.begin() + hunk.after.end,
                   std::back_inserter(stretch.text),
                   contentOf);
    stretch.inOther = countWords(stretch.other);
    stretch.inText = countWords(stretch.text);
    LineNumber gone = hunk.before.begin;
    LineNumber next = hunk.after.begin;
    const auto appendUpTo = [&](LineNumber otherEnd, LineNumber end) {
        for (; gone < otherEnd; ++gone) {
            marked.push_back({MarkedLine::Kind::removed, gone, 0, {}});
        }
        for (; next < end; ++next) {
            marked.push_back({MarkedLine::Kind::added, next, 0, {}});
        }
    };
    for (const Pair& pair : pairUp(stretch)) {
        const auto other = hunk.before.begin + static_cast<LineNumber>(pair.other);
        const auto line = hunk.after.begin + static_cast<LineNumber>(pair.text);
        appendUpTo(other, line);
        marked.push_back({MarkedLine::Kind::edited,
                          line,
                          other,
                          marksOf(stretch.other[pair.other], stretch.text[pair.text], pair.hunks)});
        ++gone;
        ++next;
    }
    appendUpTo(hunk.before.end, hunk.after.end);
}
}  // namespace

std::vector<MarkedLine> markLines(std::string_view other, std::string_view text)
{
    const auto otherLines = splitLines(other);
    const auto lines = splitLines(text);
    LineInterner interner(otherLines.size() + lines.size());
    const auto a = interner.internAll(otherLines);
    const auto b = interner.internAll(lines);
    const auto hunks = diffTokens(a, b, interner.idCount());
    ROPE_ASSERT(hunks.hasValue(), "a diff without a stop token cannot be cancelled");
    std::vector<MarkedLine> marked;
    LineNumber inOther = 0;
    LineNumber inText = 0;
    const auto appendKept = [&](LineNumber end) {
        for (; inText < end; ++inText, ++inOther) {
            marked.push_back({MarkedLine::Kind::kept, inText, inOther, {}});
        }
    };
    for (const Hunk& hunk : *hunks) {
        appendKept(hunk.after.begin);
        appendHunk(otherLines, lines, hunk, marked);
        inText = hunk.after.end;
        inOther = hunk.before.end;
    }
    appendKept(static_cast<LineNumber>(lines.size()));
    return marked;
}
}  // namespace rope
