// SPDX-License-Identifier: GPL-3.0-or-later
// Pages of which one is shown.
#pragma once

#include <QPointer>
#include <QStackedWidget>

namespace rope {
/// Pages get the room that there is and scroll or fold by themselves: how high they would be for a width is
/// not asked. Qt's own stack asks all pages, hidden ones too, each time anything in one of them changes: a
/// third of what the window's start took. A screen reader meets the page that is shown, and no other one:
/// rows of lists that are hidden with their page call themselves shown.
class PageStack final : public QStackedWidget
{
    Q_OBJECT

public:
    explicit PageStack(QWidget* parent);
    ~PageStack() override;
    PageStack(const PageStack&) = delete;
    PageStack& operator=(const PageStack&) = delete;

    [[nodiscard]] bool hasHeightForWidth() const override { return false; }
    [[nodiscard]] int heightForWidth(int) const override { return -1; }

private:
    void tellOfPage(int index);
    QPointer<QWidget> m_toldOf;  ///< The page that readers know of.
};
}  // namespace rope
