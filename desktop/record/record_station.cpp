// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/record/record_station.h"

#include "core/text/tidied_message.h"
#include "desktop/commits/change_view.h"
#include "desktop/commits/change_words.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/obstacles.h"

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
namespace {
QString layingInWords()
{
    return RecordStation::tr("Later commits are being laid on what you decided…");
}

constexpr int kRecordedPage = 1;
}  // namespace

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
    , m_doneTitle(makeLabel({}, TextRole::strong, this))
    , m_doneDetails(makeLabel({}, TextRole::muted, this))
    , m_hookOutput(new QPlainTextEdit(this))
{
    m_pages->addWidget(makeWritingPage());
    m_pages->addWidget(makeRecordedPage());
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

QWidget* RecordStation::makeWritingPage()
{
    auto* page = new QWidget(this);
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(makeMessageSide(), 1);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(makeContentsSide());
    return page;
}

/// The message and who it is by, with what stands in the way and the button.
QWidget* RecordStation::makeMessageSide()
{
    m_message->setObjectName(QStringLiteral("messageEdit"));
    m_message->setAccessibleName(tr("Commit message"));
    m_message->setProperty("role", QStringLiteral("field"));
    m_message->setFont(codeFont());
    m_message->setTabChangesFocus(true);
    m_obstacle->setObjectName(QStringLiteral("recordObstacle"));
    m_name->setObjectName(QStringLiteral("identityName"));
    m_email->setObjectName(QStringLiteral("identityEmail"));

    auto* form = new QFormLayout(m_identityForm);
    form->setContentsMargins(0, 0, 0, 0);
    form->addRow(makeLabel(tr("git does not know who you are. Your name and address go into the "
                              "commit and are kept for this repository."),
                           TextRole::normal,
                           m_identityForm));
    form->addRow(tr("Name"), m_name);
    form->addRow(tr("E-mail"), m_email);

    auto* side = new QWidget(this);
    side->setAutoFillBackground(true);
    side->setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    m_messageTitle = makeLabel(tr("Commit message"), TextRole::heading, side);
    column->addWidget(m_messageTitle);
    m_change = new ChangeView(Strand::theirs, "recordedChange", this);
    m_change->hide();
    auto* panes =
        new PaneSplitter(Qt::Vertical, {40, 60}, tr("Line between message and changes"), side);
    panes->addWidget(m_message);
    panes->addWidget(m_change);
    column->addWidget(panes, 1);
    m_comments->setObjectName(QStringLiteral("recordComments"));
    column->addWidget(m_comments);
    m_notes = new QCheckBox(tr("Leave decisions and reasons as a note beside the commit"), side);
    m_notes->setObjectName(QStringLiteral("leaveNotesBox"));
    m_notes->setToolTip(
        tr("A git note of its own: the commit stays the same. It goes along when you "
           "push, and whoever reads the merge sees it."));
    connect(m_notes, &QCheckBox::clicked, this, [this](bool leaves) { m_noteWish = leaves; });
    column->addWidget(m_notes);
    column->addWidget(m_identity);
    column->addWidget(m_identityForm);
    m_work->setObjectName(QStringLiteral("recordWork"));
    m_what->setObjectName(QStringLiteral("recordWhat"));
    column->addWidget(m_work);
    column->addWidget(makeFindings(side));
    column->addWidget(m_obstacle);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_record);
    buttons->addWidget(m_stop);
    buttons->addStretch();
    m_stop->hide();
    column->addLayout(buttons);
    return side;
}

QWidget* RecordStation::makeFindings(QWidget* parent)
{
    m_findings = new QWidget(parent);
    auto* row = new QHBoxLayout(m_findings);
    row->setContentsMargins(0, 0, 0, 0);
    m_findingsWords = makeLabel({}, TextRole::open, m_findings);
    m_findingsWords->setObjectName(QStringLiteral("recordFindings"));
    auto* look =
        makeButton(tr("Look at it"), "lookAtFindingsButton", ButtonRole::plain, m_findings);
    look->setToolTip(tr("Ctrl+3"));
    row->addWidget(m_findingsWords, 1);
    row->addWidget(look);
    connect(look, &QPushButton::clicked, this, &RecordStation::findingsRequested);
    m_findings->hide();
    return m_findings;
}

void RecordStation::setFindings(std::size_t count, const QString& first)
{
    m_findings->setVisible(count > 0);
    m_findingsWords->setText(
        count == 1 ? tr("Check found something: %1").arg(first)
                   : tr("Check found %1 things to look at, such as: %2").arg(count).arg(first));
}

/// What the commit will hold, and every decision in it.
QWidget* RecordStation::makeContentsSide()
{
    m_decisions->setObjectName(QStringLiteral("decisionList"));
    m_decisions->setAccessibleName(tr("What was decided"));
    layOnPanel(*m_decisions);
    m_decisions->setWordWrap(true);
    m_decisions->setSpacing(1);
    m_decisions->setSelectionMode(QAbstractItemView::NoSelection);
    m_decisions->setFocusPolicy(Qt::TabFocus);

    m_files->setObjectName(QStringLiteral("recordedFiles"));
    m_files->setAccessibleName(tr("Files that the commit changes on your branch"));
    layOnPanel(*m_files);
    m_files->setFont(codeFont());
    m_files->setTextElideMode(Qt::ElideMiddle);
    m_files->setSpacing(1);
    connect(m_files, &QListWidget::currentRowChanged, this, &RecordStation::showFile);

    auto* side = new QWidget(this);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    column->addWidget(makeLabel(tr("What will be recorded"), TextRole::heading, side));
    column->addWidget(m_what);
    column->addSpacing(8);
    m_filesTitle = makeLabel(tr("Files"), TextRole::heading, side);
    column->addWidget(m_filesTitle);
    column->addWidget(m_files, 3);
    column->addSpacing(4);
    m_decisionsTitle = makeLabel(tr("Decided"), TextRole::heading, side);
    column->addWidget(m_decisionsTitle);
    column->addWidget(m_decisions, 2);
    side->setFixedWidth(430);
    return side;
}

QWidget* RecordStation::makeRecordedPage()
{
    auto* page = new QWidget(this);
    page->setAutoFillBackground(true);
    page->setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(18, 18, 18, 14);
    column->setSpacing(8);
    m_doneTitle->setObjectName(QStringLiteral("recordedTitle"));
    m_doneDetails->setObjectName(QStringLiteral("recordedDetails"));
    m_hookOutput->setReadOnly(true);
    m_hookOutput->setFont(codeFont());
    m_hookOutput->setObjectName(QStringLiteral("hookOutput"));
    column->addWidget(m_doneTitle);
    column->addWidget(m_doneDetails);
    column->addWidget(m_hookOutput);
    m_toPush = makeButton(tr("Go to Push"), "goToPushButton", ButtonRole::primary, this);
    m_back = makeButton(tr("Back to Survey"), "backToSurveyButton", ButtonRole::plain, this);
    connect(m_toPush, &QPushButton::clicked, this, &RecordStation::pushRequested);
    connect(m_back, &QPushButton::clicked, this, &RecordStation::surveyRequested);
    auto* buttons = new QHBoxLayout;
    m_bringBack =
        makeButton(tr("Bring your work back"), "bringWorkBackButton", ButtonRole::plain, this);
    connect(m_bringBack, &QPushButton::clicked, this, &RecordStation::bringWorkBackRequested);
    m_next = makeButton({}, "joinNextButton", ButtonRole::plain, this);
    connect(m_next, &QPushButton::clicked, this, &RecordStation::nextRequested);
    m_next->hide();
    buttons->addWidget(m_toPush);
    buttons->addWidget(m_next);
    buttons->addWidget(m_bringBack);
    buttons->addWidget(m_back);
    buttons->addStretch();
    column->addLayout(buttons);
    column->addStretch();
    return page;
}

void RecordStation::setSplice(const Splice* splice, const QString& message)
{
    m_splice = splice;
    m_recordsWhenSettled = false;
    m_noteWish.reset();
    m_isTouched = !message.isEmpty();
    m_isBusy = false;
    if (splice != nullptr) {
        m_pages->setCurrentIndex(0);
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
    m_what->setText(contentsInWords());
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
            heading->setForeground(theme().muted);
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
    item->setForeground(state.isDecided ? theme().ink : theme().openInk);
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

void RecordStation::setNext(const QString& branch)
{
    m_next->setText(tr("Join %1 next").arg(branch));
    m_next->setVisible(!branch.isEmpty());
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

/// What moves where.
QString RecordStation::moveInWords() const
{
    const Forecast& forecast = m_splice->forecast();
    return tr("%1 moves forward to where %2 stands. No commit is made, and nothing is sent.\n\n"
              "from %3 %4\nto %5 %6\n\n%7. %8.")
        .arg(shown(m_splice->plan().oursName),
             shown(m_splice->plan().theirsName),
             shown(forecast.ours.id.brief()),
             shownSubject(forecast.ours),
             shown(forecast.theirs.id.brief()),
             shownSubject(forecast.theirs),
             countOf(forecast.divergence.theirsOnly.size(), "commit comes in", "commits come in"),
             keepsFiles() ? tr("Your files stay as they are, on the branch where you are")
                          : tr("The working tree follows"));
}

QString RecordStation::contentsInWords() const
{
    const SplicePlan& plan = m_splice->plan();
    if (isBringBack()) {
        return tr("No commit is made: the work that was set aside comes back to your files on %1, "
                  "uncommitted, as you have decided here.")
            .arg(shown(plan.theirsName));
    }
    if (isMove()) {
        return moveInWords();
    }
    if (isRebase()) {
        return rebaseInWords() + finishesInWords() + checkInWords();
    }
    if (plan.isCorrection() || plan.kind == SpliceKind::revert || plan.kind == SpliceKind::pick) {
        return onTopInWords() + carriedInWords() + finishesInWords() + checkInWords();
    }
    const Forecast& forecast = m_splice->forecast();
    QString text =
        tr("One commit on %1, with two parents in this order:\n%2 %3\n%4 %5\n\n%6 "
           "decided by you. %7; nothing is sent.")
            .arg(shown(plan.oursName),
                 shown(forecast.ours.id.brief()),
                 shownSubject(forecast.ours),
                 shown(forecast.theirs.id.brief()),
                 shownSubject(forecast.theirs))
            .arg(m_splice->decidedCount() == 0 ? tr("Nothing had to be")
                                               : QString::number(m_splice->decidedCount()))
            .arg(keepsFiles() ? tr("Your files stay as they are, on the branch where you are")
                              : tr("The working tree follows"));
    if (!plan.replaced.isNull()) {
        text += tr("\n\nIt takes the place of %1, which was not sent. That one stays reachable "
                   "from the logbook.")
                    .arg(shown(plan.replaced.brief()))
                + carriedInWords();
    }
    return text + finishesInWords() + checkInWords();
}

QString RecordStation::finishesInWords() const
{
    return m_splice->plan().begun.empty()
               ? QString()
               : tr("\n\nIt finishes what was begun on the command line: nothing of that is left "
                    "over.");
}

/// One commit upon what was sent already.
QString RecordStation::onTopInWords() const
{
    const SplicePlan& plan = m_splice->plan();
    const QString ours = shown(plan.oursName);
    if (plan.kind == SpliceKind::pick) {
        return tr("One commit on top of %1: %2 “%3” made anew, with its author and date. Nothing "
                  "is sent.")
            .arg(ours, shown(plan.theirs.brief()), shownSubject(m_splice->forecast().theirs));
    }
    const bool takesOutMerge =
        plan.kind == SpliceKind::revert && m_splice->forecast().base->parents.size() > 1;
    if (plan.kind == SpliceKind::revert && !takesOutMerge) {
        return tr("One commit on top of %1 that takes out again what %2 “%3” brought in. Others "
                  "may have that, so it stays in the history; reverting this commit brings it "
                  "back. Nothing is sent.")
            .arg(ours, shown(plan.theirs.brief()), shownSubject(*m_splice->forecast().base));
    }
    if (plan.kind == SpliceKind::rebaseCorrection) {
        return tr("One commit on top of %1. The commits of the rebase stay where they are; the new "
                  "one holds what you decided otherwise in laying %3 onto %2. Nothing is sent.")
            .arg(shown(plan.expected().brief()), shown(plan.theirsName), ours);
    }
    return plan.kind == SpliceKind::correction
               ? tr("One commit on top of %1. %2 stays where it is; the new one holds what you "
                    "decided otherwise in joining %3 into %4. Nothing is sent.")
                     .arg(shown(plan.expected().brief()),
                          shown(plan.replaced.brief()),
                          shown(plan.theirsName),
                          ours)
               : tr("One commit on top of %1 that takes out again what %2 brought in. Others may "
                    "have that, so it stays in the history: joining %3 again does not bring it "
                    "back by itself; reverting this commit does. Nothing is sent.")
                     .arg(ours, shown(plan.theirs.brief()), shown(plan.theirsName));
}

QString RecordStation::checkInWords() const
{
    return tr("\n\nCheck has looked for what a clean join gets wrong. ")
           + (!m_hasCheckPassed   ? tr("No check command has run on this result: F5 runs it.")
              : *m_hasCheckPassed ? tr("The check command passed on this result.")
                                  : tr("The check command fails on this result."));
}

bool RecordStation::isRebase() const
{
    return m_splice != nullptr && m_splice->plan().kind == SpliceKind::rebase;
}

/// What follows a commit that takes the place of another one.
QString RecordStation::carriedInWords() const
{
    const bool isCorrection = m_splice->plan().isCorrection();
    if (!m_splice->laysCommits() || isCorrection) {
        return {};
    }
    std::size_t written = 0;
    const QStringList lines = writtenAnewInWords(1, written);
    if (m_splice->plan().kind == SpliceKind::revert) {
        return tr("\n\n%1 more that take out what these brought in:\n%2")
            .arg(countOf(written, "commit", "commits"), lines.join(QLatin1Char('\n')));
    }
    return tr("\n\n%1 on top of it, carried along with the messages, authors and dates that they "
              "have:\n%2")
        .arg(countOf(written, "commit", "commits"), lines.join(QLatin1Char('\n')));
}

/// The commits that are written anew, from one on, and how many these are.
QStringList RecordStation::writtenAnewInWords(std::size_t first, std::size_t& written) const
{
    const SplicePlan& plan = m_splice->plan();
    QStringList lines;
    for (std::size_t i = first; i < m_splice->standings().size(); ++i) {
        const LegStanding& standing = m_splice->standings()[i];
        const bool isSkipped = standing.isEmptied && !plan.keepsEmptied;
        written += isSkipped ? 0U : 1U;
        lines << tr("%1 %2%3").arg(shown(standing.commit.id.brief()),
                                   shownSubject(standing.commit),
                                   isSkipped            ? emptiedInWords(i)
                                   : standing.isEmptied ? tr(" · empty, kept")
                                                        : QString());
    }
    return lines;
}

/// Why nothing is left of a commit: because of what was decided in it, or because it is there already.
QString RecordStation::emptiedInWords(std::size_t leg) const
{
    const auto& files = m_splice->files();
    const bool isDecided = std::any_of(files.begin(), files.end(), [leg](const SpliceFile& file) {
        return file.leg == leg && file.decidedCount() > 0;
    });
    return isDecided ? tr(" · left out: with your decisions nothing of it remains")
                     : tr(" · left out: its change is there already");
}

QStringList RecordStation::leftOutInWords() const
{
    QStringList lines;
    for (const CommitLeftOut& commit : m_leftOut) {
        lines << tr("%1 %2 · left out: its change is there already, as %3")
                     .arg(shown(commit.commit.id.brief()),
                          shownSubject(commit.commit),
                          shown(commit.as.brief()));
    }
    return lines;
}

/// Which commits will be there in the place of which.
QString RecordStation::rebaseInWords() const
{
    const SplicePlan& plan = m_splice->plan();
    std::size_t written = 0;
    const QStringList lines = writtenAnewInWords(0, written) + leftOutInWords();
    return tr("%1 of %2 on top of %3, with the messages, authors and dates that they have:\n%4\n\n"
              "The branch moves once, when all are written; the old ones stay reachable from the "
              "logbook. %5 decided by you. %6; nothing is sent.")
        .arg(countOf(written, "commit", "commits"),
             shown(plan.oursName),
             shown(plan.theirsName),
             lines.join(QLatin1Char('\n')),
             m_splice->decidedCount() == 0 ? tr("Nothing had to be")
                                           : QString::number(m_splice->decidedCount()),
             keepsFiles() ? tr("Your files stay as they are, on the branch where you are")
                          : tr("The working tree follows"));
}

bool RecordStation::keepsFiles() const
{
    return m_splice != nullptr && m_splice->plan().workChoice == WorkChoice::filesStay;
}

QString RecordStation::workInWords() const
{
    const auto count = static_cast<std::size_t>(
        std::count_if(m_uncommitted.begin(), m_uncommitted.end(), [](const auto& file) {
            return !file.isUntracked;
        }));
    if (m_splice == nullptr || count == 0) {
        return {};
    }
    const QString files = countOf(count, "uncommitted file", "uncommitted files");
    switch (m_splice->plan().workChoice) {
    case WorkChoice::carry:
        return tr("%1: carried across, and uncommitted afterwards.").arg(files);
    case WorkChoice::setAside:
        return tr("%1: set aside when this is recorded, to be brought back later.").arg(files);
    case WorkChoice::filesStay:
    case WorkChoice::none:
    case WorkChoice::broughtBack:
        break;
    }
    return {};
}

QString RecordStation::obstacleOfWork() const
{
    switch (m_splice->plan().workChoice) {
    case WorkChoice::carry:
        return m_isSettled ? QString() : tr("Your uncommitted work is being joined to the result…");
    case WorkChoice::setAside:
    case WorkChoice::filesStay:
        return {};
    case WorkChoice::none:
    case WorkChoice::broughtBack:
        break;
    }
    return obstacleOfUncommitted(m_uncommitted);
}

/// What keeps the splice from being recorded now; empty: nothing.
QString RecordStation::obstacle() const
{
    if (m_splice == nullptr) {
        return tr("No splice is under way. Start one in Survey.");
    }
    if (!m_spliceObstacle.isEmpty()) {
        return m_spliceObstacle;
    }
    const bool makesCommit = !isBringBack() && !isMove();
    if (makesCommit && !m_checkObstacle.isEmpty()) {
        return m_checkObstacle;
    }
    if (makesCommit) {
        if (hasMessage()
            && tidiedMessage(message().toStdString(), m_parts.conventions.commentStart).empty()) {
            return tr("The message is empty. Write at least one line.");
        }
        if (!m_signature
            && (m_name->text().trimmed().isEmpty()
                || !m_email->text().contains(QLatin1Char('@')))) {
            return tr("Fill in your name and e-mail address.");
        }
    }
    if (m_splice != nullptr && m_splice->laysCommits() && !m_isSettled
        && m_splice->plan().workChoice != WorkChoice::carry) {
        return layingInWords();
    }
    return obstacleOfWork();
}

/// Whether nothing is waited for but that uncommitted work is joined, which takes a moment.
bool RecordStation::isOnlySettling() const
{
    return m_splice != nullptr && !m_isSettled
           && (obstacle() == layingInWords()
               || (m_splice->plan().workChoice == WorkChoice::carry
                   && obstacle() == obstacleOfWork()));
}

void RecordStation::showObstacle()
{
    const QString words = obstacle();
    m_obstacle->setText(words);
    m_obstacle->setVisible(!words.isEmpty());
    const std::string& start = m_parts.conventions.commentStart;
    const QString text = QLatin1Char('\n') + message();
    m_comments->setVisible(!start.empty() && hasMessage()
                           && text.contains(QLatin1Char('\n') + QString::fromStdString(start)));
    m_comments->setText(tr("Lines that begin with %1 are left out.").arg(shown(start)));
    m_work->setText(workInWords());
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
            m_what->setText(contentsInWords());
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

/// Commits that are not written, and why.
QStringList RecordStation::leftOutOfResult() const
{
    QStringList lines;
    const SplicePlan& plan = m_splice->plan();
    for (std::size_t leg = 0; leg < m_splice->standings().size(); ++leg) {
        const LegStanding& standing = m_splice->standings()[leg];
        if (standing.isEmptied && !plan.isCorrection() && !plan.keepsEmptied) {
            lines << shown(standing.commit.id.brief()) + QLatin1Char(' ')
                         + shownSubject(standing.commit) + emptiedInWords(leg);
        }
    }
    if (isRebase()) {
        lines << leftOutInWords();
    }
    return lines;
}

/// What came of it, where there is no more to tell.
void RecordStation::showDone(const QString& title, const QString& details)
{
    m_doneTitle->setText(title);
    m_doneDetails->setText(details);
    m_hookOutput->hide();
    m_pages->setCurrentIndex(kRecordedPage);
    m_back->setFocus();
}

void RecordStation::showRecorded(const Recorded& recorded)
{
    const bool wasBringBack = isBringBack();
    const bool wasElsewhere = keepsFiles();
    const bool isRewritten = isRebase();
    const bool isAside = m_splice != nullptr && m_splice->plan().workChoice == WorkChoice::setAside
                         && !workInWords().isEmpty();
    const QStringList leftOut = m_splice != nullptr ? leftOutOfResult() : QStringList();
    const QString moved = isMove() ? shown(m_splice->plan().oursName) : QString();
    m_splice = nullptr;
    m_isBusy = false;
    m_bringBack->setVisible(isAside);
    const QString tip =
        shown(recorded.commit.id.brief()) + QLatin1Char(' ') + shownSubject(recorded.commit);
    if (wasBringBack) {
        showDone(tr("Your work is back"),
                 tr("It stands in your files, uncommitted, on %1.").arg(tip));
    } else if (!moved.isEmpty()) {
        showDone(tr("%1 moved forward").arg(moved),
                 tr("It stands at %1. %2. Nothing was sent.")
                     .arg(tip,
                          wasElsewhere ? tr("Your files stayed as they were")
                          : isAside    ? tr("Your uncommitted work is set aside")
                                       : tr("Your working tree holds it")));
    } else if (isRewritten) {
        showRewritten(recorded, leftOut, wasElsewhere);
    } else if (!recorded.rewritten.empty()) {
        m_doneTitle->setText(tr("Recorded as %1").arg(shown(recorded.commit.id.hex())));
        showCarried(recorded, leftOut, wasElsewhere);
    } else {
        m_doneTitle->setText(tr("Recorded as %1").arg(shown(recorded.commit.id.hex())));
        showMerge(recorded, wasElsewhere);
    }
}

void RecordStation::showMerge(const Recorded& recorded, bool wasElsewhere)
{
    QStringList parents;
    for (const ObjectId& parent : recorded.commit.parents) {
        parents << shown(parent.brief());
    }
    m_doneDetails->setText(tr("%1\nparents %2 · by %3 <%4>\n%5. Nothing was sent yet.")
                               .arg(shown(recorded.commit.message),
                                    parents.join(QStringLiteral(" and ")),
                                    shown(recorded.commit.author.name),
                                    shown(recorded.commit.author.email),
                                    wasElsewhere ? tr("Your files stayed as they were")
                                                 : tr("Your working tree holds it")));
    m_hookOutput->setPlainText(shownWords(recorded.hookOutput));
    m_hookOutput->setVisible(!recorded.hookOutput.empty());
    m_pages->setCurrentIndex(kRecordedPage);
    (m_hasRemote ? m_toPush : m_back)->setFocus();
}

/// Old and new commits side by side.
void RecordStation::showRewritten(const Recorded& recorded,
                                  const QStringList& leftOut,
                                  bool wasElsewhere)
{
    m_doneTitle->setText(
        tr("%1 written anew").arg(countOf(recorded.rewritten.size(), "commit", "commits")));
    showPairs(recorded, leftOut, wasElsewhere);
}

/// What took the place of another commit, and what followed it.
void RecordStation::showCarried(const Recorded& recorded,
                                const QStringList& leftOut,
                                bool wasElsewhere)
{
    const auto& parents = recorded.rewritten.front().second.parents;
    m_doneTitle->setText(tr("Recorded as %1, and %2 carried along")
                             .arg(parents.empty() ? QString() : shown(parents.front().hex()),
                                  countOf(recorded.rewritten.size(), "commit", "commits")));
    showPairs(recorded, leftOut, wasElsewhere);
}

void RecordStation::showPairs(const Recorded& recorded,
                              const QStringList& leftOut,
                              bool wasElsewhere)
{
    QStringList lines;
    for (const auto& [before, after] : recorded.rewritten) {
        lines << QStringLiteral("%1 → %2  %3")
                     .arg(shown(before.id.brief()), shown(after.id.brief()), shownSubject(after));
    }
    m_doneDetails->setText(tr("%1\n\nAuthors and dates are as they were. %2. Nothing was sent yet.")
                               .arg((lines + leftOut).join(QLatin1Char('\n')),
                                    wasElsewhere ? tr("Your files stayed as they were")
                                                 : tr("Your working tree holds the last one")));
    m_hookOutput->setPlainText(shownWords(recorded.hookOutput));
    m_hookOutput->setVisible(!recorded.hookOutput.empty());
    m_pages->setCurrentIndex(kRecordedPage);
    (m_hasRemote ? m_toPush : m_back)->setFocus();
}

void RecordStation::setHasRemote(bool hasRemote)
{
    m_hasRemote = hasRemote;
    m_toPush->setVisible(hasRemote);
}

QString RecordStation::message() const
{
    return m_message->toPlainText();
}

void RecordStation::act()
{
    if (m_pages->currentIndex() == kRecordedPage) {
        if (m_hasRemote) {
            emit pushRequested();
        } else {
            emit surveyRequested();
        }
    } else {
        record();
    }
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
