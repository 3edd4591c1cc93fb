// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_code_view.cpp.
#include "desktop/widgets/find_bar.h"

#include "desktop/widgets/code_view.h"
#include "desktop/widgets/plain_widgets.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QVBoxLayout>

namespace rope {
FindBar::FindBar(CodeView& view, QWidget* parent)
    : QWidget(parent)
    , m_view(view)
    , m_everywhere(makeButton(tr("all files"), "findEverywhereButton", ButtonRole::link, this))
    , m_words(makeFilter(tr("Find in this file"), "findField", this))
    , m_other(makeFilter(tr("Replace by"), "replaceField", this))
    , m_replaceRow(new QWidget(this))
    , m_told(makeLabel({}, TextRole::muted, this))
{
    setObjectName(QStringLiteral("findBar"));
    m_told->setObjectName(QStringLiteral("findTold"));
    m_told->setWordWrap(false);
    auto* next = makeButton(tr("Next"), "findNextButton", ButtonRole::plain, this);
    auto* previous = makeButton(tr("Previous"), "findPreviousButton", ButtonRole::plain, this);
    auto* one = makeButton(tr("Replace"), "replaceButton", ButtonRole::plain, m_replaceRow);
    auto* all = makeButton(tr("Replace all"), "replaceAllButton", ButtonRole::plain, m_replaceRow);
    auto* first = new QHBoxLayout;
    first->addWidget(m_words, 1);
    first->addWidget(m_told);
    m_everywhere->setCheckable(true);
    m_everywhere->setToolTip(
        tr("Look through all files of the splice, and replace in all of them"));
    m_everywhere->hide();
    first->addWidget(m_everywhere);
    connect(m_everywhere, &QPushButton::toggled, this, &FindBar::onWordsChanged);
    first->addWidget(previous);
    first->addWidget(next);
    auto* second = new QHBoxLayout(m_replaceRow);
    second->setContentsMargins(0, 0, 0, 0);
    second->addWidget(m_other, 1);
    second->addWidget(one);
    second->addWidget(all);
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(8, 6, 8, 6);
    rows->setSpacing(6);
    rows->addLayout(first);
    rows->addWidget(m_replaceRow);
    hide();
    connect(m_words, &QLineEdit::textChanged, this, &FindBar::onWordsChanged);
    connect(m_words, &QLineEdit::returnPressed, this, [this] { findNext(1); });
    connect(m_other, &QLineEdit::returnPressed, this, &FindBar::replaceOne);
    connect(next, &QPushButton::clicked, this, [this] { findNext(1); });
    connect(previous, &QPushButton::clicked, this, [this] { findNext(-1); });
    connect(one, &QPushButton::clicked, this, &FindBar::replaceOne);
    connect(all, &QPushButton::clicked, this, &FindBar::replaceAll);
}

void FindBar::open(bool replaces)
{
    const std::string selected = m_view.selectedBytes();
    if (!selected.empty() && selected.find('\n') == std::string::npos) {
        m_words->setText(QString::fromStdString(selected));
    }
    m_replaceRow->setVisible(replaces);
    show();
    m_words->setFocus();
    m_words->selectAll();
    onWordsChanged();
}

void FindBar::setReadOnly(bool isReadOnly)
{
    m_replaceRow->setEnabled(!isReadOnly);
}

std::string FindBar::words() const
{
    return m_words->text().toStdString();
}

bool FindBar::matchesCase() const
{
    return m_words->text() != m_words->text().toLower();
}

void FindBar::onWordsChanged()
{
    const std::size_t count = words().empty() ? 0 : m_view.countOf(words(), matchesCase());
    m_everywhere->setText(isEverywhere() ? tr("✓ all files") : tr("all files"));
    QString told = words().empty() ? QString()
                   : count == 0    ? tr("not in this file")
                                   : tr("%1 in this file").arg(count);
    if (isEverywhere() && !words().empty()) {
        told += QStringLiteral(" · ") + m_elsewhere(words(), matchesCase());
    }
    m_told->setText(told);
}

void FindBar::findNext(int direction)
{
    if (words().empty()) {
        open(false);
    } else if (isEverywhere()) {
        if (!m_view.findNext(words(), matchesCase(), direction, CodeView::AtEnd::stops)) {
            emit otherFileRequested(direction);
        }
    } else if (!m_view.findNext(words(), matchesCase(), direction, CodeView::AtEnd::beginsAnew)) {
        m_told->setText(tr("not in this file"));
    }
}

void FindBar::findFromEdge(int direction)
{
    m_view.placeCaret(direction > 0 ? 0 : m_view.size());
    (void)m_view.findNext(words(), matchesCase(), direction, CodeView::AtEnd::stops);
    onWordsChanged();
}

void FindBar::setElsewhere(Elsewhere elsewhere)
{
    m_elsewhere = std::move(elsewhere);
    m_everywhere->setVisible(m_elsewhere != nullptr);
}

bool FindBar::isEverywhere() const
{
    return m_elsewhere && m_everywhere->isChecked();
}

void FindBar::replaceOne()
{
    if (m_view.isMatchSelected(words(), matchesCase())) {
        m_view.replaceSelected(m_other->text().toStdString());
        onWordsChanged();
    }
    findNext(1);
}

void FindBar::replaceAll()
{
    if (isEverywhere()) {
        emit replaceEverywhereRequested(m_other->text());
        onWordsChanged();
        return;
    }
    const std::size_t count =
        m_view.replaceAll(words(), matchesCase(), m_other->text().toStdString());
    m_told->setText(tr("%1 replaced").arg(count));
}

void FindBar::close()
{
    hide();
    m_view.focusText();
}

void FindBar::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape) {
        close();
    } else {
        QWidget::keyPressEvent(event);
    }
}
}  // namespace rope
