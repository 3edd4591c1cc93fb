// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <stop_token>

namespace rope {
/// A stop that is requested when this process is asked to end (Ctrl+C, a closed terminal, SIGTERM), so
/// that what was begun can be taken back first. For commands; may be called once.
[[nodiscard]] std::stop_token stopOnSignals();
}  // namespace rope
