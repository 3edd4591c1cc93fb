// SPDX-License-Identifier: GPL-3.0-or-later
// "a b [b] c" and "a [b] b c" are the same insertion. A run can move up when the token before it
// equals its last one, and down when its first one equals the token after it. Both texts are walked
// in step: between two common tokens there is exactly one run (often empty) in either text.
// Tested by tst_diff_tokens.cpp.
#include "core/diff/hunk_slider.h"

#include <cstddef>

namespace rope {
namespace {
/// A cursor over the runs of changed tokens of one text, empty runs between common tokens included.
class RunCursor
{
public:
    RunCursor(Tokens tokens, std::vector<std::uint8_t>& flags)
        : m_tokens(tokens)
        , m_flags(flags)
    {
        growEnd();
    }

    [[nodiscard]] std::size_t begin() const { return m_begin; }
    [[nodiscard]] std::size_t end() const { return m_end; }
    [[nodiscard]] bool isEmpty() const { return m_begin == m_end; }

    bool next()
    {
        if (m_end == m_tokens.size()) {
            return false;
        }
        m_begin = m_end = m_end + 1;
        growEnd();
        return true;
    }

    bool previous()
    {
        if (m_begin == 0) {
            return false;
        }
        m_begin = m_end = m_begin - 1;
        growBegin();
        return true;
    }

    bool slideUp()
    {
        if (m_begin == 0 || m_tokens[m_begin - 1] != m_tokens[m_end - 1]) {
            return false;
        }
        m_flags[--m_begin] = 1;
        m_flags[--m_end] = 0;
        growBegin();
        return true;
    }

    bool slideDown()
    {
        if (m_end == m_tokens.size() || m_tokens[m_begin] != m_tokens[m_end]) {
            return false;
        }
        m_flags[m_begin++] = 0;
        m_flags[m_end++] = 1;
        growEnd();
        return true;
    }

private:
    void growEnd()
    {
        while (m_end < m_flags.size() && m_flags[m_end]) {
            ++m_end;
        }
    }
    void growBegin()
    {
        while (m_begin > 0 && m_flags[m_begin - 1]) {
            --m_begin;
        }
    }

    Tokens m_tokens;
    std::vector<std::uint8_t>& m_flags;
    std::size_t m_begin = 0;
    std::size_t m_end = 0;
};

/// Brings the run under `run` to its agreed place; `other` follows in the other text.
void settle(RunCursor& run, RunCursor& other)
{
    std::size_t earliestEnd = 0;
    std::size_t matchingEnd = 0;
    bool hasMatch = false;
    std::size_t size = 0;
    do {
        size = run.end() - run.begin();
        while (run.slideUp()) {
            other.previous();
        }
        earliestEnd = run.end();
        hasMatch = !other.isEmpty();
        matchingEnd = run.end();
        while (run.slideDown()) {
            other.next();
            if (!other.isEmpty()) {
                hasMatch = true;
                matchingEnd = run.end();
            }
        }
    } while (size
             != run.end() - run.begin());  // it met a neighbour: the larger run may slide further
    if (run.end() == earliestEnd || !hasMatch) {
        return;
    }
    while (run.end() > matchingEnd && run.slideUp()) {
        other.previous();
    }
}

void slideRunsOf(Tokens tokens,
                 std::vector<std::uint8_t>& flags,
                 Tokens otherTokens,
                 std::vector<std::uint8_t>& otherFlags)
{
    RunCursor run(tokens, flags);
    RunCursor other(otherTokens, otherFlags);
    do {
        if (!run.isEmpty()) {
            settle(run, other);
        }
        other.next();
    } while (run.next());
}
}  // namespace

void slideHunks(Tokens before, Tokens after, ChangeFlags& flags)
{
    slideRunsOf(before, flags.before, after, flags.after);
    slideRunsOf(after, flags.after, before, flags.before);
}
}  // namespace rope
