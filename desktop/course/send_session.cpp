// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/course/send_session.h"

#include "desktop/course/log.h"
#include "desktop/course/progress_text.h"

namespace rope {
SendSession::SendSession(PlaceSession& place, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_looks(1, this)
    , m_pushes(1, this)
{
    connect(&m_place, &PlaceSession::opened, this, [this] {
        m_stop.request_stop();
        m_facts.reset();
        look();
    });
    connect(&m_place, &PlaceSession::factsChanged, this, &SendSession::look);
}

void SendSession::look()
{
    if (m_place.folder().isEmpty()) {
        return;
    }
    m_looks.supersede();
    m_isLooking = true;
    emit looking();
    m_looks.run([address = m_place.address()](
                    const std::stop_token& stop) { return sendFacts(address, stop); },
                [this](const Result<SendFacts>& facts) {
                    m_isLooking = false;
                    if (facts) {
                        m_facts = *facts;
                        emit looked(*m_facts);
                    } else if (facts.error().code != ErrorCode::cancelled) {
                        logError(facts.error());  // looked at again when something changes
                    }
                });
}

ProgressSink SendSession::progress()
{
    return progressTo(this, ProgressPace::calm, [this](const QString& text) {
        if (m_isPushing) {
            emit progressed(text);
        }
    });
}

void SendSession::push(bool replaces)
{
    if (m_isPushing || m_isLooking || !m_facts || (replaces && !m_facts->isRewritten())
        || !m_facts->hasSomethingToSend()) {
        return;
    }
    m_isPushing = true;
    m_stop = {};
    emit progressed(tr("Sending…"));
    m_pushes.runToTheEnd(
        [address = m_place.address(), facts = *m_facts, replaces, progress = progress()](
            const std::stop_token& stop) {
            return sendAndAsk(address, facts, replaces, progress, stop);
        },
        [this, facts = *m_facts, folder = m_place.folder()](const Result<Proof>& answer) {
            if (folder == m_place.folder()) {
                onAnswer(answer, facts);
            } else {
                m_isPushing = false;
            }
        },
        m_stop.get_token());
}

void SendSession::onAnswer(const Result<Proof>& answer, const SendFacts& facts)
{
    const auto end = [this] {
        m_isPushing = false;
        emit progressed({});
        m_place.look();
        look();
    };
    if (answer) {
        end();
        emit arrived(*answer);
        lookAfterPush(facts);
        return;
    }
    logError(answer.error());
    if (answer.error().code == ErrorCode::cancelled) {
        end();
        emit failed(answer.error());
        return;
    }
    m_pushes.runToTheEnd(
        [address = m_place.address(), facts, error = answer.error(), progress = progress()](
            const std::stop_token& stop) {
            return lookIntoRefusal(address, facts, error, progress, stop);
        },
        [this, end](const Refusal& refusal) {
            end();
            emit refused(refusal);
        },
        m_stop.get_token());
}

void SendSession::lookAfterPush(const SendFacts& facts)
{
    m_pushes.run([address = m_place.address(),
                  facts](const std::stop_token& stop) { return afterPush(address, facts, stop); },
                 [this](const AfterPush& after) { emit afterPushKnown(after); });
}

void SendSession::removeOwn(const Branch& branch)
{
    m_pushes.run([address = m_place.address(),
                  branch](const std::stop_token&) { return removeHere(address, branch); },
                 [this, branch](const Status& removed) {
                     if (removed) {
                         emit ownBranchRemoved(branch);
                         m_place.look();
                     } else {
                         logError(removed.error());
                         emit failed(removed.error());
                     }
                 });
}

void SendSession::removeMerged(const MergedBranch& branch)
{
    m_pushes.run(
        [address = m_place.address(), branch](const std::stop_token& stop) {
            return removeFromRemote(address, branch, stop);
        },
        [this, branch](const Status& removed) {
            if (removed) {
                emit branchRemoved(branch);
                m_place.look();
            } else {
                logError(removed.error());
                emit failed(removed.error());
            }
        });
}
}  // namespace rope
