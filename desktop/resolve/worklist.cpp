// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/resolve/worklist.h"

#include "desktop/widgets/flow_layout.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/progress_rope.h"
#include "desktop/widgets/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <iterator>
#include <utility>

namespace rope {
namespace {
/// A path that fits: its folders are shortened first, its name never before them.
QString elidedPath(const QString& path, const QFontMetrics& metrics, int width)
{
    if (metrics.horizontalAdvance(path) <= width) {
        return path;
    }
    const qsizetype slash = path.lastIndexOf(QLatin1Char('/'));
    const QString name = path.mid(slash + 1);
    const QString ellipsis = QStringLiteral("…/");
    const int room = width - metrics.horizontalAdvance(ellipsis + name);
    if (slash < 0 || room < 0) {
        return metrics.elidedText(name, Qt::ElideMiddle, width);
    }
    return metrics.elidedText(
               path.first(slash), Qt::ElideRight, room + metrics.horizontalAdvance(QChar(u'…')))
           + QLatin1Char('/') + name;
}

constexpr std::array kGroupings{WorklistGrouping::file,
                                WorklistGrouping::folder,
                                WorklistGrouping::kind,
                                WorklistGrouping::people};

QString groupingInWords(WorklistGrouping grouping)
{
    switch (grouping) {
    case WorklistGrouping::file:
        return Worklist::tr("by file");
    case WorklistGrouping::folder:
        return Worklist::tr("by folder");
    case WorklistGrouping::kind:
        return Worklist::tr("by kind");
    case WorklistGrouping::people:
        return Worklist::tr("by people");
    }
    return {};
}

class WorklistDelegate final : public QStyledItemDelegate
{
public:
    WorklistDelegate(const WorklistModel& model, QObject* parent)
        : QStyledItemDelegate(parent)
        , m_model(model)
    {
    }

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const WorklistRow& row = m_model.row(index.row());
        return row.kind == WorklistRow::Kind::commit
                   ? QSize(100, 2 * option.fontMetrics.height() + 16)
                   : QSize(100, option.fontMetrics.height() + (isHeading(row) ? 14 : 9));
    }

    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override
    {
        const WorklistRow& row = m_model.row(index.row());
        const QRect rect = option.rect;
        if ((option.state & QStyle::State_Selected) != 0 && !isHeading(row)) {
            painter->fillRect(rect, theme().selection);
            painter->fillRect(QRect(rect.left(), rect.top(), 3, rect.height()), theme().ink);
        }
        if (row.kind == WorklistRow::Kind::item) {
            paintItem(*painter, option, row);
        } else if (row.kind == WorklistRow::Kind::alike || row.kind == WorklistRow::Kind::folded) {
            paintStandIn(*painter, option, row);
        } else if (row.kind == WorklistRow::Kind::commit) {
            paintCommit(*painter, option, row);
        } else {
            paintFile(*painter, option, row);
        }
    }

private:
    static bool isHeading(const WorklistRow& row)
    {
        return row.kind == WorklistRow::Kind::file || row.kind == WorklistRow::Kind::group
               || row.kind == WorklistRow::Kind::commit;
    }

    /// Which commit it is and how it stands, its subject below.
    static void
    paintCommit(QPainter& painter, const QStyleOptionViewItem& option, const WorklistRow& row)
    {
        painter.setPen(theme().rules);
        painter.drawLine(option.rect.topLeft(), option.rect.topRight());
        const QRect rect = option.rect.adjusted(12, 6, -12, -4);
        const int height = option.fontMetrics.height();
        painter.setFont(option.font);
        painter.setPen(theme().muted);
        const QString how = row.remark.isEmpty()
                                ? row.before
                                : QStringLiteral("%1 · %2").arg(row.before, row.remark);
        painter.drawText(QRect(rect.left(), rect.top(), rect.width(), height),
                         Qt::AlignVCenter,
                         option.fontMetrics.elidedText(how, Qt::ElideRight, rect.width()));
        QFont strong = option.font;
        strong.setWeight(QFont::DemiBold);
        painter.setFont(strong);
        painter.setPen(theme().ink);
        painter.drawText(QRect(rect.left(), rect.top() + height, rect.width(), height),
                         Qt::AlignVCenter,
                         QFontMetrics(strong).elidedText(row.label, Qt::ElideRight, rect.width()));
    }

    static void
    paintFile(QPainter& painter, const QStyleOptionViewItem& option, const WorklistRow& row)
    {
        QFont font = option.font;
        font.setWeight(isHeading(row) ? QFont::DemiBold : QFont::Normal);
        const QFontMetrics metrics(font);
        const QRect rect = option.rect.adjusted(12, isHeading(row) ? 6 : 0, -12, 0);
        const QString name = row.label.mid(row.label.lastIndexOf(QLatin1Char('/')) + 1);
        const bool hasRoom =
            metrics.horizontalAdvance(name) + option.fontMetrics.horizontalAdvance(row.remark) + 30
            <= rect.width();
        const QString remark = hasRoom ? row.remark : QString();  // the name comes first
        const int remarkWidth = option.fontMetrics.horizontalAdvance(remark);
        const QString path = elidedPath(row.label, metrics, rect.width() - remarkWidth - 8);
        const QString folder = path.first(path.lastIndexOf(QLatin1Char('/')) + 1);
        int left = rect.left();
        const auto draw = [&](const QFont& wanted, const QColor& ink, const QString& words) {
            painter.setFont(wanted);
            painter.setPen(ink);
            painter.drawText(QRect(left, rect.top(), rect.right() - left, rect.height()),
                             Qt::AlignVCenter,
                             words);
            left += QFontMetrics(wanted).horizontalAdvance(words);
        };
        draw(option.font, theme().ink, folder);
        draw(font, theme().ink, path.mid(folder.size()));
        left += 6;
        draw(option.font, theme().muted, remark);
    }

    /// A row that stands for several: what it does is underlined, as buttons in a heading are.
    static void
    paintStandIn(QPainter& painter, const QStyleOptionViewItem& option, const WorklistRow& row)
    {
        const QRect words = option.rect.adjusted(34, 0, -12, 0);
        const QString label =
            option.fontMetrics.elidedText(row.label, Qt::ElideRight, words.width());
        painter.setFont(option.font);
        painter.setPen(row.isOpen ? theme().ink : theme().muted);
        painter.drawText(words, Qt::AlignVCenter, label);
        const int foot = words.center().y() + option.fontMetrics.height() / 2;
        painter.setPen(QPen(theme().muted, 1, Qt::DotLine));
        painter.drawLine(
            words.left(), foot, words.left() + option.fontMetrics.horizontalAdvance(label), foot);
    }

    static void
    paintItem(QPainter& painter, const QStyleOptionViewItem& option, const WorklistRow& row)
    {
        const QRect rect = option.rect.adjusted(12, 0, -12, 0);
        paintKnot(painter, QRect(rect.left(), rect.top(), 16, rect.height()), row.knot);
        // Of a decided place one wants to know what for, of an open one where it is.
        QString line = row.line > 0 && row.isOpen ? QString::number(row.line) : row.decided;
        line = option.fontMetrics.elidedText(line, Qt::ElideRight, rect.width() / 2);
        const int lineWidth = option.fontMetrics.horizontalAdvance(line);
        painter.setPen(theme().muted);
        painter.drawText(rect, Qt::AlignRight | Qt::AlignVCenter, line);
        const QRect words = rect.adjusted(22, 0, -lineWidth - 8, 0);
        painter.setPen(theme().ink);
        painter.drawText(words,
                         Qt::AlignVCenter,
                         option.fontMetrics.elidedText(row.label, Qt::ElideRight, words.width()));
    }

    const WorklistModel& m_model;
};
}  // namespace

void WorklistModel::setRows(std::vector<WorklistRow> rows)
{
    const auto isSameThing = [](const WorklistRow& a, const WorklistRow& b) {
        return a.kind == b.kind && a.place == b.place;
    };
    if (!rows.empty()
        && std::equal(rows.begin(), rows.end(), m_rows.begin(), m_rows.end(), isSameThing)) {
        // Only states differ: the view need not be laid out anew, which is slow for thousands.
        m_rows = std::move(rows);
        emit dataChanged(index(0), index(rowCount() - 1));
        return;
    }
    beginResetModel();
    m_rows = std::move(rows);
    endResetModel();
}

int WorklistModel::rowOf(SlotPlace place) const
{
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const bool isIt = m_rows[i].kind == WorklistRow::Kind::item
                              ? m_rows[i].place == place
                              : m_rows[i].kind == WorklistRow::Kind::joinedFile
                                    && m_rows[i].place.file == place.file;
        if (isIt) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

std::optional<std::size_t> WorklistModel::foldedFileOf(SlotPlace place) const
{
    for (const WorklistRow& row : m_rows) {
        const bool isIn =
            row.kind == WorklistRow::Kind::folded
            && std::find(row.places.begin(), row.places.end(), place) != row.places.end();
        if (isIn) {
            return row.place.file;
        }
    }
    return std::nullopt;
}

int WorklistModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
}

QVariant WorklistModel::data(const QModelIndex& index, int role) const
{
    const WorklistRow& row = m_rows[static_cast<std::size_t>(index.row())];
    const QString state = row.kind == WorklistRow::Kind::alike    ? tr("answer them together")
                          : row.kind == WorklistRow::Kind::folded ? tr("unfold")
                          : row.kind != WorklistRow::Kind::item   ? QString()
                          : row.isOpen                            ? tr("open")
                                       : tr("decided: %1").arg(row.decided);
    switch (role) {
    case Qt::DisplayRole:
        return row.label;
    case Qt::ToolTipRole:
        return plainToolTip(state.isEmpty() ? row.label
                                            : row.label + QStringLiteral(" · ") + state);
    case Qt::AccessibleTextRole:
        return row.before.isEmpty()
                   ? QStringLiteral("%1 %2 %3").arg(row.label, row.remark, state)
                   : QStringLiteral("%1: %2 %3").arg(row.before, row.label, row.remark);
    default:
        return {};
    }
}

Qt::ItemFlags WorklistModel::flags(const QModelIndex&) const
{
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable;
}

namespace {
/// Whether a row is listed below its file's heading.
bool isBelowFile(const WorklistRow& row)
{
    return row.kind == WorklistRow::Kind::item || row.kind == WorklistRow::Kind::alike
           || row.kind == WorklistRow::Kind::folded;
}

/// Files that joined by themselves; of a rebase those that both sides changed.
std::size_t joinedCount(const Splice& splice)
{
    if (!splice.plan().laysOwnCommits()) {
        return splice.forecast().joinedFileCount();
    }
    return static_cast<std::size_t>(
        std::count_if(splice.files().begin(), splice.files().end(), [](const SpliceFile& file) {
            return !file.outcome->needsDecision();
        }));
}
}  // namespace

Worklist::Worklist(QWidget* parent)
    : QWidget(parent)
    , m_model(new WorklistModel(this))
    , m_progress(new ProgressRope(this))
    , m_summary(makeLabel({}, TextRole::muted, this))
    , m_filter(makeFilter(tr("Filter by path or text"), "worklistFilter", this))
    , m_list(new QListView(this))
{
    m_list->setObjectName(QStringLiteral("worklist"));
    m_list->setAccessibleName(tr("Worklist"));
    m_list->setModel(m_model);
    m_list->setItemDelegate(new WorklistDelegate(*m_model, this));
    layOnPanel(*m_list);
    m_list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_groupingButton = makeGroupingButton();
    m_filter->installEventFilter(this);
    setFocusProxy(m_list);
    m_summary->setObjectName(QStringLiteral("worklistSummary"));

    auto* head = new QVBoxLayout;
    head->setContentsMargins(12, 10, 12, 8);
    head->setSpacing(4);
    QLabel* const name = makeLabel(tr("Worklist"), TextRole::heading, this);
    name->setWordWrap(false);
    auto* title = new FlowLayout(nullptr, 4);
    title->addWidget(name);
    title->pushRight();
    title->addWidget(m_groupingButton);
    head->addLayout(title);
    head->addWidget(m_progress);
    head->addWidget(m_summary);
    head->addWidget(m_filter);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(m_list, 1);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(makeSwitch());

    connect(m_filter, &QLineEdit::textChanged, this, &Worklist::rebuild);
    const auto choose = [this](const QModelIndex& index) {
        if (index.isValid()) {
            chooseRow(m_model->row(index.row()));
        }
    };
    connect(m_list->selectionModel(),
            &QItemSelectionModel::selectionChanged,
            this,
            &Worklist::onSelectionChanged);
    connect(m_list->selectionModel(),
            &QItemSelectionModel::selectionChanged,
            this,
            [this, choose](const QItemSelection& selected) {
                if (!m_isSelecting && selected.indexes().size() == 1) {
                    // A mouse and keys make it current at once; what does not is a screen reader's
                    // action, and means: go there.
                    QTimer::singleShot(
                        0,
                        this,
                        [this, choose, row = QPersistentModelIndex(selected.indexes().front())] {
                            if (row.isValid() && row != m_list->currentIndex()
                                && m_list->selectionModel()->isSelected(row)) {
                                choose(row);
                            }
                        });
                }
            });
    connect(m_list, &QListView::clicked, this, [this, choose](const QModelIndex& index) {
        if (m_list->selectionModel()->selectedRows().size() < 2) {
            choose(index);
        }
    });
    connect(m_list, &QListView::activated, this, choose);
}

void Worklist::chooseRow(const WorklistRow& row)
{
    if (row.kind == WorklistRow::Kind::folded) {
        m_unfolded.insert(row.place.file);
        rebuild();
    } else if (row.kind == WorklistRow::Kind::alike) {
        chooseTogether(row.places);
    } else if (row.place.file != SlotPlace::kQuestion) {
        emit placeChosen(row.place);
    }
}

void Worklist::chooseTogether(const std::vector<SlotPlace>& places)
{
    QItemSelection rows;
    for (const SlotPlace place : places) {
        if (const int row = m_model->rowOf(place); row >= 0) {
            rows.select(m_model->index(row), m_model->index(row));
        }
    }
    m_list->selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect);
}

QPushButton* Worklist::makeGroupingButton()
{
    QPushButton* button = makeButton({}, "groupingButton", ButtonRole::link, this);
    auto* menu = new QMenu(button);
    for (const WorklistGrouping grouping : kGroupings) {
        QAction* action = menu->addAction(groupingInWords(grouping));
        connect(action, &QAction::triggered, this, [this, grouping] { setGrouping(grouping); });
    }
    button->setMenu(menu);
    button->setText(groupingInWords(m_grouping));
    button->setAccessibleName(tr("How the worklist is put together"));
    return button;
}

void Worklist::setGrouping(WorklistGrouping grouping)
{
    m_grouping = grouping;
    m_groupingButton->setText(groupingInWords(grouping));
    rebuild();
    emit groupingChanged();
}

void Worklist::refreshPeople()
{
    if (m_grouping == WorklistGrouping::people) {
        rebuild();
    }
}

/// A heading stands for all that is below it.
void Worklist::onSelectionChanged()
{
    if (m_isSelecting) {
        return;
    }
    std::vector<SlotPlace> places;
    const auto isRegionOrQuestion = [this](SlotPlace place) {
        return place.slot == SlotPlace::kQuestion
               || m_splice->files()[place.file].text->isRegion(place.slot);
    };
    const auto add = [&](int row) {
        const WorklistRow& chosen = m_model->row(row);
        const bool isDecidable =
            chosen.kind == WorklistRow::Kind::item && isRegionOrQuestion(chosen.place);
        if (isDecidable && std::find(places.begin(), places.end(), chosen.place) == places.end()) {
            places.push_back(chosen.place);
        }
    };
    const QModelIndexList selected = m_list->selectionModel()->selectedRows();
    for (const QModelIndex& index : selected) {
        int row = index.row();
        add(row);
        // Folded ones are chosen with the rest, as if they were listed.
        if (m_model->row(row).kind == WorklistRow::Kind::folded && selected.size() > 1) {
            const std::vector<SlotPlace>& folded = m_model->row(row).places;
            std::copy_if(
                folded.begin(), folded.end(), std::back_inserter(places), isRegionOrQuestion);
        }
        if (m_model->row(row).kind == WorklistRow::Kind::file && selected.size() > 1) {
            while (++row < m_model->rowCount() && isBelowFile(m_model->row(row))) {
                add(row);
            }
        }
    }
    const bool isTogether = places.size() > 1;
    if (isTogether || m_isTogether) {
        m_isTogether = isTogether;
        emit togetherChosen(isTogether ? places : std::vector<SlotPlace>());
    }
}

QWidget* Worklist::makeSwitch()
{
    auto* foot = new QWidget(this);
    auto* row = new FlowLayout(foot, 0);
    row->setContentsMargins(8, 8, 8, 8);
    const auto add = [&](const QString& text, const char* name, WorklistFilter::Show show) {
        QPushButton* button = makeButton(text, name, ButtonRole::segment, foot);
        button->setChecked(show == m_show);
        row->addWidget(button);
        connect(button, &QPushButton::toggled, this, [this, show](bool isOn) {
            if (isOn) {
                m_show = show;
                rebuild();
            }
        });
    };
    add(tr("open"), "showOpenButton", WorklistFilter::Show::open);
    add(tr("all"), "showAllButton", WorklistFilter::Show::all);
    add(tr("merged too"), "showJoinedButton", WorklistFilter::Show::joinedToo);
    return foot;
}

bool Worklist::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Return || key == Qt::Key_Enter) {
            m_list->setFocus();
            if (key != Qt::Key_Down && m_model->rowCount() > 1) {
                emit placeChosen(m_model->row(1).place);  // the first thing below a heading
            }
            return true;
        }
        if (key == Qt::Key_Escape) {
            m_filter->clear();
            m_list->setFocus();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void Worklist::show(const Splice* splice)
{
    m_splice = splice;
    m_names = {};
    m_alike = {};
    m_unfolded.clear();
    rebuild();
}

void Worklist::select(SlotPlace place)
{
    m_selected = place;
    if (const auto file = m_model->foldedFileOf(place)) {
        m_unfolded.insert(*file);
        rebuild();
        return;
    }
    m_isSelecting = true;
    m_isTogether = false;
    const int row = m_model->rowOf(place);
    if (row >= 0) {
        int heading = row;
        while (heading > 0 && isBelowFile(m_model->row(heading))) {
            --heading;
        }
        m_list->scrollTo(m_model->index(heading));
        // Not by the view, which would add to the selection while Ctrl is held for the key that led here.
        m_list->selectionModel()->setCurrentIndex(m_model->index(row),
                                                  QItemSelectionModel::ClearAndSelect);
        m_list->scrollTo(m_model->index(row));
    } else {
        m_list->clearSelection();
    }
    m_isSelecting = false;
}

void Worklist::rebuild()
{
    // Other rows: what was chosen together is not chosen any more, here and for whoever was told.
    const bool wasTogether = std::exchange(m_isTogether, false);
    if (m_splice == nullptr) {
        m_model->setRows({});
        m_summary->clear();
        m_progress->setDone(0, 0);
        return;
    }
    m_model->setRows(worklistRows(*m_splice,
                                  {m_filter->text(),
                                   m_show,
                                   m_grouping,
                                   m_whoOf,
                                   &m_names,
                                   &m_alike,
                                   m_unfolded,
                                   m_selected}));
    QString summary = tr("%1 open · %2 decided · %3 merged")
                          .arg(m_splice->openCount())
                          .arg(m_splice->decidedCount())
                          .arg(joinedCount(*m_splice));
    const bool isHidden =
        m_model->rowOf(m_selected) < 0 && m_splice->openCount() + m_splice->decidedCount() > 0;
    if (isHidden && (!m_filter->text().isEmpty() || m_show == WorklistFilter::Show::open)) {
        summary += tr("\nWhat you look at is filtered out");
    }
    m_summary->setText(summary);
    m_progress->setDone(m_splice->decidedCount(), m_splice->openCount() + m_splice->decidedCount());
    select(m_selected);
    if (wasTogether) {
        emit togetherChosen({});
    }
}
}  // namespace rope
