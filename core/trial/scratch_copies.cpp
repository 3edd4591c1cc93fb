// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_layout.cpp.
#include "core/trial/scratch_copies.h"

#include <algorithm>
#include <chrono>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <sys/stat.h>
#include <vector>

namespace rope {
namespace {
namespace fs = std::filesystem;
constexpr const char* kUsed = "used";        // touched whenever a copy is taken
constexpr const char* kGoing = "removing-";  // a copy that is being removed has such a name

Result<std::unique_ptr<WriterLock>> lockOf(const std::string& folder)
{
    auto lock = WriterLock::take(folder);
    if (!lock && lock.error().reason == Reason::recordingElsewhere) {
        return Error{ErrorCode::busy, lock.error().subject, folder, Reason::copyInUse};
    }
    return lock;
}

struct KnownCopy
{
    fs::path folder;
    fs::file_time_type usedAt;
    std::uint64_t bytes = 0;
};

/// What lies in a folder takes on the disk; links are not followed.
std::uint64_t bytesIn(const fs::path& folder)
{
    std::uint64_t bytes = 0;
    std::error_code error;
    fs::recursive_directory_iterator entries(
        folder, fs::directory_options::skip_permission_denied, error);
    while (!error && entries != fs::end(entries)) {
        struct stat status
        {
        };
        if (::lstat(entries->path().c_str(), &status) == 0) {
            bytes += static_cast<std::uint64_t>(status.st_blocks) * 512;
        }
        entries.increment(error);
    }
    return bytes;
}

/// A copy that is taken away first gets another name, so that one that is cut off is none any more.
bool removeCopy(const fs::path& folder)
{
    const auto lock = lockOf(folder.string());
    if (!lock) {
        return false;
    }
    std::error_code error;
    const fs::path going = folder.parent_path() / (kGoing + folder.filename().string());
    fs::remove_all(going, error);
    fs::rename(folder, going, error);
    if (error) {
        return false;
    }
    fs::remove_all(going, error);
    return true;
}
}  // namespace

Result<std::unique_ptr<ScratchCopy>> takeScratchCopy(const std::string& root,
                                                     const std::string& name)
{
    const fs::path folder = fs::path(root) / name;
    std::error_code error;
    fs::create_directories(folder, error);
    // Others' eyes have no business in what may be a private repository.
    fs::permissions(folder, fs::perms::owner_all, error);
    if (error) {
        return Error{ErrorCode::io, folder.string(), error.message()};
    }
    TRY_ASSIGN(auto lock, lockOf(folder.string()));
    std::ofstream(folder / kUsed).put('\n');
    return std::make_unique<ScratchCopy>(folder.string(), std::move(lock));
}

std::size_t
removeOldCopies(const std::string& root, const CopyLimits& limits, const std::stop_token& stop)
{
    std::error_code error;
    std::vector<KnownCopy> copies;
    for (const fs::directory_entry& entry : fs::directory_iterator(root, error)) {
        if (entry.path().filename().string().starts_with(kGoing)) {
            std::error_code ignored;
            fs::remove_all(entry.path(), ignored);
        } else if (!entry.is_symlink() && entry.is_directory()) {
            std::error_code missing;
            const auto used = fs::last_write_time(entry.path() / kUsed, missing);
            copies.push_back({entry.path(), missing ? fs::file_time_type::min() : used, 0});
        }
    }
    std::sort(copies.begin(), copies.end(), [](const auto& a, const auto& b) {
        return a.usedAt > b.usedAt;
    });
    const auto oldest =
        fs::file_time_type::clock::now() - std::chrono::seconds(limits.mostAgeSeconds);
    std::size_t kept = 0;
    std::uint64_t bytes = 0;
    for (KnownCopy& copy : copies) {
        if (stop.stop_requested()) {
            return copies.size();
        }
        copy.bytes = bytesIn(copy.folder);
        const bool isBeyond = kept >= limits.mostCopies || bytes + copy.bytes > limits.mostBytes
                              || copy.usedAt < oldest;
        if (isBeyond && removeCopy(copy.folder)) {
            continue;
        }
        ++kept;
        bytes += copy.bytes;
    }
    return kept;
}

void removeOldFiles(const std::string& folder, std::size_t most)
{
    std::error_code error;
    std::vector<std::pair<fs::file_time_type, fs::path>> files;
    for (const fs::directory_entry& entry : fs::directory_iterator(folder, error)) {
        std::error_code gone;
        files.emplace_back(entry.last_write_time(gone), entry.path());
    }
    std::sort(files.rbegin(), files.rend());
    for (std::size_t i = most; i < files.size(); ++i) {
        fs::remove(files[i].second, error);
    }
}
}  // namespace rope
