// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

#include <cstdint>

namespace rope {
/// "2 minutes ago", "yesterday", "3 days ago", "2 Nov", "2 Nov 2024". Seconds since 1970.
[[nodiscard]] QString relativeTime(std::int64_t time, std::int64_t now);

/// The exact moment in the user's time zone, for tooltips.
[[nodiscard]] QString exactTime(std::int64_t time);
}  // namespace rope
