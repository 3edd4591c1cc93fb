// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPointF>
#include <QSizeF>
#include <QString>
#include <QStringList>

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
    bool isMerge = false;    ///< It has joined something itself.
    QStringList branches{};  ///< Other branches that end here.
};

/// A divergence as the chart shows it. Commits oldest first on each strand.
struct RopeChartModel
{
    enum class Shape { diverged, fastForward, oursAhead, same, unrelated };
    Shape shape = Shape::same;
    std::optional<ChartCommit> base;
    std::vector<ChartCommit> ours;  ///< The newest of them; there may be older ones.
    std::vector<ChartCommit> theirs;
    std::size_t oursCount = 0;  ///< All of them.
    std::size_t theirsCount = 0;
    QString oursTitle;
    QString theirsTitle;
    QString outcomeTitle;       ///< What would be made: "merge commit"; empty for nothing.
    std::size_t rewritten = 0;  ///< Commits of ours that would be written anew, upon theirs.
    QString movesTo;  ///< Where ours would go without a commit: "main moves here"; empty: nowhere.
};

/// A knot placed on the chart, or a bundle: several commits that found no room, as one.
struct ChartKnot
{
    enum class Kind { base, ours, theirs, outcome };
    Kind kind = Kind::base;
    std::size_t commit = 0;  ///< Index into the model's strand; of a bundle its newest one.
    QPointF centre;
    std::size_t bundled = 0;  ///< How many commits it stands for; 0: it is a commit.
    bool isListed = true;     ///< Of a bundle: whether it can be opened.
};

/// Which commits of the strands find room; older and newer ones are bundled.
struct ChartWindow
{
    std::size_t oursNewer = 0;  ///< How many of the newest are not shown.
    std::size_t theirsNewer = 0;
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
};

/// Returns the layout. Of more commits than find room, those of the window get knots; a bundle stands
/// for the older ones, and one for the newer ones.
[[nodiscard]] RopeChartLayout
layOutRopeChart(const RopeChartModel& model, QSizeF size, ChartWindow window = {});

/// The window after a bundle of the layout was opened: it begins with that bundle's newest commit.
[[nodiscard]] ChartWindow
windowAfterOpening(const RopeChartModel& model, ChartWindow window, const ChartKnot& bundle);

/// The knot at a point, or nothing.
[[nodiscard]] std::optional<ChartKnot> knotAt(const RopeChartLayout& layout, QPointF point);
}  // namespace rope
