// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/logbook/logbook_page.h"

#include "desktop/logbook/decision_list.h"
#include "desktop/logbook/kept_list.h"
#include "desktop/logbook/merge_list.h"
#include "desktop/logbook/splice_list.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QAction>
#include <QCheckBox>
#include <QClipboard>
#include <QGuiApplication>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <iterator>

namespace rope {
LogbookPage::LogbookPage(QWidget* parent)
    : StationPage(parent)
{
    auto* panes =
        new PaneSplitter(Qt::Horizontal, {58, 42}, tr("Line between splices and decisions"), this);
    panes->addWidget(makeList());
    panes->addWidget(makeDetails());
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(panes);
    setFocusProxy(m_splices);
    addKey(QKeySequence(tr("Ctrl+J")), [this] { m_decisions->go(1); });
    addKey(QKeySequence(tr("Ctrl+K")), [this] { m_decisions->go(-1); });
    addKey(QKeySequence(Qt::Key_F6), [this] {
        QWidget* const lists[] = {m_splices, m_merges, m_decisions};
        const auto* const at = std::find_if(std::begin(lists),
                                            std::end(lists),
                                            [](const QWidget* list) { return list->hasFocus(); });
        const std::ptrdiff_t from = at == std::end(lists) ? 2 : at - lists;
        const bool hasMerges = m_mergesBox->isVisible();
        lists[from == 0 && !hasMerges ? 2 : (from + 1) % 3]->setFocus();
    });
    connect(m_splices, &SpliceList::picked, this, [this] {
        m_isMergeChosen = false;
        m_mergeAwaited = {};
        m_merges->select({});
        showChosen();
    });
    connect(m_merges, &MergeList::picked, this, [this] {
        m_isMergeChosen = true;
        m_mergeAwaited = {};
        showChosen();
    });
    connect(m_onlyOdd, &QCheckBox::toggled, this, &LogbookPage::rebuildMerges);
    connect(m_reading, &QPushButton::clicked, this, &LogbookPage::readingToggled);
    connect(m_filter, &QLineEdit::returnPressed, this, [this] {
        // What no list has may be the name of a commit.
        if (m_splices->rowCount() == 0 && m_merges->rowCount() == 0) {
            emit mergeNamed(m_filter->text().trimmed());
        }
    });
    connect(m_filter, &QLineEdit::textChanged, this, &LogbookPage::rebuild);
    connect(m_backTo, &QPushButton::clicked, this, &LogbookPage::backRequested);
    connect(m_reopen, &QPushButton::clicked, this, &LogbookPage::act);
    connect(m_back, &QPushButton::clicked, this, &LogbookPage::goBack);
    connect(m_copy, &QPushButton::clicked, this, [this] {
        if (const LoggedSplice* chosen = m_splices->current()) {
            QGuiApplication::clipboard()->setText(asText(*chosen, m_details));
        }
    });
}

/// A key that holds while the page is shown.
void LogbookPage::addKey(const QKeySequence& key, std::function<void()> act)
{
    auto* action = new QAction(this);
    action->setShortcut(key);
    action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    connect(action, &QAction::triggered, this, std::move(act));
    addAction(action);
}

QWidget* LogbookPage::makeList()
{
    auto* side = new QWidget(this);
    side->setAutoFillBackground(true);
    side->setBackgroundRole(QPalette::Base);
    m_filter = makeFilter(tr("Filter by branch, file, person or commit"), "logbookFilter", side);
    m_count = makeLabel({}, TextRole::muted, side);
    m_count->setWordWrap(false);
    m_count->setObjectName(QStringLiteral("logbookCount"));
    m_backTo = makeButton({}, "leaveLogbookButton", ButtonRole::plain, side);
    m_note = makeLabel({}, TextRole::muted, side);
    m_note->setObjectName(QStringLiteral("logbookNote"));
    m_note->setMargin(14);
    m_note->hide();
    m_splices = new SpliceList(side);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 10, 12, 10);
    head->setSpacing(10);
    head->addWidget(makeLabel(tr("Logbook"), TextRole::heading, side));
    head->addWidget(m_filter, 1);
    head->addWidget(m_count);
    head->addWidget(m_backTo);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, side));
    m_head = new SpliceListHead(side);
    column->addWidget(m_head);
    column->addWidget(m_note);
    column->addWidget(m_splices, 3);
    m_kept = new KeptList(side);
    connect(m_kept, &KeptList::bringBackRequested, this, &LogbookPage::bringKeptBackRequested);
    connect(m_kept, &KeptList::deleteRequested, this, &LogbookPage::deleteKeptRequested);
    column->addWidget(m_kept);
    m_mergesBox = makeMerges();
    m_mergesBox->hide();
    column->addWidget(m_mergesBox, 2);
    return side;
}

/// The merges of the history below the splices.
QWidget* LogbookPage::makeMerges()
{
    auto* box = new QWidget(this);
    m_mergesCount = makeLabel({}, TextRole::muted, box);
    m_mergesCount->setObjectName(QStringLiteral("mergesCount"));
    m_mergesCount->setWordWrap(false);
    m_onlyOdd = new QCheckBox(tr("Only with something odd"), box);
    m_onlyOdd->setObjectName(QStringLiteral("onlyOdd"));
    m_onlyOdd->setChecked(true);
    m_reading = makeButton({}, "readMergesButton", ButtonRole::plain, box);
    m_merges = new MergeList(box);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 8, 12, 8);
    head->setSpacing(10);
    auto* heading = makeLabel(tr("Merges in the history"), TextRole::heading, box);
    heading->setWordWrap(false);
    head->addWidget(heading);
    head->addWidget(m_mergesCount, 1);
    head->addWidget(m_onlyOdd);
    head->addWidget(m_reading);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(makeRule(Qt::Horizontal, box));
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, box));
    column->addWidget(m_merges, 1);
    return box;
}

void LogbookPage::showMerges(const std::vector<ReadMergeRow>& merges,
                             const MergesProgress& progress)
{
    m_allMerges = merges;
    m_progress = progress;
    m_mergesBox->setVisible(progress.total > 0 || !merges.empty());
    m_reading->setVisible(progress.isRunning || progress.read < progress.total);
    m_reading->setText(progress.isRunning ? tr("Stop") : tr("Read on"));
    rebuildMerges();
}

void LogbookPage::rebuildMerges()
{
    std::vector<ReadMergeRow> rows;
    std::size_t odd = 0;
    for (const ReadMergeRow& merge : m_allMerges) {
        odd += merge.needsLook() ? 1U : 0U;
        if ((!m_onlyOdd->isChecked() || merge.needsLook()) && matches(merge, m_filter->text())) {
            rows.push_back(merge);
        }
    }
    QString count = m_progress.read == 0 ? QString()
                    : odd == 0           ? tr("%1 read, nothing odd")
                                     .arg(countOf(m_progress.read, "merge", "merges"))
                                         : tr("%1 odd in %2 read").arg(odd).arg(m_progress.read);
    if (m_progress.read > 0 && m_progress.read < m_progress.total) {
        count += tr(", %1 older ones to go").arg(m_progress.total - m_progress.read);
    }
    m_mergesCount->setText(count);
    const ReadMergeRow* const chosen = m_isMergeChosen ? m_merges->current() : nullptr;
    const ObjectId before = chosen == nullptr ? ObjectId{} : chosen->merge.id;
    m_merges->show(std::move(rows), m_all.readAt);
    if (m_isMergeChosen && m_merges->current() == nullptr) {
        // Filtered out, or its history is being read anew: it may come back.
        m_mergeAwaited = before;
        m_isMergeChosen = false;
        showChosen();
    } else if (!m_mergeAwaited.isNull()) {
        m_merges->select(m_mergeAwaited);
    }
}

/// A merge of the history on the right: what is odd, then how each region was decided.
void LogbookPage::showChosenMerge(const ReadMergeRow& merge)
{
    const std::string id = merge.merge.id.hex();
    if (m_details.splice != id) {
        m_details = {};
        m_decisions->show({});
    }
    m_title->setText(shownSubject(merge.merge));
    m_facts->setText(
        tr("%1 by %2 · %3\n%4")
            .arg(shown(merge.merge.id.brief()),
                 shown(merge.merge.author.name),
                 relativeTime(merge.merge.author.time, m_all.readAt),
                 m_details.noteWords.isEmpty()
                     ? worstInWords(merge)
                     : QStringLiteral("%1 · %2").arg(worstInWords(merge), m_details.noteWords)));
    m_reopenWords->setText(m_details.trouble.isEmpty() ? m_details.reopenWords : m_details.trouble);
    m_reopenWords->setVisible(!m_reopenWords->text().isEmpty());
    m_backWords->setText(merge.isFine ? tr("You chose to ignore it.") : QString());
    m_backWords->setVisible(merge.isFine);
    m_reopen->setText(tr("Reopen it"));
    m_reopen->setVisible(m_details.canReopen);
    m_reopen->setEnabled(!m_isBusy);
    m_back->setText(merge.isFine ? tr("Stop ignoring it") : tr("Ignore"));
    m_back->setVisible(!merge.odd.empty());
    m_back->setEnabled(true);
    setButtonRole(m_back, ButtonRole::plain);
    m_copy->setVisible(false);
    if (m_details.splice != id) {
        emit mergeRequested(merge.merge.id);
    }
}

QWidget* LogbookPage::makeDetails()
{
    auto* side = new QWidget(this);
    m_title = makeLabel({}, TextRole::heading, side);
    m_title->setObjectName(QStringLiteral("loggedTitle"));
    m_facts = makeLabel({}, TextRole::muted, side);
    m_facts->setObjectName(QStringLiteral("loggedFacts"));
    m_decisions = new DecisionList(side);
    m_reopenWords = makeLabel({}, TextRole::muted, side);
    m_reopenWords->setObjectName(QStringLiteral("reopenWords"));
    m_backWords = makeLabel({}, TextRole::muted, side);
    m_backWords->setObjectName(QStringLiteral("rollBackWords"));
    m_reopen = makeButton({}, "reopenButton", ButtonRole::primary, side);
    m_back = makeButton({}, "rollBackButton", ButtonRole::plain, side);
    m_copy = makeButton(tr("Copy as text"), "copyLoggedButton", ButtonRole::plain, side);
    auto* head = new QVBoxLayout;
    head->setContentsMargins(16, 12, 16, 10);
    head->setSpacing(4);
    head->addWidget(m_title);
    head->addWidget(m_facts);
    auto* foot = new QVBoxLayout;
    foot->setContentsMargins(16, 10, 16, 12);
    foot->setSpacing(6);
    foot->addWidget(m_reopenWords);
    foot->addWidget(m_backWords);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_reopen);
    buttons->addWidget(m_back);
    buttons->addStretch();
    buttons->addWidget(m_copy);
    foot->addLayout(buttons);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, side));
    column->addWidget(m_decisions, 1);
    column->addWidget(makeRule(Qt::Horizontal, side));
    column->addLayout(foot);
    return side;
}

void LogbookPage::showFacts(const LogbookFacts& facts)
{
    m_all = facts;
    m_kept->show(facts.kept, facts.readAt);
    rebuild();
}

void LogbookPage::rebuild()
{
    m_splices->show(m_all, m_filter->text());
    rebuildMerges();
    m_count->setText(countOf(m_all.splices.size(), "splice", "splices"));
    if (m_all.splices.empty()) {
        showNote(
            tr("No splice yet. What you merge from now on is listed here, with every decision."));
    } else if (m_splices->rowCount() == 0) {
        showNote(tr("No splice has all these words."));
    } else {
        showNote({});
    }
    showChosen();
}

void LogbookPage::showNote(const QString& words)
{
    m_note->setText(words);
    m_note->setVisible(!words.isEmpty());
    m_splices->setVisible(words.isEmpty());
    m_head->setVisible(words.isEmpty());
}

void LogbookPage::showChosen()
{
    if (const ReadMergeRow* merge = m_isMergeChosen ? m_merges->current() : nullptr) {
        showChosenMerge(ReadMergeRow(*merge));
        return;
    }
    const LoggedSplice* chosen = m_splices->current();
    if (m_details.splice != (chosen == nullptr ? std::string() : chosen->entry.plan.id)) {
        m_details = {};
        m_decisions->show({});
    }
    m_actions = chosen == nullptr ? LogActions() : actionsOf(*chosen);
    m_title->setText(chosen == nullptr ? QString() : whatIntoWhat(chosen->entry.plan));
    m_facts->setText(chosen == nullptr
                         ? QString()
                         : tr("%1 · %2 · %3\n%4%5")
                               .arg(methodInWords(chosen->entry),
                                    relativeTime(chosen->entry.startedAt, m_all.readAt),
                                    stateInWords(*chosen),
                                    decidedInWords(*chosen),
                                    m_details.joinedFiles > 0
                                        ? tr(", %1 merged automatically")
                                              .arg(countOf(m_details.joinedFiles, "file", "files"))
                                        : QString()));
    m_reopenWords->setText(m_actions.reopenWords);
    m_reopenWords->setVisible(!m_actions.reopenWords.isEmpty());
    m_backWords->setText(m_details.trouble.isEmpty() ? m_actions.backWords : m_details.trouble);
    m_backWords->setVisible(!m_backWords->text().isEmpty());
    m_reopen->setText(m_actions.reopenLabel);
    m_reopen->setVisible(m_actions.canReopen);
    m_reopen->setEnabled(!m_isBusy);
    m_back->setText(m_actions.backLabel);
    m_back->setVisible(m_actions.back != LogActions::Back::none);
    // One dark button, and only for what goes on with something.
    const bool goesOn = m_actions.back == LogActions::Back::goOn
                        || m_actions.back == LogActions::Back::bringBack
                        || m_actions.back == LogActions::Back::rollForward;
    setButtonRole(m_back, goesOn ? ButtonRole::primary : ButtonRole::plain);
    m_back->setEnabled(!m_isBusy);
    m_copy->setVisible(chosen != nullptr);
    if (chosen != nullptr && m_details.splice != chosen->entry.plan.id) {
        emit detailsRequested(chosen->entry);
    }
}

void LogbookPage::showDetails(const LoggedDetails& details)
{
    const LoggedSplice* chosen = m_splices->current();
    const ReadMergeRow* merge = m_isMergeChosen ? m_merges->current() : nullptr;
    const std::string wanted = merge != nullptr    ? merge->merge.id.hex()
                               : chosen != nullptr ? chosen->entry.plan.id
                                                   : std::string();
    if (wanted.empty() || wanted != details.splice) {
        return;
    }
    m_details = details;
    m_decisions->show(details.decisions);
    showChosen();
}

void LogbookPage::setBackTo(const QString& station)
{
    m_backTo->setText(tr("Back to %1").arg(station));
}

void LogbookPage::setBusy(bool isBusy)
{
    m_isBusy = isBusy;
    showChosen();
}

void LogbookPage::act()
{
    if (const ReadMergeRow* merge = m_isMergeChosen ? m_merges->current() : nullptr) {
        if (m_details.canReopen && !m_isBusy) {
            emit mergeReopenRequested(ObjectId(merge->merge.id));
        }
        return;
    }
    const LoggedSplice* chosen = m_splices->current();
    if (chosen != nullptr && m_actions.canReopen && !m_isBusy) {
        emit reopenRequested(
            JournalEntry(chosen->entry), ObjectId(chosen->made), actionsOf(*chosen).reopensOnTop);
    } else if (chosen != nullptr && !m_isBusy && m_back->isVisible()
               && (m_actions.back == LogActions::Back::goOn
                   || m_actions.back == LogActions::Back::bringBack)) {
        goBack();
    }
}

void LogbookPage::goBack()
{
    if (const ReadMergeRow* merge = m_isMergeChosen ? m_merges->current() : nullptr) {
        emit mergeFineRequested(ObjectId(merge->merge.id), !merge->isFine);
        return;
    }
    const LoggedSplice* chosen = m_splices->current();
    if (chosen == nullptr || m_isBusy) {
        return;
    }
    const JournalEntry entry = chosen->entry;
    const ObjectId made = chosen->made;
    switch (m_actions.back) {
    case LogActions::Back::none:
        break;
    case LogActions::Back::goOn:
        emit goOnRequested();
        break;
    case LogActions::Back::bringBack:
        emit bringBackRequested(entry.plan.id);
        break;
    case LogActions::Back::rollBack:
        emit rollBackRequested(entry);
        break;
    case LogActions::Back::rollForward:
        emit rollForwardRequested(entry);
        break;
    case LogActions::Back::takeOut:
        emit takeOutRequested(entry, made);
        break;
    }
}

QString LogbookPage::status() const
{
    std::size_t open = 0;
    std::size_t putAway = 0;
    for (const LoggedSplice& splice : m_all.splices) {
        open += splice.state == LogState::open ? 1U : 0U;
        putAway += splice.state == LogState::putAway ? 1U : 0U;
    }
    return tr("%1: %2 open, %3 put away")
        .arg(countOf(m_all.splices.size(), "splice", "splices"))
        .arg(open)
        .arg(putAway);
}

std::vector<KeyHint> LogbookPage::hints() const
{
    return {{tr("Ctrl+Enter"), tr("reopen")},
            {tr("Ctrl+J"), tr("next decision")},
            {tr("F6"), tr("next list")},
            {tr("Ctrl+L"), tr("back to the station")}};
}

std::vector<KeyHint> LogbookPage::keys() const
{
    return {{tr("Ctrl+Enter"), tr("reopen, or go on with what was put away")},
            {tr("Up, Down"), tr("another splice, another decision")},
            {tr("Ctrl+J, Ctrl+K"), tr("the next, previous decision")},
            {tr("F6"), tr("the next list")},
            {tr("Ctrl+L"), tr("back to the station")}};
}
}  // namespace rope
