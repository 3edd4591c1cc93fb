// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_round.cpp.
#include "desktop/facts/check_view.h"

#include <algorithm>

namespace rope {
std::size_t CheckView::openCount() const
{
    return static_cast<std::size_t>(
        std::count_if(found.begin(), found.end(), [](const auto& item) { return !item.isFine; }));
}

std::size_t CheckView::toReadCount() const
{
    return static_cast<std::size_t>(std::count_if(
        files.begin(), files.end(), [](const auto& item) { return !item.isOneSided; }));
}

std::size_t CheckView::readCount() const
{
    return static_cast<std::size_t>(std::count_if(files.begin(), files.end(), [](const auto& item) {
        return !item.isOneSided && item.isRead;
    }));
}
}  // namespace rope
