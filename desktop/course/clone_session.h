// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/remotes.h"
#include "desktop/background/background_runner.h"

namespace rope {
/// Copies a repository: asks its address what there is, makes the copy beside the interface, says when it
/// is there. Interface thread.
class CloneSession final : public QObject
{
    Q_OBJECT
public:
    explicit CloneSession(QObject* parent);
    /// How questions of the remote reach the person.
    void setAsking(Asking asking) { m_asking = std::move(asking); }

    /// Asks an address for its branches; what was asked before is not answered any more.
    void ask(const QString& address);
    /// Makes the copy; nothing while another one is being made.
    void copy(const CopyRequest& request);
    /// Stops the copy that is being made. Nothing of it stays.
    void stop() { m_stop.request_stop(); }

signals:
    /// Its branches, in answer to ask().
    void addressAnswered(const QString& address, const rope::RemoteLines& lines);
    /// Nothing answers there, or not to us: why, in a sentence.
    void addressFailed(const QString& address, const QString& sentence);
    /// How far the copy is, in words.
    void progressed(const QString& text);
    /// The copy is there, whole.
    void cloned(const QString& folder);
    /// There is no copy: why, in a sentence.
    void failed(const QString& sentence);

private:
    Asking m_asking;
    std::stop_source m_stop;
    bool m_isCopying = false;
    BackgroundRunner m_asks;
    BackgroundRunner m_copies;
};
}  // namespace rope
