// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decided_join.h"
#include "desktop/facts/logbook_view.h"

#include <functional>
#include <string>

namespace rope {
/// What is known of the decisions in one file besides themselves.
struct DecisionContext
{
    QString commit;  ///< Which of several commits they belong to, in words; empty: there is one.
    /// Why a slot is decided as it is; empty: nobody said. Null: nobody was asked.
    std::function<std::string(std::size_t slot)> reasonAt;
};

/// Adds what was decided in one file, and what had been offered for each of its regions.
void addDecisionsOf(const SpliceFile& file, const DecisionContext& context, LoggedDetails& details);
}  // namespace rope
