// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>
#include <string_view>

namespace rope {
/// What git's complaint about writing means, when it says which of a few common things happened.
[[nodiscard]] Error writingError(std::string subject, std::string detail);

[[nodiscard]] std::string withoutLineEnd(std::string text);

[[nodiscard]] inline bool mentions(std::string_view text, std::string_view part)
{
    return text.find(part) != std::string_view::npos;
}
}  // namespace rope
