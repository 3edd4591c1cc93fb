// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/facts/rope_chart_layout.h"

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

struct StrandOf
{
    ChartKnot::Kind kind = ChartKnot::Kind::ours;
    std::size_t listed = 0;  ///< Commits that the model holds, the newest.
    std::size_t count = 0;   ///< All of them.
    std::size_t newer = 0;   ///< Listed ones that stand to the right of the window.
    qreal y = 0;
};

void placeStrand(RopeChartLayout& layout, const StrandOf& strand)
{
    const qreal length = layout.strandEnd - layout.strandBegin;
    const auto room = std::max<std::size_t>(3, static_cast<std::size_t>(length / kKnotPitch));
    const std::size_t end = strand.listed - std::min(strand.newer, strand.listed);
    const bool hasNewer = end < strand.listed;
    // A bundle takes the place of a knot.
    const std::size_t forOlder = room - (hasNewer ? 1 : 0);
    const std::size_t unlisted = strand.count - std::min(strand.listed, strand.count);
    const bool hasOlder = end + unlisted > forOlder;
    const std::size_t shown = std::min(end, hasOlder ? forOlder - 1 : forOlder);
    const std::size_t places = shown + (hasOlder ? 1 : 0) + (hasNewer ? 1 : 0);
    const qreal pitch = places > 1 ? std::min(length / static_cast<qreal>(places - 1), 60.0) : 0;
    std::size_t place = 0;
    const auto add = [&](std::size_t commit, std::size_t bundled, bool isListed) {
        const qreal x = layout.strandEnd - pitch * static_cast<qreal>(places - 1 - place++);
        layout.knots.push_back({strand.kind, commit, {x, strand.y}, bundled, isListed});
    };
    if (hasOlder) {
        const std::size_t older = end - shown;
        add(older == 0 ? 0 : older - 1, older + unlisted, older > 0);
    }
    for (std::size_t i = 0; i < shown; ++i) {
        add(end - shown + i, 0, true);
    }
    if (hasNewer) {
        add(strand.listed - 1, strand.listed - end, true);
    }
}
}  // namespace

RopeChartLayout layOutRopeChart(const RopeChartModel& model, QSizeF size, ChartWindow window)
{
    RopeChartLayout layout;
    const qreal middle = size.height() / 2 - 4;
    const qreal spread = std::min(size.height() * 0.24, 52.0);
    layout.base = {std::max(kLeftMargin + 40, size.width() * kBaseX), middle};
    layout.outcome = {size.width() * kOutcomeX, middle};
    layout.oursY = middle - spread;
    layout.theirsY = middle + spread;
    if (model.rewritten > 0) {
        layout.outcome.setY(layout.theirsY);  // what is written anew follows theirs
    }
    layout.strandBegin = size.width() * kStrandX;
    layout.strandEnd = size.width() * kStrandEndX;
    if (model.base) {
        layout.knots.push_back({ChartKnot::Kind::base, 0, layout.base, 0, true});
    }
    placeStrand(layout,
                {ChartKnot::Kind::ours,
                 model.ours.size(),
                 std::max(model.oursCount, model.ours.size()),
                 window.oursNewer,
                 layout.oursY});
    placeStrand(layout,
                {ChartKnot::Kind::theirs,
                 model.theirs.size(),
                 std::max(model.theirsCount, model.theirs.size()),
                 window.theirsNewer,
                 layout.theirsY});
    if (!model.outcomeTitle.isEmpty()) {
        layout.knots.push_back({ChartKnot::Kind::outcome, 0, layout.outcome, 0, true});
    }
    return layout;
}

ChartWindow
windowAfterOpening(const RopeChartModel& model, ChartWindow window, const ChartKnot& bundle)
{
    const bool isOurs = bundle.kind == ChartKnot::Kind::ours;
    const std::size_t listed = isOurs ? model.ours.size() : model.theirs.size();
    (isOurs ? window.oursNewer : window.theirsNewer) = listed - 1 - bundle.commit;
    return window;
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
