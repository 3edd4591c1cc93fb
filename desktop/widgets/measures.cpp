// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_panes_and_rows.cpp.
#include "desktop/widgets/measures.h"

#include <QFontInfo>
#include <QWidget>

#include <algorithm>

namespace rope {
int atFont(const QWidget& widget, int pixels)
{
    constexpr int kDesigned = 12;
    return pixels * std::max(1, QFontInfo(widget.font()).pixelSize()) / kDesigned;
}

int widthOfPane(const QWidget& page, int pixels, int mostPercent)
{
    constexpr int kLeast = 150;
    return std::max(kLeast, std::min(atFont(page, pixels), page.width() * mostPercent / 100));
}

int heightOfLines(const QString& text, const QFontMetrics& metrics, int width)
{
    constexpr int kAnyHeight = 10'000;
    return metrics.boundingRect(QRect(0, 0, width, kAnyHeight), Qt::TextWordWrap, text).height();
}

QString fittedToLines(const QString& text, const QFontMetrics& metrics, int width, int lines)
{
    const int room = std::max(1, lines) * metrics.lineSpacing();
    const auto fits = [&](const QString& shown) {
        return heightOfLines(shown, metrics, width) <= room;
    };
    if (fits(text)) {
        return text;
    }
    qsizetype kept = 0;  // fits, with an ellipsis
    for (qsizetype step = text.size(); step > 0; step /= 2) {
        while (kept + step < text.size() && fits(text.first(kept + step) + QChar(u'…'))) {
            kept += step;
        }
    }
    return text.first(kept).trimmed() + QChar(u'…');
}
}  // namespace rope
