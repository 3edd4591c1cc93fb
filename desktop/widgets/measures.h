// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QFontMetrics>
#include <QString>

class QWidget;

namespace rope {
/// What has that many pixels with letters of 12 pixels (9 points at 96 to an inch), with the widget's font.
[[nodiscard]] int atFont(const QWidget& widget, int pixels);

/// How wide a pane at a page's side is that is `pixels` wide at the design's size, see atFont(): so wide that
/// it takes `mostPercent` of the page at most.
[[nodiscard]] int widthOfPane(const QWidget& page, int pixels, int mostPercent);

/// A text as it is shown in at most that many lines of a width, wrapped at words: it ends in an ellipsis where
/// there is more. At least one line.
[[nodiscard]] QString
fittedToLines(const QString& text, const QFontMetrics& metrics, int width, int lines);

/// How high a text is that is wrapped at words.
[[nodiscard]] int heightOfLines(const QString& text, const QFontMetrics& metrics, int width);
}  // namespace rope
