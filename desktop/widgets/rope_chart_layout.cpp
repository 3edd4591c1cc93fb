// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/widgets/rope_chart_layout.h"

#include <QLineF>

#include <algorithm>

namespace rope {
namespace {
constexpr qreal kLeftMargin = 30;
constexpr qreal kBaseX = 0.24;  // shares of the width
constexpr qreal kStrandX = 0.38;
constexpr qreal kStrandEndX = 0.74;
constexpr qreal kOutcomeX = 0.86;
constexpr qreal kKnotPitch = 26;  // least distance between knots
constexpr qreal kReach = 11;      // how near a pointer counts as on a knot

void placeStrand(RopeChartLayout& layout, ChartKnot::Kind kind, std::size_t count, qreal y)
{
    const qreal length = layout.strandEnd - layout.strandBegin;
    const auto room = static_cast<std::size_t>(std::max(1.0, length / kKnotPitch));
    // The gap takes the place of a knot.
    const std::size_t shown = count <= room ? count : std::max<std::size_t>(room - 1, 1);
    if (shown < count) {
        layout.gaps.push_back({{layout.strandBegin + kKnotPitch * 0.35, y}, count - shown});
    }
    const qreal used = shown < count ? length - kKnotPitch : length;
    const qreal pitch = shown > 1 ? std::min(used / static_cast<qreal>(shown - 1), 60.0) : 0;
    for (std::size_t i = 0; i < shown; ++i) {
        const qreal x = layout.strandEnd - pitch * static_cast<qreal>(shown - 1 - i);
        layout.knots.push_back({kind, count - shown + i, {x, y}});
    }
}
}  // namespace

RopeChartLayout layOutRopeChart(const RopeChartModel& model, QSizeF size)
{
    RopeChartLayout layout;
    const qreal middle = size.height() / 2 - 4;
    const qreal spread = std::min(size.height() * 0.24, 52.0);
    layout.base = {std::max(kLeftMargin + 40, size.width() * kBaseX), middle};
    layout.outcome = {size.width() * kOutcomeX, middle};
    layout.oursY = middle - spread;
    layout.theirsY = middle + spread;
    layout.strandBegin = size.width() * kStrandX;
    layout.strandEnd = size.width() * kStrandEndX;
    if (model.base) {
        layout.knots.push_back({ChartKnot::Kind::base, 0, layout.base});
    }
    placeStrand(layout, ChartKnot::Kind::ours, model.ours.size(), layout.oursY);
    placeStrand(layout, ChartKnot::Kind::theirs, model.theirs.size(), layout.theirsY);
    if (!model.outcomeTitle.isEmpty()) {
        layout.knots.push_back({ChartKnot::Kind::outcome, 0, layout.outcome});
    }
    return layout;
}

std::optional<ChartKnot> knotAt(const RopeChartLayout& layout, QPointF point)
{
    for (const ChartKnot& knot : layout.knots) {
        if (QLineF(knot.centre, point).length() <= kReach) {
            return knot;
        }
    }
    return std::nullopt;
}
}  // namespace rope
