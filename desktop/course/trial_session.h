// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/splice_session.h"
#include "desktop/course/trial_tasks.h"
#include "desktop/facts/trial_view.h"

#include <QTimer>

#include <map>
#include <mutex>
#include <set>

namespace rope {
/// Runs check commands on the result of the splice under way, and on its sides, in scratch copies, beside
/// the interface; knows what they gave on which files. Nothing runs that was not asked for. Lives on the
/// interface thread.
class TrialSession final : public QObject
{
    Q_OBJECT
public:
    TrialSession(PlaceSession& place, SpliceSession& splice, QObject* parent);
    ~TrialSession() override;

    /// Runs all commands on the result as it stands.
    void run();
    /// Runs one on theirs and on ours, and on the base where `withBase`.
    void runOnSides(std::size_t command, bool withBase);
    /// Ends what runs, with all that it has started.
    void stop() { m_stop.request_stop(); }
    /// Keeps the own commands in the repository.
    void setCommands(const std::vector<std::string>& commands);
    /// Whether nothing is recorded here before the commands have passed.
    void setRequired(bool isRequired);
    /// Whether scratch copies hold the files of submodules.
    void setWithSubmodules(bool withSubmodules);
    /// Whether the commands that are asked about (TrialView::asked) may run here, as they were shown.
    void allowAsked(bool isAllowed);
    /// Those that were refused are asked about again.
    void askAgain();
    /// Removes all scratch copies that nobody uses.
    void removeCopies();

    /// What is to be shown; changed() tells of another one.
    [[nodiscard]] const TrialView& view() const { return m_view; }
    /// Whether nothing may be recorded as it stands, in words; empty: it may.
    [[nodiscard]] QString obstacleToRecording() const;

signals:
    void changed();
    /// What a running command printed since the last time.
    void said(const rope::SaidPart& part);
    /// A command could not be started, or a setting not be kept.
    void failed(const rope::Error& error);
    void copiesRemoved();

private:
    struct Live;
    /// Commands to be run on some files.
    struct Task
    {
        TrialSide side = TrialSide::result;
        std::vector<std::string> commands;  ///< As they stood when it was asked for.
    };
    /// How the last try on some files went, where that is kept nowhere else.
    struct LastTry
    {
        TrialState state = TrialState::never;
        QString words;
    };

    void onStarted();
    void onEnding();
    void look();
    void store();
    void runNext();
    void takeOutcome(const Task& task, const ObjectId& tree, const Result<TrialOutcome>& outcome);
    void takeRun(const ObjectId& tree, const TrialRun& run);
    void forward();
    void clean();
    void show();
    [[nodiscard]] TrialItem itemOf(TrialSide side, const std::string& command);
    [[nodiscard]] QString verdictOn(const CommandItem& item) const;
    [[nodiscard]] std::optional<TrialFiles> filesOf(TrialSide side) const;
    [[nodiscard]] ObjectId treeOf(TrialSide side) const;
    [[nodiscard]] bool isBaseStored() const;
    [[nodiscard]] std::vector<std::string> commands() const;
    [[nodiscard]] bool isAllowed(const std::string& command) const;
    [[nodiscard]] std::vector<std::string> askedCommands() const;
    [[nodiscard]] QString keyOf(const std::string& command) const;

    PlaceSession& m_place;
    SpliceSession& m_splice;
    CheckSettings m_settings;
    std::optional<TrialFacts> m_facts;  ///< Of the result as it stands; nothing: not known yet.
    std::vector<std::string> m_shared;  ///< Of the last result that was known.
    std::map<ObjectId, std::vector<CheckRun>> m_runs;
    std::map<std::pair<ObjectId, std::string>, LastTry> m_tries;
    std::set<QString> m_leftOut;  ///< Keys of commands that are not to be used, until restart.
    std::vector<Task> m_tasks;    ///< Still to be run; the first runs.
    std::shared_ptr<Live> m_live;
    std::stop_source m_stop;
    TrialView m_view;
    bool m_runsWhenKnown = false;  ///< It was asked for before it was known on what.
    QString m_progress;
    QString m_copyNote;
    QTimer m_lookTimer;
    QTimer m_liveTimer;
    BackgroundRunner m_looks;
    BackgroundRunner m_trials;
    BackgroundRunner m_stores;
    BackgroundRunner m_cleaning;
};
}  // namespace rope
