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
    /// Stops the push that is under way; the remote may have what it was sent by then.
    void stopPushing() { m_stop.request_stop(); }
    /// Removes a branch that is merged where it was sent, here or there; answered by branchRemoved().
    void removeMerged(const MergedBranch& branch);
    /// Removes an own branch that is merged; answered by ownBranchRemoved().
    void removeOwn(const Branch& branch);

    /// Nothing: not known yet, or no place is open.
    [[nodiscard]] const std::optional<SendFacts>& facts() const { return m_facts; }

signals:
    /// What was known of what there is to send may be out of date until it is looked at again.
    void looking();
    void looked(const rope::SendFacts& facts);
    /// How far it is, in words; empty: it is over.
    void progressed(const QString& text);
    /// The remote has it: what it says it has now.
    void arrived(const rope::Proof& proof);
    /// The remote has not taken it: why, and what a second round would mean.
    void refused(const rope::Refusal& refusal);
    /// What there is to do next, once it was sent.
    void afterPushKnown(const rope::AfterPush& after);
    void branchRemoved(const rope::MergedBranch& branch);
    void ownBranchRemoved(const rope::Branch& branch);
    /// Looking, or removing a branch, did not go; nothing has changed.
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
