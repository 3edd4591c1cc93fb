// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decided_join.h"

namespace rope {
/// What can be made of several regions and questions at once.
enum class TogetherChoice { ours, theirs, oursTheirs, theirsOurs, leaveOpen };

/// Every region and question of a file that is open.
[[nodiscard]] std::vector<SlotPlace> openPlacesOf(const DecidedJoin& decided, std::size_t file);

/// The states that a choice gives these places, to be made as one step by Splice::change(). Places for
/// which it means nothing (a question about a whole file has no "both") are left out. Linear in them.
[[nodiscard]] std::vector<SlotChange> changesTogether(const DecidedJoin& decided,
                                                      const std::vector<SlotPlace>& places,
                                                      TogetherChoice choice);

/// What a choice gives up, to be told before it is made.
struct TogetherLoss
{
    std::size_t oursLines = 0;    ///< Lines that ours added and that would not stand there.
    std::size_t theirsLines = 0;  ///< The same of theirs.
    std::size_t filesGone = 0;    ///< Files that would not be in the result.
    std::size_t handTexts = 0;    ///< Texts written by hand that would be replaced.
    std::size_t leftOut = 0;      ///< Places for which the choice means nothing.
};
[[nodiscard]] TogetherLoss lossTogether(const DecidedJoin& decided,
                                        const std::vector<SlotPlace>& places,
                                        TogetherChoice choice);
}  // namespace rope
