// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>

namespace rope {
/// Returns JSON as text with a line end. Bytes that are not UTF-8 become U+FFFD: JSON has no others.
[[nodiscard]] std::string jsonText(const nlohmann::ordered_json& json);
}  // namespace rope
