// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

#include <optional>
#include <string>

namespace rope {
/// What sort of file these bytes are, from what they begin with and the name: "ZIP archive"; empty where
/// nobody knows.
[[nodiscard]] QString kindOfBytes(const std::string& bytes, const QString& name);

/// Some rows of eight bytes each around a place, as numbers and as letters, for a monospace font.
[[nodiscard]] QString bytesAsTable(const std::string& bytes, std::size_t around);

/// The first place in which two byte strings differ; nothing if they are equal.
[[nodiscard]] std::optional<std::size_t> firstDifferingByte(const std::string& a,
                                                            const std::string& b);
}  // namespace rope
