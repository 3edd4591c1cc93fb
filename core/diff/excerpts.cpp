// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_excerpts.cpp.
#include "core/diff/excerpts.h"

#include "core/diff/diff_tokens.h"

#include <algorithm>

namespace rope {
namespace {
LineRange widened(LineRange range, LineNumber around, LineNumber lineCount)
{
    return {range.begin - std::min(around, range.begin), std::min(range.end + around, lineCount)};
}
}  // namespace

Result<TextChange>
changeBetween(const Text& before, const Text& after, LineNumber around, const std::stop_token& stop)
{
    LineInterner interner;
    const auto beforeIds = interner.internLines(before);
    const auto afterIds = interner.internLines(after);
    TRY_ASSIGN(const auto hunks,
               diffTokens(beforeIds, afterIds, interner.idCount(), DiffMethod::histogram, stop));
    TextChange change;
    for (const Hunk& hunk : hunks) {
        change.removed += hunk.before.size();
        change.added += hunk.after.size();
        const LineRange old = widened(hunk.before, around, before.lineCount());
        const LineRange now = widened(hunk.after, around, after.lineCount());
        if (!change.excerpts.empty() && change.excerpts.back().after.end >= now.begin
            && change.excerpts.back().before.end >= old.begin) {
            change.excerpts.back().before.end = old.end;
            change.excerpts.back().after.end = now.end;
        } else {
            change.excerpts.push_back({old, now, {}, {}});
        }
    }
    for (Excerpt& excerpt : change.excerpts) {
        excerpt.beforeText = before.lines(excerpt.before);
        excerpt.afterText = after.lines(excerpt.after);
    }
    return change;
}

std::string withExcerpts(const Text& before, std::span<const Excerpt> chosen)
{
    std::string text;
    LineNumber next = 0;
    for (const Excerpt& excerpt : chosen) {
        text += before.lines({next, excerpt.before.begin});
        text += excerpt.afterText;
        next = excerpt.before.end;
    }
    text += before.lines({next, before.lineCount()});
    return text;
}
}  // namespace rope
