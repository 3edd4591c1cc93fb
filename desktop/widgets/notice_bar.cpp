// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/notice_bar.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/describe_error.h"

#include <QHBoxLayout>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace rope {
NoticeBar::NoticeBar(QWidget* parent)
    : QFrame(parent)
    , m_text(makeLabel({}, TextRole::normal, this))
    , m_detailsButton(makeButton(tr("Details"), "noticeDetailsButton", ButtonRole::plain, this))
    , m_actionButtons{makeButton({}, "noticeActionButton", ButtonRole::plain, this),
                      makeButton({}, "noticeSecondButton", ButtonRole::plain, this)}
    , m_details(new QPlainTextEdit(this))
{
    setObjectName(QStringLiteral("noticeBar"));
    m_text->setObjectName(QStringLiteral("noticeText"));
    m_details->setObjectName(QStringLiteral("noticeDetails"));
    m_details->setReadOnly(true);
    useCodeFont(m_details);
    m_details->setMaximumHeight(140);
    m_detailsButton->setCheckable(true);
    auto* closeButton = makeButton(tr("Dismiss"), "noticeCloseButton", ButtonRole::plain, this);
    auto* row = new QHBoxLayout;
    row->addWidget(m_text, 1);
    for (QPushButton* button : m_actionButtons) {
        row->addWidget(button);
    }
    row->addWidget(m_detailsButton);
    row->addWidget(closeButton);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    column->addLayout(row);
    column->addWidget(m_details);
    setAutoFillBackground(true);
    connect(closeButton, &QPushButton::clicked, this, &NoticeBar::dismiss);
    connect(m_detailsButton, &QPushButton::toggled, m_details, &QWidget::setVisible);
    for (std::size_t i = 0; i < m_actionButtons.size(); ++i) {
        connect(m_actionButtons[i], &QPushButton::clicked, this, [this, i] {
            const auto action = m_actions[i];
            dismiss();
            if (action) {
                action();
            }
        });
    }
    whenLookChanges(this, [this] { dress(); });
    dismiss();
}

void NoticeBar::dress()
{
    QPalette palette = this->palette();
    palette.setColor(QPalette::Window, m_isProblem ? theme().openFill : theme().decidedFill);
    setPalette(palette);
}

void NoticeBar::showError(const Error& error)
{
    display(describeInLine(error), describe(error).details, true);
}

void NoticeBar::showMessage(const QString& text, const QString& details)
{
    display(text, details, false);
}

void NoticeBar::display(const QString& text, const QString& details, bool isProblem)
{
    m_isProblem = isProblem;
    dress();
    m_text->setText(text);
    setAccessibleName(text);
    m_details->setPlainText(details);
    m_detailsButton->setChecked(false);
    m_detailsButton->setVisible(!details.isEmpty());
    m_details->hide();
    for (QPushButton* button : m_actionButtons) {
        button->hide();
    }
    m_actions = {};
    m_actionCount = 0;
    show();
}

void NoticeBar::offerAction(const QString& label, std::function<void()> action)
{
    ROPE_ASSERT(m_actionCount < m_actionButtons.size(), "a notice has two actions at most");
    QPushButton* const button = m_actionButtons[m_actionCount];
    m_actions[m_actionCount++] = std::move(action);
    button->setText(label);
    button->show();
}

void NoticeBar::dismiss()
{
    hide();
}

QString NoticeBar::text() const
{
    return isHidden() ? QString() : m_text->text();
}
}  // namespace rope
