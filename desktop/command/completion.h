// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <CLI/CLI.hpp>
#include <string>

namespace rope {
/// What completes a command line in bash, as a file for bash-completion's folder of completions. Branches are
/// asked of git, in the repository that --repo names.
[[nodiscard]] std::string bashCompletion(const CLI::App& app);
/// The same as a function of zsh's completion system (zshcompsys(1)), for a folder in its fpath.
[[nodiscard]] std::string zshCompletion(const CLI::App& app);
/// The same for fish, see its `complete`.
[[nodiscard]] std::string fishCompletion(const CLI::App& app);
}  // namespace rope
