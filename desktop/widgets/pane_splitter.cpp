// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/widgets/pane_splitter.h"

#include "desktop/widgets/accessible_role.h"
#include "desktop/widgets/theme.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <numeric>

namespace rope {
namespace {
constexpr int kArrowStep = 16;

class DragLine final : public QSplitterHandle
{
public:
    DragLine(Qt::Orientation orientation, PaneSplitter* splitter)
        : QSplitterHandle(orientation, splitter)
        , m_panes(splitter)
    {
        setAccessibleRole(*this, QAccessible::Splitter);
        setFocusPolicy(Qt::TabFocus);
    }

protected:
    void mouseDoubleClickEvent(QMouseEvent*) override { m_panes->reset(); }

    void keyPressEvent(QKeyEvent* event) override
    {
        const bool isUpright = orientation() == Qt::Horizontal;
        const int key = event->key();
        const int step = key == (isUpright ? Qt::Key_Left : Qt::Key_Up)      ? -kArrowStep
                         : key == (isUpright ? Qt::Key_Right : Qt::Key_Down) ? kArrowStep
                                                                             : 0;
        if (step == 0) {
            QSplitterHandle::keyPressEvent(event);
            return;
        }
        moveSplitter((isUpright ? x() : y()) + step);
    }

    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        // The handle reaches a little over its neighbours, so that it can be caught.
        painter.fillRect(contentsRect(), hasFocus() ? theme().ink : theme().rules);
    }

    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

private:
    PaneSplitter* m_panes;
};
}  // namespace

PaneSplitter::PaneSplitter(Qt::Orientation orientation,
                           std::vector<double> shares,
                           const QString& name,
                           QWidget* parent)
    : QSplitter(orientation, parent)
    , m_first(shares)
    , m_shares(std::move(shares))
    , m_name(name)
{
    setHandleWidth(orientation == Qt::Horizontal ? 1 : 3);
    setChildrenCollapsible(false);
    connect(this, &QSplitter::splitterMoved, this, [this] {
        const QList<int> sizes = this->sizes();
        m_shares.assign(sizes.begin(), sizes.end());
    });
}

QSplitterHandle* PaneSplitter::createHandle()
{
    auto* line = new DragLine(orientation(), this);
    line->setAccessibleName(m_name);
    return line;
}

QVariantList PaneSplitter::shares() const
{
    return {m_shares.begin(), m_shares.end()};
}

void PaneSplitter::setShares(const QVariantList& shares)
{
    std::vector<double> wanted;
    for (const QVariant& share : shares) {
        wanted.push_back(share.toDouble());
    }
    const bool isSound = wanted.size() == m_first.size()
                         && std::all_of(wanted.begin(), wanted.end(), [](double share) {
                                return share > 0 && share < 1e6;
                            });
    if (isSound) {
        m_shares = std::move(wanted);
        apply();
    }
}

void PaneSplitter::reset()
{
    m_shares = m_first;
    apply();
}

void PaneSplitter::apply()
{
    const double all = std::accumulate(m_shares.begin(), m_shares.end(), 0.0);
    const int length = orientation() == Qt::Horizontal ? width() : height();
    QList<int> sizes;
    for (const double share : m_shares) {
        sizes << static_cast<int>(share / all * length);
    }
    setSizes(sizes);
}

void PaneSplitter::resizeEvent(QResizeEvent* event)
{
    QSplitter::resizeEvent(event);
    apply();
}
}  // namespace rope
