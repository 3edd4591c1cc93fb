// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

class QWidget;

namespace rope {
/// A page that says what the marks mean: each as it is painted in the window, and its words.
[[nodiscard]] QWidget* makeMarksLegend(QWidget* parent);
}  // namespace rope
