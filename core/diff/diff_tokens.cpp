// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_diff_tokens.cpp.
#include "core/diff/diff_tokens.h"

#include "core/diff/histogram.h"
#include "core/diff/hunk_slider.h"
#include "core/diff/myers.h"

#include <algorithm>

namespace rope {
namespace {
std::vector<Hunk> hunksOf(const ChangeFlags& flags)
{
    std::vector<Hunk> hunks;
    const auto beforeCount = static_cast<LineNumber>(flags.before.size());
    const auto afterCount = static_cast<LineNumber>(flags.after.size());
    LineNumber i = 0;
    LineNumber j = 0;
    while (i < beforeCount || j < afterCount) {
        const Hunk start{{i, i}, {j, j}};
        Hunk hunk = start;
        while (i < beforeCount && flags.before[i]) {
            hunk.before.end = ++i;
        }
        while (j < afterCount && flags.after[j]) {
            hunk.after.end = ++j;
        }
        if (!(hunk == start)) {
            hunks.push_back(hunk);
        }
        if (i < beforeCount) {
            ++i;
        }
        if (j < afterCount) {
            ++j;
        }
    }
    return hunks;
}
}  // namespace

Result<std::vector<Hunk>> diffTokens(
    Tokens before, Tokens after, TokenId idCount, DiffMethod method, const std::stop_token& stop)
{
    if (std::equal(before.begin(), before.end(), after.begin(), after.end())) {
        return std::vector<Hunk>{};
    }
    ChangeFlags flags{std::vector<std::uint8_t>(before.size()),
                      std::vector<std::uint8_t>(after.size())};
    if (method == DiffMethod::histogram) {
        markByHistogram(before, after, idCount, flags, stop);
    } else {
        const TokenBlock whole{{0, static_cast<LineNumber>(before.size())},
                               {0, static_cast<LineNumber>(after.size())}};
        markByMyers(before, after, whole, flags, stop);
    }
    if (stop.stop_requested()) {
        return Error{ErrorCode::cancelled, {}, {}};
    }
    slideHunks(before, after, flags);
    return hunksOf(flags);
}
}  // namespace rope
