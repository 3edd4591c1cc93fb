// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace rope {
// What the layout of a SideText and its painting share, in pixels.
inline constexpr int kStripWidth = 6;
inline constexpr int kTextLeft = 14;
inline constexpr int kBitWidth = 14;  ///< Of the rope between the gone word and the new one.
inline constexpr int kFramePadding = 3;
inline constexpr int kFrameGap = 3;
}  // namespace rope
