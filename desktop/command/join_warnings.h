// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <nlohmann/json.hpp>

namespace rope {
/// What deserves a look in a text that joined cleanly, as the command line tells it: a list, mostly empty.
[[nodiscard]] nlohmann::ordered_json warningsJson(const TextJoin& join);
}  // namespace rope
