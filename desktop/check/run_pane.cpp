// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_command.cpp.
#include "desktop/check/run_pane.h"

#include "desktop/check/output_view.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QFile>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr qint64 kMostLoadedBytes = 2'000'000;

/// A sign that tells a state without colour.
QString signOf(TrialState state)
{
    switch (state) {
    case TrialState::passed:
        return QStringLiteral("✓ ");
    case TrialState::failed:
    case TrialState::notStarted:
        return QStringLiteral("✗ ");
    case TrialState::running:
        return QStringLiteral("… ");
    case TrialState::never:
    case TrialState::waiting:
    case TrialState::stopped:
        return QStringLiteral("○ ");
    }
    return {};
}

bool isBad(TrialState state)
{
    return state == TrialState::failed || state == TrialState::notStarted;
}

void empty(QHBoxLayout& row)
{
    while (QLayoutItem* item = row.takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->setObjectName({});
            widget->deleteLater();
        }
        delete item;
    }
}
}  // namespace

RunPane::RunPane(QWidget* parent)
    : QWidget(parent)
    , m_output(new OutputView(this))
{
    m_output->setObjectName(QStringLiteral("checkOutput"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(makeHead());
    column->addWidget(makeQuestion());
    column->addWidget(makeState());
    column->addWidget(m_output, 1);
    setAutoFillBackground(true);
    connect(m_output, &OutputView::placeRequested, this, &RunPane::placeRequested);
    showTrial({});
}

QWidget* RunPane::makeHead()
{
    auto* head = new QWidget(this);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(12, 6, 12, 4);
    row->setSpacing(12);
    m_label = makeLabel(tr("Check command"), TextRole::strong, head);
    m_label->setWordWrap(false);
    m_command = new QLineEdit(head);
    m_command->setObjectName(QStringLiteral("checkCommand"));
    useCodeFont(m_command);
    m_command->setPlaceholderText(tr("A program and its arguments, such as: make test"));
    m_command->setAccessibleName(tr("Check command"));
    m_label->setBuddy(m_command);
    m_run = makeButton(tr("Run on the result"), "runCheckButton", ButtonRole::plain, head);
    row->addWidget(m_label);
    row->addWidget(m_command, 1);
    m_run->setMinimumWidth(m_run->sizeHint().width());  // it says "Stop" now and then
    row->addWidget(m_run);
    connect(m_command, &QLineEdit::editingFinished, this, &RunPane::keepCommand);
    connect(m_command, &QLineEdit::returnPressed, this, [this] {
        keepCommand();  // this signal comes before the one that editing has ended
        if (!m_view.isRunning()) {
            emit runRequested();
        }
    });
    connect(m_run, &QPushButton::clicked, this, &RunPane::act);
    return head;
}

QWidget* RunPane::makeQuestion()
{
    m_question = new QWidget(this);
    auto* row = new QHBoxLayout(m_question);
    row->setContentsMargins(12, 2, 12, 4);
    row->setSpacing(8);
    m_questionWords = makeLabel({}, TextRole::normal, m_question);
    m_questionWords->setObjectName(QStringLiteral("sharedChecks"));
    row->addWidget(m_questionWords, 1);
    const std::pair<QString, bool> answers[] = {{tr("Use them"), true},
                                                {tr("Do not use them"), false}};
    for (const auto& [text, isAllowed] : answers) {
        QPushButton* button = makeButton(text,
                                         isAllowed ? "useSharedChecks" : "leaveSharedChecks",
                                         ButtonRole::plain,
                                         m_question);
        row->addWidget(button);
        m_allow = isAllowed ? button : m_allow;
        connect(button, &QPushButton::clicked, this, [this, isAllowed = isAllowed] {
            m_command->setFocus();  // the button goes
            emit sharedAllowed(isAllowed);
        });
    }
    return m_question;
}

QWidget* RunPane::makeState()
{
    auto* state = new QWidget(this);
    auto* column = new QVBoxLayout(state);
    column->setContentsMargins(12, 0, 12, 6);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    m_tabs = new QHBoxLayout;
    m_tabs->setSpacing(6);
    m_state = new ElidedLabel(TextRole::muted, state);
    m_state->setObjectName(QStringLiteral("checkState"));
    m_trySides =
        makeButton(tr("Run it on both sides, too"), "trySidesButton", ButtonRole::link, state);
    setPlainToolTip(*m_trySides,
                    tr("Runs it on theirs and on ours as well, in a copy of their own"));
    m_whole = makeButton(tr("Whole output"), "wholeOutputButton", ButtonRole::link, state);
    setPlainToolTip(*m_whole, tr("Opens the file that holds all that it said"));
    m_another = makeButton(tr("Another command"), "anotherCheckButton", ButtonRole::link, state);
    row->addLayout(m_tabs);
    row->addWidget(m_state, 1);
    row->addWidget(m_trySides);
    row->addWidget(m_whole);
    m_askAgain = makeButton(
        tr("The repository's commands…"), "askSharedAgain", ButtonRole::link, state);
    setPlainToolTip(*m_askAgain, tr("Asks again about those that you did not want to use"));
    row->addWidget(m_another);
    row->addWidget(m_askAgain);
    connect(m_askAgain, &QPushButton::clicked, this, [this] {
        m_command->setFocus();  // the button goes
        emit askAgainRequested();
    });
    auto* sides = new QHBoxLayout;
    sides->setSpacing(10);
    m_sideTabs = new QHBoxLayout;
    m_sideTabs->setSpacing(4);
    m_verdict = makeLabel({}, TextRole::strong, state);
    m_verdict->setObjectName(QStringLiteral("checkVerdict"));
    sides->addLayout(m_sideTabs);
    m_verdict->setWordWrap(false);
    sides->addWidget(m_verdict);
    sides->addStretch(1);
    column->addLayout(row);
    column->addLayout(sides);
    connect(m_trySides, &QPushButton::clicked, this, [this] { emit sidesRequested(m_current); });
    connect(m_whole, &QPushButton::clicked, this, [this] {
        if (const TrialItem* item = currentItem()) {
            emit wholeOutputRequested(QString::fromStdString(item->outputFile));
        }
    });
    connect(m_another, &QPushButton::clicked, this, [this] {
        choose(m_view.commands.size());
        m_command->setFocus();
    });
    return state;
}

const CommandItem* RunPane::current() const
{
    return m_current < m_view.commands.size() ? &m_view.commands[m_current] : nullptr;
}

const TrialItem* RunPane::currentItem() const
{
    const CommandItem* command = current();
    return command == nullptr ? nullptr : &command->on[static_cast<std::size_t>(m_side)];
}

void RunPane::showTrial(const TrialView& view)
{
    const bool isSameList =
        std::equal(view.commands.begin(),
                   view.commands.end(),
                   m_view.commands.begin(),
                   m_view.commands.end(),
                   [](const auto& a, const auto& b) { return a.command == b.command; });
    const bool begins =
        view.isRunning()
        && (!m_wasRunning || view.running != m_view.running || view.runningOn != m_view.runningOn);
    const bool ends = !view.isRunning() && m_wasRunning;
    m_view = view;
    m_wasRunning = view.isRunning();
    if (m_command->isModified()) {
        // What is being written belongs to the command that it was begun for.
    } else if (begins && view.running) {
        m_current = *view.running;  // what runs is what one wants to see
        m_side = view.runningOn;
        m_shownFile.clear();
        m_shownTo = 0;
    } else if (ends) {
        // The first that did not pass; what was tried on a side stays in view.
        const auto bad =
            std::find_if(view.commands.begin(), view.commands.end(), [](const CommandItem& item) {
                return isBad(item.result().state);
            });
        if (bad != view.commands.end() && m_side == TrialSide::result) {
            m_current = static_cast<std::size_t>(bad - view.commands.begin());
        }
    }
    if (!isSameList && m_current > view.commands.size()) {
        m_current = view.commands.empty() ? 0 : view.commands.size() - 1;
    }
    const CommandItem* command = current();
    if (!m_command->hasFocus() || (command != nullptr && !m_command->isModified())) {
        const QString text = command == nullptr
                                 ? m_command->isModified() ? m_command->text() : QString()
                                 : shown(command->command);
        if (text != m_command->text()) {
            m_command->setText(text);  // else the cursor stays where it is
        }
    }
    fillTabs();
    fillSides();
    showQuestion();
    showState();
    showOutput();
}

/// Buttons are made anew only where they are others: one may have the focus.
void RunPane::fill(QHBoxLayout& row,
                   std::vector<Tab>& shownTabs,
                   std::vector<Tab> tabs,
                   const std::function<void(std::size_t)>& choose)
{
    if (tabs == shownTabs) {
        return;
    }
    empty(row);
    for (std::size_t i = 0; i < tabs.size(); ++i) {
        QPushButton* button =
            makeButton(tabs[i].label, tabs[i].name.constData(), ButtonRole::tab, this);
        setPlainToolTip(*button, tabs[i].words);
        button->setCheckable(true);
        button->setChecked(tabs[i].isChosen);
        connect(button, &QPushButton::clicked, this, [choose, i] { choose(i); });
        row.addWidget(button);
        button->show();
    }
    shownTabs = std::move(tabs);
}

void RunPane::fillTabs()
{
    const std::size_t count = m_view.commands.size();
    std::vector<Tab> tabs;
    if (count > 1 || (count == 1 && m_current == count)) {
        for (std::size_t i = 0; i < count; ++i) {
            const CommandItem& item = m_view.commands[i];
            tabs.push_back({"checkTab" + QByteArray::number(static_cast<qulonglong>(i)),
                            signOf(item.result().state) + QString::number(i + 1),
                            shown(item.command),
                            i == m_current});
        }
    }
    fill(*m_tabs, m_shownTabs, std::move(tabs), [this](std::size_t i) { this->choose(i); });
}

/// Whose output stands below, where it ran on more than the result.
void RunPane::fillSides()
{
    const CommandItem* command = current();
    std::vector<Tab> tabs;
    std::vector<TrialSide> sides;
    for (const TrialSide side : kTrialSides) {
        const auto index = static_cast<std::size_t>(side);
        if (command != nullptr && command->on[index].state != TrialState::never
            && !m_view.sideNames[index].isEmpty()) {
            tabs.push_back({"checkSide" + QByteArray::number(static_cast<qulonglong>(index)),
                            signOf(command->on[index].state) + m_view.sideNames[index],
                            command->on[index].words,
                            side == m_side});
            sides.push_back(side);
        }
    }
    if (tabs.size() < 2 && (sides.empty() || sides.front() == TrialSide::result)) {
        m_side = TrialSide::result;
        tabs.clear();
    }
    fill(*m_sideTabs, m_shownSides, std::move(tabs), [this, sides](std::size_t i) {
        chooseSide(sides[i]);
    });
}

void RunPane::showQuestion()
{
    QStringList commands;
    for (const std::string& command : m_view.asked) {
        commands << shownCommand(command);
    }
    // What runs is what was shown: nothing is allowed that does not fit here.
    constexpr qsizetype kMostShown = 600;
    const bool isTooLong = commands.join(QString()).size() > kMostShown;
    m_allow->setEnabled(!isTooLong);
    m_question->setVisible(!commands.isEmpty());
    m_questionWords->setText(
        commands.isEmpty() ? QString()
        : isTooLong
            ? tr("This repository brings check commands that are too long to show here. Look at "
                 ".rope-splice.toml and .git/config, and enter what you want to run.")
            : tr("This repository brings check commands along: %1. None of them runs until you "
                 "allow it.")
                  .arg(commands.join(QStringLiteral("  ·  "))));
}

void RunPane::showState()
{
    const CommandItem* command = current();
    const TrialItem* item = currentItem();
    QString words = m_view.isRunning()                ? m_view.progress
                    : !m_view.obstacle.isEmpty()      ? m_view.obstacle
                    : m_view.isLooking                ? tr("Looking at the result…")
                    : item != nullptr                 ? signOf(item->state) + item->words
                    : !m_view.sharedProblem.isEmpty() ? m_view.sharedProblem
                    : m_view.commands.empty()
                        ? tr("Nothing is set up here yet. What you write is kept in this "
                             "repository's configuration.")
                        : tr("One more command, kept in this repository's configuration.");
    if (!m_view.isRunning() && !m_view.note.isEmpty() && item != nullptr) {
        words += QLatin1Char(' ') + m_view.note;
    }
    const bool isShared = command != nullptr && command->isShared;
    m_label->setText(isShared ? tr("Shared check command") : tr("Check command"));
    setPlainToolTip(*m_command, isShared ? tr("From .rope-splice.toml in the result") : QString());
    m_state->setFullText(words);
    setTextRole(m_state,
                !m_view.isRunning() && item != nullptr && isBad(item->state)
                        && m_view.obstacle.isEmpty()
                    ? TextRole::open
                    : TextRole::muted);
    m_verdict->setText(command == nullptr || m_view.isRunning() ? QString() : command->verdict);
    m_verdict->setVisible(!m_verdict->text().isEmpty());
    m_trySides->setVisible(command != nullptr && !m_view.isRunning() && m_view.isEditable
                           && command->result().state == TrialState::failed
                           && (command->on[1].state == TrialState::never
                               || command->on[2].state == TrialState::never));
    m_whole->setVisible(item != nullptr && !item->outputFile.empty());
    m_another->setVisible(m_view.isEditable && current() != nullptr);
    m_askAgain->setVisible(m_view.isEditable && m_view.hasLeftOut && m_view.asked.empty());
    m_command->setReadOnly(!m_view.isEditable || (command != nullptr && command->isShared));
    m_run->setText(m_view.isRunning() ? tr("Stop") : tr("Run on the result"));
    m_run->setEnabled(m_view.isRunning()
                      || (m_view.isEditable && m_view.obstacle.isEmpty()
                          && (!m_view.commands.empty() || !m_command->text().isEmpty())));
}

/// Puts what the chosen one said below: from its file, and what follows as it comes.
void RunPane::showOutput()
{
    const TrialItem* item = currentItem();
    const std::string file = item == nullptr ? std::string() : item->outputFile;
    if (file == m_shownFile && !file.empty() && m_shownTo > 0) {
        return;
    }
    m_output->clearOutput();
    m_shownFile = file;
    m_shownTo = 0;
    QFile stored(QString::fromStdString(file));
    if (file.empty() || !stored.open(QIODevice::ReadOnly)) {
        m_output->setPlaceholderText(item == nullptr || item->state == TrialState::never
                                         ? tr("The command runs in a scratch copy of the merged "
                                              "files. Your working tree is not touched.")
                                     : item->state == TrialState::notStarted ? item->words
                                     : item->state == TrialState::passed
                                             || item->state == TrialState::failed
                                         ? tr("Its output is not kept any more. F5 runs it again.")
                                         : QString());
        return;
    }
    m_output->setPlaceholderText(item->state == TrialState::running ? QString()
                                                                    : tr("It printed nothing."));
    const qint64 skipped = std::max<qint64>(0, stored.size() - kMostLoadedBytes);
    stored.seek(skipped);
    const QByteArray bytes = stored.readAll();
    m_shownTo = static_cast<std::uint64_t>(skipped + bytes.size());
    m_output->append({bytes.constData(), static_cast<std::size_t>(bytes.size())});
}

void RunPane::addSaid(const SaidPart& part)
{
    if (current() == nullptr || part.command != current()->command || part.side != m_side) {
        return;
    }
    const std::uint64_t end = part.offset + part.bytes.size();
    if (part.offset == 0) {
        m_output->clearOutput();  // it is run again, and all of it comes here
        m_shownTo = 0;
    }
    if (end > m_shownTo) {
        const std::size_t known = m_shownTo > part.offset ? m_shownTo - part.offset : 0;
        m_output->append(std::string_view(part.bytes).substr(known));
        m_shownTo = end;
    }
}

void RunPane::setFiles(const CheckView& view)
{
    std::set<RepoPath> files;
    for (const ReadItem& item : view.files) {
        files.insert(item.path);
    }
    m_output->setFiles(std::move(files), m_view.folder);
}

void RunPane::setMain(bool isMain)
{
    setButtonRole(m_run, isMain ? ButtonRole::primary : ButtonRole::plain);
}

void RunPane::act()
{
    flush();
    if (m_view.isRunning()) {
        emit stopRequested();
    } else if (m_run->isEnabled()) {
        emit runRequested();
    } else if (m_view.isEditable && m_view.obstacle.isEmpty()) {
        sayWhatIsMissing();
    }
}

/// F5 where nothing can run yet: to what lets it run.
void RunPane::sayWhatIsMissing()
{
    const bool isAsked = m_question->isVisibleTo(this) && m_allow->isEnabled();
    m_state->setFullText(isAsked ? tr("Nothing runs before you have answered: use the repository's "
                                      "commands, or enter one of your own.")
                                 : tr("Enter a command first."));
    setTextRole(m_state, TextRole::open);
    (isAsked ? static_cast<QWidget*>(m_allow) : m_command)->setFocus();
}

void RunPane::goToPlace(int direction)
{
    m_output->goToPlace(direction);
}

void RunPane::focusCommand()
{
    m_command->setFocus();
    m_command->selectAll();
}

void RunPane::flush()
{
    if (m_command->isModified()) {
        keepCommand();
    }
}

/// An empty field takes its command away.
void RunPane::keepCommand()
{
    const std::string text = m_command->text().trimmed().toStdString();
    const CommandItem* command = current();
    if (!m_command->isModified() || !m_view.isEditable
        || (command != nullptr
            && (command->isShared || shown(command->command).toStdString() == text))) {
        m_command->setModified(false);
        return;
    }
    m_command->setModified(false);
    std::vector<std::string> own;
    for (std::size_t i = 0; i < m_view.commands.size(); ++i) {
        const CommandItem& item = m_view.commands[i];
        if (i == m_current && !text.empty()) {
            own.push_back(text);
        } else if (i != m_current && !item.isShared) {
            own.push_back(item.command);
        }
    }
    if (command == nullptr && !text.empty()) {
        own.push_back(text);
        m_current = own.size() - 1;  // own ones come first
    }
    emit commandsEdited(own);
}

void RunPane::choose(std::size_t command)
{
    flush();
    m_current = command;
    m_side = TrialSide::result;
    m_command->setModified(false);
    m_command->setText(current() == nullptr ? QString() : shown(current()->command));
    m_shownFile.clear();
    m_shownTo = 0;
    fillTabs();
    fillSides();
    showState();
    showOutput();
}

void RunPane::chooseSide(TrialSide side)
{
    m_side = side;
    m_shownFile.clear();
    m_shownTo = 0;
    fillSides();
    showState();
    showOutput();
}
}  // namespace rope
