// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/start_page.h"

#include "desktop/widgets/plain_widgets.h"

#include <QHBoxLayout>
#include <QListWidget>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr int kFolderRole = Qt::UserRole;
}

StartPage::StartPage(QWidget* parent)
    : QWidget(parent)
    , m_recent(new QListWidget(this))
{
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    m_recent->setObjectName(QStringLiteral("recentList"));
    m_recent->setAccessibleName(tr("Recent repositories"));
    auto* choose =
        makeButton(tr("Open a repository…"), "openRepositoryButton", ButtonRole::primary, this);
    auto* column = new QVBoxLayout;
    column->setSpacing(8);
    column->addStretch(1);
    auto* title = makeLabel(tr("Rope Splice"), TextRole::strong, this);
    QFont large = title->font();
    large.setPointSizeF(large.pointSizeF() * 1.6);
    title->setFont(large);
    column->addWidget(title);
    column->addWidget(makeLabel(
        tr("Joins two branches that went apart, and shows each place where they do not fit. "
           "Open the folder of a git repository to see where it stands."),
        TextRole::muted,
        this));
    column->addSpacing(8);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(choose);
    buttons->addStretch();
    column->addLayout(buttons);
    column->addSpacing(16);
    column->addWidget(makeLabel(tr("Recent"), TextRole::heading, this));
    column->addWidget(m_recent, 2);
    column->addStretch(1);
    auto* row = new QHBoxLayout(this);
    row->addStretch(1);
    row->addLayout(column, 2);
    row->addStretch(1);
    connect(choose, &QPushButton::clicked, this, &StartPage::chooserRequested);
    connect(m_recent, &QListWidget::itemActivated, this, [this](const QListWidgetItem* item) {
        emit folderChosen(item->data(kFolderRole).toString());
    });
    connect(m_recent, &QListWidget::itemClicked, this, [this](const QListWidgetItem* item) {
        emit folderChosen(item->data(kFolderRole).toString());
    });
}

void StartPage::setRecent(const QStringList& folders)
{
    m_recent->clear();
    for (const QString& folder : folders) {
        auto* item = new QListWidgetItem(folder, m_recent);
        item->setData(kFolderRole, folder);
    }
    if (folders.isEmpty()) {
        auto* empty = new QListWidgetItem(tr("None yet"), m_recent);
        empty->setFlags(Qt::NoItemFlags);
    }
}

void StartPage::setLeft(const QString& folder, const QString& words)
{
    for (int row = 0; row < m_recent->count(); ++row) {
        QListWidgetItem* const item = m_recent->item(row);
        if (item->data(kFolderRole).toString() == folder) {
            item->setText(words.isEmpty() ? folder : tr("%1 · %2").arg(folder, words));
        }
    }
}
}  // namespace rope
