// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/object_id.h"
#include "core/logbook/database.h"

#include <array>
#include <optional>

namespace rope {
/// An enum as the journal writes it: the name at its place in `names`.
template <typename Enum, std::size_t count>
[[nodiscard]] QVariant nameIn(const std::array<const char*, count>& names, Enum value)
{
    return QString::fromLatin1(names[static_cast<std::size_t>(value)]);
}

/// Nothing for a name that is none of them.
template <typename Enum, std::size_t count>
[[nodiscard]] std::optional<Enum> valueIn(const std::array<const char*, count>& names,
                                          const QVariant& name)
{
    for (std::size_t i = 0; i < count; ++i) {
        if (name.toString() == QLatin1String(names[i])) {
            return static_cast<Enum>(i);
        }
    }
    return std::nullopt;
}

/// An id in hexadecimal; a null one as an empty text.
[[nodiscard]] inline QVariant hexOf(const ObjectId& id)
{
    return id.isNull() ? QVariant(QStringLiteral("")) : text(id.hex());
}
[[nodiscard]] inline ObjectId idOf(const QVariant& value)
{
    return ObjectId::fromHex(textOf(value)).value_or(ObjectId{});
}
}  // namespace rope
