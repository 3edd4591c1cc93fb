// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_round.cpp.
#include "desktop/check/check_list.h"

#include "desktop/widgets/measures.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/finding_words.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListView>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
CheckRow heading(const QString& title, const QString& words)
{
    CheckRow row;
    row.title = title;
    row.words = words;
    return row;
}

CheckRow passed(const QString& title, const QString& words)
{
    CheckRow row;
    row.kind = CheckRow::Kind::passed;
    row.title = title;
    row.words = words;
    row.isDone = true;
    return row;
}

CheckRow note(const QString& words)
{
    CheckRow row;
    row.kind = CheckRow::Kind::note;
    row.words = words;
    return row;
}

bool matches(const CheckRow& row, const QString& filter)
{
    return row.title.contains(filter, Qt::CaseInsensitive)
           || row.place.contains(filter, Qt::CaseInsensitive);
}

void addFindings(const CheckView& view, const QString& filter, std::vector<CheckRow>& rows)
{
    rows.push_back(heading(tr("Findings"), tr("problems a clean merge can still leave")));
    for (std::size_t i = 0; i < view.found.size(); ++i) {
        const FoundItem& item = view.found[i];
        CheckRow row;
        row.kind = CheckRow::Kind::finding;
        row.index = i;
        row.title = findingTitle(item.finding);
        row.words = item.isFine ? tr("ignored by you") : findingInWords(item.finding);
        row.place = findingPlace(item.finding);
        row.isDone = item.isFine;
        row.isRemark = isRemark(item.finding.kind);
        if (matches(row, filter)) {
            rows.push_back(std::move(row));
        }
    }
    if (!filter.isEmpty()) {
        return;
    }
    if (!view.hasLooked) {
        rows.push_back(note(tr("Looking…")));
        return;
    }
    if (view.openFiles > 0) {
        rows.push_back(note(tr("%1 still in conflict: not checked there.")
                                .arg(countOf(view.openFiles, "file is", "files are"))));
    }
    if (view.found.empty() && view.openFiles == 0) {
        rows.push_back(passed(tr("Nothing found"), tr("a build or a test may still find more")));
    }
    if (view.checkedFiles > 0 && view.balances) {
        rows.push_back(passed(
            tr("Brackets balance"),
            tr("in all %1").arg(countOf(view.checkedFiles, "changed file", "changed files"))));
    }
    if (view.checkedFiles > 0 && !view.hasMarkers) {
        rows.push_back(passed(tr("No conflict markers left"), {}));
    }
    if (!view.hasDefinitions) {
        rows.push_back(note(tr("Removed names are not searched for in programs: ctags is not "
                               "installed (package universal-ctags).")));
    }
    for (const NotChecked& one : view.notChecked) {
        rows.push_back(note(notCheckedInWords(one)));
    }
}

CheckRow fileRow(const ReadItem& item, std::size_t index)
{
    CheckRow row;
    row.kind = CheckRow::Kind::file;
    row.index = index;
    row.title = shownPath(item.path);
    row.isDone = item.isRead;
    row.isOfOneSide = item.isOneSided;
    row.words = item.isOpen        ? tr("not decided yet")
                : item.isGone      ? tr("deleted")
                : !item.isText     ? tr("no text")
                : item.decided > 0 ? tr("%1 decided").arg(item.decided)
                : item.isOneSided  ? item.isAlike ? tr("both alike") : QString()
                                   : tr("merged");
    return row;
}
}  // namespace

std::vector<CheckRow> checkRows(const CheckView& view, const QString& filter, bool showsOneSided)
{
    std::vector<CheckRow> rows;
    addFindings(view, filter, rows);
    rows.push_back(heading(tr("Read-through"),
                           tr("%1 of %2 read")
                               .arg(view.readCount())
                               .arg(countOf(view.toReadCount(), "file", "files"))));
    std::size_t oneSided = 0;
    std::size_t alike = 0;
    for (std::size_t i = 0; i < view.files.size(); ++i) {
        CheckRow row = fileRow(view.files[i], i);
        if (!matches(row, filter)) {
            continue;
        }
        if (view.files[i].isOneSided) {
            if (oneSided + alike == 0) {
                rows.push_back(heading(tr("Nothing to read"), {}));
            }
            ++(view.files[i].isAlike ? alike : oneSided);
        }
        if (!view.files[i].isOneSided || showsOneSided || !filter.isEmpty()) {
            rows.push_back(std::move(row));
        }
    }
    for (CheckRow& row : rows) {
        if (row.kind == CheckRow::Kind::heading && row.words.isEmpty()) {
            QStringList words;
            if (oneSided > 0) {
                words
                    << tr("%1 that only one side changed").arg(countOf(oneSided, "file", "files"));
            }
            if (alike > 0) {
                words << tr("%1 that both have alike").arg(countOf(alike, "file", "files"));
            }
            row.words = words.join(tr(", "));
            row.isOfOneSide = true;
        }
    }
    return rows;
}

namespace {
constexpr int kLeft = 12;
constexpr int kMostLines = 3;  // of a finding's words

QFont strong(const QFont& font)
{
    QFont bold = font;
    bold.setWeight(QFont::DemiBold);
    return bold;
}

/// Paints the rows; what is done has a tick and is quiet, what is to be looked at a ring.
class CheckDelegate final : public QStyledItemDelegate
{
public:
    CheckDelegate(const CheckListModel& model, const QWidget& view)
        : QStyledItemDelegate(nullptr)
        , m_model(model)
        , m_view(view)
    {
    }

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const CheckRow& row = m_model.row(index.row());
        const int line = option.fontMetrics.height();
        switch (row.kind) {
        case CheckRow::Kind::heading:
            return {100, line + wordsHeight(option, row) + 18};
        case CheckRow::Kind::finding:
            return {100, line + (row.isDone ? 0 : wordsHeight(option, row)) + line + 14};
        case CheckRow::Kind::passed:
            return {100, (row.words.isEmpty() ? 1 : 2) * line + 12};
        case CheckRow::Kind::note:
            return {100, wordsHeight(option, row) + 12};
        case CheckRow::Kind::file:
            return {100, line + 12};
        }
        return {100, line};
    }

    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override
    {
        const CheckRow& row = m_model.row(index.row());
        const QRect rect = option.rect;
        if ((option.state & QStyle::State_Selected) != 0) {
            painter->fillRect(rect, theme().selection);
            painter->fillRect(QRect(rect.left(), rect.top(), 4, rect.height()), theme().ink);
        }
        painter->setPen(theme().rules);
        painter->drawLine(rect.bottomLeft(), rect.bottomRight());
        if (row.kind == CheckRow::Kind::file) {
            paintFile(*painter, option, row);
        } else {
            paintWords(*painter, option, row);
        }
    }

private:
    [[nodiscard]] int width() const { return m_view.width() - 2 * kLeft; }

    [[nodiscard]] int wordsHeight(const QStyleOptionViewItem& option, const CheckRow& row) const
    {
        return std::min(heightOfLines(row.words, option.fontMetrics, std::max(width(), 80)),
                        kMostLines * option.fontMetrics.lineSpacing());
    }

    void
    paintWords(QPainter& painter, const QStyleOptionViewItem& option, const CheckRow& row) const
    {
        const int line = option.fontMetrics.height();
        const bool isHeading = row.kind == CheckRow::Kind::heading;
        QRect at = option.rect.adjusted(kLeft, isHeading ? 10 : 5, -kLeft, -4);
        if (!row.title.isEmpty()) {
            const QString mark = row.kind == CheckRow::Kind::finding && row.isRemark && !row.isDone
                                     ? QStringLiteral("◦ ")
                                 : row.kind == CheckRow::Kind::finding && !row.isDone
                                     ? QStringLiteral("◇ ")
                                 : row.isDone ? QStringLiteral("✓ ")
                                              : QString();
            painter.setFont(strong(option.font));
            painter.setPen(row.isDone ? theme().muted : theme().ink);
            painter.drawText(at.left(),
                             at.top() + option.fontMetrics.ascent(),
                             QFontMetrics(painter.font())
                                 .elidedText(mark + row.title, Qt::ElideRight, at.width()));
            at.setTop(at.top() + line + 1);
        }
        painter.setFont(option.font);
        painter.setPen(theme().muted);
        const bool hasWords = !row.words.isEmpty() && !(row.isDone && !row.place.isEmpty());
        if (hasWords) {
            const int height = wordsHeight(option, row);
            painter.drawText(
                QRect(at.left(), at.top(), at.width(), height),
                Qt::TextWordWrap,
                fittedToLines(row.words, option.fontMetrics, at.width(), kMostLines));
            at.setTop(at.top() + height);
        }
        if (!row.place.isEmpty()) {
            painter.setFont(codeFont());
            painter.drawText(
                at.left(),
                at.top() + QFontMetrics(codeFont()).ascent(),
                QFontMetrics(codeFont()).elidedText(row.place, Qt::ElideLeft, at.width()));
        }
    }

    static void
    paintFile(QPainter& painter, const QStyleOptionViewItem& option, const CheckRow& row)
    {
        QRect at = option.rect.adjusted(kLeft, 0, -kLeft, 0);
        painter.setFont(option.font);
        painter.setPen(row.isDone ? theme().muted : theme().ink);
        if (!row.isOfOneSide) {
            painter.drawText(
                at, Qt::AlignVCenter, row.isDone ? QStringLiteral("✓") : QStringLiteral("○"));
        }
        at.setLeft(at.left() + 20);
        const int wordsWidth = option.fontMetrics.horizontalAdvance(row.words);
        painter.drawText(
            at.adjusted(0, 0, -wordsWidth - 10, 0),
            Qt::AlignVCenter,
            option.fontMetrics.elidedText(row.title, Qt::ElideLeft, at.width() - wordsWidth - 10));
        painter.setPen(theme().muted);
        painter.drawText(at, Qt::AlignVCenter | Qt::AlignRight, row.words);
    }

    const CheckListModel& m_model;
    const QWidget& m_view;
};
}  // namespace

void CheckListModel::setRows(std::vector<CheckRow> rows)
{
    beginResetModel();
    m_rows = std::move(rows);
    endResetModel();
}

int CheckListModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
}

QVariant CheckListModel::data(const QModelIndex& index, int role) const
{
    const CheckRow& shownRow = row(index.row());
    if (role == Qt::DisplayRole) {
        return shownRow.title.isEmpty() ? shownRow.words : shownRow.title;
    }
    if (role == Qt::AccessibleTextRole || role == Qt::ToolTipRole) {
        const QString state = shownRow.kind == CheckRow::Kind::file && !shownRow.isOfOneSide
                                  ? shownRow.isDone ? tr("read") : tr("not read yet")
                                  : QString();
        QStringList parts{shownRow.title, shownRow.words, shownRow.place, state};
        parts.removeAll(QString());
        const QString words = parts.join(QStringLiteral(" · "));
        return role == Qt::ToolTipRole ? plainToolTip(words) : words;
    }
    return {};
}

Qt::ItemFlags CheckListModel::flags(const QModelIndex& index) const
{
    const CheckRow& shownRow = row(index.row());
    const bool opens = shownRow.kind == CheckRow::Kind::heading && shownRow.isOfOneSide;
    return shownRow.canBeChosen() || opens ? Qt::ItemIsEnabled | Qt::ItemIsSelectable
                                           : Qt::ItemIsEnabled;
}

CheckList::CheckList(QWidget* parent)
    : QWidget(parent)
    , m_model(new CheckListModel(this))
    , m_filter(makeFilter(tr("Filter by name, file"), "checkFilter", this))
    , m_list(new QListView(this))
{
    m_list->setObjectName(QStringLiteral("checkList"));
    m_list->setAccessibleName(tr("Findings, and files to be read"));
    m_list->setModel(m_model);
    auto* delegate = new CheckDelegate(*m_model, *m_list->viewport());
    delegate->setParent(m_list);
    m_list->setItemDelegate(delegate);
    m_list->setResizeMode(QListView::Adjust);
    layOnPanel(*m_list);
    m_filter->installEventFilter(this);
    m_list->installEventFilter(this);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 8, 0, 0);
    column->setSpacing(6);
    auto* top = new QVBoxLayout;
    top->setContentsMargins(8, 0, 8, 0);
    top->addWidget(m_filter);
    column->addLayout(top);
    column->addWidget(m_list, 1);
    setFocusProxy(m_list);
    connect(m_filter, &QLineEdit::textChanged, this, &CheckList::rebuild);
    connect(
        m_list->selectionModel(), &QItemSelectionModel::currentChanged, this, &CheckList::onChosen);
    const auto open = [this](const QModelIndex& index) {
        const CheckRow& row = m_model->row(index.row());
        if (row.kind == CheckRow::Kind::heading && row.isOfOneSide) {
            m_showsOneSided = !m_showsOneSided;
            rebuild();
        }
    };
    connect(m_list, &QListView::clicked, this, open);
    connect(m_list, &QListView::activated, this, open);
}

void CheckList::show(const CheckView& view)
{
    m_view = view;
    rebuild();
}

void CheckList::rebuild()
{
    const int scrolledTo = m_list->verticalScrollBar()->value();
    m_isSelecting = true;
    m_model->setRows(checkRows(m_view, m_filter->text(), m_showsOneSided));
    m_isSelecting = false;
    if (!m_finding.empty()) {
        selectFinding(m_finding);
    } else if (!m_file.empty()) {
        selectFile(m_file);
    }
    // What a person looks at stays where it is, whatever is found meanwhile.
    m_list->doItemsLayout();
    m_list->verticalScrollBar()->setValue(scrolledTo);
}

void CheckList::select(int row)
{
    m_isSelecting = true;
    m_list->setCurrentIndex(row < 0 ? QModelIndex() : m_model->index(row));
    m_isSelecting = false;
}

void CheckList::selectFinding(const std::string& key)
{
    m_finding = key;
    m_file.clear();
    for (int i = 0; i < m_model->rowCount(); ++i) {
        const CheckRow& row = m_model->row(i);
        if (row.kind == CheckRow::Kind::finding && m_view.found[row.index].finding.key == key) {
            select(i);
            return;
        }
    }
    select(-1);
}

void CheckList::selectFile(const RepoPath& path)
{
    m_file = path;
    m_finding.clear();
    for (int i = 0; i < m_model->rowCount(); ++i) {
        const CheckRow& row = m_model->row(i);
        if (row.kind == CheckRow::Kind::file && m_view.files[row.index].path == path) {
            select(i);
            return;
        }
    }
    select(-1);
}

void CheckList::clearSelection()
{
    m_finding.clear();
    m_file.clear();
    select(-1);
}

void CheckList::onChosen()
{
    const QModelIndex at = m_list->currentIndex();
    if (m_isSelecting || !at.isValid()) {
        return;
    }
    const CheckRow row = m_model->row(at.row());
    if (row.kind == CheckRow::Kind::finding) {
        m_finding = m_view.found[row.index].finding.key;
        m_file.clear();
        emit findingChosen(m_finding);
    } else if (row.kind == CheckRow::Kind::file) {
        m_file = m_view.files[row.index].path;
        m_finding.clear();
        emit fileChosen(m_file);
    }
}

bool CheckList::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == m_filter && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Return || key == Qt::Key_Enter) {
            m_list->setFocus();
            return true;
        }
        if (key == Qt::Key_Escape) {
            m_filter->clear();
            m_list->setFocus();
            return true;
        }
    }
    if (watched == m_list && event->type() == QEvent::Resize) {
        m_list->doItemsLayout();  // wrapped words need other heights
    }
    return QWidget::eventFilter(watched, event);
}
}  // namespace rope
