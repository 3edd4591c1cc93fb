// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/survey/branch_list.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QLineEdit>
#include <QListView>
#include <QPainter>
#include <QRegularExpression>
#include <QStandardItemModel>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

namespace rope {
namespace {
enum Role { refRole = Qt::UserRole + 1, wordsRole, openRole };

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
        painter->setPen(theme().ink);
        painter->drawText(first,
                          Qt::AlignVCenter,
                          option.fontMetrics.elidedText(name, Qt::ElideMiddle, first.width()));
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
    , m_subtitle(makeLabel({}, TextRole::muted, this))
    , m_filter(makeFilter(tr("Filter branches"), "branchFilter", this))
    , m_list(new QListView(this))
    , m_model(new QStandardItemModel(this))
{
    m_list->setObjectName(QStringLiteral("branchList"));
    m_list->setAccessibleName(tr("Branches"));
    m_list->setModel(m_model);
    m_list->setItemDelegate(new BranchDelegate(this));
    m_list->setEditTriggers(QAbstractItemView::NoEditTriggers);
    layOnPanel(*m_list);
    auto* head = new QVBoxLayout;
    head->setContentsMargins(12, 10, 12, 8);
    head->setSpacing(4);
    head->addWidget(makeLabel(tr("Branches"), TextRole::heading, this));
    head->addWidget(m_subtitle);
    head->addWidget(m_filter);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(m_list, 1);
    connect(m_filter, &QLineEdit::textChanged, this, &BranchList::applyFilter);
    connect(m_list->selectionModel(),
            &QItemSelectionModel::currentChanged,
            this,
            [this](const QModelIndex& index) {
                if (index.data(refRole).isValid()) {
                    emit branchPicked(index.data(refRole).toByteArray().toStdString());
                }
            });
}

void BranchList::addHeading(const QString& text)
{
    auto* item = new QStandardItem(text);
    item->setFlags(Qt::NoItemFlags);
    m_model->appendRow(item);
}

void BranchList::showBranches(const SurveyFacts& facts)
{
    const QSignalBlocker blocker(m_list->selectionModel());
    m_model->clear();
    m_subtitle->setText(
        facts.standing.name.empty()
            ? QString()
            : QStringList{tr("forecast of joining each into %1").arg(shown(facts.standing.name)),
                          asOfInWords(facts, facts.readAt)}
                  .filter(QRegularExpression(QStringLiteral(".")))
                  .join(QStringLiteral(", ")));
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
            item->setData(QByteArray::fromStdString(branch.ref), refRole);
            item->setToolTip(plainToolTip(shown(branch.name)));
            const bool isOwn = branch.ref == facts.standing.ref;
            item->setData(isOwn ? tr("you are here") : QStringLiteral("…"), wordsRole);
            if (isOwn) {
                item->setFlags(Qt::ItemIsEnabled);
            }
            m_model->appendRow(item);
        }
    }
    applyFilter();
}

void BranchList::setForecast(const std::string& ref, const BranchForecast& forecast)
{
    for (int row = 0; row < m_model->rowCount(); ++row) {
        QStandardItem* item = m_model->item(row);
        if (item->data(refRole).isValid()
            && item->data(refRole).toByteArray().toStdString() == ref) {
            item->setData(forecast.words, wordsRole);
            item->setData(forecast.needsDecision, openRole);
            item->setData(QStringLiteral("%1: %2").arg(item->text(), forecast.words),
                          Qt::AccessibleTextRole);
        }
    }
}

void BranchList::select(const std::string& ref)
{
    const QSignalBlocker blocker(m_list->selectionModel());
    for (int row = 0; row < m_model->rowCount(); ++row) {
        const QStandardItem* item = m_model->item(row);
        if (item->data(refRole).isValid()
            && item->data(refRole).toByteArray().toStdString() == ref) {
            m_list->setCurrentIndex(m_model->index(row, 0));
            m_list->viewport()->update();
        }
    }
}

void BranchList::applyFilter()
{
    for (int row = 0; row < m_model->rowCount(); ++row) {
        const QStandardItem* item = m_model->item(row);
        const bool isWanted = m_filter->text().isEmpty()
                              || item->text().contains(m_filter->text(), Qt::CaseInsensitive);
        m_list->setRowHidden(row, !isWanted);
    }
}
}  // namespace rope
