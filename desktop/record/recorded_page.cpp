// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp, tst_rebase_round.cpp.
#include "desktop/record/recorded_page.h"

#include "core/decide/splice_kind.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace rope {
RecordedPage::RecordedPage(QWidget* parent)
    : QWidget(parent)
    , m_title(makeLabel({}, TextRole::strong, this))
    , m_details(makeLabel({}, TextRole::muted, this))
    , m_hookOutput(new QPlainTextEdit(this))
    , m_toPush(makeButton(tr("Go to Push"), "goToPushButton", ButtonRole::primary, this))
    , m_next(makeButton({}, "joinNextButton", ButtonRole::plain, this))
    , m_bringBack(
          makeButton(tr("Bring your work back"), "bringWorkBackButton", ButtonRole::plain, this))
    , m_rollBack(makeButton(tr("Roll back"), "rollBackRecordedButton", ButtonRole::plain, this))
    , m_back(makeButton(tr("Back to Survey"), "backToSurveyButton", ButtonRole::plain, this))
{
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    m_title->setObjectName(QStringLiteral("recordedTitle"));
    m_details->setObjectName(QStringLiteral("recordedDetails"));
    m_hookOutput->setReadOnly(true);
    useCodeFont(m_hookOutput);
    m_hookOutput->setObjectName(QStringLiteral("hookOutput"));
    m_next->hide();
    connect(m_toPush, &QPushButton::clicked, this, &RecordedPage::pushRequested);
    connect(m_back, &QPushButton::clicked, this, &RecordedPage::surveyRequested);
    connect(m_bringBack, &QPushButton::clicked, this, &RecordedPage::bringWorkBackRequested);
    connect(m_rollBack, &QPushButton::clicked, this, &RecordedPage::rollBackRequested);
    connect(m_next, &QPushButton::clicked, this, &RecordedPage::nextRequested);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 18, 18, 14);
    column->setSpacing(8);
    column->addWidget(m_title);
    column->addWidget(m_details);
    column->addWidget(m_hookOutput);
    auto* buttons = new QHBoxLayout;
    for (QPushButton* button : {m_toPush, m_next, m_bringBack, m_rollBack, m_back}) {
        buttons->addWidget(button);
    }
    buttons->addStretch();
    column->addLayout(buttons);
    column->addStretch();
}

void RecordedPage::setNext(const QString& branch)
{
    m_next->setText(tr("Merge %1 next").arg(branch));
    m_next->setVisible(!branch.isEmpty());
}

void RecordedPage::setHasRemote(bool hasRemote)
{
    m_hasRemote = hasRemote;
    m_toPush->setVisible(hasRemote);
}

void RecordedPage::setCanRollBack(bool canRollBack)
{
    m_rollBack->setVisible(canRollBack);
}

void RecordedPage::act()
{
    if (m_hasRemote) {
        emit pushRequested();
    } else {
        emit surveyRequested();
    }
}

void RecordedPage::showRecorded(const Recorded& recorded, const RecordedSplice& of)
{
    m_bringBack->setVisible(of.hasWorkAside);
    setCanRollBack(canBeRolledBack(of.plan.kind));
    setPlainToolTip(*m_rollBack,
                    tr("Moves %1 back to %2. The logbook can bring it forward again.")
                        .arg(shown(of.plan.oursName), shown(of.plan.expected().brief())));
    const bool keepsFiles = of.plan.workChoice == WorkChoice::filesStay;
    const QString tip =
        shown(recorded.commit.id.brief()) + QLatin1Char(' ') + shownSubject(recorded.commit);
    if (of.plan.kind == SpliceKind::bringBack) {
        showDone(tr("Your work is back"), tr("It is in your files on %1, uncommitted.").arg(tip));
    } else if (of.plan.kind == SpliceKind::fastForward) {
        showDone(tr("%1 moved forward").arg(shown(of.plan.oursName)),
                 tr("It is at %1 now. %2. Nothing is pushed.")
                     .arg(tip,
                          keepsFiles        ? tr("Your files stayed as they were")
                          : of.hasWorkAside ? tr("Your uncommitted work is set aside")
                                            : tr("Your working tree is updated")));
    } else if (of.plan.kind == SpliceKind::rebase) {
        m_title->setText(
            tr("%1 rewritten").arg(countOf(recorded.rewritten.size(), "commit", "commits")));
        showPairs(recorded, of);
    } else if (!recorded.rewritten.empty()) {
        // What took the place of another commit, and what followed it.
        const auto& parents = recorded.rewritten.front().second.parents;
        m_title->setText(tr("Recorded as %1, and %2 carried along")
                             .arg(parents.empty() ? QString() : shown(parents.front().hex()),
                                  countOf(recorded.rewritten.size(), "commit", "commits")));
        showPairs(recorded, of);
    } else {
        m_title->setText(tr("Recorded as %1").arg(shown(recorded.commit.id.hex())));
        showMerge(recorded, keepsFiles);
    }
}

/// What came of it, where there is no more to tell.
void RecordedPage::showDone(const QString& title, const QString& details)
{
    m_title->setText(title);
    m_details->setText(details);
    m_hookOutput->hide();
    m_back->setFocus();
}

void RecordedPage::showHookOutput(const Recorded& recorded)
{
    m_hookOutput->setPlainText(shownWords(recorded.hookOutput));
    m_hookOutput->setVisible(!recorded.hookOutput.empty());
    (m_hasRemote ? m_toPush : m_back)->setFocus();
}

void RecordedPage::showMerge(const Recorded& recorded, bool keepsFiles)
{
    QStringList parents;
    for (const ObjectId& parent : recorded.commit.parents) {
        parents << shown(parent.brief());
    }
    m_details->setText(tr("%1\nparents %2 · by %3 <%4>\n%5; nothing is pushed.")
                           .arg(shown(recorded.commit.message),
                                parents.join(QStringLiteral(" and ")),
                                shown(recorded.commit.author.name),
                                shown(recorded.commit.author.email),
                                keepsFiles ? tr("Your files stayed as they were")
                                           : tr("Your working tree is updated")));
    showHookOutput(recorded);
}

void RecordedPage::showPairs(const Recorded& recorded, const RecordedSplice& of)
{
    QStringList lines;
    for (const auto& [before, after] : recorded.rewritten) {
        lines << QStringLiteral("%1 → %2  %3")
                     .arg(shown(before.id.brief()), shown(after.id.brief()), shownSubject(after));
    }
    m_details->setText(tr("%1\n\nAuthors and dates are unchanged. %2; nothing is pushed.")
                           .arg((lines + of.leftOut).join(QLatin1Char('\n')),
                                of.plan.workChoice == WorkChoice::filesStay
                                    ? tr("Your files stayed as they were")
                                    : tr("Your working tree is at the last one")));
    showHookOutput(recorded);
}
}  // namespace rope
