// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QAccessible>

class QWidget;

namespace rope {
/// Tells screen readers what a widget is that paints itself; without it they hear of a "filler". What it shows
/// stands in its accessible name and description. Interface thread; before anybody asks for the widget.
void setAccessibleRole(QWidget& widget, QAccessible::Role role);
}  // namespace rope
