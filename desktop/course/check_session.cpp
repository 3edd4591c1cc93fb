// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_round.cpp.
#include "desktop/course/check_session.h"

#include "core/base/digest.h"
#include "core/decide/inferred_decisions.h"
#include "core/findings/checked_splice.h"
#include "core/findings/finding_authors.h"
#include "desktop/course/log.h"

#include <algorithm>

namespace rope {
namespace {
constexpr int kCheckPauseMs = 30;  // one check for decisions that fall together

bool isAboutStructure(FindingKind kind)
{
    switch (kind) {
    case FindingKind::bracketsOpen:
    case FindingKind::quoteOpen:
    case FindingKind::indentBroken:
    case FindingKind::tagsUnbalanced:
    case FindingKind::doesNotParse:
        return true;
    default:
        return false;
    }
}
}  // namespace

/// What one check gave.
struct CheckSession::Checked
{
    /// What is to be known of a file that is read, besides its path.
    struct Text
    {
        std::string key;
        bool isText = false;
        bool isGone = false;
        bool isAlike = false;  ///< In both sides.
    };

    CheckReport report;
    std::map<RepoPath, Text> texts;
    std::map<RepoPath, std::shared_ptr<const CheckedResult>> resultsOfFindings;
    std::shared_ptr<Splice> rebased;  ///< Of a rebase with nothing open: as one join.
};

/// What the checking thread works on, one task after the other. It keeps the join alive.
struct CheckSession::Work
{
    Leg join;
    std::shared_ptr<const Forecast> forecast;
    std::unique_ptr<TreeChecker> checker;
    std::vector<std::shared_ptr<const CheckedResult>> results;

    /// Takes over what files stand like now, even when stopped, and checks. Null: there is nothing to check.
    std::shared_ptr<Checked> check(const std::vector<SpliceFile>& changed,
                                   const std::stop_token& stop);
    /// As check(), for what a rebase ends in. Errors: those of reading; `cancelled`.
    Result<std::shared_ptr<Checked>> checkRebased(const PlaceAddress& address,
                                                  const SplicePlan& plan,
                                                  const DecidedResult& decided,
                                                  const std::stop_token& stop);
};

std::shared_ptr<CheckSession::Checked>
CheckSession::Work::check(const std::vector<SpliceFile>& changed, const std::stop_token& stop)
{
    if (!checker) {
        return nullptr;
    }
    const auto& files = checker->files();
    if (results.empty()) {
        results = settledResults(*join, files);
    }
    for (const SpliceFile& file : changed) {
        if (const auto index = checkedFileOf(file, *join, files)) {
            results[*index] = resultOf(file, files[*index]);
        }
    }
    auto checked = std::make_shared<Checked>();
    checked->report = checker->check(results, stop);
    std::map<RepoPath, std::size_t> places;
    for (std::size_t i = 0; i < files.size(); ++i) {
        const CheckedResult& result = *results[i];
        const bool isAlike = files[i].oursPath == files[i].theirsPath && files[i].ours
                             && files[i].theirs && *files[i].ours == *files[i].theirs;
        const bool hadText = files[i].base || files[i].ours || files[i].theirs;
        checked->texts[files[i].path] = {
            digestOfParts({files[i].path, result.text ? *result.text : std::string_view()}),
            result.text != nullptr,
            !result.text && !result.isOpen && hadText,
            isAlike};
        places[files[i].path] = i;
    }
    for (const Finding& finding : checked->report.findings) {
        checked->resultsOfFindings[finding.path] = results[places[finding.path]];
    }
    return checked;
}

Result<std::shared_ptr<CheckSession::Checked>>
CheckSession::Work::checkRebased(const PlaceAddress& address,
                                 const SplicePlan& plan,
                                 const DecidedResult& decided,
                                 const std::stop_token& stop)
{
    if (!checker) {
        return std::shared_ptr<Checked>();
    }
    const auto& result = decided.get();
    if (!result) {
        results
            .clear();  // two answers put files at one path: what each commit ends in is not known
        return check({}, stop);
    }
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    Overlay snapshots(*place, *join->held);
    TRY_ASSIGN(const ObjectId tree, snapshots.holdResult(*result));
    DecidedJoin rebased({join});
    TRY(putInferred(rebased, snapshots, tree, stop));
    results = settledResults(*join, checker->files());
    auto checked = check(rebased.files(), stop);
    if (checked) {
        checked->rebased = std::make_shared<Splice>(plan, forecast, std::move(rebased));
    }
    return checked;
}

CheckSession::CheckSession(PlaceSession& place, SpliceSession& splice, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_splice(splice)
    , m_checks(1, this)
    , m_history(1, this)
    , m_takes(1, this)
{
    m_timer.setSingleShot(true);
    m_timer.setInterval(kCheckPauseMs);
    connect(&m_timer, &QTimer::timeout, this, &CheckSession::check);
    connect(&m_splice, &SpliceSession::started, this, &CheckSession::onStarted);
    connect(&m_splice, &SpliceSession::ending, this, &CheckSession::onEnding);
    connect(&m_splice, &SpliceSession::decisionsChanged, this, [this](const auto& paths) {
        m_stale.insert(paths.begin(), paths.end());
        if (m_work) {
            m_timer.start();
        }
    });
    connect(&m_splice, &SpliceSession::settled, this, [this] {
        if (m_work && isReadOnly()) {
            m_timer.start();
        }
    });
}

bool CheckSession::isReadOnly() const
{
    return m_splice.splice() != nullptr && m_splice.splice()->laysCommits();
}

Splice* CheckSession::readSplice() const
{
    return isReadOnly() ? m_rebased.get() : m_splice.splice();
}

void CheckSession::onStarted()
{
    if (m_splice.splice() == nullptr || m_work) {
        return;  // taken over from another window: it is checked already
    }
    m_fine = m_splice.store().marks(MarkKind::fine);
    m_read = m_splice.store().marks(MarkKind::read);
    start();
}

void CheckSession::onEnding()
{
    m_timer.stop();
    m_checks.supersede();
    m_history.supersede();
    m_takes.supersede();
    m_work.reset();
    m_checked.reset();
    emit readSpliceAboutToChange();
    m_rebased.reset();
    m_stale.clear();
    m_authors.clear();
    m_view = {};
    m_isBusy = false;
    emit changed();
}

/// Reads what both sides changed; then all of it is checked once.
void CheckSession::start()
{
    m_work = std::make_shared<Work>();
    const auto forecast = m_splice.forecast();
    m_work->join =
        isReadOnly() ? Leg(forecast, &forecast->join) : m_splice.splice()->legs().front();
    m_work->forecast = m_splice.forecast();
    m_isBusy = true;
    m_stale.clear();
    std::vector<OwnedOutcome> own;
    if (const Splice* const splice = m_splice.splice(); splice != nullptr && !isReadOnly()) {
        for (const SpliceFile& file : splice->files()) {
            if (file.own) {
                own.push_back(file.own);
            }
        }
    }
    m_checks.run(
        [address = m_place.address(), work = m_work, told = m_told, own](
            const std::stop_token& stop) -> Status {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            Overlay snapshots(*place, *work->join->held);
            TRY_ASSIGN(auto files, readCheckedFiles(snapshots, *work->join, own, stop));
            work->checker = std::make_unique<TreeChecker>(std::move(files), told);
            return ok();
        },
        [this](const Status& status) {
            if (!status) {
                m_isBusy = false;
                logError(status.error());  // it can be recorded all the same
                emit changed();
                return;
            }
            check();
        });
    show();
}

void CheckSession::check()
{
    if (!m_work || m_splice.splice() == nullptr) {
        return;
    }
    if (isReadOnly()) {
        checkRebase();
        return;
    }
    const bool isFirst = !m_checked && m_stale.empty();
    auto files = std::make_shared<std::vector<SpliceFile>>();
    for (const SpliceFile& file : m_splice.splice()->files()) {
        if (file.leg == 0 && (isFirst || m_stale.contains(file.outcome->path) || !m_checked)) {
            files->push_back(file);
        }
    }
    m_stale.clear();
    m_isBusy = true;
    emit changed();
    m_checks.run(
        [work = m_work, files](const std::stop_token& stop) { return work->check(*files, stop); },
        [this](const std::shared_ptr<Checked>& checked) { takeChecked(checked); });
}

void CheckSession::takeChecked(const std::shared_ptr<const Checked>& checked)
{
    if (m_timer.isActive() || !checked) {
        return;  // it is old already, and another check follows
    }
    emit readSpliceAboutToChange();
    m_rebased = checked->rebased;
    m_checked = checked;
    m_isBusy = false;
    show();
    findAuthors();
}

/// What the last commit will hold, once nothing is open; before that all that both sides changed is.
void CheckSession::checkRebase()
{
    const Splice& splice = *m_splice.splice();
    if (!m_splice.isSettled()) {
        return;  // it is checked once every commit is laid on what is decided
    }
    m_stale.clear();
    m_isBusy = true;
    emit changed();
    if (splice.openCountOfCommits() > 0) {
        m_checks.run(
            [work = m_work](const std::stop_token& stop) {
                work->results.clear();
                return work->check({}, stop);
            },
            [this](const std::shared_ptr<Checked>& checked) { takeChecked(checked); });
        return;
    }
    m_checks.run(
        [address = m_place.address(),
         work = m_work,
         plan = splice.plan(),
         result = splice.sharedResult()](const std::stop_token& stop) {
            return work->checkRebased(address, plan, *result, stop);
        },
        [this](const Result<std::shared_ptr<Checked>>& checked) {
            if (!checked) {
                m_isBusy = false;
                logError(checked.error());  // it can be recorded all the same
                emit this->changed();
                return;
            }
            takeChecked(*checked);
        });
}

/// Makes what is shown of what was found and what a person said.
void CheckSession::show()
{
    m_view = {};
    if (m_checked && m_splice.splice() != nullptr) {
        m_view.hasLooked = true;
        m_view.notChecked = m_checked->report.notChecked;
        m_view.checkedFiles = m_checked->report.checkedFiles;
        m_view.hasDefinitions = m_checked->report.hasDefinitions;
        addFindings();
        addFiles();
    }
    emit changed();
}

void CheckSession::addFindings()
{
    for (const Finding& finding : m_checked->report.findings) {
        m_view.balances = m_view.balances && !isAboutStructure(finding.kind);
        m_view.hasMarkers = m_view.hasMarkers || finding.kind == FindingKind::markersLeft;
        const auto authors = m_authors.find(finding.key);
        m_view.found.push_back({finding,
                                authors == m_authors.end() ? PlaceAuthors() : authors->second,
                                m_fine.contains(finding.key)});
    }
    // What is probably wrong comes before what only deserves a look.
    std::stable_partition(m_view.found.begin(), m_view.found.end(), [](const FoundItem& item) {
        return !isRemark(item.finding.kind);
    });
}

void CheckSession::addFiles()
{
    static const std::vector<SpliceFile> kNone;
    const auto& files = readSplice() == nullptr ? kNone : readSplice()->files();
    std::map<RepoPath, std::size_t> places;
    for (std::size_t i = 0; i < files.size(); ++i) {
        if (files[i].leg == 0) {
            places[files[i].outcome->path] = i;
        }
    }
    for (const auto& [path, text] : m_checked->texts) {
        ReadItem item;
        item.path = path;
        item.key = text.key;
        item.isText = text.isText;
        item.isGone = text.isGone;
        item.isOneSided = true;
        item.isAlike = text.isAlike;
        if (const auto place = places.find(path); place != places.end()) {
            const SpliceFile& file = files[place->second];
            item.file = place->second;
            item.isOpen = file.openCount() > 0;
            item.decided = file.decidedCount();
            item.isOneSided = file.own != nullptr;
        }
        item.isRead = m_read.contains(item.key);
        m_view.openFiles += item.isOpen ? 1U : 0U;
        m_view.files.push_back(std::move(item));
    }
    std::stable_partition(m_view.files.begin(), m_view.files.end(), [](const ReadItem& item) {
        return !item.isOneSided;
    });
}

void CheckSession::findAuthors()
{
    std::vector<Finding> unknown;
    for (const FoundItem& item : m_view.found) {
        if (!m_authors.contains(item.finding.key)) {
            unknown.push_back(item.finding);
        }
    }
    if (unknown.empty()) {
        return;
    }
    m_history.supersede();
    using Found = std::map<std::string, PlaceAuthors>;
    m_history.run(
        [address = m_place.address(), work = m_work, checked = m_checked, unknown](
            const std::stop_token& stop) -> Result<Found> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            Found found;
            for (const Finding& finding : unknown) {
                const auto result = checked->resultsOfFindings.find(finding.path);
                TRY_ASSIGN(found[finding.key],
                           findFindingAuthors(*place,
                                              *work->forecast,
                                              work->checker->files(),
                                              *result->second,
                                              finding,
                                              stop));
            }
            return found;
        },
        [this](const Result<Found>& found) {
            if (found) {
                m_authors.insert(found->begin(), found->end());
                show();
            } else if (found.error().code != ErrorCode::cancelled) {
                logError(found.error());
            }
        });
}

void CheckSession::setFine(const std::string& key, bool isFine)
{
    if (isFine) {
        m_fine.insert(key);
    } else {
        m_fine.erase(key);
    }
    m_splice.store().storeMark(MarkKind::fine, key, isFine);
    show();
}

void CheckSession::setRead(const std::string& key, bool isRead)
{
    if (m_read.contains(key) == isRead) {
        return;
    }
    if (isRead) {
        m_read.insert(key);
    } else {
        m_read.erase(key);
    }
    m_splice.store().storeMark(MarkKind::read, key, isRead);
    show();
}

void CheckSession::setTold(Told told)
{
    m_told = told;
    if (m_work) {
        m_checks.supersede();
        m_checked.reset();
        start();
    }
}

void CheckSession::takeUp(const RepoPath& path)
{
    if (!m_work) {
        return;
    }
    if (isReadOnly()) {
        emit cannotTakeUp(path);
        return;
    }
    m_takes.run(
        [address = m_place.address(), work = m_work, path](
            const std::stop_token&) -> Result<OwnedOutcome> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            Overlay snapshots(*place, *work->join->held);
            return oneSidedOutcome(snapshots, *work->join, path);
        },
        [this, path, work = m_work](const Result<OwnedOutcome>& outcome) {
            if (work != m_work || m_splice.splice() == nullptr) {
                return;
            }
            if (!outcome || !*outcome) {
                if (!outcome) {
                    logError(outcome.error());
                }
                emit cannotTakeUp(path);
                return;
            }
            emit aboutToTakeUp();
            const std::size_t file = m_splice.splice()->takeUp(*outcome);
            show();
            emit tookUp(path, file);
        });
}
}  // namespace rope
