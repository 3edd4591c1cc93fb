// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_command.cpp.
#include "desktop/course/trial_session.h"

#include "core/base/digest.h"
#include "desktop/course/log.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/trial_words.h"

#include <QDateTime>
#include <QFile>
#include <QSettings>

#include <algorithm>

namespace rope {
namespace {
constexpr int kLookPauseMs = 120;
constexpr int kLiveMs = 60;
constexpr int kCleanAfterMs = 3000;            // when the window has what it needs first
constexpr std::size_t kMostWaiting = 400'000;  // bytes that are shown at once; of more, the end
constexpr qint64 kQuietMs = 60'000;  // without a word, a command may be waiting for something
}  // namespace

/// What the thread that runs commands tells.
struct TrialSession::Live
{
    std::mutex mutex;
    Progress progress;
    bool hasStarted = false;   ///< Laying out is done.
    std::size_t command = 0;   ///< Of the task.
    std::string outputFile;    ///< Of that command.
    std::uint64_t offset = 0;  ///< Of what waits.
    std::string waiting;       ///< Said and not shown yet.
    qint64 startedAt = 0;      ///< Milliseconds since 1970.
    qint64 saidAt = 0;
};

TrialSession::TrialSession(PlaceSession& place, SpliceSession& splice, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_splice(splice)
    , m_looks(1, this)
    , m_trials(1, this)
    , m_stores(1, this)
    , m_cleaning(1, this)
{
    m_lookTimer.setSingleShot(true);
    m_lookTimer.setInterval(kLookPauseMs);
    m_liveTimer.setInterval(kLiveMs);
    connect(&m_lookTimer, &QTimer::timeout, this, &TrialSession::look);
    connect(&m_liveTimer, &QTimer::timeout, this, &TrialSession::forward);
    connect(&m_place, &PlaceSession::opened, this, [this](const FoundPlace& found) {
        m_settings = found.checkSettings;
        show();
    });
    connect(&m_splice, &SpliceSession::started, this, &TrialSession::onStarted);
    connect(&m_splice, &SpliceSession::ending, this, &TrialSession::onEnding);
    connect(&m_splice, &SpliceSession::decisionsChanged, this, [this] {
        m_facts.reset();
        m_runsWhenKnown = false;
        m_lookTimer.start();
        QTimer::singleShot(0, this, &TrialSession::show);  // it is told before it is so
    });
    connect(&m_splice, &SpliceSession::settled, this, [this] { m_lookTimer.start(); });
    QTimer::singleShot(kCleanAfterMs, this, &TrialSession::clean);
}

TrialSession::~TrialSession()
{
    m_stop.request_stop();
}

void TrialSession::clean()
{
    m_cleaning.run([](const std::stop_token& stop) { return cleanTrials(stop), true; },
                   [](bool) {});
}

void TrialSession::onStarted()
{
    m_lookTimer.start();
    show();
}

void TrialSession::onEnding()
{
    m_stop.request_stop();  // what still runs has nobody who looks at it
    m_tasks.clear();
    m_live.reset();
    m_liveTimer.stop();
    m_progress.clear();
    m_shared.clear();
    m_looks.supersede();
    m_lookTimer.stop();
    m_facts.reset();
    m_runs.clear();
    m_tries.clear();
    m_copyNote.clear();
    show();
}

/// Finds out which tree the result is, and what it shares, once nothing is open.
void TrialSession::look()
{
    m_looks.supersede();
    const Splice* splice = m_splice.splice();
    if (splice == nullptr || splice->openCountOfCommits() > 0 || !m_splice.isSettled()) {
        m_facts.reset();
        show();
        return;
    }
    m_looks.run([address = m_place.address(),
                 join = splice->legs()[splice->lastLeg()],
                 result = splice->sharedResult()](
                    const std::stop_token&) { return trialFacts(address, join, *result); },
                [this](const Result<TrialFacts>& facts) {
                    if (m_lookTimer.isActive()) {
                        return;  // it is old already
                    }
                    if (facts) {
                        m_facts = *facts;
                        m_shared = m_facts->shared;
                    } else {
                        logError(facts.error());
                    }
                    show();
                    if (std::exchange(m_runsWhenKnown, false) && m_facts) {
                        run();
                    }
                });
}

void TrialSession::removeCopies()
{
    m_cleaning.run([](const std::stop_token& stop) { return removeTrials(stop), true; },
                   [this](bool) { emit copiesRemoved(); });
}

bool TrialSession::isBaseStored() const
{
    const auto forecast = m_splice.forecast();
    return forecast != nullptr && forecast->base
           && forecast->base->tree == forecast->join.base.tree;
}

ObjectId TrialSession::treeOf(TrialSide side) const
{
    const auto forecast = m_splice.forecast();
    if (m_splice.splice() == nullptr || forecast == nullptr) {
        return {};
    }
    switch (side) {
    case TrialSide::result:
        return m_facts ? m_facts->tree : ObjectId{};
    case TrialSide::theirs:
        return forecast->join.theirs.tree;
    case TrialSide::ours:
        return forecast->join.ours.tree;
    case TrialSide::base:
        return isBaseStored() ? forecast->join.base.tree : ObjectId{};
    }
    return {};
}

/// Nothing where there are no such files: something is open, or the base stands nowhere by itself.
std::optional<TrialFiles> TrialSession::filesOf(TrialSide side) const
{
    const Splice* splice = m_splice.splice();
    const auto forecast = m_splice.forecast();
    const ObjectId tree = treeOf(side);
    if (splice == nullptr || forecast == nullptr || tree.isNull()) {
        return std::nullopt;
    }
    const std::string place = digestOfParts({m_place.privateFolder()}).substr(0, 16);
    TrialFiles files{tree, nullptr, {}, place + "-sides", m_settings.withSubmodules};
    if (side == TrialSide::result) {
        files.result = splice->sharedResult();
        files.commit = splice->plan().ours;
        files.copy = place + "-result";
    } else if (side == TrialSide::base) {
        files.commit = forecast->base->id;
    } else {
        files.commit = side == TrialSide::ours ? splice->plan().ours : splice->plan().theirs;
    }
    return files;
}

void TrialSession::run()
{
    if (m_view.isRunning() || !m_view.obstacle.isEmpty() || !m_view.isEditable) {
        return;
    }
    m_runsWhenKnown = !m_facts;
    if (m_runsWhenKnown) {
        return;
    }
    const Task task{TrialSide::result, commands()};
    if (!task.commands.empty()) {
        m_tasks = {task};
        m_stop = {};
        runNext();
    }
}

void TrialSession::runOnSides(std::size_t command, bool withBase)
{
    const auto all = commands();
    if (m_view.isRunning() || command >= all.size() || !m_view.isEditable
        || m_splice.forecast() == nullptr) {
        return;
    }
    m_tasks = {{TrialSide::theirs, {all[command]}}, {TrialSide::ours, {all[command]}}};
    if (withBase && isBaseStored()) {
        m_tasks.push_back({TrialSide::base, {all[command]}});
    }
    m_stop = {};
    runNext();
}

void TrialSession::runNext()
{
    const auto files =
        m_tasks.empty() || m_stop.stop_requested() ? std::nullopt : filesOf(m_tasks.front().side);
    if (!files) {
        m_tasks.clear();
        m_live.reset();
        m_liveTimer.stop();
        m_progress.clear();
        show();
        return;
    }
    for (const std::string& command : m_tasks.front().commands) {
        m_tries.erase({files->tree, command});
    }
    m_live = std::make_shared<Live>();
    m_progress = tr("Preparing a scratch copy…");
    m_liveTimer.start();
    show();
    const auto now = [] {
        return QDateTime::currentMSecsSinceEpoch();
    };
    const TrialSinks sinks{
        [live = m_live](const Progress& progress) {
            const std::scoped_lock lock(live->mutex);
            live->progress = progress;
        },
        [live = m_live, now](std::size_t command, const std::string& outputFile) {
            const std::scoped_lock lock(live->mutex);
            live->outputFile = outputFile;
            live->hasStarted = true;
            live->command = command;
            live->offset = 0;
            live->waiting.clear();
            live->startedAt = live->saidAt = now();
        },
        [live = m_live, now](std::size_t, std::uint64_t offset, std::string_view bytes) {
            const std::scoped_lock lock(live->mutex);
            if (live->waiting.empty()) {
                live->offset = offset;
            }
            live->waiting += bytes;
            live->saidAt = now();
            if (live->waiting.size() > kMostWaiting) {
                const std::size_t cut = live->waiting.size() - kMostWaiting / 2;
                live->waiting.erase(0, cut);
                live->offset += cut;
            }
        }};
    // Heard of whatever was asked since: what a command gave on some files stays true.
    m_trials.runToTheEnd(
        [address = m_place.address(), files = *files, task = m_tasks.front(), sinks](
            const std::stop_token& stop) {
            return runTrial(address, files, task.commands, sinks, stop);
        },
        [this, task = m_tasks.front(), tree = files->tree, live = m_live](
            const Result<TrialOutcome>& outcome) {
            if (live == m_live) {
                forward();
                takeOutcome(task, tree, outcome);
            }
        },
        m_stop.get_token());
}

/// Shows what was said meanwhile, and how far it is.
void TrialSession::forward()
{
    if (!m_live || m_tasks.empty()) {
        return;
    }
    const Task& task = m_tasks.front();
    SaidPart part;
    QString progress;
    bool isNext = false;
    {
        const std::scoped_lock lock(m_live->mutex);
        if (!m_live->hasStarted) {
            progress = m_live->progress.total > 0 ? tr("Preparing a scratch copy: %1 of %2 files")
                                                        .arg(m_live->progress.done)
                                                        .arg(m_live->progress.total)
                                                  : tr("Preparing a scratch copy…");
        } else {
            const qint64 now = QDateTime::currentMSecsSinceEpoch();
            progress =
                runningInWords(m_view.sideNames[static_cast<std::size_t>(task.side)],
                               (now - m_live->startedAt) / 1000,
                               now - m_live->saidAt > kQuietMs ? (now - m_live->saidAt) / 1000 : 0);
            part = {task.commands[m_live->command], task.side, m_live->offset, {}};
            part.bytes = std::exchange(m_live->waiting, {});
            isNext = m_view.runningFile != m_live->outputFile;
        }
    }
    if (m_stop.stop_requested()) {
        progress = tr("Stopping the command…");
    }
    if (progress != m_progress || isNext) {
        m_progress = progress;
        show();
    }
    if (!part.bytes.empty()) {
        emit said(part);
    }
}

void TrialSession::takeOutcome(const Task& task,
                               const ObjectId& tree,
                               const Result<TrialOutcome>& outcome)
{
    if (!outcome) {
        for (const std::string& command : task.commands) {
            const bool isStopped = outcome.error().code == ErrorCode::cancelled;
            m_tries[{tree, command}] = {isStopped ? TrialState::stopped : TrialState::notStarted,
                                        isStopped ? tr("Stopped before it ran")
                                                  : describe(outcome.error()).sentence};
        }
        if (outcome.error().code != ErrorCode::cancelled) {
            emit failed(outcome.error());
            m_tasks.clear();
        }
    } else {
        for (const TrialRun& run : outcome->runs) {
            takeRun(outcome->tree, run);
        }
        m_copyNote = submodulesInWords(outcome->layout.submodules);
    }
    if (!m_tasks.empty()) {
        m_tasks.erase(m_tasks.begin());
    }
    runNext();
}

void TrialSession::takeRun(const ObjectId& tree, const TrialRun& run)
{
    if (!run.outcome) {
        m_tries[{tree, run.command}] = {TrialState::notStarted,
                                        describeInLine(run.outcome.error())};
        return;
    }
    if (run.outcome->isStopped) {
        m_tries[{tree, run.command}] = {TrialState::stopped, stoppedInWords(*run.outcome)};
        return;
    }
    const CheckRun kept{tree,
                        run.command,
                        run.outcome->exitCode,
                        run.outcome->signal,
                        run.outcome->durationMs,
                        QDateTime::currentSecsSinceEpoch()};
    m_splice.store().storeRun(kept);
    m_runs.erase(tree);
    m_tries[{tree, run.command}] = {kept.hasPassed() ? TrialState::passed : TrialState::failed,
                                    endedInWords(*run.outcome)};
}

/// How a command went on some files: what was tried last here, or what is remembered of them.
TrialItem TrialSession::itemOf(TrialSide side, const std::string& command)
{
    TrialItem item;
    const ObjectId tree = treeOf(side);
    item.words = side == TrialSide::result ? tr("It has not run on this result yet.")
                                           : tr("It has not run there.");
    if (tree.isNull()) {
        return item;
    }
    const std::string file = outputFileOf(tree, command);
    if (QFile::exists(QString::fromStdString(file))) {
        item.outputFile = file;
    }
    if (const auto found = m_tries.find({tree, command}); found != m_tries.end()) {
        item.state = found->second.state;
        item.words = found->second.words;
        if (item.state == TrialState::notStarted) {
            item.outputFile.clear();
        }
        return item;
    }
    if (!m_runs.contains(tree)) {
        m_runs[tree] = m_splice.store().runsOn(tree);
    }
    for (const CheckRun& run : m_runs[tree]) {
        if (run.command == command) {
            item.state = run.hasPassed() ? TrialState::passed : TrialState::failed;
            item.words = rememberedInWords(run.exitCode, run.signal, run.durationMs, run.endedAt);
        }
    }
    if (item.state == TrialState::never) {
        item.outputFile.clear();  // of a run that was cut off
    }
    return item;
}

QString TrialSession::verdictOn(const CommandItem& item) const
{
    if (item.result().state != TrialState::failed) {
        return {};
    }
    const auto on = [&](TrialSide side) {
        return item.on[static_cast<std::size_t>(side)].state;
    };
    const auto name = [&](TrialSide side) {
        return m_view.sideNames[static_cast<std::size_t>(side)];
    };
    const auto is = [&](TrialState state) {
        QStringList names;
        for (const TrialSide side : {TrialSide::theirs, TrialSide::ours}) {
            if (on(side) == state) {
                names << name(side);
            }
        }
        return names;
    };
    if (const QStringList failing = is(TrialState::failed); !failing.isEmpty()) {
        return tr("Fails on %1 as well").arg(failing.join(tr(" and ")));
    }
    const QStringList passing = is(TrialState::passed);
    return passing.size() == 2   ? tr("Passes on both sides: merging them broke it")
           : passing.size() == 1 ? tr("Passes on %1").arg(passing.front())
                                 : QString();
}

/// Makes what is shown of all that is known.
void TrialSession::show()
{
    const Splice* splice = m_splice.splice();
    TrialView view;
    view.isRequired = m_settings.isRequired;
    view.withSubmodules = m_settings.withSubmodules;
    view.progress = m_progress;
    view.isEditable = splice != nullptr && !splice->isFrozen() && !m_splice.isHeldElsewhere();
    if (splice != nullptr) {
        view.sideNames = {tr("the result"),
                          shown(splice->plan().theirsName),
                          shown(splice->plan().oursName),
                          tr("the base")};
        if (splice->openCountOfCommits() > 0) {
            view.obstacle =
                tr("It can run once everything is decided: %1 still open.")
                    .arg(countOf(splice->openCountOfCommits(), "place is", "places are"));
        }
        view.isLooking = !m_facts && view.obstacle.isEmpty();
    }
    view.asked = askedCommands();
    view.hasLeftOut = !m_leftOut.empty();
    if (m_facts && m_facts->sharedProblem) {
        view.sharedProblem = describe(*m_facts->sharedProblem).sentence + QLatin1Char(' ')
                             + shown(m_facts->sharedProblem->detail);
    }
    view.folder =
        filesFolderOf(trialFolder() + "/copies/"
                      + digestOfParts({m_place.privateFolder()}).substr(0, 16) + "-result");
    m_view.sideNames = view.sideNames;
    const auto all = commands();
    for (std::size_t i = 0; i < all.size() && splice != nullptr; ++i) {
        CommandItem item;
        item.command = all[i];
        item.isShared = std::find(m_settings.commands.begin(), m_settings.commands.end(), all[i])
                        == m_settings.commands.end();
        for (const TrialSide side : kTrialSides) {
            item.on[static_cast<std::size_t>(side)] = itemOf(side, all[i]);
        }
        item.verdict = verdictOn(item);
        view.commands.push_back(std::move(item));
    }
    view.note = m_copyNote;
    if (!m_tasks.empty() && m_live) {
        const Task& task = m_tasks.front();
        const std::scoped_lock lock(m_live->mutex);
        view.runningOn = task.side;
        view.runningFile = m_live->outputFile;
        for (std::size_t i = m_live->command; i < task.commands.size(); ++i) {
            const auto found = std::find_if(
                view.commands.begin(), view.commands.end(), [&](const CommandItem& item) {
                    return item.command == task.commands[i];
                });
            if (found == view.commands.end()) {
                continue;  // it was taken away meanwhile
            }
            const bool isNow = i == m_live->command && m_live->hasStarted;
            found->on[static_cast<std::size_t>(task.side)] = {
                isNow ? TrialState::running : TrialState::waiting,
                {},
                isNow ? m_live->outputFile : std::string()};
            if (i == m_live->command) {
                view.running = static_cast<std::size_t>(found - view.commands.begin());
            }
        }
    }
    m_view = std::move(view);
    emit changed();
}

QString TrialSession::obstacleToRecording() const
{
    const Splice* splice = m_splice.splice();
    if (!m_settings.isRequired || splice == nullptr || splice->plan().kind == SpliceKind::bringBack
        || splice->openCountOfCommits() > 0) {
        return {};
    }
    if (m_view.commands.empty()) {
        return tr("This repository requires a check command to pass before recording, and none is "
                  "set up. Enter one in Check (Ctrl+3).");
    }
    const auto hasPassed = m_view.hasPassed();
    if (!hasPassed) {
        return tr("This repository requires the check command to pass before recording. It has not "
                  "run on this result: F5 runs it.");
    }
    return *hasPassed ? QString()
                      : tr("This repository requires the check command to pass before recording. "
                           "It fails on this result.");
}
}  // namespace rope
