// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/forecast.h"

#include <memory>
#include <optional>
#include <string>

namespace rope {
/// Three versions of one file, as another program hands them over.
struct SingleFile
{
    RepoPath path;                    ///< What the file is called, for people.
    std::optional<std::string> base;  ///< Nothing: both sides have added it.
    std::string ours;
    std::string theirs;
};

/// The forecast of joining one file that belongs to no repository: one outcome, joined by lines.
/// Errors: `invalidInput` with the side ("base", "ours", "theirs") as subject for what is no text.
[[nodiscard]] Result<std::shared_ptr<const Forecast>> forecastOfFile(SingleFile file);
}  // namespace rope
