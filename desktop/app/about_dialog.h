// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

class QWidget;

namespace rope {
/// What the program is, its version and licence, and where it keeps what; beside the window.
void showAbout(QWidget* parent);
}  // namespace rope
