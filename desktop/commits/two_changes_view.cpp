// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_commit_reader.cpp.
#include "desktop/commits/two_changes_view.h"

#include "desktop/commits/change_words.h"
#include "desktop/widgets/plain_widgets.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace rope {
TwoChangesView::TwoChangesView(const QByteArray& name, QWidget* parent)
    : QWidget(parent)
    , m_oursTitle(makeLabel({}, TextRole::heading, this))
    , m_theirsTitle(makeLabel({}, TextRole::heading, this))
    , m_ours(new ChangeView(Strand::ours, (name + "OursChange").constData(), this))
    , m_theirs(new ChangeView(Strand::theirs, (name + "TheirsChange").constData(), this))
{
    setObjectName(QLatin1String(name));
    m_oursTitle->setObjectName(QLatin1String(name + "OursTitle"));
    m_theirsTitle->setObjectName(QLatin1String(name + "TheirsTitle"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    for (const auto& [title, view] :
         {std::pair(m_theirsTitle, m_theirs), std::pair(m_oursTitle, m_ours)}) {
        auto* column = new QVBoxLayout;
        column->setContentsMargins(0, 6, 0, 0);
        column->setSpacing(4);
        title->setContentsMargins(12, 0, 12, 0);
        column->addWidget(title);
        column->addWidget(view, 1);
        if (row->count() > 0) {
            row->addWidget(makeRule(Qt::Vertical, this));
        }
        row->addLayout(column, 1);
    }
}

void TwoChangesView::setNames(const QString& ours, const QString& theirs)
{
    m_isPair = false;
    m_oursName = ours;
    m_theirsName = theirs;
}

void TwoChangesView::setPairNames(const QString& first, const QString& second)
{
    setNames(first, second);
    m_isPair = true;
}

void TwoChangesView::showChanges(const FileReading& ours, const FileReading& theirs)
{
    const auto title = [this](const QString& side, const QString& name, const FileReading& file) {
        const QString change = changeInShort(file);
        return m_isPair ? QStringLiteral("%1 · %2").arg(name, change)
                        : QStringLiteral("%1 · %2 · %3").arg(side, name, change);
    };
    m_oursTitle->setText(title(tr("ours"), m_oursName, ours));
    m_theirsTitle->setText(title(tr("theirs"), m_theirsName, theirs));
    m_ours->showFile(ours);
    m_theirs->showFile(theirs);
}

void TwoChangesView::clear()
{
    m_oursTitle->clear();
    m_theirsTitle->clear();
    m_ours->clear();
    m_theirs->clear();
}
}  // namespace rope
