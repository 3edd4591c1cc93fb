// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/types.h"

#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// What git's complaint about writing means, when it says which of a few common things happened.
[[nodiscard]] Error writingError(std::string subject, std::string detail);

/// The paths an error is about, as its subject: one after another, with commas.
[[nodiscard]] std::string listOf(const std::vector<RepoPath>& paths);

[[nodiscard]] std::string withoutNewline(std::string text);

[[nodiscard]] inline bool mentions(std::string_view text, std::string_view part)
{
    return text.find(part) != std::string_view::npos;
}
}  // namespace rope
