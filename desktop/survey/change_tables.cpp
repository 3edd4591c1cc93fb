// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/survey/change_tables.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/ruled_table.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QHeaderView>
#include <QPainter>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace rope {
namespace {
enum OverlapColumn {
    pathColumn,
    oursColumn,
    theirsColumn,
    forecastColumn,
    bestColumn,
    overlapColumns
};

/// Paints a row's rule, the bars of both sides and the diamond of what is open.
class OverlapDelegate final : public QStyledItemDelegate
{
public:
    using RowAt = std::function<const OverlapRow&(int)>;
    OverlapDelegate(RowAt rowAt, QObject* parent)
        : QStyledItemDelegate(parent)
        , m_rowAt(std::move(rowAt))
    {
    }

    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override
    {
        const QRect rect = option.rect;
        if ((option.state & QStyle::State_Selected) != 0) {
            painter->fillRect(rect, theme().decidedFill);
        }
        painter->setPen(theme().rules);
        painter->drawLine(rect.bottomLeft(), rect.bottomRight());
        const OverlapRow& row = m_rowAt(index.row());
        switch (index.column()) {
        case oursColumn:
            paintBar(*painter, option, row.oursLines, row.oursWord, Strand::ours);
            break;
        case theirsColumn:
            paintBar(*painter, option, row.theirsLines, row.theirsWord, Strand::theirs);
            break;
        case forecastColumn:
            paintForecast(*painter, option, row);
            break;
        case bestColumn:
            paintBest(*painter, option, row);
            break;
        default:
            paintPath(*painter, option, row);
        }
    }

private:
    static void
    paintPath(QPainter& painter, const QStyleOptionViewItem& option, const OverlapRow& row)
    {
        QRect rect = option.rect.adjusted(10, 0, -6, 0);
        if (row.isOwn) {
            const QString mark = OverlapTable::tr("yours");
            painter.setFont(option.font);
            painter.setPen(theme().ours.ink);
            painter.drawText(rect, Qt::AlignVCenter | Qt::AlignRight, mark);
            rect.setRight(rect.right() - option.fontMetrics.horizontalAdvance(mark) - 6);
        }
        painter.setFont(codeFont());
        painter.setPen(theme().ink);
        painter.drawText(
            rect,
            Qt::AlignVCenter,
            QFontMetrics(codeFont()).elidedText(row.path, Qt::ElideMiddle, rect.width()));
    }

    /// By magnitude: of a few lines each shows, and of hundreds it still does not stop growing.
    static int barLength(int lines, int room)
    {
        constexpr double kFullAt = 3000;
        const double share = std::log1p(lines) / std::log1p(kFullAt);
        return std::clamp(static_cast<int>(share * room), 5, std::max(room, 5));
    }

    static void paintBar(QPainter& painter,
                         const QStyleOptionViewItem& option,
                         int lines,
                         const QString& word,
                         Strand strand)
    {
        QRect rect = option.rect.adjusted(8, 0, -4, 0);
        painter.setPen(theme().ink);
        painter.setFont(option.font);
        if (lines < 0) {
            painter.drawText(rect, Qt::AlignVCenter, word);
            return;
        }
        constexpr int kLeastRoom = 16;
        const int room = rect.width() - option.fontMetrics.horizontalAdvance(QStringLiteral("0000")) - 7;
        const int length = lines == 0 || room < kLeastRoom ? 0 : barLength(lines, room);
        paintStrand(painter, QRect(rect.left(), rect.center().y() - 4, length, 9), strand);
        rect.adjust(length == 0 ? 0 : length + 7, 0, 0, 0);
        painter.setPen(theme().ink);
        painter.drawText(rect, Qt::AlignVCenter, QString::number(lines));
    }

    static void
    paintForecast(QPainter& painter, const QStyleOptionViewItem& option, const OverlapRow& row)
    {
        QRect rect = option.rect.adjusted(8, 0, -4, 0);
        if (row.isOpen) {
            paintKnot(painter, QRect(rect.left() - 2, rect.top(), 16, rect.height()), Knot::open);
            rect.adjust(20, 0, 0, 0);
        }
        painter.setFont(option.font);
        painter.setPen(row.isOpen ? theme().openInk : theme().ink);
        painter.drawText(rect,
                         Qt::AlignVCenter,
                         option.fontMetrics.elidedText(row.forecast, Qt::ElideRight, rect.width()));
    }

    static void
    paintBest(QPainter& painter, const QStyleOptionViewItem& option, const OverlapRow& row)
    {
        const QRect rect = option.rect.adjusted(8, 0, -4, 0);
        painter.setFont(option.font);
        painter.setPen(theme().muted);
        painter.drawText(rect,
                         Qt::AlignVCenter,
                         option.fontMetrics.elidedText(row.best, Qt::ElideRight, rect.width()));
    }

    RowAt m_rowAt;
};
}  // namespace

class OverlapTable::Model final : public QAbstractTableModel
{
public:
    using QAbstractTableModel::QAbstractTableModel;
    void setRows(std::vector<OverlapRow> rows)
    {
        beginResetModel();
        m_rows = std::move(rows);
        endResetModel();
    }
    /// REQUIRES: the same files
    void setBest(const std::map<std::size_t, QString>& best)
    {
        for (OverlapRow& row : m_rows) {
            row.best = best.at(row.file);
        }
        if (!m_rows.empty()) {
            emit dataChanged(index(0, bestColumn),
                             index(static_cast<int>(m_rows.size()) - 1, bestColumn));
        }
    }
    [[nodiscard]] const OverlapRow& row(int index) const
    {
        return m_rows[static_cast<std::size_t>(index)];
    }
    [[nodiscard]] int rowCount(const QModelIndex& parent) const override
    {
        return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
    }
    [[nodiscard]] int columnCount(const QModelIndex&) const override { return overlapColumns; }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override
    {
        const OverlapRow& r = row(index.row());
        if (role == Qt::ToolTipRole && index.column() >= forecastColumn) {
            return plainToolTip(index.column() == forecastColumn ? r.forecast : r.best);
        }
        if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole) {
            return {};
        }
        switch (index.column()) {
        case pathColumn:
            return r.isOwn && role == Qt::AccessibleTextRole
                       ? OverlapTable::tr("%1, yours").arg(r.path)
                       : r.path;
        case oursColumn:
            return r.oursLines < 0
                       ? r.oursWord
                       : countOf(static_cast<std::size_t>(r.oursLines), "line", "lines");
        case theirsColumn:
            return r.theirsLines < 0
                       ? r.theirsWord
                       : countOf(static_cast<std::size_t>(r.theirsLines), "line", "lines");
        case bestColumn:
            return r.best;
        default:
            return r.forecast;
        }
    }
    [[nodiscard]] QVariant
    headerData(int section, Qt::Orientation orientation, int role) const override
    {
        if (role != Qt::DisplayRole || orientation != Qt::Horizontal) {
            return {};
        }
        const std::array names{OverlapTable::tr("File"),
                               OverlapTable::tr("Ours"),
                               OverlapTable::tr("Theirs"),
                               OverlapTable::tr("Forecast"),
                               OverlapTable::tr("First candidate")};
        return names[static_cast<std::size_t>(section)];
    }

private:
    std::vector<OverlapRow> m_rows;
};

OverlapTable::OverlapTable(QWidget* parent)
    : QTableView(parent)
    , m_model(new Model(this))
{
    setObjectName(QStringLiteral("overlapTable"));
    setAccessibleName(tr("Files changed on both sides"));
    setModel(m_model);
    setItemDelegate(new OverlapDelegate(
        [this](int row) -> const OverlapRow& { return m_model->row(row); }, this));
    dressTable(*this);
    connect(selectionModel(),
            &QItemSelectionModel::currentRowChanged,
            this,
            [this](const QModelIndex& row) {
                if (row.isValid()) {
                    emit filePicked(m_model->row(row.row()).file);
                }
            });
}

void OverlapTable::resizeEvent(QResizeEvent* event)
{
    constexpr int kWide = 640;
    const int width = viewport()->width();
    const int letter = fontMetrics().averageCharWidth();
    const bool isWide = width >= kWide;
    setColumnWidth(oursColumn, isWide ? letter * 14 : letter * 10);
    setColumnWidth(theirsColumn, isWide ? letter * 14 : letter * 10);
    setColumnWidth(pathColumn, isWide ? letter * 30 : std::max(120, width - letter * 46));
    setColumnWidth(forecastColumn, isWide ? letter * 32 : letter * 20);  // the last one is stretched
    setColumnHidden(bestColumn, !isWide);
    QTableView::resizeEvent(event);
}

void OverlapTable::showRows(std::vector<OverlapRow> rows)
{
    m_all = std::move(rows);
    arrange();
}

void OverlapTable::showBest(const std::vector<OverlapRow>& rows)
{
    std::map<std::size_t, QString> best;
    for (const OverlapRow& row : rows) {
        best[row.file] = row.best;
    }
    for (OverlapRow& row : m_all) {
        row.best = best[row.file];
    }
    m_model->setBest(best);
}

void OverlapTable::setFilter(const QString& text)
{
    m_filter = text;
    arrange();
}

void OverlapTable::setOwnFirst(bool isFirst)
{
    m_isOwnFirst = isFirst;
    arrange();
}

void OverlapTable::arrange()
{
    std::vector<OverlapRow> rows;
    std::copy_if(m_all.begin(), m_all.end(), std::back_inserter(rows), [this](const auto& row) {
        return m_filter.isEmpty() || row.path.contains(m_filter, Qt::CaseInsensitive)
               || row.forecast.contains(m_filter, Qt::CaseInsensitive);
    });
    if (m_isOwnFirst) {
        std::stable_partition(
            rows.begin(), rows.end(), [](const OverlapRow& row) { return row.isOwn; });
    }
    m_model->setRows(std::move(rows));
    // Where nothing is to be decided, what is said of the file has the room of both columns.
    clearSpans();
    for (int row = 0; row < m_model->rowCount({}); ++row) {
        if (!m_model->row(row).isOpen) {
            setSpan(row, forecastColumn, 1, 2);
        }
    }
}

int OverlapTable::rowCount() const
{
    return static_cast<int>(m_all.size());
}
}  // namespace rope
