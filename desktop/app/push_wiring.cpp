// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/app/push_wiring.h"

#include "desktop/app/navigator.h"
#include "desktop/app/notices.h"
#include "desktop/course/place_session.h"
#include "desktop/course/record_session.h"
#include "desktop/course/send_session.h"
#include "desktop/course/splice_session.h"
#include "desktop/push/push_station.h"
#include "desktop/widgets/notice_bar.h"

namespace rope {
PushWiring::PushWiring(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_parts(parts)
{
    SendSession* const send = m_parts.send;
    PushStation* const push = m_parts.push;
    connect(
        push, &PushStation::surveyRequested, this, [this] { m_parts.to->goTo(Station::survey); });
    connect(push, &PushStation::pushRequested, send, [send] { send->push(); });
    connect(push, &PushStation::replaceRequested, send, [send] { send->push(true); });
    connect(push, &PushStation::stopRequested, send, &SendSession::stopPushing);
    connect(push, &PushStation::removeRequested, send, &SendSession::removeMerged);
    connect(push, &PushStation::removeOwnRequested, send, &SendSession::removeOwn);
    connect(push, &PushStation::goToLineRequested, this, [this](const std::string& ref) {
        // It is to be brought up to date: where no remote answers, as of when it was asked last.
        m_parts.place->fetch([recording = m_parts.recording, ref] { recording->goToLine(ref); });
    });
    connect(push, &PushStation::joinRequested, this, [this](const SecondRound& round) {
        if (m_parts.splice->splice() != nullptr) {
            m_parts.notices->say(tr("A splice is under way. Record it or put it away first."));
        } else if (m_parts.send->facts()) {
            m_parts.splice->startRound(round, *m_parts.send->facts());
        }
    });
    connect(send, &SendSession::looking, push, &PushStation::setLooking);
    connect(send, &SendSession::looked, this, [this](const SendFacts& facts) {
        m_parts.push->showFacts(facts);
        m_parts.course->setNote(Station::push,
                                facts.hasSomethingToSend() && facts.commitCount > 0
                                    ? tr("%1 to push").arg(facts.commitCount)
                                    : QString());
        m_parts.to->showStatus();
    });
    connect(send, &SendSession::progressed, this, [this](const QString& text) {
        m_parts.push->setBusy(text);
        m_parts.to->setProgress(text);
    });
    connect(send, &SendSession::arrived, push, &PushStation::showProof);
    connect(send, &SendSession::refused, push, &PushStation::showRefusal);
    connect(send, &SendSession::arrived, m_parts.to, &Navigator::showStatus);  // other keys lead on
    connect(send, &SendSession::refused, m_parts.to, &Navigator::showStatus);
    connect(send, &SendSession::afterPushKnown, push, &PushStation::showAfterPush);
    connect(send, &SendSession::branchRemoved, push, &PushStation::showBranchRemoved);
    connect(send, &SendSession::ownBranchRemoved, push, &PushStation::showOwnBranchRemoved);
    connect(send, &SendSession::failed, m_parts.noticeBar, &NoticeBar::showError);
    connect(m_parts.to, &Navigator::entering, send, [send](Station station) {
        if (station == Station::push) {
            send->look();
        }
    });
}
}  // namespace rope
