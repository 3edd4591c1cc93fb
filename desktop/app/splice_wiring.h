// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/window_parts.h"
#include "desktop/course/splice_session.h"

#include <QObject>

namespace rope {
class CheckWiring;
class RecordWiring;
class ResolveWiring;

/// Brings the splice under way to all stations when it starts, changes and ends.
class SpliceWiring final : public QObject
{
    Q_OBJECT
public:
    SpliceWiring(const WindowParts& parts,
                 ResolveWiring& resolving,
                 CheckWiring& checking,
                 RecordWiring& recording,
                 QObject* parent);
    /// Counts and marks are shown anew.
    void onChanged();

signals:
    /// A recording is over.
    void recordingOver();

private:
    void onStarted(const Started& started);
    void onLegsChanged(std::size_t first);
    void onEnding();
    void onEnded(Ended how) const;
    void onRecordingStep(const QString& step);
    void onDoneAtOnce(const JournalEntry& entry, const Recorded& recorded) const;

    ResolveWiring& m_resolving;
    CheckWiring& m_checking;
    RecordWiring& m_recording;
    const WindowParts& m_parts;
};
}  // namespace rope
