// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_command.cpp.
#include "desktop/facts/trial_view.h"

#include <algorithm>

namespace rope {
std::optional<bool> TrialView::hasPassed() const
{
    const auto is = [](TrialState state) {
        return [state](const CommandItem& item) {
            return item.result().state == state;
        };
    };
    if (std::any_of(commands.begin(), commands.end(), [&](const CommandItem& item) {
            return is(TrialState::failed)(item) || is(TrialState::notStarted)(item);
        })) {
        return false;
    }
    if (!commands.empty()
        && std::all_of(commands.begin(), commands.end(), is(TrialState::passed))) {
        return true;
    }
    return std::nullopt;
}
}  // namespace rope
