// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/place_session.h"
#include "desktop/course/send_tasks.h"

namespace rope {
/// Sending from the open place: what there is to send, the push itself, what the remote says to it.
/// Lives on the interface thread; every answer arrives there as a signal.
class SendSession final : public QObject
{
    Q_OBJECT
public:
    SendSession(PlaceSession& place, QObject* parent);

    /// Looks again at what there is to send; asks no remote.
    void look();
    /// `replaces`: in the place of what the remote has, if it still has what it was last seen with.
    void push(bool replaces = false);
    void stopPushing() { m_stop.request_stop(); }
    [[nodiscard]] bool isPushing() const { return m_isPushing; }
    void removeMerged(const MergedBranch& branch);
    void removeOwn(const Branch& branch);

    [[nodiscard]] const std::optional<SendFacts>& facts() const { return m_facts; }

signals:
    /// What was known of what there is to send may be out of date until it is looked at again.
    void looking();
    void looked(const rope::SendFacts& facts);
    /// How far it is, in words; empty: it is over.
    void progressed(const QString& text);
    void arrived(const rope::Proof& proof);
    void refused(const rope::Refusal& refusal);
    void afterPushKnown(const rope::AfterPush& after);
    void branchRemoved(const rope::MergedBranch& branch);
    void ownBranchRemoved(const rope::Branch& branch);
    void failed(const rope::Error& error);

private:
    void onAnswer(const Result<Proof>& answer, const SendFacts& facts);
    void lookAfterPush(const SendFacts& facts);
    [[nodiscard]] ProgressSink progress();

    PlaceSession& m_place;
    std::optional<SendFacts> m_facts;
    std::stop_source m_stop;
    bool m_isPushing = false;
    bool m_isLooking = false;
    BackgroundRunner m_looks;
    BackgroundRunner m_pushes;
};
}  // namespace rope
