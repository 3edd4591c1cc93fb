// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QProxyStyle>

namespace rope {
/// Check boxes and radio buttons in the theme's colours: their outline is seen on every ground, and they grow with
/// the font.
class IndicatorStyle final : public QProxyStyle
{
    Q_OBJECT
public:
    /// Takes `base`.
    explicit IndicatorStyle(QStyle* base)
        : QProxyStyle(base)
    {
    }
    int pixelMetric(PixelMetric metric,
                    const QStyleOption* option,
                    const QWidget* widget) const override;
    /// A radio button is as high as its words: an explanation follows below it.
    QSize sizeFromContents(ContentsType type,
                           const QStyleOption* option,
                           const QSize& contents,
                           const QWidget* widget) const override;
    void drawPrimitive(PrimitiveElement element,
                       const QStyleOption* option,
                       QPainter* painter,
                       const QWidget* widget) const override;
};
}  // namespace rope
