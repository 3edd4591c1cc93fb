// SPDX-License-Identifier: GPL-3.0-or-later
// Pages of which one is shown.
#pragma once

#include <QStackedWidget>

namespace rope {
/// Pages get the room that there is and scroll or fold by themselves: how high they would be for a width is
/// not asked. Qt's own stack asks all pages, hidden ones too, each time anything in one of them changes: a
/// third of what the window's start took.
class PageStack final : public QStackedWidget
{
    Q_OBJECT

public:
    using QStackedWidget::QStackedWidget;

    [[nodiscard]] bool hasHeightForWidth() const override { return false; }
    [[nodiscard]] int heightForWidth(int) const override { return -1; }
};
}  // namespace rope
