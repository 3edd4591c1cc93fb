// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/strand_pattern.h"

#include <QWidget>

#include <vector>

namespace rope {
/// A mark on the strip: lines of the file and what happened there.
struct StripMark
{
    int firstLine = 0;
    int lineCount = 1;
    Strand strand = Strand::ours;
    friend bool operator==(const StripMark&, const StripMark&) = default;
};

/// Returns where a mark stands on a strip of some size: at least so many pixels high.
[[nodiscard]] QRect
stripMarkRect(const StripMark& mark, int lineCount, QSize strip, int leastHeight);

/// The whole file at a glance, beside the result: where regions and joined changes are.
class RegionStrip final : public QWidget
{
    Q_OBJECT
public:
    explicit RegionStrip(QWidget* parent);
    void setMarks(std::vector<StripMark> marks, int lineCount);
    [[nodiscard]] QSize sizeHint() const override { return {12, 100}; }

signals:
    void lineRequested(int line);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    void paintMarks(QPainter& painter, const QRect& part, bool areOpen) const;

    std::vector<StripMark> m_marks;
    int m_lineCount = 1;
};
}  // namespace rope
