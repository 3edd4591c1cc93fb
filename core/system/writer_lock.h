// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <memory>

namespace rope {
/// The right to record or to recover in a place: one holder at a time, among all processes.
/// The programs that a recording starts hold it too, so that after a crash nobody recovers while
/// one of them is still at work; it is free when the last of them has ended. Letting it go frees it
/// at once, whatever else still runs. See flock(2).
class WriterLock
{
public:
    /// Takes the lock in a place's private folder. Where its holder has ended, waits up to two seconds for
    /// the programs that it left. Errors: `busy` (Reason::recordingElsewhere) with
    /// the holder's process number as subject; `io`.
    static Result<std::unique_ptr<WriterLock>> take(const std::string& folder);
    ~WriterLock();
    WriterLock(const WriterLock&) = delete;
    WriterLock& operator=(const WriterLock&) = delete;

private:
    explicit WriterLock(int descriptor)
        : m_descriptor(descriptor)
    {
    }
    int m_descriptor;
};
}  // namespace rope
