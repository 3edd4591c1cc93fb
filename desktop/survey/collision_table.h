// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/collision_model.h"

#include <QWidget>

namespace rope {
/// The pairs as a staircase: names stand at its edge; down from one name and across to another is
/// their pair. A cell tells by word, number and pattern. Arrows go from pair to pair.
class CollisionTable final : public QWidget
{
    Q_OBJECT
public:
    explicit CollisionTable(QWidget* parent);
    void setModel(const CollisionModel& model);
    [[nodiscard]] std::optional<BranchPair> current() const { return m_current; }
    void setCurrent(BranchPair pair);
    [[nodiscard]] QSize sizeHint() const override;

signals:
    void picked(rope::BranchPair pair);
    /// The pair is to be read.
    void opened(rope::BranchPair pair);

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] QSize cellSize() const;
    [[nodiscard]] QRect cellRect(BranchPair pair) const;
    [[nodiscard]] QRect nameRect(std::size_t branch) const;
    [[nodiscard]] std::optional<BranchPair> pairAt(QPoint point) const;
    void paintCell(QPainter& painter, BranchPair pair) const;
    void paintName(QPainter& painter, std::size_t branch) const;
    void move(int down, int right);
    CollisionModel m_model;
    std::optional<BranchPair> m_current;
};
}  // namespace rope
