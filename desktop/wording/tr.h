// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QCoreApplication>

namespace rope {
/// The text in the user's language, for functions that belong to no QObject; a QObject has its own tr().
[[nodiscard]] inline QString tr(const char* text)
{
    return QCoreApplication::translate("rope", text);
}
}  // namespace rope
