// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp, tst_splice_session.cpp.
#include "desktop/course/splice_reader.h"

#include "core/plan/recording_plan.h"
#include "desktop/course/log.h"

namespace rope {
SpliceReader::SpliceReader(PlaceSession& place, SpliceSession& splices, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_splices(splices)
    , m_facts(2, this)
    , m_since(1, this)
    , m_contents(1, this)
{
    connect(&m_splices, &SpliceSession::legsAboutToChange, this, [this] { m_since.supersede(); });
    connect(&m_place, &PlaceSession::opened, this, [this] { m_facts.supersede(); });
}

/// The outcome of a file, with whatever holds it.
std::shared_ptr<const FileOutcome> SpliceReader::heldOutcome(std::size_t file) const
{
    const Splice* const splice = m_splices.splice();
    const SpliceFile& looked = splice->files()[file];
    const std::pair<OwnedOutcome, Leg> holders(looked.own, splice->legs()[looked.leg]);
    return {std::make_shared<std::pair<OwnedOutcome, Leg>>(holders), looked.outcome};
}

void SpliceReader::requestFileFacts(std::size_t file)
{
    const Splice* const splice = m_splices.splice();
    if (splice == nullptr) {
        return;
    }
    const std::shared_ptr<const Forecast> forecast(m_splices.survey(),
                                                   &m_splices.survey()->forecast);
    // A file of its own may be gone, with its splice, before the answer is there.
    const std::shared_ptr<const FileOutcome> outcome = heldOutcome(file);
    const auto take =
        [this, file, survey = m_splices.survey(), outcome](const Result<FileFacts>& facts) {
            const Splice* const now = m_splices.splice();
            const bool isOfThis = survey == m_splices.survey() && now != nullptr
                                  && file < now->files().size()
                                  && now->files()[file].outcome == outcome.get();
            if (!isOfThis) {
                return;  // of another splice, or of work that was joined again
            }
            if (facts) {
                emit fileFactsReady(file, *facts);
            } else if (facts.error().code != ErrorCode::cancelled) {
                logError(facts.error());  // the region can be decided without it
            }
        };
    const std::size_t number = splice->files()[file].leg;
    const Leg& leg = splice->legs()[number];
    if (number == splice->workLeg()) {
        m_facts.run(
            [address = m_place.address(), leg, outcome](const std::stop_token& stop) {
                return workFileFacts(address, leg, *outcome, stop);
            },
            take);
        return;
    }
    if (splice->laysCommits() && (number > 0 || m_splices.entry().plan.laysOwnCommits())) {
        m_facts.run(
            [address = m_place.address(),
             forecast,
             leg,
             laid = splice->standings()[number],
             outcome,
             now = m_place.facts()->readAt](const std::stop_token& stop) {
                return legFileFacts(address, forecast, leg, laid, *outcome, now, stop);
            },
            take);
        return;
    }
    m_facts.run(
        [address = m_place.address(), forecast, outcome, now = m_place.facts()->readAt](
            const std::stop_token& stop) {
            return fileFacts(address, forecast, *outcome, now, stop);
        },
        take);
}

void SpliceReader::requestSince(SlotPlace place)
{
    m_since.supersede();
    const Splice* const splice = m_splices.splice();
    if (splice == nullptr) {
        return;
    }
    const SpliceFile& file = splice->files()[place.file];
    const SplicePlan& plan = m_splices.entry().plan;
    const bool joinsLines =
        file.leg == 0 && (plan.kind == SpliceKind::merge || plan.kind == SpliceKind::correction);
    const bool laysCommit = plan.laysOwnCommits() && file.leg < splice->standings().size()
                            && !splice->standings()[file.leg].isCarried;
    if (!joinsLines && !laysCommit) {
        return;
    }
    m_since.run(
        [address = m_place.address(),
         forecast =
             std::shared_ptr<const Forecast>(m_splices.survey(), &m_splices.survey()->forecast),
         whose = laysCommit ? SinceOf::ground : SinceOf::bothSides,
         leg = splice->legs()[file.leg],  // it holds the outcome, as does one of the file's own
         own = file.own,
         outcome = file.outcome,
         region = file.text->regionOf(place.slot),
         now = m_place.facts()->readAt](const std::stop_token& stop) {
            return sinceWords(address, whose, forecast, *outcome, region, now, stop);
        },
        [this, place, survey = m_splices.survey()](const Result<QString>& words) {
            if (words && survey == m_splices.survey()) {
                emit sinceReady(place, *words);
            } else if (!words && words.error().code != ErrorCode::cancelled) {
                logError(words.error());  // the region can be decided without it
            }
        });
}

void SpliceReader::requestContents()
{
    m_contents.supersede();
    const Splice* const splice = m_splices.splice();
    if (splice == nullptr || m_splices.isRecording() || splice->openCountOfCommits() > 0) {
        return;
    }
    m_contents.run(
        [address = m_place.address(),
         plan = m_splices.entry().plan,
         decided = splice->sharedResult()](const std::stop_token& stop) -> Result<ResultReading> {
            TRY_ASSIGN(const ResultSnapshot result, decided->get());
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            if (!plan.isCorrection()) {
                return readResult(*place, result.from, result, stop);
            }
            // It stands upon what was recorded, and is told against that.
            const ObjectId below[] = {plan.expected()};
            TRY_ASSIGN(const auto commits, place->readCommits(below));
            return readResult(*place, commits.front().tree, result, stop);
        },
        [this](const Result<ResultReading>& contents) {
            if (contents && m_splices.splice() != nullptr) {
                emit contentsReady(*contents);
            } else if (!contents && contents.error().code != ErrorCode::cancelled) {
                logError(contents.error());  // it can be recorded all the same
            }
        });
}

void SpliceReader::readUncommitted()
{
    m_contents.supersede();
    m_contents.run([address = m_place.address()](
                       const std::stop_token& stop) { return uncommittedWork(address, stop); },
                   [this](const Result<ResultReading>& uncommitted) {
                       if (uncommitted) {
                           emit uncommittedRead(*uncommitted);
                       } else {
                           m_splices.store().report(uncommitted.error());
                       }
                   });
}
}  // namespace rope
