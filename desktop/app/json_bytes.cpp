// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/json_bytes.h"

#include <nlohmann/json.hpp>

namespace rope {
std::string jsonText(const nlohmann::ordered_json& json)
{
    return json.dump(-1, ' ', false, nlohmann::ordered_json::error_handler_t::replace) + "\n";
}
}  // namespace rope
