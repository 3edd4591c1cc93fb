// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>

namespace rope {
/// All bytes of a file, a pipe or a device. Errors: `io` with the path as subject; `notFound`.
[[nodiscard]] Result<std::string> readWholeFile(const std::string& path);

/// Writes beside the file first, so that a failure leaves what was there. A link stays one: the file
/// that it leads to is replaced. A file that was there keeps its mode and, where we may, its owner. What
/// is no ordinary file is written into as it is. Errors: `io` with the path as subject.
[[nodiscard]] Status writeWholeFile(const std::string& path, const std::string& bytes);
}  // namespace rope
