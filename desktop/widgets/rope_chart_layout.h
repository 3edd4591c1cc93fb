// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPointF>
#include <QSizeF>
#include <QString>

#include <optional>
#include <vector>

namespace rope {
/// What a knot of the chart tells when looked at.
struct ChartCommit
{
    QString id;  ///< Short.
    QString subject;
    QString author;
    QString when;
};

/// A divergence as the chart shows it. Commits oldest first on each strand.
struct RopeChartModel
{
    enum class Shape { diverged, fastForward, oursAhead, same, unrelated };
    Shape shape = Shape::same;
    std::optional<ChartCommit> base;
    std::vector<ChartCommit> ours;
    std::vector<ChartCommit> theirs;
    QString oursTitle;
    QString theirsTitle;
    QString outcomeTitle;  ///< What would be made: "merge commit"; empty for nothing.
};

/// A knot placed on the chart.
struct ChartKnot
{
    enum class Kind { base, ours, theirs, outcome };
    Kind kind = Kind::base;
    std::size_t commit = 0;  ///< Index into the model's strand.
    QPointF centre;
};

/// Where everything stands, in pixels of a chart of some size.
struct RopeChartLayout
{
    QPointF base;
    QPointF outcome;
    qreal oursY = 0;
    qreal theirsY = 0;
    qreal strandBegin = 0;  ///< x where the strands run level.
    qreal strandEnd = 0;
    std::vector<ChartKnot> knots;
    /// A strand that has more commits than knots find room for has a gap before its first knot.
    struct Gap
    {
        QPointF centre;
        std::size_t hidden = 0;  ///< Commits that it stands for.
    };
    std::vector<Gap> gaps;
};

/// Returns the layout; of many commits the newest get knots.
[[nodiscard]] RopeChartLayout layOutRopeChart(const RopeChartModel& model, QSizeF size);

/// The knot at a point, or nothing.
[[nodiscard]] std::optional<ChartKnot> knotAt(const RopeChartLayout& layout, QPointF point);
}  // namespace rope
