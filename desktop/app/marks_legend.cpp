// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/marks_legend.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/wording/tr.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>

#include <utility>

namespace rope {
namespace {
constexpr QSize kSwatch(34, 14);

QPixmap knotPixmap(Knot knot, qreal ratio)
{
    QPixmap picture(kSwatch * ratio);
    picture.setDevicePixelRatio(ratio);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    paintKnot(painter, QRectF({}, kSwatch), knot);
    return picture;
}

/// Rows of a mark and its words.
class Legend
{
public:
    explicit Legend(QWidget* page)
        : m_page(page)
        , m_grid(new QGridLayout(page))
    {
        m_grid->setContentsMargins(20, 16, 20, 16);
        m_grid->setHorizontalSpacing(16);
        m_grid->setVerticalSpacing(6);
        m_grid->setColumnStretch(1, 1);
    }

    void heading(const QString& text)
    {
        m_grid->addWidget(makeLabel(text, TextRole::heading, m_page), m_row++, 0, 1, 2);
    }
    void add(const QPixmap& mark, const QString& words)
    {
        auto* picture = new QLabel(m_page);
        picture->setPixmap(mark);
        addRow(picture, words);
    }
    void add(const QString& mark, const QString& words)
    {
        addRow(makeLabel(mark, TextRole::code, m_page), words);
    }
    void end() { m_grid->setRowStretch(m_row, 1); }

private:
    void addRow(QWidget* mark, const QString& words)
    {
        m_grid->addWidget(mark, m_row, 0);
        m_grid->addWidget(makeLabel(words, TextRole::normal, m_page), m_row++, 1);
    }

    QWidget* m_page;
    QGridLayout* m_grid;
    int m_row = 0;
};
}  // namespace

QWidget* makeMarksLegend(QWidget* parent)
{
    auto* page = new QWidget(parent);
    const qreal ratio = parent->devicePixelRatioF();
    Legend legend(page);
    legend.heading(tr("Where a line comes from"));
    for (const auto& [strand, words] :
         {std::pair(Strand::ours, tr("ours: your branch")),
          std::pair(Strand::theirs, tr("theirs: the branch that is merged")),
          std::pair(Strand::both, tr("both sides: the same change on either side")),
          std::pair(Strand::hand, tr("written by hand")),
          std::pair(Strand::base, tr("unchanged from the base")),
          std::pair(Strand::open, tr("a conflict that is open"))}) {
        legend.add(strandPixmap(strand, kSwatch, ratio), words);
    }
    legend.heading(tr("How things are"));
    for (const auto& [knot, words] :
         {std::pair(Knot::open, tr("open: decide it, or look at it")),
          std::pair(Knot::decided, tr("decided")),
          std::pair(Knot::decidedByHand, tr("decided, with a text written by hand"))}) {
        legend.add(knotPixmap(knot, ratio), words);
    }
    legend.add(QStringLiteral("✓"), tr("passed, or read"));
    legend.add(QStringLiteral("◦"), tr("a remark: probably fine"));
    legend.add(QStringLiteral("◎"), tr("in the course at the top: you are here"));
    legend.heading(tr("In texts and tables"));
    legend.add(QStringLiteral("+"),
               tr("in Check: a line that is in the result but not on that side"));
    legend.add(QStringLiteral("┆word┆"),
               tr("a dashed frame: the base's word, before it was changed"));
    legend.add(QStringLiteral("◇ 3 ◇"),
               tr("between two branches: conflicts; the closer the diamonds, the more"));
    legend.add(QStringLiteral("·"), tr("between two branches: not known yet"));
    legend.add(QStringLiteral("="), tr("between two branches: one contains all of the other"));
    legend.end();
    return page;
}
}  // namespace rope
