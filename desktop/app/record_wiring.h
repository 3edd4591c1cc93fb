// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/logbook/journal.h"
#include "core/system/recording.h"
#include "desktop/app/window_parts.h"

#include <QTimer>

#include <optional>

namespace rope {
struct Recorded;

/// Joins Record to the splice under way: its message, whose it is, what it holds, and the recording.
class RecordWiring final : public QObject
{
    Q_OBJECT
public:
    RecordWiring(const WindowParts& parts, QObject* parent);
    /// How the open repository words its messages.
    void setConventions(const MessageConventions& conventions);
    /// What proposed messages are made of: what is set up here, what is preferred, what comes in.
    void setMessageParts();
    /// What was recorded last cannot be rolled back any more once a shared branch has it.
    void lookWhetherPushed();
    /// Stores a half-written message that waits for a pause.
    void storeMessage();

signals:
    /// The next branch of the queue is to be joined.
    void nextRequested();

private:
    void onRecorded(const Recorded& recorded);
    void rollBack();

    const WindowParts& m_parts;
    MessageConventions m_conventions;
    std::optional<Signature> m_identity;
    JournalEntry m_last;  ///< What was recorded last; no commit: nothing that could be rolled back.
    QTimer m_messageTimer;  ///< A half-written message is stored when typing pauses.
};
}  // namespace rope
