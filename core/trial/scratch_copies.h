// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/writer_lock.h"

#include <cstdint>
#include <memory>
#include <stop_token>
#include <string>

namespace rope {
/// A folder for a scratch copy, which nobody else uses while this is held.
class ScratchCopy
{
public:
    ScratchCopy(std::string folder, std::unique_ptr<WriterLock> lock)
        : m_folder(std::move(folder))
        , m_lock(std::move(lock))
    {
    }
    [[nodiscard]] const std::string& folder() const { return m_folder; }

private:
    std::string m_folder;
    std::unique_ptr<WriterLock> m_lock;
};

/// How much of scratch copies is kept.
struct CopyLimits
{
    std::size_t mostCopies = 8;
    std::uint64_t mostBytes = 20'000'000'000;  ///< On the disk, all copies together.
    std::int64_t mostAgeSeconds = std::int64_t{14} * 24 * 3600;  ///< Since one was used last.
};

/// Takes the copy of this name below `root` (a folder of our own in the user's cache), made if need be.
/// Errors: `busy` (Reason::copyInUse) while a command runs in it, or ends; `io`.
[[nodiscard]] Result<std::unique_ptr<ScratchCopy>> takeScratchCopy(const std::string& root,
                                                                   const std::string& name);

/// Removes copies beyond the limits, those used longest ago first, and what an earlier removal left.
/// One that is in use stays. Gives how many there are then. A stop ends it between two copies.
std::size_t removeOldCopies(const std::string& root,
                            const CopyLimits& limits,
                            const std::stop_token& stop = {});

/// Removes files of a folder beyond the newest so many: what commands said.
void removeOldFiles(const std::string& folder, std::size_t most);
}  // namespace rope
