// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/record/record_station.h"

#include "core/base/assert.h"
#include "core/text/tidied_message.h"
#include "desktop/commits/change_view.h"
#include "desktop/commits/change_words.h"
#include "desktop/record/recorded_page.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/obstacles.h"
#include "desktop/wording/record_words.h"
#include "desktop/wording/shown_text.h"

#include <QCheckBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>

namespace rope {
RecordStation::RecordStation(QWidget* parent)
    : StationPage(parent)
    , m_pages(new PageStack(this))
    , m_message(new QPlainTextEdit(this))
    , m_what(makeLabel({}, TextRole::normal, this))
    , m_identity(makeLabel({}, TextRole::muted, this))
    , m_identityForm(new QWidget(this))
    , m_name(new QLineEdit(m_identityForm))
    , m_email(new QLineEdit(m_identityForm))
    , m_comments(makeLabel({}, TextRole::muted, this))
    , m_files(new QListWidget(this))
    , m_decisions(new QListWidget(this))
    , m_obstacle(makeLabel({}, TextRole::open, this))
    , m_record(makeButton(tr("Record the merge commit"), "recordButton", ButtonRole::primary, this))
    , m_stop(makeButton(tr("Stop and go back"), "stopRecordingButton", ButtonRole::plain, this))
    , m_work(makeLabel({}, TextRole::muted, this))
    , m_recorded(new RecordedPage(this))
{
    m_writing = makeWritingPage();
    m_pages->addWidget(m_writing);
    m_pages->addWidget(m_recorded);
    connect(m_recorded, &RecordedPage::pushRequested, this, &RecordStation::pushRequested);
    connect(m_recorded, &RecordedPage::surveyRequested, this, &RecordStation::surveyRequested);
    connect(m_recorded, &RecordedPage::rollBackRequested, this, &RecordStation::rollBackRequested);
    connect(m_recorded, &RecordedPage::nextRequested, this, &RecordStation::nextRequested);
    connect(m_recorded,
            &RecordedPage::bringWorkBackRequested,
            this,
            &RecordStation::bringWorkBackRequested);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_pages);

    connect(m_message, &QPlainTextEdit::textChanged, this, [this] {
        if (!m_isFilling) {
            m_isTouched = true;
            emit messageEdited();
        }
        showObstacle();
    });
    connect(m_name, &QLineEdit::textChanged, this, &RecordStation::showObstacle);
    connect(m_email, &QLineEdit::textChanged, this, &RecordStation::showObstacle);
    connect(m_record, &QPushButton::clicked, this, &RecordStation::record);
    connect(m_stop, &QPushButton::clicked, this, &RecordStation::stopRequested);
    setFocusProxy(m_message);
    setIdentity({});
}

void RecordStation::setFindings(std::size_t count, const QString& first)
{
    m_findings->setVisible(count > 0);
    m_findingsWords->setText(
        count == 1 ? tr("Check found something: %1").arg(first)
                   : tr("Check found %1 things to look at, such as: %2").arg(count).arg(first));
}

void RecordStation::setSplice(const Splice* splice, const QString& message)
{
    m_splice = splice;
    m_recordsWhenSettled = false;
    m_noteWish.reset();
    m_isTouched = !message.isEmpty();
    m_isBusy = false;
    if (splice != nullptr) {
        m_pages->setCurrentWidget(m_writing);
    }
    showContents({});
    m_isFilling = true;
    m_message->setPlainText(message);
    m_isFilling = false;
    refresh();
}

void RecordStation::forgetSplice()
{
    m_splice = nullptr;
    m_recordsWhenSettled = false;
    showObstacle();
}

void RecordStation::setLeavesNotes(bool leaves)
{
    m_leavesNotes = leaves;
    showNotes();
}

/// Reasons are given for others to read; so with them it is wished for, unless the person says no.
void RecordStation::showNotes()
{
    const bool hasAny =
        m_splice != nullptr && !isBringBack() && !isMove() && m_splice->decidedCount() > 0;
    m_notes->setVisible(hasAny);
    m_notes->setChecked(hasAny && m_noteWish.value_or(m_leavesNotes || m_splice->hasReasons()));
}

void RecordStation::refresh()
{
    m_decisions->clear();
    if (m_splice == nullptr) {
        showObstacle();
        return;
    }
    if (!m_isTouched && hasMessage()) {
        m_isFilling = true;
        m_message->setPlainText(editableText(proposedMessage(*m_splice, m_parts)));
        m_isFilling = false;
    }
    m_messageTitle->setVisible(hasMessage());
    m_message->setVisible(hasMessage());
    showNotes();
    m_what->setText(RecordWords(*m_splice, m_leftOut, m_hasCheckPassed).contents());
    m_spliceObstacle = obstacleInSplice(*m_splice);
    showDecisions();
    m_decisionsTitle->setVisible(m_decisions->count() > 0);
    m_identity->setVisible(m_signature.has_value() && !isMove());
    showObstacle();
    emit contentsRequested();
}

/// What was decided, with the reasons that were given; of several commits under a heading for each.
void RecordStation::showDecisions()
{
    std::size_t told = 0;
    for (std::size_t number = 0; number < m_splice->files().size(); ++number) {
        const SpliceFile& file = m_splice->files()[number];
        const bool isNextCommit = !m_splice->standings().empty() && file.outcome->needsDecision()
                                  && file.leg < m_splice->workLeg() && file.leg + 1 > told;
        if (isNextCommit) {
            told = file.leg + 1;
            auto* heading =
                new QListWidgetItem(tr("%1 of %2: %3")
                                        .arg(told)
                                        .arg(m_splice->standings().size())
                                        .arg(shownSubject(m_splice->standings()[file.leg].commit)));
            setInk(*heading, TextRole::muted);
            m_decisions->addItem(heading);
        }
        if (file.outcome->question) {
            addDecision({number, SlotPlace::kQuestion}, {});
        }
        for (std::size_t region = 0; region < file.outcome->regionCount(); ++region) {
            addDecision({number, file.text->slotOfRegion(region)},
                        tr(", region %1").arg(region + 1));
        }
    }
}

void RecordStation::addDecision(SlotPlace place, const QString& what)
{
    const SlotState& state = m_splice->state(place);
    const std::string reason = m_splice->reason(place);
    const QString line = tr("%1%2: %3")
                             .arg(shownPath(m_splice->files()[place.file].outcome->path),
                                  what,
                                  state.isDecided ? labelOfChoice(state.choice) : tr("open"));
    auto* item =
        new QListWidgetItem(reason.empty() ? line : tr("%1, because: %2").arg(line, shown(reason)));
    setInk(*item, state.isDecided ? TextRole::normal : TextRole::open);
    item->setToolTip(plainToolTip(item->text()));
    m_decisions->addItem(item);
}

void RecordStation::setMessageParts(MessageParts parts)
{
    m_parts = std::move(parts);
}

void RecordStation::showContents(const ResultReading& contents)
{
    const int row = m_files->currentRow();
    const RepoPath opened = row >= 0 && static_cast<std::size_t>(row) < m_contents.files.size()
                                ? m_contents.files[static_cast<std::size_t>(row)].change.path
                                : RepoPath();
    m_contents = contents;
    m_files->clear();
    m_filesTitle->setText(contents.fileCount == 0
                              ? tr("Files")
                              : countOf(contents.fileCount, "file changes", "files change"));
    int again = -1;
    for (const FileReading& file : m_contents.files) {
        auto* item = new QListWidgetItem(
            QStringLiteral("%1  %2").arg(shownPath(file.change.path), changeInShort(file)),
            m_files);
        item->setToolTip(plainToolTip(shownPath(file.change.path)));
        again = !opened.empty() && file.change.path == opened ? m_files->count() - 1 : again;
    }
    if (contents.fileCount > contents.files.size()) {
        m_files->addItem(tr("and %1 more").arg(contents.fileCount - contents.files.size()));
    }
    // What was read goes on being shown when something is looked at again.
    m_files->setCurrentRow(again);
    showFile(again);
}

/// What the commit makes of a file on ours, below the message.
void RecordStation::showFile(int row)
{
    const bool isFile = row >= 0 && static_cast<std::size_t>(row) < m_contents.files.size();
    m_change->setVisible(isFile);
    if (isFile) {
        m_change->showFile(m_contents.files[static_cast<std::size_t>(row)]);
    }
}

void RecordStation::setIdentity(const std::optional<Signature>& identity)
{
    m_signature = identity;
    m_identity->setVisible(identity.has_value());
    m_identityForm->setVisible(!identity.has_value());
    if (identity) {
        m_identity->setText(tr("by %1 <%2>").arg(shown(identity->name), shown(identity->email)));
    }
    showObstacle();
}

bool RecordStation::isBringBack() const
{
    return m_splice != nullptr && m_splice->plan().kind == SpliceKind::bringBack;
}

bool RecordStation::isMove() const
{
    return m_splice != nullptr && m_splice->plan().kind == SpliceKind::fastForward;
}

bool RecordStation::isRebase() const
{
    return m_splice != nullptr && m_splice->plan().kind == SpliceKind::rebase;
}

bool RecordStation::keepsFiles() const
{
    return m_splice != nullptr && m_splice->plan().workChoice == WorkChoice::filesStay;
}

RecordStation::Obstacle RecordStation::obstacleOfWork() const
{
    switch (m_splice->plan().workChoice) {
    case WorkChoice::carry:
        return m_isSettled ? Obstacle::none : Obstacle::joiningWork;
    case WorkChoice::setAside:
    case WorkChoice::filesStay:
        return Obstacle::none;
    case WorkChoice::none:
    case WorkChoice::broughtBack:
        break;
    }
    return obstacleOfUncommitted(m_uncommitted).isEmpty() ? Obstacle::none : Obstacle::uncommitted;
}

/// What keeps the splice from being recorded now, the first thing that a person can do something about.
RecordStation::Obstacle RecordStation::obstacle() const
{
    if (m_splice == nullptr) {
        return Obstacle::noSplice;
    }
    if (!m_spliceObstacle.isEmpty()) {
        return Obstacle::inSplice;
    }
    const bool makesCommit = !isBringBack() && !isMove();
    if (makesCommit && !m_checkObstacle.isEmpty()) {
        return Obstacle::check;
    }
    if (makesCommit && hasMessage()
        && tidiedMessage(message().toStdString(), m_parts.conventions.commentStart).empty()) {
        return Obstacle::noMessage;
    }
    const bool namesSomebody =
        m_signature
        || (!m_name->text().trimmed().isEmpty() && m_email->text().contains(QLatin1Char('@')));
    if (makesCommit && !namesSomebody) {
        return Obstacle::noName;
    }
    if (m_splice->laysCommits() && !m_isSettled
        && m_splice->plan().workChoice != WorkChoice::carry) {
        return Obstacle::layingCommits;
    }
    return obstacleOfWork();
}

QString RecordStation::obstacleInWords(Obstacle obstacle) const
{
    switch (obstacle) {
    case Obstacle::none:
        break;
    case Obstacle::noSplice:
        return tr("No splice is under way. Start one in Survey.");
    case Obstacle::inSplice:
        return m_spliceObstacle;
    case Obstacle::check:
        return m_checkObstacle;
    case Obstacle::noMessage:
        return tr("The message is empty. Write at least one line.");
    case Obstacle::noName:
        return tr("Enter your name and e-mail address.");
    case Obstacle::layingCommits:
        return tr("Later commits are being rebased onto your decisions…");
    case Obstacle::joiningWork:
        return tr("Your uncommitted work is being merged with the result…");
    case Obstacle::uncommitted:
        return obstacleOfUncommitted(m_uncommitted);
    }
    return {};
}

/// Whether nothing is waited for but that later commits or uncommitted work are joined, which takes a moment.
bool RecordStation::isOnlySettling() const
{
    const Obstacle now = obstacle();
    return now == Obstacle::layingCommits || now == Obstacle::joiningWork;
}

void RecordStation::showObstacle()
{
    const QString words = obstacleInWords(obstacle());
    m_obstacle->setText(words);
    m_obstacle->setVisible(!words.isEmpty());
    const std::string& start = m_parts.conventions.commentStart;
    const QString text = QLatin1Char('\n') + message();
    m_comments->setVisible(!start.empty() && hasMessage()
                           && text.contains(QLatin1Char('\n') + QString::fromStdString(start)));
    m_comments->setText(tr("Lines that begin with %1 are left out.").arg(shown(start)));
    m_work->setText(m_splice == nullptr ? QString() : workInWords(m_splice->plan(), m_uncommitted));
    m_work->setVisible(!m_work->text().isEmpty());
    m_record->setEnabled((words.isEmpty() || isOnlySettling()) && !m_isBusy && m_splice != nullptr
                         && !m_splice->isFrozen());
    setTextRole(m_obstacle, isOnlySettling() ? TextRole::muted : TextRole::open);
    m_message->setReadOnly(m_isBusy);
    m_stop->setVisible(m_isBusy);
    if (!m_isBusy) {
        m_record->setText(isBringBack() ? tr("Put it into your files")
                          : isRebase()  ? tr("Record the rebase")
                          : isMove() ? tr("Move %1 forward").arg(shown(m_splice->plan().oursName))
                          : m_splice != nullptr && m_splice->plan().kind != SpliceKind::merge
                              ? tr("Record the commit")
                              : tr("Record the merge commit"));
    }
}

void RecordStation::setCheckObstacle(const QString& words)
{
    m_checkObstacle = words;
    showObstacle();
}

void RecordStation::setCheckPassed(std::optional<bool> hasPassed)
{
    if (m_hasCheckPassed != hasPassed) {
        m_hasCheckPassed = hasPassed;
        if (m_splice != nullptr) {
            m_what->setText(RecordWords(*m_splice, m_leftOut, m_hasCheckPassed).contents());
        }
    }
}

void RecordStation::setUncommitted(const std::vector<UncommittedFile>& files)
{
    m_uncommitted = files;
    showObstacle();
}

void RecordStation::setSettled(bool isSettled)
{
    m_isSettled = isSettled;
    showObstacle();
    if (isSettled && std::exchange(m_recordsWhenSettled, false)) {
        record();
    }
}

void RecordStation::setBusy(const QString& step)
{
    m_isBusy = !step.isEmpty();
    if (m_isBusy) {
        m_record->setText(step);
    }
    showObstacle();
}

QString RecordStation::message() const
{
    return m_message->toPlainText();
}

void RecordStation::record()
{
    if (!m_record->isEnabled()) {
        return;
    }
    if (isOnlySettling()) {
        m_recordsWhenSettled = true;
        return;
    }
    if (!m_signature) {
        emit identityGiven(m_name->text().trimmed(), m_email->text().trimmed());
    }
    emit recordRequested(message(), m_notes->isChecked());
}

void RecordStation::showRecorded(const Recorded& recorded)
{
    ROPE_ASSERT(m_splice != nullptr, "what is recorded was shown here");
    const SplicePlan& plan = m_splice->plan();
    const RecordedSplice of{plan,
                            plan.workChoice == WorkChoice::setAside
                                && !workInWords(plan, m_uncommitted).isEmpty(),
                            RecordWords(*m_splice, m_leftOut, m_hasCheckPassed).leftOut()};
    m_splice = nullptr;
    m_isBusy = false;
    m_pages->setCurrentWidget(m_recorded);
    m_recorded->showRecorded(recorded, of);
}

void RecordStation::setCanRollBack(bool canRollBack)
{
    m_recorded->setCanRollBack(canRollBack);
}

void RecordStation::setHasRemote(bool hasRemote)
{
    m_recorded->setHasRemote(hasRemote);
}

void RecordStation::setNext(const QString& branch)
{
    m_recorded->setNext(branch);
}

void RecordStation::act()
{
    if (m_pages->currentWidget() == m_recorded) {
        m_recorded->act();
    } else {
        record();
    }
}

void RecordStation::enter()
{
    refresh();
    setFocus();
}

std::vector<KeyHint> RecordStation::hints() const
{
    if (m_splice == nullptr) {
        return {{tr("Ctrl+1"), tr("back to Survey")}};
    }
    return {{tr("Ctrl+Enter"), tr("record")}, {tr("Ctrl+3"), tr("back to Check")}};
}

std::vector<KeyHint> RecordStation::keys() const
{
    return {{tr("Ctrl+Enter"), tr("record")}};
}
}  // namespace rope
