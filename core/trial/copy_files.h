// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/types.h"

#include <cstdint>
#include <string>
#include <string_view>

namespace rope {
/// What the operating system says of a file: two that are equal, some time apart, mean that nobody
/// wrote to it. All 0: there is no such file, or it is to be written again.
struct FileStamp
{
    std::int64_t size = 0;
    std::int64_t modifiedNs = 0;
    std::int64_t changedNs = 0;
    std::uint64_t inode = 0;
    friend bool operator==(const FileStamp&, const FileStamp&) = default;
};

/// Writes and removes files below one folder and never anywhere else: links on the way are not
/// followed but replaced, as is whatever stands where something else is to be. POSIX; one thread.
class CopyFiles
{
public:
    /// Makes the folder if need be. Errors: `io`.
    static Result<CopyFiles> open(const std::string& folder);
    ~CopyFiles();
    CopyFiles(CopyFiles&& other) noexcept;
    CopyFiles& operator=(CopyFiles&&) = delete;

    [[nodiscard]] FileStamp stampOf(const RepoPath& path) const;
    /// Puts a file there, or a link to where the bytes say.
    /// Errors: `io` (Reason::diskFull), with the path as subject.
    Result<FileStamp> write(const RepoPath& path, EntryKind kind, std::string_view bytes);
    /// Makes a folder there, empty or as it is.
    Status makeFolder(const RepoPath& path);
    /// Makes the folder that a path lies in.
    Status makeFolderOf(const RepoPath& path);
    /// Takes a file or link away, and the folders that are empty then. A folder stays.
    void remove(const RepoPath& path);
    /// Takes a folder with all that lies in it away.
    void removeFolder(const RepoPath& path);

private:
    CopyFiles(std::string folder, int root)
        : m_folder(std::move(folder))
        , m_root(root)
    {
    }
    Result<int> folderOf(const RepoPath& path);

    std::string m_folder;
    int m_root;
    int m_last = -1;         ///< The folder that was written in last.
    std::string m_lastName;  ///< Its path below the root.
};
}  // namespace rope
