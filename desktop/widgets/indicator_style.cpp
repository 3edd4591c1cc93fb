// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_theme.cpp.
#include "desktop/widgets/indicator_style.h"

#include "desktop/widgets/theme.h"

#include <QPainter>
#include <QStyleOption>
#include <QWidget>

#include <algorithm>

namespace rope {
namespace {
QPen outline(const QStyleOption& option)
{
    const bool isEnabled = option.state.testFlag(QStyle::State_Enabled);
    const bool hasFocus = option.state.testFlag(QStyle::State_HasFocus);
    return {hasFocus    ? theme().ink
            : isEnabled ? theme().edges
                        : theme().rules,
            hasFocus ? 2.2 : 1.4};  // a thinner one fades where it is curved
}

QColor markOf(const QStyleOption& option)
{
    return option.state.testFlag(QStyle::State_Enabled) ? theme().ink : theme().muted;
}

void drawCheckBox(QPainter& painter, const QStyleOption& option)
{
    const QRectF box = QRectF(option.rect).adjusted(1, 1, -1, -1);
    painter.setPen(outline(option));
    painter.setBrush(theme().paper);
    painter.drawRoundedRect(box, 2, 2);
    painter.setPen(QPen(markOf(option), box.width() / 6, Qt::SolidLine, Qt::RoundCap));
    const auto at = [&box](qreal x, qreal y) {
        return QPointF(box.left() + x * box.width(), box.top() + y * box.height());
    };
    if (option.state.testFlag(QStyle::State_On)) {
        const QPointF tick[] = {at(0.22, 0.52), at(0.42, 0.74), at(0.80, 0.26)};
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(tick, 3);
    } else if (option.state.testFlag(QStyle::State_NoChange)) {
        painter.drawLine(at(0.25, 0.5), at(0.75, 0.5));
    }
}

void drawRadioButton(QPainter& painter, const QStyleOption& option)
{
    const QRectF ring = QRectF(option.rect).adjusted(1, 1, -1, -1);
    painter.setPen(outline(option));
    painter.setBrush(theme().paper);
    painter.drawEllipse(ring);
    if (option.state.testFlag(QStyle::State_On)) {
        const qreal gap = ring.width() / 4;
        painter.setPen(Qt::NoPen);
        painter.setBrush(markOf(option));
        painter.drawEllipse(ring.adjusted(gap, gap, -gap, -gap));
    }
}
}  // namespace

int IndicatorStyle::pixelMetric(PixelMetric metric,
                                const QStyleOption* option,
                                const QWidget* widget) const
{
    switch (metric) {
    case PM_IndicatorWidth:
    case PM_IndicatorHeight:
    case PM_ExclusiveIndicatorWidth:
    case PM_ExclusiveIndicatorHeight: {
        const QFontMetrics metrics =
            option != nullptr ? option->fontMetrics
                              : QFontMetrics(widget != nullptr ? widget->font() : QFont());
        constexpr int kLeast = 13;
        return std::max(kLeast, metrics.ascent() + 1);
    }
    default:
        return QProxyStyle::pixelMetric(metric, option, widget);
    }
}

QSize IndicatorStyle::sizeFromContents(ContentsType type,
                                       const QStyleOption* option,
                                       const QSize& contents,
                                       const QWidget* widget) const
{
    QSize size = QProxyStyle::sizeFromContents(type, option, contents, widget);
    if (type == CT_RadioButton) {
        size.setHeight(std::max(contents.height(),
                                pixelMetric(PM_ExclusiveIndicatorHeight, option, widget)));
    }
    return size;
}

void IndicatorStyle::drawPrimitive(PrimitiveElement element,
                                   const QStyleOption* option,
                                   QPainter* painter,
                                   const QWidget* widget) const
{
    const bool isCheckBox =
        element == PE_IndicatorCheckBox || element == PE_IndicatorItemViewItemCheck;
    if (!isCheckBox && element != PE_IndicatorRadioButton) {
        QProxyStyle::drawPrimitive(element, option, painter, widget);
        return;
    }
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    if (isCheckBox) {
        drawCheckBox(*painter, *option);
    } else {
        drawRadioButton(*painter, *option);
    }
    painter->restore();
}
}  // namespace rope
