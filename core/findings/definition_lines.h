// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/language.h"

#include <string_view>

namespace rope {
/// Whether a line may begin a definition of something that is called, or a type: a quick look that spares
/// asking for definitions where there can be none. It says yes too often rather than too seldom.
[[nodiscard]] bool mayDefine(std::string_view line, Language language);
}  // namespace rope
