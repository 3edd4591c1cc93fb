// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <CLI/CLI.hpp>
#include <string>

namespace rope {
/// The manual page of the program or of one of its commands, in the macros of man(7): synopsis and options from
/// the table of options, the rest from textOf().
[[nodiscard]] std::string manualPage(const CLI::App& command);

/// What the page is called, without its section: "rope-splice", or "rope-splice-merge".
[[nodiscard]] std::string manualName(const CLI::App& command);
}  // namespace rope
