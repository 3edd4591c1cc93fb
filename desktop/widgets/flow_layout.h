// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QLayout>

#include <memory>
#include <vector>

namespace rope {
/// Lays widgets in a row, and in further rows below it where one is too narrow for their words. What was
/// added after pushRight() stands at the right of its row where there is room.
class FlowLayout final : public QLayout
{
public:
    FlowLayout(QWidget* parent, int spacing);
    ~FlowLayout() override;

    void pushRight() { m_firstRight = static_cast<int>(m_items.size()); }

    void addItem(QLayoutItem* item) override;
    [[nodiscard]] int count() const override { return static_cast<int>(m_items.size()); }
    [[nodiscard]] QLayoutItem* itemAt(int index) const override;
    QLayoutItem* takeAt(int index) override;
    [[nodiscard]] Qt::Orientations expandingDirections() const override { return {}; }
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSize() const override;
    void setGeometry(const QRect& rect) override;

private:
    /// Places the items; gives the height they take.
    int place(const QRect& rect, bool isReal) const;

    std::vector<std::unique_ptr<QLayoutItem>> m_items;
    int m_spacing;
    int m_firstRight = -1;
    int m_width = 0;  ///< That it was placed in last; 0: never yet.
};
}  // namespace rope
