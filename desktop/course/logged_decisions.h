// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "desktop/facts/logbook_view.h"

namespace rope {
/// Adds what was decided in one file of a splice, by its number, and what had been offered for each of its regions.
void addDecisionsOf(const Splice& splice, std::size_t number, LoggedDetails& details);
}  // namespace rope
