// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/logbook/splice_list.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/relative_time.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include <algorithm>
#include <functional>

namespace rope {
class SpliceList::Model final : public QAbstractListModel
{
public:
    using QAbstractListModel::QAbstractListModel;

    void setRows(std::vector<LoggedSplice> rows, std::int64_t now)
    {
        beginResetModel();
        m_rows = std::move(rows);
        m_now = now;
        endResetModel();
    }
    [[nodiscard]] const LoggedSplice* row(int index) const
    {
        return index >= 0 && index < rowCount({}) ? &m_rows[static_cast<std::size_t>(index)]
                                                  : nullptr;
    }
    [[nodiscard]] std::int64_t now() const { return m_now; }
    [[nodiscard]] int rowCount(const QModelIndex& parent) const override
    {
        return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
    }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override
    {
        const LoggedSplice& splice = *row(index.row());
        switch (role) {
        case Qt::DisplayRole:
            return whatIntoWhat(splice.entry.plan);
        case Qt::ToolTipRole:
            return plainToolTip(exactTime(splice.entry.startedAt));
        case Qt::AccessibleTextRole:
            return QStringLiteral("%1, %2, %3, %4, %5")
                .arg(whatIntoWhat(splice.entry.plan),
                     methodInWords(splice.entry),
                     decidedInWords(splice),
                     stateInWords(splice),
                     relativeTime(splice.entry.startedAt, m_now));
        default:
            return {};
        }
    }

private:
    std::vector<LoggedSplice> m_rows;
    std::int64_t m_now = 0;
};

namespace {
constexpr qreal kMark = 5;

/// Where the columns begin: when, what, decided, state.
struct Columns
{
    int when = 0;
    int what = 0;
    int decided = 0;
    int state = 0;
};
Columns columnsOf(const QRect& rect)
{
    const auto share = [&](int percent) {
        return rect.left() + rect.width() * percent / 100;
    };
    return {rect.left() + 12, share(14) + 12, share(54), share(76)};
}

/// Each state has a mark of its own beside its word.
void paintMark(QPainter& painter, const QRect& rect, LogState state)
{
    const QPointF centre = QRectF(rect).center();
    const auto ring = [&](QPointF at, Qt::PenStyle style, bool isFilled) {
        painter.setPen(QPen(theme().decided, 1.4, style));
        painter.setBrush(isFilled ? QBrush(theme().decided) : QBrush(Qt::NoBrush));
        painter.drawEllipse(at, kMark - 0.5, kMark - 0.5);
    };
    painter.setRenderHint(QPainter::Antialiasing);
    switch (state) {
    case LogState::open:
        paintKnot(painter, rect, Knot::open);
        break;
    case LogState::putAway:
        ring(centre, Qt::DashLine, false);
        break;
    case LogState::abandoned:
        ring(centre, Qt::DotLine, false);
        painter.drawLine(centre - QPointF(kMark, -kMark), centre + QPointF(kMark, -kMark));
        break;
    case LogState::sent:
        painter.setPen(QPen(theme().decided, 2));
        painter.drawLine(centre, centre + QPointF(2.4 * kMark, 0));
        ring(centre, Qt::SolidLine, true);
        break;
    case LogState::recorded:
        ring(centre, Qt::SolidLine, true);
        break;
    case LogState::replaced:
        ring(centre - QPointF(kMark, 0), Qt::SolidLine, false);
        ring(centre + QPointF(kMark / 2, 0), Qt::SolidLine, true);
        break;
    case LogState::rolledBack:
        painter.setPen(QPen(theme().decided, 1.4, Qt::DotLine));
        painter.drawLine(centre - QPointF(2.4 * kMark, 0), centre - QPointF(kMark, 0));
        ring(centre, Qt::SolidLine, false);
        break;
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}
}  // namespace

namespace {
class SpliceDelegate final : public QStyledItemDelegate
{
public:
    using RowOf = std::function<const LoggedSplice*(int)>;
    SpliceDelegate(RowOf rowOf, std::function<std::int64_t()> now, QObject* parent)
        : QStyledItemDelegate(parent)
        , m_rowOf(std::move(rowOf))
        , m_now(std::move(now))
    {
    }

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override
    {
        return {100, 2 * option.fontMetrics.height() + 10};
    }

    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override
    {
        const LoggedSplice& splice = *m_rowOf(index.row());
        const QRect rect = option.rect;
        if ((option.state & QStyle::State_Selected) != 0) {
            painter->fillRect(rect, theme().selection);
            painter->fillRect(QRect(rect.left(), rect.top(), 4, rect.height()), theme().ink);
        }
        painter->setPen(theme().rules);
        painter->drawLine(rect.bottomLeft(), rect.bottomRight());
        const int height = option.fontMetrics.height();
        const auto [when, what, decided, state] = columnsOf(rect);
        const auto draw = [&](int left,
                              int right,
                              int top,
                              const QFont& font,
                              const QColor& ink,
                              const QString& words) {
            painter->setFont(font);
            painter->setPen(ink);
            painter->drawText(QRect(left, top, right - left, height),
                              Qt::AlignVCenter,
                              QFontMetrics(font).elidedText(words, Qt::ElideRight, right - left));
        };
        const int middle = rect.top() + (rect.height() - height) / 2;
        QFont strong = option.font;
        strong.setWeight(QFont::DemiBold);
        draw(when,
             what - 8,
             middle,
             option.font,
             theme().ink,
             relativeTime(splice.entry.startedAt, m_now()));
        draw(what,
             decided - 8,
             rect.top() + 4,
             strong,
             theme().ink,
             whatIntoWhat(splice.entry.plan));
        draw(what,
             decided - 8,
             rect.top() + 4 + height,
             option.font,
             theme().muted,
             methodInWords(splice.entry));
        draw(decided, state - 20, middle, option.font, theme().ink, decidedInWords(splice));
        paintMark(*painter, QRect(state - 12, rect.top(), 20, rect.height()), splice.state);
        draw(state + 18,
             rect.right() - 4,
             middle,
             option.font,
             splice.state == LogState::open ? theme().openInk : theme().muted,
             stateInWords(splice));
    }

private:
    RowOf m_rowOf;
    std::function<std::int64_t()> m_now;
};
}  // namespace

SpliceListHead::SpliceListHead(QWidget* parent)
    : QWidget(parent)
{
    setFixedHeight(fontMetrics().height() + 8);
}

void SpliceListHead::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setPen(theme().muted);
    const auto [when, what, decided, state] = columnsOf(rect());
    const auto draw = [&](int left, int right, const QString& words) {
        painter.drawText(QRect(left, 0, right - left, height()),
                         Qt::AlignVCenter,
                         fontMetrics().elidedText(words, Qt::ElideRight, right - left));
    };
    draw(when, what - 8, tr("When"));
    draw(what, decided - 8, tr("Merge"));
    draw(decided, state - 20, tr("Decided"));
    draw(state + 18, width(), tr("State"));
    painter.setPen(theme().rules);
    painter.drawLine(rect().bottomLeft(), rect().bottomRight());
}

SpliceList::SpliceList(QWidget* parent)
    : QListView(parent)
    , m_model(new Model(this))
{
    setObjectName(QStringLiteral("spliceList"));
    setAccessibleName(tr("Splices"));
    setModel(m_model);
    setItemDelegate(new SpliceDelegate(
        [this](int row) { return m_model->row(row); }, [this] { return m_model->now(); }, this));
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, &SpliceList::picked);
}

void SpliceList::show(const LogbookFacts& facts, const QString& filter)
{
    const std::string before = current() == nullptr ? std::string() : current()->entry.plan.id;
    std::vector<LoggedSplice> rows;
    std::copy_if(facts.splices.begin(),
                 facts.splices.end(),
                 std::back_inserter(rows),
                 [&](const LoggedSplice& splice) { return matches(splice, filter); });
    m_model->setRows(std::move(rows), facts.readAt);
    select(before);
}

void SpliceList::select(const std::string& splice)
{
    int at = m_model->rowCount({}) > 0 ? 0 : -1;
    for (int row = 0; row < m_model->rowCount({}); ++row) {
        at = m_model->row(row)->entry.plan.id == splice ? row : at;
    }
    if (at >= 0) {
        setCurrentIndex(m_model->index(at, 0));
    }
}

const LoggedSplice* SpliceList::current() const
{
    return m_model->row(currentIndex().row());
}

int SpliceList::rowCount() const
{
    return m_model->rowCount({});
}
}  // namespace rope
