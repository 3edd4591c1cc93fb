// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/consequences.h"

#include "core/diff/marked_lines.h"
#include "core/diff/word_diff.h"
#include "core/text/text.h"
#include "core/text/words.h"

#include <algorithm>
#include <map>
#include <set>
#include <unordered_map>

namespace rope {
namespace {
/// How often each line that says something (has a name in it) stands in a text, indent aside.
std::map<std::string_view, int> countLines(std::string_view text)
{
    std::map<std::string_view, int> counts;
    for (const std::string_view line : splitLines(text)) {
        const std::string_view content = trimmed(line);
        const auto words = splitWords(content);
        if (std::any_of(words.begin(), words.end(), isName)) {
            ++counts[content];
        }
    }
    return counts;
}

bool opensBlock(std::string_view line)
{
    return line.ends_with(':') || line.ends_with('{');
}

int countIn(const std::map<std::string_view, int>& counts, std::string_view line)
{
    const auto found = counts.find(line);
    return found == counts.end() ? 0 : found->second;
}

std::size_t indentOf(std::string_view line)
{
    return std::min(line.find_first_not_of(" \t"), line.size());
}

/// Whether a line begins something else, so that what stands below it is of another block.
bool beginsBlock(std::string_view content)
{
    return content.empty() || opensBlock(content)
           || (content.starts_with('[') && content.ends_with(']'));
}

/// Whether a line stands twice within one block of a text: nothing between them is empty, begins a block
/// or is indented less.
bool standsTwiceInABlock(const std::vector<std::string_view>& lines, std::string_view wanted)
{
    const bool isHead = opensBlock(wanted);
    const std::string_view* last = nullptr;
    for (const std::string_view& line : lines) {
        const std::string_view content = trimmed(line);
        if (content == wanted) {
            if (last != nullptr && (!isHead || indentOf(*last) == indentOf(line))) {
                return true;
            }
            last = &line;
        } else if (last != nullptr && !isHead
                   && (beginsBlock(content) || indentOf(line) < indentOf(*last))) {
            last = nullptr;
        }
    }
    return false;
}

/// For each line of the base that a side edited: what it made of it.
std::map<LineNumber, std::string_view> editedLines(std::string_view base, std::string_view side)
{
    const auto lines = splitLines(side);
    std::map<LineNumber, std::string_view> edited;
    for (const MarkedLine& marked : markLines(base, side)) {
        if (marked.kind == MarkedLine::Kind::edited || marked.kind == MarkedLine::Kind::kept) {
            edited[marked.other] = trimmed(lines[marked.line]);
        }
    }
    return edited;
}
}  // namespace

int netBrackets(std::string_view text)
{
    int net = 0;
    for (const char c : text) {
        net += c == '(' || c == '[' || c == '{' ? 1 : 0;
        net -= c == ')' || c == ']' || c == '}' ? 1 : 0;
    }
    return net;
}

namespace {
constexpr std::size_t kMostBytes = 200'000;  // of a longer text nobody reads the lines

bool hasOddQuotes(std::string_view text)
{
    return std::count(text.begin(), text.end(), '"') % 2 != 0;
}

void appendRepeats(std::string_view result,
                   const std::map<std::string_view, int>& inResult,
                   const RegionTexts& texts,
                   std::vector<Consequence>& signs)
{
    const auto inOurs = countLines(texts.ours);
    const auto inTheirs = countLines(texts.theirs);
    const auto lines = splitLines(result);
    int repeated = 0;
    bool isBlock = false;
    for (const auto& [line, count] : inResult) {
        if (count == 2 && countIn(inOurs, line) == 1 && countIn(inTheirs, line) == 1
            && standsTwiceInABlock(lines, line)) {
            ++repeated;
            isBlock = isBlock || opensBlock(line);
        }
    }
    if (repeated > 0) {
        signs.push_back({isBlock ? ConsequenceKind::opensBlockTwice : ConsequenceKind::repeatsLines,
                         repeated,
                         {}});
    }
}

void appendVersions(const std::map<std::string_view, int>& inResult,
                    const RegionTexts& texts,
                    std::vector<Consequence>& signs)
{
    const auto ours = editedLines(texts.base, texts.ours);
    int versions = 0;
    bool isBlock = false;
    for (const auto& [number, theirs] : editedLines(texts.base, texts.theirs)) {
        const auto own = ours.find(number);
        if (own != ours.end() && own->second != theirs && countIn(inResult, own->second) > 0
            && countIn(inResult, theirs) > 0) {
            ++versions;
            isBlock = isBlock || opensBlock(theirs);
        }
    }
    if (versions > 0) {
        signs.push_back({isBlock ? ConsequenceKind::opensBlockTwice : ConsequenceKind::twoVersions,
                         versions,
                         {}});
    }
}
}  // namespace

bool Consequence::isWarning() const
{
    switch (kind) {
    case ConsequenceKind::repeatsLines:
    case ConsequenceKind::twoVersions:
    case ConsequenceKind::usesNameOursRemoved:
    case ConsequenceKind::usesNameTheirsRemoved:
    case ConsequenceKind::opensBlockTwice:
    case ConsequenceKind::bracketsLeftOpen:
    case ConsequenceKind::bracketsExtra:
    case ConsequenceKind::quotesUnbalanced:
    case ConsequenceKind::definesTwice:
    case ConsequenceKind::importsTwice:
    case ConsequenceKind::keyTwice:
    case ConsequenceKind::unreadable:
    case ConsequenceKind::indentBroken:
        return true;
    case ConsequenceKind::keepsBothEdits:
    case ConsequenceKind::dropsOurs:
    case ConsequenceKind::dropsTheirs:
    case ConsequenceKind::undoesOursRemoval:
    case ConsequenceKind::undoesTheirsRemoval:
    case ConsequenceKind::theirsHasIt:
    case ConsequenceKind::oursHasIt:
    case ConsequenceKind::bracketsBalance:
        return false;
    }
    return false;
}

namespace {
using WordCounts = std::unordered_map<std::string_view, int>;

WordCounts countNames(std::string_view text)
{
    WordCounts counts;
    for (const std::string_view word : splitWords(text)) {
        if (isName(word)) {
            ++counts[word];
        }
    }
    return counts;
}

int countOf(const WordCounts& counts, std::string_view word)
{
    const auto found = counts.find(word);
    return found == counts.end() ? 0 : found->second;
}
}  // namespace

namespace {
/// Counts edits while the runs of a diff go by.
class EditCounter
{
public:
    /// `counts`: whether a change counts, one of several that make an edit.
    void add(const WordRun& run, bool counts)
    {
        const bool isChange = run.change != WordChange::kept;
        if (isChange && !m_isInEdit) {
            beginEdit();
        }
        if (!isChange && m_isInEdit) {
            endEdit();
        }
        if (isChange) {
            m_isCounted = m_isCounted || counts;
            auto& lines = run.change == WordChange::added ? m_written : m_removed;
            addLines(run.text, run.change == WordChange::added ? m_sideLine : m_baseLine, lines);
            m_words += run.change == WordChange::added ? run.text : std::string();
        }
        const auto ends = std::count(run.text.begin(), run.text.end(), '\n');
        m_sideLine += run.change == WordChange::removed ? 0 : ends;
        m_baseLine += run.change == WordChange::added ? 0 : ends;
    }

    EditCount take()
    {
        endEdit();
        m_count.written = static_cast<int>(m_allWritten.size());
        m_count.removed = static_cast<int>(m_allRemoved.size());
        return std::move(m_count);
    }

private:
    using Lines = std::set<std::ptrdiff_t>;

    void beginEdit()
    {
        m_isInEdit = true;
        m_isCounted = false;
        m_written.clear();
        m_removed.clear();
        m_words.clear();
    }

    void endEdit()
    {
        if (m_isInEdit && m_isCounted) {
            ++m_count.edits;
            m_allWritten.insert(m_written.begin(), m_written.end());
            if (m_written.empty()) {
                m_allRemoved.insert(m_removed.begin(), m_removed.end());
            }
            const std::string_view word = trimmed(m_words);
            m_count.word = m_count.edits == 1 && word.size() <= kLongestWord && isName(word)
                               ? std::string(word)
                               : std::string();
        }
        m_isInEdit = false;
    }

    static void addLines(std::string_view text, std::ptrdiff_t first, Lines& lines)
    {
        for (const std::string_view line : splitLines(text)) {
            if (!trimmed(line).empty()) {
                lines.insert(first);
            }
            ++first;
        }
    }

    static constexpr std::size_t kLongestWord = 20;
    EditCount m_count;
    Lines m_allWritten;
    Lines m_allRemoved;
    std::ptrdiff_t m_sideLine = 0;
    std::ptrdiff_t m_baseLine = 0;
    // Of the edit that goes by.
    bool m_isInEdit = false;
    bool m_isCounted = false;
    Lines m_written;
    Lines m_removed;
    std::string m_words;
};
}  // namespace

EditCount editsOf(std::string_view base, std::string_view side)
{
    EditCounter counter;
    for (const WordRun& run : diffWords(base, side)) {
        counter.add(run, true);
    }
    return counter.take();
}

EditCount lostEdits(std::string_view base,
                    std::string_view side,
                    std::string_view other,
                    std::string_view result)
{
    const WordCounts inBase = countNames(base);
    const WordCounts inSide = countNames(side);
    const WordCounts inOther = countNames(other);
    const WordCounts inResult = countNames(result);
    const auto isLost = [&](const WordRun& run) {
        const auto words = splitWords(run.text);
        return std::any_of(words.begin(), words.end(), [&](std::string_view word) {
            if (!isName(word)) {
                return false;
            }
            const int byOther = countOf(inOther, word) - countOf(inBase, word);
            const int own = countOf(inSide, word);
            const int now = countOf(inResult, word);
            return run.change == WordChange::added ? now < own + std::min(byOther, 0)
                                                   : now > own + std::max(byOther, 0);
        });
    };
    EditCounter counter;
    for (const WordRun& run : diffWords(base, side)) {
        counter.add(run, run.change != WordChange::kept && isLost(run));
    }
    return counter.take();
}

std::vector<Consequence> textConsequences(std::string_view result, const RegionTexts& texts)
{
    std::vector<Consequence> signs;
    if (result.size() <= kMostBytes) {
        const auto inResult = countLines(result);
        appendRepeats(result, inResult, texts, signs);
        if (std::none_of(
                signs.begin(), signs.end(), [](const Consequence& c) { return c.isWarning(); })) {
            appendVersions(inResult, texts, signs);
        }
    }
    const int ours = netBrackets(texts.ours);
    const int own = netBrackets(result);
    if (ours == netBrackets(texts.theirs)) {
        if (own > ours) {
            signs.push_back({ConsequenceKind::bracketsLeftOpen, own - ours, {}});
        } else if (own < ours) {
            signs.push_back({ConsequenceKind::bracketsExtra, ours - own, {}});
        } else if (result.find_first_of("()[]{}") != std::string_view::npos) {
            signs.push_back({ConsequenceKind::bracketsBalance, 0, {}});
        }
    }
    if (hasOddQuotes(result) && !hasOddQuotes(texts.ours) && !hasOddQuotes(texts.theirs)) {
        signs.push_back({ConsequenceKind::quotesUnbalanced, 0, {}});
    }
    return signs;
}
}  // namespace rope
