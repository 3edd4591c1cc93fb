// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/lines_view.h"

#include "core/text/text.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QAbstractListModel>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QStyledItemDelegate>

#include <algorithm>
#include <array>

namespace rope {
namespace {
constexpr std::array kPartChoices{
    PartChoice::ours, PartChoice::theirs, PartChoice::bothTheirsFirst, PartChoice::base};
constexpr int kPlaceRight = 34;  // where numbers end
constexpr int kRopeLeft = 40;    // the bit of rope that leads to the mark
constexpr int kMarkCentre = 68;
constexpr int kMarkRadius = 6;
constexpr int kStripLeft = 84;
constexpr int kTextLeft = 100;
constexpr int kSegmentPadding = 8;
constexpr int kSwatchRoom = 16;

Strand strandOfChoice(PartChoice choice)
{
    return choice == PartChoice::ours     ? Strand::ours
           : choice == PartChoice::theirs ? Strand::theirs
           : choice == PartChoice::base   ? Strand::base
                                          : Strand::both;
}

QString nameOfChoice(PartChoice choice)
{
    switch (choice) {
    case PartChoice::ours:
        return LinesView::tr("ours");
    case PartChoice::theirs:
        return LinesView::tr("theirs");
    case PartChoice::bothOursFirst:
        return LinesView::tr("both, ours first");
    case PartChoice::bothTheirsFirst:
        return LinesView::tr("both");
    case PartChoice::base:
        return LinesView::tr("base");
    }
    return {};
}

bool areSame(PartChoice segment, PartChoice choice)
{
    return segment == choice
           || (segment == PartChoice::bothTheirsFirst && choice == PartChoice::bothOursFirst);
}

QString holdersOf(const OfferedLine& line)
{
    if (line.isAgreed()) {
        return LinesView::tr("all three");
    }
    if (line.inBase && !line.inOurs && !line.inTheirs) {
        return LinesView::tr("base");
    }
    if (line.inBase) {
        return line.inOurs ? LinesView::tr("base, ours") : LinesView::tr("base, theirs");
    }
    return line.inOurs && line.inTheirs ? LinesView::tr("ours and theirs")
           : line.inOurs                ? LinesView::tr("ours")
                                        : LinesView::tr("theirs");
}

QString shownLine(std::string_view line)
{
    return shown(withoutLineEnd(line)).replace(QLatin1Char('\t'), QStringLiteral("    "));
}
}  // namespace

/// A heading for each part, followed by its lines.
class LinesView::Model final : public QAbstractListModel
{
public:
    struct Row
    {
        bool isHeading = false;
        std::size_t part = 0;
        std::size_t line = 0;  ///< Of the column; of a heading its first.
    };
    using QAbstractListModel::QAbstractListModel;

    void show(const LineChoice* choice)
    {
        beginResetModel();
        m_choice = choice;
        m_rows.clear();
        for (std::size_t part = 0; choice != nullptr && part < choice->parts().size(); ++part) {
            const LinePart& range = choice->parts()[part];
            m_rows.push_back({true, part, range.begin});
            for (std::size_t line = range.begin; line < range.end; ++line) {
                m_rows.push_back({false, part, line});
            }
        }
        endResetModel();
    }
    void tellOfMarks()
    {
        if (!m_rows.empty()) {
            emit dataChanged(index(0), index(static_cast<int>(m_rows.size()) - 1));
        }
    }
    [[nodiscard]] const Row& row(int index) const
    {
        return m_rows[static_cast<std::size_t>(index)];
    }
    [[nodiscard]] const LineChoice& choice() const { return *m_choice; }
    [[nodiscard]] int rowCount(const QModelIndex& parent) const override
    {
        return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
    }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override
    {
        if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole) {
            return {};
        }
        const Row& row = this->row(index.row());
        if (row.isHeading) {
            const auto choice = m_choice->choiceOf(row.part);
            return tr("Part %1: %2")
                .arg(row.part + 1)
                .arg(choice ? nameOfChoice(*choice) : tr("picked by line"));
        }
        const OfferedLine& line = m_choice->lines()[row.line];
        const auto place = m_choice->placeOf(row.line);
        if (role == Qt::DisplayRole) {
            return shownLine(line.text);
        }
        return place ? tr("taken as number %1: %2, %3")
                           .arg(*place + 1)
                           .arg(shownLine(line.text), holdersOf(line))
                     : tr("left: %1, %2").arg(shownLine(line.text), holdersOf(line));
    }

private:
    const LineChoice* m_choice = nullptr;
    std::vector<Row> m_rows;
};

class LinesView::Delegate final : public QStyledItemDelegate
{
public:
    Delegate(const Model& model, LinesView* view)
        : QStyledItemDelegate(view)
        , m_model(model)
        , m_view(view)
    {
    }

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const int height = std::max(option.fontMetrics.height(), QFontMetrics(codeFont()).height());
        return {100, height + (m_model.row(index.row()).isHeading ? 10 : 3)};
    }

    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override
    {
        const Model::Row& row = m_model.row(index.row());
        painter->save();
        if (row.isHeading) {
            paintHeading(*painter, option, row);
        } else {
            paintLine(*painter, option, row);
        }
        if ((option.state & QStyle::State_Selected) != 0 && m_view->hasFocus()) {
            painter->setRenderHint(QPainter::Antialiasing);
            painter->setBrush(Qt::NoBrush);
            painter->setPen(QPen(theme().ink, 1.5));
            painter->drawRoundedRect(QRectF(option.rect).adjusted(2, 1, -2, -1), 4, 4);
        }
        painter->restore();
    }

    /// Which segment of a heading is at a point.
    [[nodiscard]] std::optional<PartChoice>
    segmentAt(const QRect& rect, const QFontMetrics& metrics, std::size_t part, QPoint point) const
    {
        for (const Segment& segment : segments(rect, metrics, part)) {
            if (segment.rect.contains(point)) {
                return segment.choice;
            }
        }
        return std::nullopt;
    }

private:
    struct Segment
    {
        PartChoice choice = PartChoice::ours;
        QString name;
        QRect rect;
        bool isOn = false;
    };

    std::vector<Segment>
    segments(const QRect& rect, const QFontMetrics& metrics, std::size_t part) const
    {
        const auto chosen = m_model.choice().choiceOf(part);
        std::vector<Segment> segments;
        int right = rect.right() - 8;
        for (auto choice = kPartChoices.rbegin(); choice != kPartChoices.rend(); ++choice) {
            const bool isOn = chosen && areSame(*choice, *chosen);
            const QString name = nameOfChoice(isOn ? *chosen : *choice);
            const int width = metrics.horizontalAdvance(name) + 2 * kSegmentPadding + kSwatchRoom;
            segments.push_back({*choice,
                                name,
                                QRect(right - width, rect.top() + 3, width, rect.height() - 6),
                                isOn});
            right -= width;
        }
        return segments;
    }

    void
    paintHeading(QPainter& painter, const QStyleOptionViewItem& option, const Model::Row& row) const
    {
        const QRect rect = option.rect;
        painter.fillRect(rect, theme().panel);
        const LinePart& range = m_model.choice().parts()[row.part];
        std::size_t taken = 0;
        for (std::size_t line = range.begin; line < range.end; ++line) {
            taken += m_model.choice().isTaken(line) ? 1U : 0U;
        }
        QFont strong = option.font;
        strong.setWeight(QFont::DemiBold);
        const QString title = tr("Part %1").arg(row.part + 1);
        painter.setFont(strong);
        painter.setPen(theme().ink);
        painter.drawText(rect.adjusted(12, 0, 0, 0), Qt::AlignVCenter, title);
        const int titleWidth = QFontMetrics(strong).horizontalAdvance(title);
        painter.setFont(option.font);
        painter.setPen(theme().muted);
        QString words = tr("%1 of %2 taken").arg(taken).arg(range.end - range.begin);
        if (!m_model.choice().choiceOf(row.part)) {
            words += tr(" · picked by line");
        }
        painter.drawText(rect.adjusted(12 + titleWidth + 10, 0, 0, 0), Qt::AlignVCenter, words);
        for (const Segment& segment : segments(rect, option.fontMetrics, row.part)) {
            painter.fillRect(segment.rect, segment.isOn ? theme().decidedFill : theme().paper);
            painter.setPen(theme().rules);
            painter.drawRect(segment.rect.adjusted(0, 0, -1, -1));
            painter.setPen(theme().ink);
            painter.drawText(
                segment.rect.adjusted(kSwatchRoom, 0, 0, 0), Qt::AlignCenter, segment.name);
            paintStrand(
                painter,
                QRect(segment.rect.left() + kSegmentPadding, segment.rect.center().y() - 4, 12, 8),
                strandOfChoice(segment.choice));
            if (segment.isOn) {
                painter.fillRect(
                    QRect(segment.rect.left(), segment.rect.bottom() - 1, segment.rect.width(), 2),
                    theme().ink);
            }
        }
    }

    void
    paintLine(QPainter& painter, const QStyleOptionViewItem& option, const Model::Row& row) const
    {
        const QRect rect = option.rect;
        const OfferedLine& line = m_model.choice().lines()[row.line];
        const auto place = m_model.choice().placeOf(row.line);
        const Strand strand = strandOf(line.origin());
        if (place && strand != Strand::base) {
            painter.fillRect(rect.adjusted(kStripLeft, 0, 0, 0),
                             strand == Strand::ours     ? theme().ours.fill
                             : strand == Strand::theirs ? theme().theirs.fill
                                                        : theme().decidedFill);
        }
        paintMark(painter, option, place, strand);
        painter.setOpacity(place ? 1 : 0.45);
        paintStrand(painter, QRect(kStripLeft, rect.top(), 5, rect.height()), strand);
        painter.setOpacity(1);

        painter.setFont(option.font);
        painter.setPen(theme().muted);
        const QString holders = holdersOf(line);
        painter.drawText(rect.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, holders);
        const int room =
            rect.width() - kTextLeft - option.fontMetrics.horizontalAdvance(holders) - 20;
        painter.setFont(codeFont());
        paintWords(painter, rect, line, strand);
        const bool isGone = line.inBase && !place && (!line.inOurs || !line.inTheirs);
        painter.setPen(place ? theme().ink : theme().muted);
        const QString text =
            painter.fontMetrics().elidedText(shownLine(line.text), Qt::ElideRight, room);
        painter.drawText(rect.adjusted(kTextLeft, 0, 0, 0), Qt::AlignVCenter, text);
        if (isGone && !text.trimmed().isEmpty()) {
            const int from = painter.fontMetrics().horizontalAdvance(
                text.first(text.indexOf(text.trimmed().first(1))));
            const int to = painter.fontMetrics().horizontalAdvance(text);
            const int y = rect.center().y() + 1;
            painter.drawLine(rect.left() + kTextLeft + from, y, rect.left() + kTextLeft + to, y);
        }
    }

    static void
    paintWords(QPainter& painter, const QRect& rect, const OfferedLine& line, Strand strand)
    {
        const SideColours& colours = strand == Strand::ours ? theme().ours : theme().theirs;
        for (const WordMark& word : line.words) {
            const auto left =
                painter.fontMetrics().horizontalAdvance(shownLine(line.text.substr(0, word.begin)));
            const auto right =
                painter.fontMetrics().horizontalAdvance(shownLine(line.text.substr(0, word.end)));
            painter.fillRect(QRect(rect.left() + kTextLeft + left,
                                   rect.top() + 1,
                                   right - left,
                                   rect.height() - 2),
                             colours.word);
        }
    }

    static void paintMark(QPainter& painter,
                          const QStyleOptionViewItem& option,
                          const std::optional<std::size_t>& place,
                          Strand strand)
    {
        const QRect rect = option.rect;
        painter.setRenderHint(QPainter::Antialiasing);
        const QRectF ring(kMarkCentre - kMarkRadius,
                          rect.center().y() - kMarkRadius + 0.5,
                          2 * kMarkRadius,
                          2 * kMarkRadius);
        if (place) {
            QFont strong = option.font;
            strong.setWeight(QFont::DemiBold);
            painter.setFont(strong);
            painter.setPen(theme().ink);
            painter.drawText(QRect(rect.left(), rect.top(), kPlaceRight, rect.height()),
                             Qt::AlignRight | Qt::AlignVCenter,
                             QString::number(*place + 1));
            paintStrand(painter,
                        QRect(kRopeLeft, rect.center().y() - 2, kMarkCentre - kRopeLeft, 5),
                        strand);
            painter.save();
            QPainterPath circle;
            circle.addEllipse(ring);
            painter.setClipPath(circle);
            paintStrand(painter, ring, strand);
            painter.restore();
        }
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(place ? theme().ink : theme().muted, 1.2));
        painter.drawEllipse(ring);
        painter.setRenderHint(QPainter::Antialiasing, false);
    }

    const Model& m_model;
    LinesView* m_view;
};

LinesView::LinesView(QWidget* parent)
    : QListView(parent)
    , m_model(new Model(this))
{
    setObjectName(QStringLiteral("linesView"));
    setAccessibleName(tr("Lines of the sides"));
    setModel(m_model);
    setItemDelegate(new Delegate(*m_model, this));
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
}

void LinesView::showRegion(const RegionTexts& texts, std::string_view text)
{
    m_undo.clear();
    m_redo.clear();
    m_choice = LineChoice(texts);
    m_choice.setTo(text);
    m_model->show(&m_choice);
    setCurrentIndex(m_model->index(1));
    emit picked();
}

void LinesView::clear()
{
    m_undo.clear();
    m_redo.clear();
    m_model->show(nullptr);
    m_choice = {};
}

void LinesView::setTo(std::string_view text)
{
    LineChoice next = m_choice;
    next.setTo(text);
    change(std::move(next));
}

void LinesView::put(LineChoice choice)
{
    m_choice = std::move(choice);
    m_model->tellOfMarks();
    emit picked();
}

void LinesView::change(LineChoice next)
{
    if (!m_isEditable || next == m_choice) {
        return;
    }
    m_undo.push_back(m_choice);
    m_redo.clear();
    put(std::move(next));
}

void LinesView::undo()
{
    if (canUndo()) {
        m_redo.push_back(m_choice);
        LineChoice before = std::move(m_undo.back());
        m_undo.pop_back();
        put(std::move(before));
    }
}

void LinesView::redo()
{
    if (canRedo()) {
        m_undo.push_back(m_choice);
        LineChoice next = std::move(m_redo.back());
        m_redo.pop_back();
        put(std::move(next));
    }
}

void LinesView::toggle(int row)
{
    if (!m_model->row(row).isHeading) {
        LineChoice next = m_choice;
        next.toggle(m_model->row(row).line);
        change(std::move(next));
    }
}

void LinesView::move(int row, int direction)
{
    const Model::Row& at = m_model->row(row);
    if (at.isHeading) {
        const auto chosen = m_choice.choiceOf(at.part);
        choose(at.part,
               chosen == PartChoice::bothTheirsFirst ? PartChoice::bothOursFirst
                                                     : PartChoice::bothTheirsFirst);
        return;
    }
    LineChoice next = m_choice;
    if (next.move(at.line, direction)) {
        change(std::move(next));
    }
}

void LinesView::choose(std::size_t part, PartChoice choice)
{
    LineChoice next = m_choice;
    next.choose(part, choice);
    change(std::move(next));
}

/// The next of ours, theirs, both, base; from what was picked by line the first or last.
void LinesView::stepChoice(std::size_t part, int direction)
{
    const auto chosen = m_choice.choiceOf(part);
    const auto at = std::find_if(kPartChoices.begin(), kPartChoices.end(), [&](PartChoice choice) {
        return chosen && areSame(choice, *chosen);
    });
    const auto count = static_cast<std::ptrdiff_t>(kPartChoices.size());
    const auto from =
        at == kPartChoices.end() ? (direction > 0 ? -1 : count) : at - kPartChoices.begin();
    const auto to = std::clamp<std::ptrdiff_t>(from + direction, 0, count - 1);
    choose(part, kPartChoices[static_cast<std::size_t>(to)]);
}

void LinesView::keyPressEvent(QKeyEvent* event)
{
    const QModelIndex index = currentIndex();
    if (!index.isValid()) {
        QListView::keyPressEvent(event);
        return;
    }
    const bool isMoving = (event->modifiers() & Qt::AltModifier) != 0;
    switch (event->key()) {
    case Qt::Key_Space:
        toggle(index.row());
        return;
    case Qt::Key_Up:
    case Qt::Key_Down:
        if (isMoving) {
            move(index.row(), event->key() == Qt::Key_Up ? -1 : 1);
            return;
        }
        break;
    case Qt::Key_Left:
    case Qt::Key_Right:
        stepChoice(m_model->row(index.row()).part, event->key() == Qt::Key_Left ? -1 : 1);
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        emit useRequested();
        return;
    default:
        break;
    }
    QListView::keyPressEvent(event);
}

void LinesView::mousePressEvent(QMouseEvent* event)
{
    QListView::mousePressEvent(event);
    const QModelIndex index = indexAt(event->pos());
    if (!index.isValid() || event->button() != Qt::LeftButton) {
        return;
    }
    const Model::Row& row = m_model->row(index.row());
    if (row.isHeading) {
        const auto* delegate = static_cast<const Delegate*>(itemDelegate());
        if (const auto choice =
                delegate->segmentAt(visualRect(index), fontMetrics(), row.part, event->pos())) {
            choose(row.part, *choice);
        }
    } else if (event->pos().x() < kStripLeft) {
        toggle(index.row());
    }
}
}  // namespace rope
