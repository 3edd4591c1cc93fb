// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_ask_server.cpp.
#include "desktop/ask/ask_dialog.h"

#include "desktop/widgets/plain_widgets.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QVBoxLayout>

namespace rope {
AskDialog::AskDialog(const QString& question, QWidget* parent)
    : QDialog(parent)
{
    setObjectName(QStringLiteral("askDialog"));
    setWindowTitle(tr("A question from the remote"));
    const bool isYesOrNo = question.contains(QLatin1String("(yes/no"));
    auto* words = makeLabel(question, TextRole::normal, this);
    words->setObjectName(QStringLiteral("askQuestion"));
    words->setMinimumWidth(420);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(10);
    column->addWidget(words);
    if (isYesOrNo) {
        column->addWidget(
            makeLabel(tr("Compare the fingerprint with one that you got in another way. If you say "
                         "yes, ssh remembers the host."),
                      TextRole::muted,
                      this));
    } else {
        m_field = new QLineEdit(this);
        m_field->setObjectName(QStringLiteral("askField"));
        m_field->setAccessibleName(question);
        const bool isSecret = question.contains(QLatin1String("assword"))
                              || question.contains(QLatin1String("assphrase"))
                              || question.contains(QLatin1String("PIN"))
                              || !question.contains(QLatin1String("sername"));
        m_field->setEchoMode(isSecret ? QLineEdit::Password : QLineEdit::Normal);
        column->addWidget(m_field);
        column->addWidget(
            makeLabel(tr("It goes to git alone and is not kept here."), TextRole::muted, this));
    }
    auto* accept = makeButton(isYesOrNo ? tr("Yes, it is the right host") : tr("Answer"),
                              "askAcceptButton",
                              ButtonRole::primary,
                              this);
    auto* decline = makeButton(
        isYesOrNo ? tr("No") : tr("Do not answer"), "askDeclineButton", ButtonRole::plain, this);
    accept->setDefault(true);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(accept);
    buttons->addWidget(decline);
    buttons->addStretch();
    column->addLayout(buttons);
    connect(accept, &QPushButton::clicked, this, &QDialog::accept);
    connect(decline, &QPushButton::clicked, this, &QDialog::reject);
    if (m_field != nullptr) {
        m_field->setFocus();
    } else {
        decline->setFocus();  // the safer one
    }
}

QString AskDialog::answer() const
{
    return m_field != nullptr ? m_field->text() : QStringLiteral("yes");
}
}  // namespace rope
