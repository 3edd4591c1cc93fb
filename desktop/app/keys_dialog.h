// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QList>

class QAction;
class QWidget;

namespace rope {
/// Shows every action with its key, beside the window; closes with Escape.
void showKeys(const QList<QAction*>& actions, QWidget* parent);
}  // namespace rope
