// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/survey/branch_list.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QAction>
#include <QComboBox>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QPainter>
#include <QRegularExpression>
#include <QStandardItemModel>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
enum Role { refRole = Qt::UserRole + 1, wordsRole, openRole, queueRole };

class BranchDelegate final : public QStyledItemDelegate
{
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const bool isHeading = !index.data(refRole).isValid();
        return {100,
                isHeading ? option.fontMetrics.height() + 12
                          : 2 * option.fontMetrics.height() + 10};
    }

    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override
    {
        const QRect rect = option.rect.adjusted(12, 0, -10, 0);
        const QString name = index.data(Qt::DisplayRole).toString();
        if (!index.data(refRole).isValid()) {
            painter->setPen(theme().muted);
            painter->drawText(rect, Qt::AlignVCenter, name);
            return;
        }
        if ((option.state & QStyle::State_Selected) != 0) {
            painter->fillRect(option.rect, theme().selection);
            painter->fillRect(QRect(option.rect.left(), option.rect.top(), 3, option.rect.height()),
                              theme().ink);
        }
        const int height = option.fontMetrics.height();
        const QRect first(rect.left(), rect.top() + 4, rect.width(), height);
        QRect title = first;
        painter->setPen(theme().muted);
        if (const QString place = index.data(queueRole).toString(); !place.isEmpty()) {
            painter->drawText(first, Qt::AlignVCenter | Qt::AlignRight, place);
            title.setRight(title.right() - option.fontMetrics.horizontalAdvance(place) - 8);
        }
        painter->setPen(theme().ink);
        painter->drawText(title,
                          Qt::AlignVCenter,
                          option.fontMetrics.elidedText(name, Qt::ElideMiddle, title.width()));
        QFont small = option.font;
        small.setPointSizeF(small.pointSizeF() * 0.93);
        painter->setFont(small);
        painter->setPen(index.data(openRole).toBool() ? theme().openInk : theme().muted);
        painter->drawText(first.translated(0, height + 1),
                          Qt::AlignVCenter,
                          QFontMetrics(small).elidedText(
                              index.data(wordsRole).toString(), Qt::ElideRight, first.width()));
        painter->setFont(option.font);
    }
};
}  // namespace

BranchList::BranchList(QWidget* parent)
    : QWidget(parent)
    , m_subtitle(makeLabel(tr("Forecast for merging each into"), TextRole::muted, this))
    , m_age(makeLabel({}, TextRole::muted, this))
    , m_into(new ChoiceBox(this))
    , m_filter(makeFilter(tr("Filter branches"), "branchFilter", this))
    , m_list(new QListView(this))
    , m_model(new QStandardItemModel(this))
{
    m_age->setObjectName(QStringLiteral("branchAge"));
    m_into->setObjectName(QStringLiteral("intoBranch"));
    m_into->setAccessibleName(tr("Your branch that others are merged into"));
    m_into->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_list->setObjectName(QStringLiteral("branchList"));
    m_list->setAccessibleName(tr("Branches"));
    m_list->setModel(m_model);
    m_list->setItemDelegate(new BranchDelegate(this));
    m_list->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_list->setContextMenuPolicy(Qt::CustomContextMenu);
    layOnPanel(*m_list);
    auto* head = new QVBoxLayout;
    head->setContentsMargins(12, 10, 12, 8);
    head->setSpacing(4);
    head->addWidget(makeLabel(tr("Branches"), TextRole::heading, this));
    head->addWidget(m_subtitle);
    head->addWidget(m_into);
    head->addWidget(m_age);
    head->addWidget(m_filter);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(m_list, 1);
    connect(m_filter, &QLineEdit::textChanged, this, &BranchList::applyFilter);
    connect(m_into, &QComboBox::activated, this, [this](int index) {
        emit intoPicked(m_into->itemData(index).toByteArray().toStdString());
    });
    connect(m_list, &QWidget::customContextMenuRequested, this, &BranchList::showMenu);
    followSelection(*m_list);
    connect(m_list->selectionModel(),
            &QItemSelectionModel::currentChanged,
            this,
            [this](const QModelIndex& index) {
                if (const std::string ref = refAt(index); !ref.empty()) {
                    emit branchPicked(ref);
                }
            });
    auto* queue = new QAction(tr("Merge this branch later"), m_list);
    queue->setShortcut(Qt::Key_Space);
    queue->setShortcutContext(Qt::WidgetShortcut);
    connect(queue, &QAction::triggered, this, [this] {
        if (const std::string ref = refAt(m_list->currentIndex()); !ref.empty()) {
            emit queueToggled(ref);
        }
    });
    m_list->addAction(queue);
}

std::string BranchList::refAt(const QModelIndex& index) const
{
    return index.data(refRole).toByteArray().toStdString();
}

void BranchList::showMenu(const QPoint& at)
{
    const std::string ref = refAt(m_list->indexAt(at));
    if (ref.empty()) {
        return;
    }
    auto* menu = new QMenu(m_list);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const bool isQueued = std::find(m_queue.begin(), m_queue.end(), ref) != m_queue.end();
    menu->addAction(isQueued ? tr("Remove it from the queue") : tr("Merge this branch later"),
                    this,
                    [this, ref] { emit queueToggled(ref); });
    if (m_into->findData(QByteArray::fromStdString(ref)) >= 0) {
        menu->addAction(
            tr("Merge others into this branch"), this, [this, ref] { emit intoPicked(ref); });
    }
    menu->popup(m_list->viewport()->mapToGlobal(at));
}

void BranchList::addHeading(const QString& text)
{
    auto* item = new QStandardItem(text);
    item->setFlags(Qt::NoItemFlags);
    m_model->appendRow(item);
}

/// One's own branches, the one checked out first.
void BranchList::showInto(const SurveyFacts& facts)
{
    const QSignalBlocker blocker(m_into);
    m_into->clear();
    const auto add = [this](const std::string& ref, const QString& name) {
        m_into->addItem(name, QByteArray::fromStdString(ref));
    };
    add(facts.standing.ref,
        facts.standing.name.empty() ? tr("no branch")
                                    : tr("%1 (current branch)").arg(shown(facts.standing.name)));
    for (const Branch& branch : facts.branches) {
        if (!branch.isShared && branch.ref != facts.standing.ref) {
            add(branch.ref, shown(branch.name));
        }
    }
    m_into->setCurrentIndex(
        std::max(0, m_into->findData(QByteArray::fromStdString(facts.into.ref))));
    const QString meaning =
        facts.isElsewhere()
            ? tr("%1 is not checked out: merging into it leaves your files as they are.")
                  .arg(shown(facts.into.name))
            : tr("You can merge into another branch of yours too; your files then stay as they "
                 "are.");
    setPlainToolTip(*m_into, meaning);
}

void BranchList::showBranches(const SurveyFacts& facts)
{
    const QSignalBlocker blocker(m_list->selectionModel());
    m_model->clear();
    m_rows.clear();
    showInto(facts);
    m_age->setText(asOfInWords(facts, facts.readAt));
    m_age->setVisible(!m_age->text().isEmpty());
    for (const bool isShared : {true, false}) {
        bool hasHeading = false;
        for (const Branch& branch : facts.branches) {
            if (branch.isShared != isShared) {
                continue;
            }
            if (!hasHeading) {
                addHeading(isShared ? tr("Shared") : tr("Yours"));
                hasHeading = true;
            }
            auto* item = new QStandardItem(shown(branch.name));
            const QByteArray ref = QByteArray::fromStdString(branch.ref);
            item->setData(ref, refRole);
            item->setToolTip(plainToolTip(shown(branch.name)));
            const bool isInto = branch.ref == facts.into.ref;
            item->setData(isInto && facts.isElsewhere() ? tr("merge target")
                          : isInto                      ? tr("current branch")
                                                        : QStringLiteral("…"),
                          wordsRole);
            if (isInto) {
                item->setFlags(Qt::ItemIsEnabled);
            }
            m_rows[ref] = m_model->rowCount();
            m_model->appendRow(item);
        }
    }
    setQueue(m_queue);
    applyFilter();
}

void BranchList::setForecast(const std::string& ref, const BranchForecast& forecast)
{
    const auto row = m_rows.constFind(QByteArray::fromStdString(ref));
    if (row == m_rows.constEnd()) {
        return;
    }
    QStandardItem* item = m_model->item(*row);
    item->setData(forecast.words, wordsRole);
    item->setData(forecast.needsDecision, openRole);
    item->setToolTip(plainToolTip(QStringList{item->text(), forecast.words, forecast.otherWay}
                                      .filter(QRegularExpression(QStringLiteral(".")))
                                      .join(QLatin1Char('\n'))));
    item->setData(QStringLiteral("%1: %2").arg(item->text(), forecast.words),
                  Qt::AccessibleTextRole);
}

void BranchList::setQueue(const std::vector<std::string>& refs)
{
    for (const std::string& ref : m_queue) {
        if (const auto row = m_rows.constFind(QByteArray::fromStdString(ref));
            row != m_rows.constEnd()) {
            m_model->item(*row)->setData({}, queueRole);
        }
    }
    m_queue = refs;
    for (std::size_t i = 0; i < refs.size(); ++i) {
        if (const auto row = m_rows.constFind(QByteArray::fromStdString(refs[i]));
            row != m_rows.constEnd()) {
            m_model->item(*row)->setData(tr("later: %1").arg(i + 1), queueRole);
        }
    }
}

void BranchList::select(const std::string& ref)
{
    const QSignalBlocker blocker(m_list->selectionModel());
    if (const auto row = m_rows.constFind(QByteArray::fromStdString(ref));
        row != m_rows.constEnd()) {
        m_list->setCurrentIndex(m_model->index(*row, 0));
    } else {
        m_list->setCurrentIndex({});
        m_list->clearSelection();
    }
    m_list->viewport()->update();
}

void BranchList::applyFilter()
{
    const QString text = m_filter->text();
    for (int row = 0; row < m_model->rowCount(); ++row) {
        const bool isHidden =
            !text.isEmpty() && !m_model->item(row)->text().contains(text, Qt::CaseInsensitive);
        if (m_list->isRowHidden(row) != isHidden) {
            m_list->setRowHidden(row, isHidden);
        }
    }
}
}  // namespace rope
