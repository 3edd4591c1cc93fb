// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/resolve/candidate_list.h"

#include "desktop/widgets/key_hints.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"

#include <QPainter>
#include <QResizeEvent>
#include <QStyledItemDelegate>

namespace rope {
class CandidateList::Model final : public QAbstractListModel
{
public:
    using QAbstractListModel::QAbstractListModel;
    void setRows(std::vector<ChoiceRow> rows)
    {
        beginResetModel();
        m_rows = std::move(rows);
        endResetModel();
    }
    [[nodiscard]] const ChoiceRow& row(int index) const
    {
        return m_rows[static_cast<std::size_t>(index)];
    }
    [[nodiscard]] int rowCount(const QModelIndex& parent) const override
    {
        return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
    }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override
    {
        const ChoiceRow& row = this->row(index.row());
        if (role == Qt::DisplayRole) {
            return row.label;
        }
        if (role == Qt::AccessibleTextRole) {
            return QStringLiteral("%1 %2: %3")
                .arg(index.row() + 1)
                .arg(row.label, row.consequences);
        }
        return {};
    }

private:
    std::vector<ChoiceRow> m_rows;
};

namespace {
constexpr int kRowsInView = 5;
constexpr int kLeastRowsInView = 3;
constexpr int kRowPadding = 7;

class ChoiceDelegate final : public QStyledItemDelegate
{
public:
    using RowAt = std::function<const ChoiceRow&(int)>;
    ChoiceDelegate(RowAt rowAt, const QListView& view)
        : m_rowAt(std::move(rowAt))
        , m_view(view)
    {
    }

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const int line = option.fontMetrics.height();
        return {100, line + kRowPadding + (fitsBeside(option, m_rowAt(index.row())) ? 0 : line)};
    }

    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override
    {
        const ChoiceRow& row = m_rowAt(index.row());
        const QRect rect = option.rect;
        if ((option.state & QStyle::State_Selected) != 0) {
            painter->setRenderHint(QPainter::Antialiasing);
            painter->setPen(Qt::NoPen);
            painter->setBrush(theme().decidedFill);
            painter->drawRoundedRect(rect, 3, 3);
        }
        const QString key =
            row.hasKey && index.row() < 9 ? QString::number(index.row() + 1) : QString();
        if (!key.isEmpty()) {
            (void)paintKeyCap(*painter, key, rect.left() + 6, rect.center().y() + 1);
        }
        const QRect words = rect.adjusted(paintMarks(*painter, rect, row.marks), 0, -kRight, 0);
        const bool isBeside = fitsBeside(option, row);
        const int half = words.height() / 2;
        painter->setFont(labelFont(option, row));
        painter->setPen(theme().ink);
        painter->drawText(
            isBeside ? words : words.adjusted(0, kRowPadding / 2, 0, -half),
            Qt::AlignVCenter,
            painter->fontMetrics().elidedText(labelOf(row), Qt::ElideRight, words.width()));
        painter->setFont(option.font);
        painter->setPen(row.isWarning ? theme().openInk : row.isLoss ? theme().ink : theme().muted);
        painter->drawText(
            isBeside ? words : words.adjusted(0, half, 0, -kRowPadding / 2),
            static_cast<int>(isBeside ? Qt::AlignVCenter | Qt::AlignRight
                                      : Qt::AlignVCenter | Qt::AlignLeft),
            option.fontMetrics.elidedText(row.consequences, Qt::ElideRight, words.width()));
    }

private:
    static constexpr int kRight = 8;
    static constexpr int kMarks = 53;  ///< Key and mark, at the left.

    static QString labelOf(const ChoiceRow& row)
    {
        return row.isTaken ? QStringLiteral("● ") + row.label : row.label;
    }
    static QFont labelFont(const QStyleOptionViewItem& option, const ChoiceRow& row)
    {
        QFont font = option.font;
        font.setWeight(row.isTaken ? QFont::DemiBold : QFont::Normal);
        return font;
    }
    /// Whether consequences stand beside the name; else they take a line of their own, since nobody should have
    /// to guess at what is dropped.
    [[nodiscard]] bool fitsBeside(const QStyleOptionViewItem& option, const ChoiceRow& row) const
    {
        constexpr int kGap = 12;
        const int label = QFontMetrics(labelFont(option, row)).horizontalAdvance(labelOf(row));
        const int consequences = option.fontMetrics.horizontalAdvance(row.consequences);
        return kMarks + label + kGap + consequences + kRight <= m_view.viewport()->width();
    }

    /// Paints whose text it is. Returns how far from the row's left edge the label begins.
    static int paintMarks(QPainter& painter, const QRect& row, const std::vector<Strand>& marks)
    {
        constexpr int kLeft = 34;
        constexpr int kSide = 11;
        if (marks.empty()) {
            return kLeft;
        }
        const QRect square(row.left() + kLeft, row.center().y() - kSide / 2, kSide, kSide);
        const int part = kSide / static_cast<int>(marks.size());
        for (std::size_t i = 0; i < marks.size(); ++i) {
            const int left = square.left() + static_cast<int>(i) * part;
            const int width = i + 1 == marks.size() ? square.right() + 1 - left : part;
            if (marks[i] == Strand::open) {  // nothing at all; nothing is wrong with it either
                painter.setPen(QPen(theme().muted, 1, Qt::DashLine));
                painter.setBrush(Qt::NoBrush);
                painter.drawRect(square.adjusted(0, 0, -1, -1));
            } else {
                paintStrand(painter, QRect(left, square.top(), width, kSide), marks[i]);
            }
        }
        return kLeft + kSide + 8;
    }

    RowAt m_rowAt;
    const QListView& m_view;
};
}  // namespace

CandidateList::CandidateList(QWidget* parent)
    : QListView(parent)
    , m_model(new Model(this))
{
    setObjectName(QStringLiteral("candidateList"));
    setAccessibleName(tr("Candidates"));
    setModel(m_model);
    auto* const delegate = new ChoiceDelegate(
        [this](int row) -> const ChoiceRow& { return m_model->row(row); }, *this);
    delegate->setParent(this);
    setItemDelegate(delegate);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    followSelection(*this);
    connect(this, &QListView::activated, this, [this](const QModelIndex& index) {
        emit taken(index.row());
    });
}

void CandidateList::setRows(std::vector<ChoiceRow> rows)
{
    const QSignalBlocker blocker(this);
    m_model->setRows(std::move(rows));
    fitRows(viewport()->height() + viewportMargins().bottom());
    updateGeometry();
}

int CandidateList::rowCount() const
{
    return m_model->rowCount({});
}

void CandidateList::lookAt(int row)
{
    setCurrentIndex(m_model->index(row));
}

QSize CandidateList::sizeHint() const
{
    return {240, kRowsInView * (fontMetrics().height() + kRowPadding) + 2};
}

QSize CandidateList::minimumSizeHint() const
{
    const int line = fontMetrics().height() + kRowPadding;
    return {120, std::max(kLeastRowsInView * line, 2 * sizeHintForRow(0)) + 2};
}

void CandidateList::resizeEvent(QResizeEvent* event)
{
    fitRows(event->size().height() + viewportMargins().bottom());
    QListView::resizeEvent(event);
    scheduleDelayedItemsLayout();  // rows take a second line by the width
}

/// Whole rows only: half a line of text at the foot would look cut.
void CandidateList::fitRows(int height)
{
    int used = 0;
    int row = 0;
    while (row < rowCount() && used + sizeHintForRow(row) <= height) {
        used += sizeHintForRow(row++);
    }
    setViewportMargins(0, 0, 0, row > 0 && row < rowCount() ? height - used : 0);
}

void CandidateList::currentChanged(const QModelIndex& current, const QModelIndex& previous)
{
    QListView::currentChanged(current, previous);
    if (current.isValid()) {
        emit lookedAtChanged(current.row());
    }
}
}  // namespace rope
