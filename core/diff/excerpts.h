// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/text/text.h"

#include <span>
#include <stop_token>
#include <string>
#include <vector>

namespace rope {
/// A stretch of a file that changed, with a few lines around it that did not. Bytes.
struct Excerpt
{
    LineRange before;  ///< Lines of the old text, those around included. Counts from 0.
    LineRange after;   ///< Lines of the new text.
    std::string beforeText;
    std::string afterText;
};

/// What changed between two texts.
struct TextChange
{
    std::size_t added = 0;          ///< Lines of the new text that the old one lacks.
    std::size_t removed = 0;        ///< Lines of the old text that are gone.
    std::vector<Excerpt> excerpts;  ///< In order; stretches that are near each other are one.
};

/// Returns what changed, each stretch with up to `around` lines before and after it.
/// Errors: `cancelled`. Threads: any.
[[nodiscard]] Result<TextChange> changeBetween(const Text& before,
                                               const Text& after,
                                               LineNumber around = 3,
                                               const std::stop_token& stop = {});
/// Returns the old text with these stretches as they are in the new one, and the rest as it was.
/// REQUIRES: they are of a change of `before`, in order
[[nodiscard]] std::string withExcerpts(const Text& before, std::span<const Excerpt> chosen);
}  // namespace rope
