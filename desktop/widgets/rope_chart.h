// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/rope_chart_layout.h"

#include <QWidget>

namespace rope {
/// The shape of a divergence as two strands of a rope: where they parted, what happened on each,
/// and what joining would make. Looking at a knot, by pointer or arrow keys, tells its commit; a click
/// or Enter opens a bundle.
class RopeChart final : public QWidget
{
    Q_OBJECT
public:
    explicit RopeChart(QWidget* parent);
    void setModel(RopeChartModel model);
    [[nodiscard]] QSize sizeHint() const override { return {600, 210}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 150}; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    [[nodiscard]] QString textOf(const ChartKnot& knot) const;
    [[nodiscard]] QString inWords() const;
    void paintStrands(QPainter& painter) const;
    void paintTitles(QPainter& painter) const;
    void paintKnots(QPainter& painter) const;
    void paintRewritten(QPainter& painter, QPointF theirsEnd) const;
    void paintBundle(QPainter& painter, const ChartKnot& knot, bool isFocused) const;
    void paintBranches(QPainter& painter) const;
    void open(const ChartKnot& bundle);
    void layOut();

    RopeChartModel m_model;
    ChartWindow m_shown;
    RopeChartLayout m_layout;
    int m_focusedKnot = -1;
};
}  // namespace rope
