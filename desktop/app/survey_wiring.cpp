// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp, tst_theirs_choice.cpp.
#include "desktop/app/survey_wiring.h"

#include "desktop/app/navigator.h"
#include "desktop/app/notices.h"
#include "desktop/course/collision_session.h"
#include "desktop/course/join_queue.h"
#include "desktop/course/place_session.h"
#include "desktop/course/record_session.h"
#include "desktop/course/send_session.h"
#include "desktop/course/splice_reader.h"
#include "desktop/record/record_station.h"
#include "desktop/survey/collision_view.h"
#include "desktop/survey/commit_first_dialog.h"
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/notice_bar.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/done_words.h"
#include "desktop/wording/shown_text.h"

namespace rope {
namespace {
constexpr std::size_t kMostRewrittenCommits = 300;  // each is a join of its own, kept in memory
}  // namespace

SurveyWiring::SurveyWiring(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_parts(parts)
{
    PlaceSession* const place = m_parts.place;
    SurveyStation* const survey = m_parts.survey;
    SpliceSession* const splice = m_parts.splice;
    connect(place, &PlaceSession::catchingUp, survey, &SurveyStation::setBehind);
    connect(survey, &SurveyStation::intoPicked, place, &PlaceSession::setInto);
    connect(survey, &SurveyStation::alwaysToggled, place, &PlaceSession::setAlways);
    connect(survey, &SurveyStation::branchPicked, place, &PlaceSession::requestForecast);
    connect(survey, &SurveyStation::readingRequested, place, &PlaceSession::requestReading);
    connect(survey, &SurveyStation::changesRequested, place, &PlaceSession::requestChanges);
    connect(place, &PlaceSession::changesReady, survey, &SurveyStation::showChanges);
    connect(place, &PlaceSession::readingReady, survey, &SurveyStation::showReading);
    connect(survey, &SurveyStation::queueToggled, m_parts.queue, &JoinQueue::toggle);
    connect(m_parts.queue, &JoinQueue::changed, this, &SurveyWiring::showQueue);
    connect(survey, &SurveyStation::startRequested, this, &SurveyWiring::start);
    connect(
        survey, &SurveyStation::commitRequested, m_parts.reader, &SpliceReader::readUncommitted);
    connect(survey, &SurveyStation::bringBackRequested, splice, &SpliceSession::bringBack);
    connect(survey, &SurveyStation::bringWorkBackRequested, splice, &SpliceSession::bringWorkBack);
    connect(survey, &SurveyStation::takeBegunRequested, splice, [splice] { splice->takeBegun(); });
    connect(survey, &SurveyStation::putAwayRequested, m_parts.splice, &SpliceSession::putAway);
    connect(survey, &SurveyStation::abandonRequested, m_parts.splice, &SpliceSession::abandon);
    connect(survey, &SurveyStation::resumeRequested, m_parts.to, [this] {
        m_parts.to->goTo(Station::resolve);
    });
    connect(m_parts.reader, &SpliceReader::uncommittedRead, this, &SurveyWiring::askWhatToCommit);
    connect(m_parts.to, &Navigator::entering, this, [place](Station station) {
        if (station == Station::survey) {
            place->look();
        }
    });
    joinForecasts();
    joinCollisions();
    joinArrivals();
}

void SurveyWiring::joinForecasts()
{
    PlaceSession* const place = m_parts.place;
    SurveyStation* const survey = m_parts.survey;
    connect(place, &PlaceSession::begunForecastReady, survey, &SurveyStation::setBegunForecast);
    connect(place, &PlaceSession::forecastProgressed, survey, &SurveyStation::setForecastProgress);
    connect(place, &PlaceSession::branchesForecast, this, [survey](const auto& outcomes) {
        for (const auto& [ref, outcome] : outcomes) {
            survey->setBranchForecast(ref, outcome);
        }
    });
    connect(place,
            &PlaceSession::forecastReady,
            this,
            [this](const std::string& ref, const auto& forecast) {
                m_parts.survey->setForecast(ref, forecast);
                reckonRebase(ref, forecast);
                m_parts.place->requestEffort(ref, forecast);
                if (ref == m_parts.survey->theirsRef()) {
                    m_parts.notices->tellOfPrograms(forecast->programsLeftOut);
                }
                m_parts.to->showStatus();
            });
    connect(place,
            &PlaceSession::forecastFailed,
            this,
            [survey](const std::string& ref, const Error& error) {
                survey->setForecastFailure(ref, describeInLine(error));
            });
    connect(place, &PlaceSession::effortReady, survey, &SurveyStation::setEffort);
    connect(place, &PlaceSession::rebaseReady, survey, &SurveyStation::setRebase);
    connect(place,
            &PlaceSession::rebaseFailed,
            this,
            [survey](const std::string& ref, const Error& error) {
                survey->setRebaseFailure(ref, describeInLine(error));
            });
}

void SurveyWiring::joinArrivals()
{
    connect(m_parts.place,
            &PlaceSession::arrivedKnown,
            m_parts.survey,
            &SurveyStation::setArrived);
    connect(
        m_parts.survey, &SurveyStation::deleteRequested, this, &SurveyWiring::askBeforeDeleting);
    const auto sayHere = [this](const QString& words) {
        if (m_parts.to->station() == Station::survey) {  // Push says so itself
            m_parts.notices->say(words);
        }
    };
    connect(m_parts.send,
            &SendSession::branchRemoved,
            this,
            [sayHere](const MergedBranch& branch) {
                sayHere(deletedInWords(branch.name, branch.remote, branch.tip));
            });
    connect(m_parts.send, &SendSession::ownBranchRemoved, this, [sayHere](const Branch& branch) {
        sayHere(deletedInWords(branch.name, {}, branch.tip));
    });
}

/// It is deleted only where it still stands where it was seen.
void SurveyWiring::askBeforeDeleting(const std::string& ref) const
{
    const auto facts = m_parts.place->facts();
    const Branch* const found = facts ? facts->branch(ref) : nullptr;
    const Branch* const main = facts ? facts->branch(facts->teamsMain({})) : nullptr;
    if (found == nullptr || main == nullptr || !m_parts.place->hasArrived(*found)) {
        return;  // it has moved since its menu was opened
    }
    m_parts.notices->say(tr("Delete %1? All of it is in %2, and its commits stay there.")
                             .arg(shown(found->name), shown(main->name)));
    m_parts.noticeBar->offerAction(
        found->isShared ? tr("Delete it on the remote") : tr("Delete it here"),
        [this, send = m_parts.send, branch = *found, remote = facts->remoteOf(*found)] {
            if (!m_parts.place->hasArrived(branch)) {
                m_parts.notices->say(
                    tr("%1 has changed meanwhile. It was not deleted.").arg(shown(branch.name)));
            } else if (branch.isShared) {
                send->removeMerged(
                    {remote, branch.name.substr(remote.size() + 1), branch.tip});
            } else {
                send->removeOwn(branch);
            }
        });
}

void SurveyWiring::joinCollisions()
{
    CollisionView* const view = &m_parts.survey->collisions();
    CollisionSession* const collisions = m_parts.collisions;
    connect(m_parts.survey, &SurveyStation::viewChanged, this, [this, view, collisions] {
        if (m_parts.survey->showsCollisions()) {
            collisions->start();
            view->setFocus();
        } else {
            collisions->stop();
        }
        m_parts.to->showStatus();
    });
    connect(view, &CollisionView::startRequested, collisions, &CollisionSession::start);
    connect(view, &CollisionView::stopRequested, collisions, &CollisionSession::stop);
    connect(view, &CollisionView::readingRequested, collisions, &CollisionSession::read);
    connect(collisions, &CollisionSession::changed, this, [this, view](const auto& model) {
        view->showModel(model);
        m_parts.to->showStatus();
    });
    connect(collisions, &CollisionSession::pairRead, view, &CollisionView::showReading);
    connect(collisions, &CollisionSession::progressed, view, &CollisionView::showProgress);
    connect(collisions, &CollisionSession::failed, m_parts.noticeBar, &NoticeBar::showError);
}

/// What a rebase in the place of the merge commit would be, where that is a thing one would do.
void SurveyWiring::reckonRebase(const std::string& ref,
                                const std::shared_ptr<const SurveyForecast>& forecast) const
{
    const Divergence& divergence = forecast->forecast.divergence;
    if (divergence.relation != Relation::diverged) {
        return;
    }
    if (divergence.oursOnly.size() > kMostRewrittenCommits) {
        m_parts.survey->setRebaseFailure(
            ref,
            tr("Not calculated: more than %1 commits would be rewritten.")
                .arg(kMostRewrittenCommits));
        return;
    }
    m_parts.place->requestRebase(ref, forecast);
}

void SurveyWiring::start(const StartChoice& choice) const
{
    SpliceSession* const splice = m_parts.splice;
    const std::string theirs = m_parts.survey->theirsRef();
    const auto forecast = m_parts.survey->forecast();
    if (choice.work == WorkPlan::commitFirst) {
        m_parts.reader->readUncommitted();
        return;
    }
    // Where nothing is uncommitted now something may be by then: it is carried across.
    const StartWishes wishes{choice.method,
                             choice.work == WorkPlan::setAside ? WorkChoice::setAside
                                                               : WorkChoice::carry,
                             choice.keepsEmptied};
    if (choice.method == SpliceKind::rebase && choice.isNothingLeft) {
        m_parts.recording->moveTo(theirs, wishes.kind, wishes.work);
    } else if (const auto earlier = splice->earlierOf(theirs)) {
        m_parts.notices->askAboutEarlier(*earlier, theirs, forecast, wishes);
    } else {
        splice->start(theirs, forecast, wishes);
    }
}

void SurveyWiring::askWhatToCommit(const ResultReading& uncommitted) const
{
    auto* dialog = new CommitFirstDialog(uncommitted, m_parts.survey->window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog,
            &CommitFirstDialog::commitRequested,
            m_parts.recording,
            &RecordSession::commitFiles);
    dialog->open();
}

void SurveyWiring::showQueue() const
{
    const auto& refs = m_parts.queue->refs();
    m_parts.survey->setQueue(refs);
    const auto facts = m_parts.place->facts();
    const Branch* next = facts && !refs.empty() ? facts->branch(refs.front()) : nullptr;
    m_parts.record->setNext(next == nullptr ? QString() : shown(next->name));
}

void SurveyWiring::joinNext() const
{
    if (m_parts.queue->refs().empty()) {
        return;
    }
    const std::string next = m_parts.queue->refs().front();
    m_parts.to->goTo(Station::survey);
    m_parts.survey->pick(next);
}
}  // namespace rope
