// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/record_wiring.h"

#include "desktop/app/navigator.h"
#include "desktop/app/notices.h"
#include "desktop/app/preferences.h"
#include "desktop/course/join_queue.h"
#include "desktop/course/place_session.h"
#include "desktop/course/record_session.h"
#include "desktop/course/splice_reader.h"
#include "desktop/record/record_station.h"
#include "desktop/survey/survey_station.h"

#include <algorithm>
#include <utility>

namespace rope {
namespace {
constexpr int kMessagePauseMs = 400;
}  // namespace

RecordWiring::RecordWiring(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_parts(parts)
{
    SpliceSession* const splice = m_parts.splice;
    RecordStation* const record = m_parts.record;
    RecordSession* const recording = m_parts.recording;
    m_messageTimer.setSingleShot(true);
    m_messageTimer.setInterval(kMessagePauseMs);
    connect(record, &RecordStation::messageEdited, this, [this] { m_messageTimer.start(); });
    connect(&m_messageTimer, &QTimer::timeout, this, [this] {
        m_parts.splice->store().storeMessage(m_parts.record->message());
    });
    connect(m_parts.place, &PlaceSession::identityKnown, this, [this](const auto& identity) {
        m_identity = identity;
        m_parts.record->setIdentity(identity);
    });
    // What was recorded belongs to the repository it was recorded in.
    connect(m_parts.place, &PlaceSession::opened, this, [this] { m_last = {}; });
    connect(record, &RecordStation::identityGiven, recording, &RecordSession::setNewIdentity);
    connect(
        record, &RecordStation::contentsRequested, m_parts.reader, &SpliceReader::requestContents);
    connect(m_parts.reader, &SpliceReader::contentsReady, record, &RecordStation::showContents);
    connect(record, &RecordStation::recordRequested, recording, &RecordSession::record);
    connect(record, &RecordStation::stopRequested, recording, &RecordSession::stop);
    connect(record, &RecordStation::bringWorkBackRequested, splice, [splice] {
        splice->bringWorkBack(splice->entry().plan.id);
    });
    connect(record, &RecordStation::rollBackRequested, this, &RecordWiring::rollBack);
    connect(record, &RecordStation::nextRequested, this, &RecordWiring::nextRequested);
    connect(record, &RecordStation::surveyRequested, this, [this] {
        m_parts.to->goTo(Station::survey);
    });
    connect(
        record, &RecordStation::pushRequested, this, [this] { m_parts.to->goTo(Station::push); });
    connect(recording, &RecordSession::recorded, this, &RecordWiring::onRecorded);
    connect(recording, &RecordSession::failed, this, [this](const Error& error) {
        if (error.code == ErrorCode::noIdentity) {
            m_parts.record->setIdentity(std::nullopt);
        }
        m_parts.record->setSettled(m_parts.splice->isSettled());
    });
    connect(m_parts.to, &Navigator::entering, this, [splice](Station station) {
        if (station == Station::record) {
            splice->lookAtWork();
        }
    });
    record->setLeavesNotes(Preferences::read().leavesNotes);
}

void RecordWiring::setConventions(const MessageConventions& conventions)
{
    m_conventions = conventions;
    m_parts.splice->setCommentStart(conventions.commentStart);
}

void RecordWiring::setMessageParts()
{
    const bool signsOff = Preferences::read().signsOff;
    m_parts.record->setMessageParts({m_conventions,
                                     m_parts.splice->joinedSubjects(),
                                     signsOff ? m_identity : std::optional<Signature>{},
                                     m_parts.splice->corrected()});
    m_parts.record->setLeftOut(m_parts.splice->leftOut());
}

void RecordWiring::storeMessage()
{
    if (m_messageTimer.isActive()) {
        m_parts.splice->store().storeMessage(m_parts.record->message());
    }
}

void RecordWiring::onRecorded(const Recorded& recorded)
{
    // What was joined is not to be joined later any more.
    for (const Branch& branch : m_parts.place->facts()->branches) {
        if (branch.name == m_parts.splice->entry().plan.theirsName) {
            m_parts.queue->remove(branch.ref);
        }
    }
    m_parts.survey->forgetPick();
    if (m_parts.splice->entry().plan.kind == SpliceKind::fastForward) {
        m_parts.notices->tellOfMove(m_parts.splice->entry(), recorded);
    }
    m_parts.record->showRecorded(recorded);
    m_last = m_parts.splice->entry();
    m_last.recorded = recorded.commit.id;
    m_parts.to->stayAt(Station::record);
}

void RecordWiring::lookWhetherPushed()
{
    const auto facts = m_parts.place->facts();
    const bool isPushed =
        facts && !m_last.recorded.isNull()
        && std::any_of(facts->branches.begin(), facts->branches.end(), [&](const Branch& branch) {
               return branch.isShared && branch.tip == m_last.recorded;
           });
    if (isPushed) {
        m_last.recorded = {};
        m_parts.record->setCanRollBack(false);
    }
}

void RecordWiring::rollBack()
{
    if (!m_last.recorded.isNull() && m_parts.splice->splice() == nullptr) {
        m_parts.recording->roll(std::exchange(m_last, {}), false);
    }
}
}  // namespace rope
