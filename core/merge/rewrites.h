// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/region_words.h"

#include <map>
#include <optional>
#include <string>

namespace rope {
/// Names that one side replaced by something else wherever they stood, such as a renamed call, or a value
/// that stands in a structure now.
struct Rewrites
{
    std::map<std::string, std::string, std::less<>> names;  ///< Old to new.
};

/// Returns the names that theirs rewrote in at least two places of a text, nearly always to the same other
/// name or run of words without blanks that holds one, and left nearly nowhere. Names that ours had
/// rewritten too are not told.
[[nodiscard]] Rewrites theirsRewrites(const TextJoin& join);

/// A region joined after theirs' rewrites were carried into ours.
struct RewrittenText
{
    std::string text;
    bool hasTouching = false;  ///< The edits touch all the same: only spliceTouching() joins them.
};
/// Our new lines get the new names. Nothing where ours has none of the old names, or the sides clash all the
/// same.
[[nodiscard]] std::optional<RewrittenText> rewrittenText(const RegionTexts& texts,
                                                         const Rewrites& rewrites);

/// Returns theirs with our replaced words replaced where theirs has moved them to: each of our edits
/// must find its old words exactly once among theirs' new lines. Else nothing.
[[nodiscard]] std::optional<std::string> movedEditText(const RegionWords& region);
}  // namespace rope
