// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp, tst_branch_list.cpp.
#include "desktop/survey/branch_list.h"

#include "desktop/survey/branch_delegate.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QAction>
#include <QComboBox>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QStandardItemModel>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <utility>

namespace rope {
namespace {
/// A group of more branches is folded, where nothing in it waits for a person.
constexpr int kMostUnfolded = 8;
/// So that forecasts that arrive one after the other move rows once, not each time.
constexpr int kArrangeMs = 120;

constexpr std::array kGroups{BranchGroup::proposed,
                             BranchGroup::open,
                             BranchGroup::clean,
                             BranchGroup::here,
                             BranchGroup::expected,
                             BranchGroup::own};

QString titleOf(BranchGroup group)
{
    switch (group) {
    case BranchGroup::proposed:
        return BranchList::tr("Proposed");
    case BranchGroup::open:
        return BranchList::tr("Need decisions");
    case BranchGroup::clean:
        return BranchList::tr("Merge cleanly");
    case BranchGroup::here:
        return BranchList::tr("Already here");
    case BranchGroup::expected:
        return BranchList::tr("Calculating…");
    case BranchGroup::own:
        break;
    }
    return BranchList::tr("Yours");
}

bool canFold(BranchGroup group)
{
    return group == BranchGroup::clean || group == BranchGroup::here;
}

}  // namespace

BranchGroup groupOf(const PairOutcome& outcome)
{
    if (outcome.open > 0 || outcome.kind == PairOutcome::Kind::unknown
        || outcome.relation == Relation::unrelated) {
        return BranchGroup::open;
    }
    return outcome.relation == Relation::same || outcome.relation == Relation::oursAhead
               ? BranchGroup::here
               : BranchGroup::clean;
}

BranchList::BranchList(QWidget* parent)
    : QWidget(parent)
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
    head->addWidget(makeLabel(tr("Forecast for merging each into"), TextRole::muted, this));
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
    connect(m_list, &QListView::clicked, this, &BranchList::toggleFold);
    m_arranging.setSingleShot(true);
    m_arranging.setInterval(kArrangeMs);
    connect(&m_arranging, &QTimer::timeout, this, &BranchList::arrange);
    followSelection(*m_list);
    connect(m_list->selectionModel(),
            &QItemSelectionModel::currentChanged,
            this,
            [this](const QModelIndex& index) {
                if (const std::string ref = refAt(index); !ref.empty()) {
                    m_selected = QByteArray::fromStdString(ref);
                    emit branchPicked(ref);
                }
            });
    auto* queue = new QAction(tr("Merge this branch later"), m_list);
    queue->setShortcut(Qt::Key_Space);
    queue->setShortcutContext(Qt::WidgetShortcut);
    connect(queue, &QAction::triggered, this, [this] {
        if (const std::string ref = refAt(m_list->currentIndex()); !ref.empty()) {
            emit queueToggled(ref);
        } else {
            toggleFold(m_list->currentIndex());
        }
    });
    m_list->addAction(queue);
}

std::string BranchList::refAt(const QModelIndex& index) const
{
    return index.data(branchRefRole).toByteArray().toStdString();
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
    addDeleting(*menu, ref);
    menu->popup(m_list->viewport()->mapToGlobal(at));
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
    showInto(facts);
    m_age->setText(asOfInWords(facts, facts.readAt));
    m_age->setVisible(!m_age->text().isEmpty());
    const bool isSameInto = m_intoTip == facts.into.tip;
    const std::vector<Row> before = std::exchange(m_branches, {});
    m_intoTip = facts.into.tip;
    const std::string proposed = facts.proposedTheirs();
    for (const Branch& branch : facts.branches) {
        Row row;
        row.ref = QByteArray::fromStdString(branch.ref);
        row.tip = branch.tip;
        row.name = shown(branch.name);
        row.isOwn = !branch.isShared;
        row.isInto = branch.ref == facts.into.ref;
        row.isCheckedOut = branch.ref == facts.standing.ref;
        row.isProposed = branch.ref == proposed;
        row.forecast.words = row.isInto && facts.isElsewhere() ? tr("merge target")
                             : row.isInto                      ? tr("current branch")
                                                               : QStringLiteral("…");
        row.forecast.inShort = row.forecast.words;
        const auto known =
            std::find_if(before.begin(), before.end(), [&row](const Row& earlier) {
                return earlier.ref == row.ref && earlier.tip == row.tip
                       && earlier.isInto == row.isInto;
            });
        if (isSameInto && !row.isInto && known != before.end()) {
            row.forecast = known->forecast;  // no row leaves its place for a moment
        }
        m_branches.push_back(std::move(row));
    }
    arrange();
}

BranchGroup BranchList::groupOf(const Row& row)
{
    return row.isProposed ? BranchGroup::proposed
           : row.isOwn    ? BranchGroup::own
                          : row.forecast.group;
}

bool BranchList::isFolded(BranchGroup group) const
{
    const auto chosen = m_folds.find(group);
    const auto size = m_sizes.find(group);
    return canFold(group) && size != m_sizes.end()
           && (chosen != m_folds.end() ? chosen->second : size->second > kMostUnfolded);
}

void BranchList::arrange()
{
    m_arranging.stop();
    const QSignalBlocker blocker(m_list->selectionModel());
    m_model->clear();
    m_rows.clear();
    m_sizes.clear();
    for (const BranchGroup group : kGroups) {
        std::vector<const Row*> rows;
        for (const Row& row : m_branches) {
            if (groupOf(row) == group) {
                rows.push_back(&row);
            }
        }
        if (rows.empty()) {
            continue;
        }
        m_sizes[group] = static_cast<int>(rows.size());
        addHeading(group, rows);
        for (const Row* row : rows) {
            addRow(*row);
        }
    }
    setQueue(m_queue);
    applyFilter();
    select(m_selected.toStdString());
}

void BranchList::addHeading(BranchGroup group, const std::vector<const Row*>& rows)
{
    auto* item = new QStandardItem(titleOf(group));
    item->setFlags(canFold(group) ? Qt::ItemIsEnabled | Qt::ItemIsSelectable : Qt::NoItemFlags);
    item->setData(static_cast<int>(group), branchGroupRole);
    if (group != BranchGroup::proposed) {
        item->setData(QString::number(rows.size()), branchCountRole);
    }
    if (canFold(group)) {
        constexpr std::size_t kMostNamed = 6;
        QStringList names;
        for (std::size_t i = 0; i < std::min(rows.size(), kMostNamed); ++i) {
            names << rows[i]->name;
        }
        item->setData(isFolded(group), branchFoldRole);
        item->setData(names.join(QStringLiteral(", ")), branchNamesRole);
        item->setData((isFolded(group) ? tr("%1: %2, folded") : tr("%1: %2, unfolded"))
                          .arg(item->text(), countOf(rows.size(), "branch", "branches")),
                      Qt::AccessibleTextRole);
    }
    m_model->appendRow(item);
}

/// What a row says, wherever it stands.
void BranchList::fill(QStandardItem& item, const Row& row) const
{
    const BranchForecast& forecast = row.forecast;
    QString words = forecast.words;
    QString inShort = forecast.inShort;
    if (row.isOwn && inShort.isEmpty()) {  // no heading says so
        inShort = words;
    }
    if (m_arrived.contains(row.ref.toStdString())) {
        const QString arrived = tr("all in %1").arg(m_mainName);
        words = inARow({words, arrived});
        inShort = row.isInto ? inARow({inShort, arrived}) : arrived;
    }
    item.setData(words, branchWordsRole);
    item.setData(inShort, branchShortRole);
    item.setData(static_cast<int>(forecast.open), branchOpenRole);
    item.setData(forecast.group == BranchGroup::open, branchWarnsRole);
    QStringList lines{item.text(), words, forecast.otherWay};
    lines.removeAll(QString());
    item.setToolTip(plainToolTip(lines.join(QLatin1Char('\n'))));
    item.setData(QStringLiteral("%1: %2").arg(item.text(), words), Qt::AccessibleTextRole);
}

void BranchList::addRow(const Row& row)
{
    auto* item = new QStandardItem(row.name);
    item->setData(row.ref, branchRefRole);
    item->setData(row.isProposed, branchTallRole);
    fill(*item, row);
    if (row.isInto) {
        item->setFlags(Qt::ItemIsEnabled);
    }
    m_rows[row.ref] = m_model->rowCount();
    m_model->appendRow(item);
}

void BranchList::setForecast(const std::string& ref, const BranchForecast& forecast)
{
    const QByteArray name = QByteArray::fromStdString(ref);
    const auto found = std::find_if(
        m_branches.begin(), m_branches.end(), [&](const Row& row) { return row.ref == name; });
    if (found == m_branches.end()) {
        return;
    }
    const bool moves = found->forecast.group != forecast.group;
    found->forecast = forecast;
    if (const auto row = m_rows.constFind(name); row != m_rows.constEnd()) {
        fill(*m_model->item(*row), *found);
    }
    if (moves && !m_arranging.isActive()) {
        m_arranging.start();
    }
}

void BranchList::setArrived(const std::set<std::string>& refs, const QString& mainName)
{
    m_arrived = refs;
    m_mainName = mainName;
    for (const Row& row : m_branches) {
        if (const auto at = m_rows.constFind(row.ref); at != m_rows.constEnd()) {
            fill(*m_model->item(*at), row);
        }
    }
}

const BranchList::Row* BranchList::rowOf(const std::string& ref) const
{
    const QByteArray name = QByteArray::fromStdString(ref);
    const auto found = std::find_if(
        m_branches.begin(), m_branches.end(), [&](const Row& row) { return row.ref == name; });
    return found == m_branches.end() ? nullptr : &*found;
}

/// Only where nothing of it would be lost, and nobody stands on it here.
void BranchList::addDeleting(QMenu& menu, const std::string& ref)
{
    const Row* const row = rowOf(ref);
    if (row == nullptr || row->isCheckedOut || !m_arrived.contains(ref)) {
        return;
    }
    const QString name = QString(row->name).replace(QLatin1Char('&'), QLatin1String("&&"));
    menu.addAction(row->isOwn ? tr("Delete %1 here…").arg(name)
                              : tr("Delete %1 on the remote…").arg(name),
                   this,
                   [this, ref] { emit deleteRequested(ref); });
}

void BranchList::setQueue(const std::vector<std::string>& refs)
{
    for (const std::string& ref : m_queue) {
        if (const auto row = m_rows.constFind(QByteArray::fromStdString(ref));
            row != m_rows.constEnd()) {
            m_model->item(*row)->setData({}, branchQueueRole);
        }
    }
    m_queue = refs;
    for (std::size_t i = 0; i < refs.size(); ++i) {
        if (const auto row = m_rows.constFind(QByteArray::fromStdString(refs[i]));
            row != m_rows.constEnd()) {
            m_model->item(*row)->setData(tr("later: %1").arg(i + 1), branchQueueRole);
        }
    }
}

void BranchList::select(const std::string& ref)
{
    const QSignalBlocker blocker(m_list->selectionModel());
    m_selected = QByteArray::fromStdString(ref);
    if (const auto row = m_rows.constFind(m_selected); row != m_rows.constEnd()) {
        m_list->setRowHidden(*row, false);
        m_list->setCurrentIndex(m_model->index(*row, 0));
    } else {
        m_list->setCurrentIndex({});
        m_list->clearSelection();
    }
    m_list->viewport()->update();
}

void BranchList::toggleFold(const QModelIndex& heading)
{
    const QVariant fold = heading.data(branchFoldRole);
    if (!fold.isValid()) {
        return;
    }
    const int at = heading.row();
    m_folds[static_cast<BranchGroup>(heading.data(branchGroupRole).toInt())] = !fold.toBool();
    arrange();
    const QSignalBlocker blocker(m_list->selectionModel());
    m_list->setCurrentIndex(m_model->index(at, 0));
}

void BranchList::applyFilter()
{
    const QString text = m_filter->text();
    bool isUnderFold = false;
    for (int row = 0; row < m_model->rowCount(); ++row) {
        const QStandardItem& item = *m_model->item(row);
        const QByteArray ref = item.data(branchRefRole).toByteArray();
        const bool isHeading = ref.isEmpty();
        if (isHeading) {
            isUnderFold = item.data(branchFoldRole).toBool();
        }
        const bool isHidden = text.isEmpty()
                                  ? !isHeading && isUnderFold && ref != m_selected
                                  : !item.text().contains(text, Qt::CaseInsensitive);
        if (m_list->isRowHidden(row) != isHidden) {
            m_list->setRowHidden(row, isHidden);
        }
    }
}
}  // namespace rope
