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
    ChoiceDelegate(RowAt rowAt, QObject* parent)
        : QStyledItemDelegate(parent)
        , m_rowAt(std::move(rowAt))
    {
    }

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override
    {
        return {100, option.fontMetrics.height() + kRowPadding};
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
        QFont font = option.font;
        font.setWeight(row.isTaken ? QFont::DemiBold : QFont::Normal);
        painter->setFont(font);
        const QString label = row.isTaken ? QStringLiteral("● ") + row.label : row.label;
        const QRect labelRect = rect.adjusted(paintMarks(*painter, rect, row.marks), 0, -8, 0);
        painter->setPen(theme().ink);
        painter->drawText(labelRect, Qt::AlignVCenter, label);
        const int labelWidth = QFontMetrics(font).horizontalAdvance(label);
        const QRect rest = labelRect.adjusted(labelWidth + 12, 0, 0, 0);
        painter->setFont(option.font);
        painter->setPen(row.isWarning ? theme().openInk : row.isLoss ? theme().ink : theme().muted);
        painter->drawText(
            rest,
            Qt::AlignRight | Qt::AlignVCenter,
            option.fontMetrics.elidedText(row.consequences, Qt::ElideRight, rest.width()));
    }

private:
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
};
}  // namespace

CandidateList::CandidateList(QWidget* parent)
    : QListView(parent)
    , m_model(new Model(this))
{
    setObjectName(QStringLiteral("candidateList"));
    setAccessibleName(tr("Candidates"));
    setModel(m_model);
    setItemDelegate(new ChoiceDelegate(
        [this](int row) -> const ChoiceRow& { return m_model->row(row); }, this));
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
    return {120, kLeastRowsInView * (fontMetrics().height() + kRowPadding) + 2};
}

void CandidateList::resizeEvent(QResizeEvent* event)
{
    // Whole rows only: half a line of text at the foot would look cut.
    const int row = fontMetrics().height() + kRowPadding;
    const int spare = event->size().height() + viewportMargins().bottom();
    setViewportMargins(0, 0, 0, spare > row ? spare % row : 0);
    QListView::resizeEvent(event);
}

void CandidateList::currentChanged(const QModelIndex& current, const QModelIndex& previous)
{
    QListView::currentChanged(current, previous);
    if (current.isValid()) {
        emit lookedAtChanged(current.row());
    }
}
}  // namespace rope
