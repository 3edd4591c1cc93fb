// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <map>
#include <optional>
#include <string>

namespace rope {
/// Names that one side replaced by another wherever they stood, such as a renamed call.
struct Rewrites
{
    std::map<std::string, std::string, std::less<>> names;  ///< Old to new.
};

/// Returns the names that theirs rewrote in at least two places of a text, always to the same other
/// name, and left nowhere. Names that ours had rewritten too are not told.
[[nodiscard]] Rewrites theirsRewrites(const TextJoin& join);

/// Returns the join of a region after theirs' rewrites were carried into ours: our new lines get the
/// new names. Nothing where ours has none of the old names, or the sides clash all the same.
[[nodiscard]] std::optional<std::string> rewrittenText(const RegionTexts& texts,
                                                       const Rewrites& rewrites);

/// Returns theirs with our replaced words replaced where theirs has moved them to: each of our edits
/// must find its old words exactly once among theirs' new lines. Else nothing.
[[nodiscard]] std::optional<std::string> movedEditText(const RegionTexts& texts);
}  // namespace rope
