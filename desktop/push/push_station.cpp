// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/push/push_station.h"

#include "desktop/commits/commit_table.h"
#include "desktop/widgets/flow_layout.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/ruled_table.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/done_words.h"
#include "desktop/wording/shown_text.h"

#include <QApplication>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>

namespace rope {
PushStation::PushStation(QWidget* parent)
    : StationPage(parent)
    , m_heading(makeLabel({}, TextRole::heading, this))
    , m_commits(new CommitTable("sendTable", this))
    , m_obstacle(makeLabel({}, TextRole::muted, this))
    , m_progress(makeLabel({}, TextRole::muted, this))
    , m_push(makeButton(tr("Push"), "pushButton", ButtonRole::primary, this))
    , m_stop(makeButton(tr("Stop"), "stopPushingButton", ButtonRole::plain, this))
    , m_back(makeButton(tr("Back to Survey"), "pushToSurveyButton", ButtonRole::plain, this))
    , m_logbook(new QListWidget(this))
    , m_decisions(new QListWidget(this))
{
    m_heading->setObjectName(QStringLiteral("pushHeading"));
    m_obstacle->setObjectName(QStringLiteral("pushObstacle"));
    m_progress->setObjectName(QStringLiteral("pushProgress"));
    m_commits->setAccessibleName(tr("Commits that will be pushed"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(makeLeft(), 3);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(makeRight(), 2);
    connect(m_push, &QPushButton::clicked, this, &PushStation::pushRequested);
    connect(m_stop, &QPushButton::clicked, this, &PushStation::stopRequested);
    connect(m_back, &QPushButton::clicked, this, &PushStation::surveyRequested);
    setFocusProxy(m_push);
    forgetAnswer();
    setBusy({});
}

QWidget* PushStation::makeLeft()
{
    auto* side = new QWidget(this);
    side->setAutoFillBackground(true);
    side->setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(10);
    column->addWidget(m_heading);
    column->addWidget(m_commits, 20);  // up to its rows, see showFacts()
    column->addWidget(m_obstacle);
    m_replaceWords = makeLabel({}, TextRole::normal, side);
    m_replaceWords->setObjectName(QStringLiteral("replaceWords"));
    m_replace = makeButton({}, "sendInPlaceButton", ButtonRole::plain, side);
    connect(m_replace, &QPushButton::clicked, this, &PushStation::replaceRequested);
    column->addWidget(m_replaceWords);
    column->addWidget(m_replace, 0, Qt::AlignLeft);
    m_answer = makeAnswer();
    column->addWidget(m_answer);
    column->addWidget(makeLabel(tr("After the push"), TextRole::heading, side));
    m_intoMain = makeLabel({}, TextRole::normal, side);
    m_intoMain->setObjectName(QStringLiteral("intoMain"));
    m_intoMain->hide();
    column->addWidget(m_intoMain);
    m_after = makeLabel({}, TextRole::muted, side);
    m_after->setObjectName(QStringLiteral("afterPush"));
    column->addWidget(m_after);
    column->addWidget(makeAfter(side));
    column->addStretch(1);
    column->addWidget(m_progress);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_push);
    buttons->addWidget(m_stop);
    buttons->addWidget(m_back);
    buttons->addStretch();
    column->addLayout(buttons);
    return side;
}

/// What can be done once all has arrived.
QWidget* PushStation::makeAfter(QWidget* parent)
{
    auto* buttons = new QWidget(parent);
    auto* row = new FlowLayout(buttons, 8);
    row->setContentsMargins(0, 0, 0, 0);
    const auto add = [&](const char* name, auto act) {
        QPushButton* button = makeButton({}, name, ButtonRole::plain, buttons);
        row->addWidget(button);
        connect(button, &QPushButton::clicked, this, [button, act] {
            button->setEnabled(false);
            act();
        });
        return button;
    };
    m_remove = add("removeBranchButton", [this] { emit removeRequested(*m_afterPush.merged); });
    m_removeOwn =
        add("removeOwnBranchButton", [this] { emit removeOwnRequested(*m_afterPush.ownMerged); });
    m_goToMain =
        add("goToMainButton", [this] { emit goToLineRequested(m_afterPush.teamMain->ref); });
    return buttons;
}

/// What the remote answered: a title, a sentence, ways on, and its own words when asked for.
QFrame* PushStation::makeAnswer()
{
    auto* frame = new QFrame(this);
    frame->setObjectName(QStringLiteral("pushAnswer"));
    frame->setFrameShape(QFrame::StyledPanel);
    frame->setAutoFillBackground(true);
    m_answerTitle = makeLabel({}, TextRole::strong, frame);
    m_answerTitle->setObjectName(QStringLiteral("pushAnswerTitle"));
    m_answerText = makeLabel({}, TextRole::normal, frame);
    m_answerText->setObjectName(QStringLiteral("pushAnswerText"));
    m_details = makeButton(tr("Details"), "pushDetailsButton", ButtonRole::plain, frame);
    m_details->setCheckable(true);
    m_notNow = makeButton(tr("Not now"), "notNowButton", ButtonRole::plain, frame);
    m_inPlace = makeButton({}, "joinInPlaceButton", ButtonRole::primary, frame);
    m_onTop = makeButton({}, "joinOnTopButton", ButtonRole::plain, frame);
    m_inPlaceWords = makeLabel({}, TextRole::muted, frame);
    m_onTopWords = makeLabel({}, TextRole::muted, frame);
    m_inPlaceWords->setObjectName(QStringLiteral("inPlaceWords"));
    m_onTopWords->setObjectName(QStringLiteral("onTopWords"));
    m_answerDetails = new QPlainTextEdit(frame);
    m_answerDetails->setObjectName(QStringLiteral("pushAnswerDetails"));
    m_answerDetails->setAccessibleName(tr("What git and the remote said"));
    m_answerDetails->setReadOnly(true);
    useCodeFont(m_answerDetails);
    m_answerDetails->setMaximumHeight(fontMetrics().height() * 7);
    auto* column = new QVBoxLayout(frame);
    column->setContentsMargins(12, 10, 12, 10);
    column->setSpacing(6);
    column->addWidget(m_answerTitle);
    column->addWidget(m_answerText);
    for (const auto& [button, words] :
         {std::pair(m_inPlace, m_inPlaceWords), std::pair(m_onTop, m_onTopWords)}) {
        auto* row = new QHBoxLayout;
        row->setSpacing(10);
        row->addWidget(button);
        row->addWidget(words, 1);
        column->addLayout(row);
    }
    auto* row = new QHBoxLayout;
    row->addWidget(m_notNow);
    row->addWidget(m_details);
    row->addStretch();
    column->addLayout(row);
    column->addWidget(m_answerDetails);
    whenLookChanges(frame, [this, frame] { dressAnswer(*frame); });
    connect(m_details, &QPushButton::toggled, m_answerDetails, &QWidget::setVisible);
    connect(m_notNow, &QPushButton::clicked, this, &PushStation::forgetAnswer);
    const auto join = [this](const std::optional<SecondRound> Refusal::*which) {
        if (m_refusal && ((*m_refusal).*which)) {
            emit joinRequested(*((*m_refusal).*which));
        }
    };
    connect(m_inPlace, &QPushButton::clicked, this, [join] { join(&Refusal::inPlace); });
    connect(m_onTop, &QPushButton::clicked, this, [join] { join(&Refusal::onTop); });
    return frame;
}

QWidget* PushStation::makeRight()
{
    auto* side = new QWidget(this);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    m_logbook->setObjectName(QStringLiteral("pushLogbook"));
    m_logbook->setAccessibleName(tr("Logbook, the newest splices"));
    m_decisions->setObjectName(QStringLiteral("sentDecisions"));
    m_decisions->setAccessibleName(tr("What was decided in the newest commit"));
    for (QListWidget* list : {m_logbook, m_decisions}) {
        layOnPanel(*list);
        list->setItemDelegate(new RuledDelegate(list));
        list->setWordWrap(true);
        list->setSelectionMode(QAbstractItemView::NoSelection);
        list->setFocusPolicy(Qt::TabFocus);
    }
    column->addWidget(makeLabel(tr("Logbook"), TextRole::heading, side));
    column->addWidget(m_logbook, 1);
    m_decisionsTitle = makeLabel({}, TextRole::heading, side);
    column->addWidget(m_decisionsTitle);
    column->addWidget(m_decisions, 1);
    return side;
}

void PushStation::setLooking()
{
    m_isLooking = true;
    updateButtons();
}

void PushStation::showFacts(const SendFacts& facts)
{
    m_isLooking = false;
    m_facts = facts;
    if (facts.hasSomethingToSend()) {
        m_intoMain->hide();  // it was said of what was pushed before
    }
    m_heading->setText(whatIsSentInWords(facts));
    m_commits->showCommits(facts.commits, facts.readAt);
    QString obstacle = obstacleToSending(facts);
    if (facts.commits.size() < facts.commitCount) {
        obstacle = tr("%1 more are not listed.").arg(facts.commitCount - facts.commits.size());
    }
    m_obstacle->setText(obstacle);
    m_obstacle->setVisible(!obstacle.isEmpty());
    m_commits->setVisible(!facts.commits.empty());
    constexpr std::size_t kMostRows =
        12;  // as high as its rows, so that the answer stands below them
    const int rowHeight = m_commits->verticalHeader()->defaultSectionSize();
    const int rows = static_cast<int>(std::min(facts.commits.size(), kMostRows));
    m_commits->setMaximumHeight(m_commits->horizontalHeader()->sizeHint().height()
                                + rows * rowHeight + rowHeight / 2);
    showLogbook();
    updateButtons();
    const ObjectId actsOn = std::exchange(m_actsOn, {});
    if (!actsOn.isNull() && actsOn == facts.tip) {
        act();
        return;
    }
    // What had the focus was switched off while it was looked at.
    const QWidget* focus = QApplication::focusWidget();
    if (m_refusal && isVisible()
        && (m_back->hasFocus() || focus == nullptr || !isAncestorOf(focus))) {
        (m_facts->isRewritten() ? m_replace
         : m_refusal->inPlace   ? m_inPlace
         : m_refusal->onTop     ? m_onTop
                                : m_notNow)
            ->setFocus();
    }
}

void PushStation::showLogbook()
{
    m_logbook->clear();
    for (const JournalEntry& entry : m_facts->logbook) {
        auto* item = new QListWidgetItem(
            tr("%1 into %2\n%3 · %4")
                .arg(shown(entry.plan.theirsName),
                     shown(entry.plan.oursName),
                     relativeTime(entry.endedAt == 0 ? entry.startedAt : entry.endedAt,
                                  m_facts->readAt),
                     logbookLine(entry, *m_facts)));
        m_logbook->addItem(item);
    }
    if (m_facts->logbook.empty()) {
        m_logbook->addItem(tr("Every splice is listed here, with what was decided in it."));
    }
    m_decisions->clear();
    m_decisionsTitle->setVisible(m_facts->recorded.has_value());
    m_decisions->setVisible(m_facts->recorded.has_value());
    m_decisionsTitle->setText(tr("Decisions of %1").arg(shown(m_facts->tip.brief())));
    for (const Decision& decision : m_facts->decisions) {
        if (decision.state.isDecided) {
            m_decisions->addItem(
                tr("%1: %2").arg(shownPath(decision.path), labelOfChoice(decision.state.choice)));
        }
    }
    if (m_decisions->count() == 0) {
        m_decisions->addItem(tr("It merged cleanly."));
    }
}

void PushStation::updateButtons()
{
    const bool canPush = m_facts && m_facts->hasSomethingToSend();
    const bool hasRounds = m_refusal && (m_refusal->inPlace || m_refusal->onTop);
    m_push->setEnabled(canPush && !m_isBusy && !m_isLooking && !hasRounds);
    m_push->setText(!m_facts || m_facts->commitCount == 0
                        ? tr("Push")
                        : tr("Push %1").arg(countOf(m_facts->commitCount, "commit", "commits")));
    m_push->setVisible(!m_hasArrived || canPush);
    const bool isRewritten = canPush && m_facts->isRewritten();
    m_replace->setVisible(isRewritten);
    m_replaceWords->setVisible(isRewritten);
    m_replace->setEnabled(!m_isBusy && !m_isLooking);
    setButtonRole(m_replace, isRewritten ? ButtonRole::primary : ButtonRole::plain);
    setButtonRole(m_push, isRewritten ? ButtonRole::plain : ButtonRole::primary);
    const bool joinsFirst = m_refusal && m_refusal->inPlace;
    setButtonRole(m_inPlace, isRewritten ? ButtonRole::plain : ButtonRole::primary);
    setButtonRole(m_onTop, isRewritten || joinsFirst ? ButtonRole::plain : ButtonRole::primary);
    if (isRewritten) {
        m_replaceWords->setText(replacedInWords(*m_facts));
        m_replace->setText(tr("Replace %1 on the remote")
                               .arg(countOf(m_facts->lackingCount, "commit", "commits")));
    }
    m_stop->setVisible(m_isBusy);
    for (QPushButton* button : {m_inPlace, m_onTop, m_notNow}) {
        button->setEnabled(!m_isBusy && !m_isLooking);
    }
}

void PushStation::setBusy(const QString& text)
{
    m_isBusy = !text.isEmpty();
    m_progress->setText(text);
    m_progress->setVisible(m_isBusy);
    updateButtons();
}

void PushStation::sayAfter(const QString& words)
{
    m_after->setText(words);
    m_after->setVisible(!words.isEmpty());
}

void PushStation::forgetAnswer()
{
    m_actsOn = {};
    m_refusal.reset();
    m_afterPush = {};
    m_hasArrived = false;
    sayAfter(
        tr("The remote is asked what it has now, and that is compared with yours, by commit id."));
    m_answer->hide();
    m_intoMain->hide();
    for (QPushButton* button : {m_remove, m_removeOwn, m_goToMain}) {
        button->hide();
    }
    updateButtons();
}

void PushStation::dressAnswer(QFrame& frame)
{
    frame.setStyleSheet(
        QStringLiteral("#pushAnswer { background: %1; border: 1px solid %2; "
                       "border-radius: 4px; }")
            .arg((m_isAnswerBad ? theme().openFill : theme().decidedFill).name(),
                 theme().rules.name()));
    QPalette ink = m_answerTitle->palette();
    ink.setColor(QPalette::WindowText, m_isAnswerBad ? theme().openInk : theme().ink);
    m_answerTitle->setPalette(ink);
}

void PushStation::showAnswer(const QString& title,
                             const QString& text,
                             const QString& details,
                             bool isBad)
{
    m_isAnswerBad = isBad;
    dressAnswer(*m_answer);
    m_answerTitle->setText(title);
    m_answerText->setText(text);
    m_answerText->setVisible(!text.isEmpty());
    m_answerDetails->setPlainText(details);
    m_details->setChecked(false);
    m_details->setVisible(!details.isEmpty());
    m_answerDetails->hide();
    m_notNow->setVisible(isBad);
    m_answer->show();
}

void PushStation::showProof(const Proof& proof)
{
    forgetAnswer();
    m_hasArrived = true;
    sayAfter({});  // it has happened
    for (QWidget* widget : {static_cast<QWidget*>(m_inPlace),
                            static_cast<QWidget*>(m_inPlaceWords),
                            static_cast<QWidget*>(m_onTop),
                            static_cast<QWidget*>(m_onTopWords)}) {
        widget->hide();
    }
    showAnswer(proofInWords(proof),
               sentInWords(proof),
               shownWords(proof.words).trimmed(),
               proof.there != proof.sent);
    m_notNow->hide();
    updateButtons();
    m_back->setFocus();
}

void PushStation::showRefusal(const Refusal& refusal)
{
    forgetAnswer();
    m_refusal = refusal;
    const ErrorText text = describe(refusal.error);
    QString title = text.sentence;
    QString sentence = text.nextStep;
    if (refusal.arrivedCount > 0) {
        title = tr("%1 refused the push: it has %2 you do not have.")
                    .arg(shown(refusal.error.subject),
                         countOf(refusal.arrivedCount, "commit", "commits"));
        sentence = arrivedInWords(refusal);
    }
    showAnswer(title, sentence, text.details, true);
    const auto offer = [](QPushButton* button,
                          QLabel* words,
                          const std::optional<SecondRound>& round,
                          const QString& label,
                          const QString& consequence) {
        button->setVisible(round.has_value());
        words->setVisible(round.has_value());
        if (round) {
            button->setText(round->open == 0 ? label
                                             : tr("%1: %2 to decide").arg(label).arg(round->open));
            QString lost;
            for (const std::string& decision : round->lost) {
                lost += QString::fromStdString(decision) + QLatin1Char('\n');
            }
            setPlainToolTip(*words, lost);
            words->setText(consequence + QLatin1Char(' ') + roundInWords(*round));
        }
    };
    offer(m_inPlace,
          m_inPlaceWords,
          refusal.inPlace,
          tr("Merge it"),
          tr("One merge commit takes the place of the one that was not sent."));
    offer(m_onTop,
          m_onTopWords,
          refusal.onTop,
          refusal.inPlace ? tr("Merge it on top") : tr("Merge it"),
          tr("One more merge commit."));
    updateButtons();
    const bool isRewritten = m_facts && m_facts->isRewritten();
    (isRewritten       ? m_replace
     : refusal.inPlace ? m_inPlace
     : refusal.onTop   ? m_onTop
                       : m_notNow)
        ->setFocus();
}

void PushStation::showAfterPush(const AfterPush& after)
{
    m_afterPush = after;
    const QString intoMain = m_facts ? intoMainInWords(after, *m_facts) : QString();
    m_intoMain->setText(intoMain);
    m_intoMain->setVisible(!intoMain.isEmpty());
    const auto offer = [](QPushButton* button, const QString& label, const QString& toolTip) {
        button->setText(label);
        setPlainToolTip(*button, toolTip);
        button->setEnabled(true);
        button->show();
    };
    if (after.merged) {
        const QString remote = shown(after.merged->remote);
        const QString name = shown(after.merged->remote + "/" + after.merged->name);
        offer(m_remove,
              tr("Delete %1").arg(name),
              tr("All of %1 is in what was pushed. Only the branch name on %2 is deleted; its "
                 "commits stay.")
                  .arg(name, remote));
        sayAfter(tr("All of %1 is in what you pushed: the branch can be deleted.").arg(name));
    }
    if (after.ownMerged) {
        offer(m_removeOwn,
              tr("Delete %1 here").arg(shown(after.ownMerged->name)),
              tr("All of it is in what was pushed. Only your branch name is deleted; its commits "
                 "stay."));
    }
    if (after.teamMain) {
        offer(m_goToMain,
              tr("Go to %1").arg(shown(after.teamMain->name)),
              tr("Fetches, then checks out %1 and moves it forward to its upstream. Uncommitted "
                 "work comes along where it fits.")
                  .arg(shown(after.teamMain->name)));
    }
}

void PushStation::showBranchRemoved(const MergedBranch& branch)
{
    m_remove->hide();
    sayAfter(deletedInWords(branch.name, branch.remote, branch.tip));
}

void PushStation::showOwnBranchRemoved(const Branch& branch)
{
    m_removeOwn->hide();
    sayAfter(deletedInWords(branch.name, {}, branch.tip));
}

void PushStation::act()
{
    if (m_isBusy) {
        return;
    }
    if (m_isLooking) {
        m_actsOn = m_facts ? m_facts->tip : ObjectId{};  // as soon as it is known to be as it was
        return;
    }
    if (m_facts && m_facts->hasSomethingToSend() && m_facts->isRewritten()) {
        emit replaceRequested();  // joining one's own old commits would have them twice
    } else if (m_refusal && (m_refusal->inPlace || m_refusal->onTop)) {
        emit joinRequested(m_refusal->inPlace ? *m_refusal->inPlace : *m_refusal->onTop);
    } else if (m_push->isVisible() && m_push->isEnabled()) {
        emit pushRequested();
    } else if (m_hasArrived) {
        emit surveyRequested();
    }
}

QString PushStation::status() const
{
    if (!m_facts || !m_facts->hasRemote() || m_facts->target.known.isNull()) {
        return {};
    }
    if (m_facts->commitCount == 0 && m_facts->lackingCount == 0) {
        return tr("%1 is level with %2")
            .arg(shown(m_facts->lineName), shown(m_facts->targetName()));
    }
    return tr("%1 is %2 ahead of and %3 behind %4")
        .arg(shown(m_facts->lineName))
        .arg(m_facts->commitCount)
        .arg(m_facts->lackingCount)
        .arg(shown(m_facts->targetName()));
}

std::vector<KeyHint> PushStation::hints() const
{
    const QString key = tr("Ctrl+Enter");
    if (m_facts && m_facts->hasSomethingToSend() && m_facts->isRewritten()) {
        return {{key, tr("replace the old commits")}};
    }
    if (m_refusal && (m_refusal->inPlace || m_refusal->onTop)) {
        return {{key, tr("merge what refused it")}};
    }
    if (m_push->isVisible() && m_push->isEnabled()) {
        return {{key, tr("push")}};
    }
    return m_hasArrived ? std::vector<KeyHint>{{key, tr("back to Survey")}}
                        : std::vector<KeyHint>{};
}

std::vector<KeyHint> PushStation::keys() const
{
    return {{tr("Ctrl+Enter"), tr("push, or merge what refused it")}};
}
}  // namespace rope
