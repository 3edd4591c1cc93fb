// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/read_changes.h"
#include "desktop/background/background_runner.h"
#include "desktop/course/kept_places.h"
#include "desktop/course/pair_forecasts.h"
#include "desktop/course/place_tasks.h"
#include "desktop/course/place_watcher.h"

#include <QTimer>

#include <map>
#include <set>

namespace rope {
/// What is different from what was known before.
struct FactsChange
{
    bool isStanding = false;  ///< The branch that is checked out, or its tip.
    bool isBranches = false;
    bool isOther = false;  ///< Files, remotes, what was put away.
};

/// The open place and its forecasts: reads where it stands, looks again when something changes, asks
/// remotes. Knows no splice. Lives on the interface thread; every answer arrives there as a signal.
class PlaceSession final : public QObject
{
    Q_OBJECT
public:
    explicit PlaceSession(QObject* parent);

    /// How remotes' questions reach the person, from the next opening on.
    void setAsking(Asking asking) { m_asking = std::move(asking); }
    /// Opens the place that a folder belongs to; answered by opened(), openFailed() or openingPutOff().
    void open(const QString& folder);
    /// Looks again, without recovering anything. Cheap to call often: one look at a time, and one more
    /// after it if asked meanwhile.
    void look();
    /// While something is recorded, what is seen half-way means nothing.
    void setPaused(bool isPaused);
    /// `then` runs once it has ended, whether or not a remote answered; not where another place was
    /// opened meanwhile.
    void fetch(std::function<void()> then = {});
    /// What has arrived by then stays.
    void stopFetching() { m_fetchStop.request_stop(); }
    [[nodiscard]] bool isFetching() const { return m_isFetching; }

    /// Joins into another own branch than the one checked out from now on; empty: into that one.
    void setInto(const std::string& ref);
    /// Reads what a commit changed; the last one asked for is answered.
    void requestReading(const ObjectId& commit);
    /// Reads what either side made of a file of a forecast; answered as requestReading().
    void requestChanges(std::shared_ptr<const SurveyForecast> forecast, std::size_t file);
    /// Forecasts joining a branch that is looked at; what a partial copy lacks is asked for.
    void requestForecast(const std::string& theirsRef);
    /// Whether a branch, as facts() has it now, was seen to be all in the team's main, as that is now. What was
    /// told by arrivedKnown() may be of branches that have moved since.
    [[nodiscard]] bool hasArrived(const Branch& branch) const;
    /// Works out what stands first in each conflict of a forecast; answered by effortReady(), if at all.
    void requestEffort(const std::string& theirsRef,
                       const std::shared_ptr<const SurveyForecast>& forecast);
    /// Reckons a rebase in the place of the merge commit of a forecast; answered by rebaseReady().
    void requestRebase(const std::string& theirsRef,
                       std::shared_ptr<const SurveyForecast> forecast);
    /// A person has said whether a journal that their state does not know is theirs. It is used from now
    /// on, or gets another name and a new one is begun; then the place is opened again.
    void useJournal(bool isOurs);
    /// Brings a branch into the one that is joined into always from now on, unless a person picks another;
    /// empty: no more. Kept with the person.
    void setAlways(const std::string& theirsRef);
    /// Lets these commands of the repository's own configuration run from now on, and looks again.
    void allowPrograms(const std::vector<std::string>& commands);

    // Of the open place; empty or null while none is open:
    [[nodiscard]] const QString& folder() const { return m_folder; }
    [[nodiscard]] const PlaceAddress& address() const { return m_address; }
    [[nodiscard]] const std::string& privateFolder() const { return m_privateFolder; }
    [[nodiscard]] std::shared_ptr<const SurveyFacts> facts() const { return m_facts; }

signals:
    /// It is open, and facts() are known.
    void opened(const rope::FoundPlace& found);
    /// What was open before stays so.
    void openFailed(const rope::Error& error);
    /// A folder was read, but is not opened: something is being recorded in the place that is open.
    void openingPutOff(const QString& folder);
    /// facts() is another value now.
    void factsChanged(const rope::FactsChange& change);
    /// Since a pause nobody has looked yet: what is known may be out of date until `isBehind` is false
    /// again.
    void catchingUp(bool isBehind);
    /// Of a join that another program has begun here.
    void begunForecastReady(std::shared_ptr<const rope::SurveyForecast> forecast);
    /// Whose the next commit is; nothing: the system does not know it.
    void identityKnown(const std::optional<rope::Signature>& identity);
    // Answers to requestForecast() and requestRebase(), by the branch that was asked about:
    void forecastReady(const std::string& ref,
                       std::shared_ptr<const rope::SurveyForecast> forecast);
    void forecastFailed(const std::string& ref, const rope::Error& error);
    void rebaseReady(const std::string& ref, std::shared_ptr<const rope::SurveyRebase> rebase);
    void rebaseFailed(const std::string& ref, const rope::Error& error);
    void effortReady(const std::string& ref, std::shared_ptr<const rope::Effort> effort);
    /// What joining some branches gives, in short: all of them sooner or later.
    void branchesForecast(const std::vector<std::pair<std::string, rope::PairOutcome>>& outcomes);
    /// Which branches have arrived in the team's main, by full name; never that itself, nor an own copy of it.
    void arrivedKnown(const std::set<std::string>& refs, const std::string& mainRef);
    // Answers to requestChanges() and requestReading():
    void changesReady(const rope::FileReading& ours, const rope::FileReading& theirs);
    void readingReady(const rope::CommitReading& reading);
    /// How far the forecast of the branch looked at is.
    void forecastProgressed(const std::string& ref, const QString& text);
    void fetchProgressed(const QString& text);
    /// Every remote has answered or failed: which did, and what arrived.
    void fetched(const rope::Fetched& fetched);
    void failed(const rope::Error& error);

private:
    void takeFacts(const FoundPlace& found);
    void takeLook(const Result<FoundPlace>& found);
    void forecastBegun();
    void goOnWithBranches();
    void forecastBranches();
    void lookWhatHasArrived();
    void takeBranchForecasts(const PairForecasts::Known& outcomes);
    /// For what is asked now and again between two looks.
    [[nodiscard]] std::shared_ptr<KeptPlaces> keptPlaces();
    [[nodiscard]] PlacePermissions storedPermissions(const QString& folder) const;

    QString m_folder;
    PlaceAddress m_address;
    Asking m_asking;
    std::string m_privateFolder;
    std::shared_ptr<const SurveyFacts> m_facts;
    std::vector<std::string> m_forecastRefs;  ///< Branches that m_pairs is about, in their order.
    std::string m_lookedAt;                   ///< The branch that a person looks at.
    std::stop_source m_fetchStop;
    bool m_isFetching = false;
    std::function<void()> m_afterFetch;
    bool m_isForecasting = false;      ///< The branch that is looked at.
    bool m_areBranchesWanted = false;  ///< All of them, as soon as that one is known.
    bool m_isLooking = false;
    bool m_looksAgain = false;
    bool m_isPaused = false;
    bool m_isCatchingUp = false;
    std::shared_ptr<KeptPlaces> m_kept = std::make_shared<KeptPlaces>();  ///< Between two looks.
    QTimer m_keptTimer;
    PlaceWatcher m_watcher;
    BackgroundRunner m_looks;      ///< Opening and looking.
    BackgroundRunner m_forecasts;  ///< Superseded whenever branches move, or another is looked at.
    BackgroundRunner m_rebases;    ///< Superseded by each next forecast.
    BackgroundRunner m_efforts;    ///< As m_rebases.
    BackgroundRunner m_arrivals;
    std::map<std::string, ObjectId> m_arrived;  ///< Where each line stood that had arrived.
    ObjectId m_arrivedIn;                       ///< Where the team's main stood then.
    BackgroundRunner m_begun;      ///< As m_looks finds it; superseded by each next one.
    PairForecasts m_pairs;         ///< All branches, in short.
    BackgroundRunner m_fetches;
    BackgroundRunner m_readings;  ///< Superseded by each next one.
};
}  // namespace rope
