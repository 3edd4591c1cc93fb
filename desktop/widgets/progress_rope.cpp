// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_panes_and_rows.cpp.
#include "desktop/widgets/progress_rope.h"

#include "core/base/assert.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QPainter>

namespace rope {
namespace {
constexpr int kHeight = 6;
}  // namespace

ProgressRope::ProgressRope(QWidget* parent)
    : QWidget(parent)
{
    setFixedHeight(kHeight);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ProgressRope::setDone(std::size_t done, std::size_t all)
{
    ROPE_ASSERT(done <= all, "more is done than there is");
    m_done = done;
    m_all = all;
    setAccessibleName(tr("%1 of %2 decided").arg(done).arg(all));
    update();
}

void ProgressRope::paintEvent(QPaintEvent*)
{
    if (m_all == 0) {
        return;
    }
    QPainter painter(this);
    const int end = static_cast<int>(static_cast<std::size_t>(width()) * m_done / m_all);
    const int middle = height() / 2;
    paintStrand(painter, QRect(0, middle - 2, end, 4), Strand::both);
    if (m_done < m_all) {
        painter.setPen(QPen(theme().muted, 2, Qt::DashLine));
        painter.drawLine(end + 3, middle, width() - 1, middle);
    }
}
}  // namespace rope
