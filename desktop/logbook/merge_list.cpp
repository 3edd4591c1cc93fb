// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merges_round.cpp.
#include "desktop/logbook/merge_list.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include <functional>

namespace rope {
namespace {
QString byWhom(const ReadMergeRow& row)
{
    return MergeList::tr("%1 by %2").arg(shown(row.merge.id.brief()), shown(row.merge.author.name));
}

QString stateOf(const ReadMergeRow& row)
{
    const QString worst = worstInWords(row);
    return row.isFine && !row.odd.empty() ? MergeList::tr("ignored: %1").arg(worst) : worst;
}
}  // namespace

class MergeList::Model final : public QAbstractListModel
{
public:
    using QAbstractListModel::QAbstractListModel;

    void setRows(std::vector<ReadMergeRow> rows, std::int64_t now)
    {
        beginResetModel();
        m_rows = std::move(rows);
        m_now = now;
        endResetModel();
    }
    [[nodiscard]] const ReadMergeRow* row(int index) const
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
        const ReadMergeRow& merge = *row(index.row());
        switch (role) {
        case Qt::DisplayRole:
            return shownSubject(merge.merge);
        case Qt::ToolTipRole:
            return plainToolTip(exactTime(merge.merge.author.time));
        case Qt::AccessibleTextRole:
            return QStringLiteral("%1, %2, %3, %4")
                .arg(shownSubject(merge.merge),
                     byWhom(merge),
                     stateOf(merge),
                     relativeTime(merge.merge.author.time, m_now));
        default:
            return {};
        }
    }

private:
    std::vector<ReadMergeRow> m_rows;
    std::int64_t m_now = 0;
};

namespace {
class MergeDelegate final : public QStyledItemDelegate
{
public:
    MergeDelegate(std::function<const ReadMergeRow*(int)> rowOf,
                  std::function<std::int64_t()> now,
                  QObject* parent)
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
        const ReadMergeRow& merge = *m_rowOf(index.row());
        const QRect rect = option.rect;
        if ((option.state & QStyle::State_Selected) != 0) {
            painter->fillRect(rect, theme().selection);
            painter->fillRect(QRect(rect.left(), rect.top(), 4, rect.height()), theme().ink);
        }
        painter->setPen(theme().rules);
        painter->drawLine(rect.bottomLeft(), rect.bottomRight());
        const int height = option.fontMetrics.height();
        const int what = rect.left() + rect.width() * 14 / 100 + 12;
        const int state = rect.left() + rect.width() * 60 / 100;
        const auto draw =
            [&](int left, int right, int top, const QColor& ink, const QString& words) {
                painter->setPen(ink);
                painter->drawText(
                    QRect(left, top, right - left, height),
                    Qt::AlignVCenter,
                    option.fontMetrics.elidedText(words, Qt::ElideRight, right - left));
            };
        painter->setFont(option.font);
        const int middle = rect.top() + (rect.height() - height) / 2;
        draw(rect.left() + 12,
             what - 8,
             middle,
             theme().ink,
             relativeTime(merge.merge.author.time, m_now()));
        draw(what, state - 8, rect.top() + 4, theme().ink, shownSubject(merge.merge));
        draw(what, state - 8, rect.top() + 4 + height, theme().muted, byWhom(merge));
        if (merge.needsLook()) {
            paintKnot(*painter, QRect(state, rect.top(), 20, rect.height()), Knot::open);
        }
        draw(state + 24,
             rect.right() - 6,
             middle,
             merge.needsLook() ? theme().openInk : theme().muted,
             stateOf(merge));
    }

private:
    std::function<const ReadMergeRow*(int)> m_rowOf;
    std::function<std::int64_t()> m_now;
};
}  // namespace

MergeList::MergeList(QWidget* parent)
    : QListView(parent)
    , m_model(new Model(this))
{
    setObjectName(QStringLiteral("mergeList"));
    setAccessibleName(tr("Merges in the history"));
    setModel(m_model);
    setItemDelegate(new MergeDelegate(
        [this](int row) { return m_model->row(row); }, [this] { return m_model->now(); }, this));
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this] {
        if (currentIndex().isValid()) {
            emit picked();
        }
    });
}

void MergeList::show(std::vector<ReadMergeRow> rows, std::int64_t now)
{
    const ObjectId before = current() == nullptr ? ObjectId{} : current()->merge.id;
    const QSignalBlocker quiet(selectionModel());
    m_model->setRows(std::move(rows), now);
    select(before);
}

void MergeList::select(const ObjectId& merge)
{
    for (int row = 0; row < m_model->rowCount({}); ++row) {
        if (m_model->row(row)->merge.id == merge) {
            setCurrentIndex(m_model->index(row, 0));
            return;
        }
    }
    clearSelection();
    setCurrentIndex({});
}

const ReadMergeRow* MergeList::current() const
{
    return m_model->row(currentIndex().row());
}

int MergeList::rowCount() const
{
    return m_model->rowCount({});
}
}  // namespace rope
