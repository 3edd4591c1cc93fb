// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/key_hints.h"

#include "desktop/widgets/theme.h"

#include <QPainter>

namespace rope {
namespace {
constexpr int kMargin = 12;
constexpr int kGap = 20;
}  // namespace

int paintKeyCap(QPainter& painter, const QString& key, int left, int centre)
{
    QFont font = codeFont();
    font.setPointSizeF(font.pointSizeF() * 0.85);
    painter.save();
    painter.setFont(font);
    painter.setRenderHint(QPainter::Antialiasing);
    const QFontMetrics metrics(font);
    const int width = std::max(metrics.horizontalAdvance(key) + 10, 18);
    const int height = metrics.height() + 3;
    const QRectF cap(left + 0.5, centre - height / 2.0 + 0.5, width - 1, height - 1);
    painter.setPen(theme().muted);
    painter.setBrush(theme().paper);
    painter.drawRoundedRect(cap, 3, 3);
    painter.setPen(theme().ink);
    painter.drawText(cap, Qt::AlignCenter, key);
    painter.restore();
    return width;
}

KeyHints::KeyHints(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("keyHints"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void KeyHints::setHints(std::vector<KeyHint> hints)
{
    m_hints = std::move(hints);
    QString spoken;
    for (const KeyHint& hint : m_hints) {
        spoken += hint.key + QLatin1Char(' ') + hint.meaning + QStringLiteral(", ");
    }
    setAccessibleDescription(spoken);
    update();
}

void KeyHints::setStatus(const QString& status)
{
    m_status = status;
    setAccessibleName(status);
    update();
}

QSize KeyHints::sizeHint() const
{
    return {400, fontMetrics().height() + 12};
}

void KeyHints::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setPen(theme().rules);
    painter.drawLine(0, 0, width(), 0);
    const int statusWidth = fontMetrics().horizontalAdvance(m_status);
    const int centre = height() / 2;
    painter.setPen(theme().ink);
    painter.drawText(
        rect().adjusted(0, 0, -kMargin, 0), Qt::AlignRight | Qt::AlignVCenter, m_status);
    int x = kMargin;
    for (const KeyHint& hint : m_hints) {
        const int needed = fontMetrics().horizontalAdvance(hint.key + hint.meaning) + 24;
        if (x + needed > width() - statusWidth - 2 * kMargin) {
            break;  // F1 has them all
        }
        x += paintKeyCap(painter, hint.key, x, centre) + 5;
        const int textWidth = fontMetrics().horizontalAdvance(hint.meaning);
        painter.setPen(theme().ink);
        painter.drawText(QRect(x, 0, textWidth, height()), Qt::AlignVCenter, hint.meaning);
        x += textWidth + kGap;
    }
}
}  // namespace rope
