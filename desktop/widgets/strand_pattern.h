// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/line_origin.h"

#include <QPixmap>
#include <QRectF>

class QPainter;
class QPainterPath;

namespace rope {
struct SideColours;

/// What a strand shows. Each has a pattern as well as a colour.
enum class Strand {
    base,    ///< Plain.
    ours,    ///< Diagonal `\`.
    theirs,  ///< Diagonal `/`.
    both,    ///< Crossed.
    hand,    ///< Dots.
    open,    ///< Dashed edges around nothing.
};

[[nodiscard]] Strand strandOf(LineOrigin origin);

/// The colours of the side a strand shows; of base where it shows no one side. Interface thread only.
[[nodiscard]] const SideColours& coloursOf(Strand side);

/// Fills a rectangle with a strand's pattern. The pattern is anchored at the painter's origin, so
/// that neighbours continue each other.
void paintStrand(QPainter& painter, const QRectF& rect, Strand strand);

/// Paints a rope of some width along a path, with a strand's pattern.
void paintRope(QPainter& painter, const QPainterPath& path, qreal width, Strand strand);

/// A picture of a strand for list rows and margins, sharp at the given device pixel ratio.
[[nodiscard]] QPixmap strandPixmap(Strand strand, QSize size, qreal devicePixelRatio = 1);

/// A picture for a margin: lines that a person took out above the line, or below it.
enum class GapSide { above, below };
[[nodiscard]] QPixmap gapPixmap(GapSide side, QSize size);

/// The diamond of something open or the disc of something decided, centred in `rect`; dots for
/// what was written by hand.
enum class Knot { open, decided, decidedByHand };
void paintKnot(QPainter& painter, const QRectF& rect, Knot knot);
}  // namespace rope
