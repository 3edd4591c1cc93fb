// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_process.h"
#include "core/system/snapshots.h"

#include <array>
#include <functional>
#include <memory>
#include <span>

namespace rope {
/// Reads objects through long-lived `git cat-file --batch-command` processes, started at first use: one,
/// and a second that shares the work when much is asked at once. One thread only. After a failure the
/// processes are let go and started anew by the next call.
class ObjectReader
{
public:
    struct Object
    {
        ObjectId id;
        std::string type;  ///< "commit", "tree", "blob" or "tag".
        std::uint64_t size = 0;
        std::string bytes;  ///< Empty if only the header was asked for, or it is too large.
    };

    explicit ObjectReader(const GitProcess& git)
        : m_git(git)
    {
    }
    ~ObjectReader();
    ObjectReader(const ObjectReader&) = delete;
    ObjectReader& operator=(const ObjectReader&) = delete;

    /// The objects in the order asked. Errors: `notFound` with the id, `corrupt` when git breaks off
    /// in the middle, as it does for an object it cannot read.
    /// Objects of more than `mostBytes` are passed over without being kept.
    Result<std::vector<Object>> contents(std::span<const ObjectId> ids,
                                         std::uint64_t mostBytes = kAnySize);
    /// Told each object as it comes, while git reads those behind it. An error ends the reading.
    using Sink = std::function<Status(Object&& object)>;
    /// As contents(), one by one.
    Status eachContent(std::span<const ObjectId> ids, std::uint64_t mostBytes, const Sink& take);
    /// As contents(), without the bytes.
    Result<std::vector<Object>> headers(std::span<const ObjectId> ids);
    /// The object a name stands for, header only. Errors: `notFound`; `invalidInput` for a name with
    /// a line break or NUL in it.
    Result<Object> lookUp(std::string_view name);

    /// Lets the processes go, so that the next call sees objects that came since.
    void restart() { letGo(); }

private:
    /// One process, and what was read from it and not yet consumed: `buffer` from `consumed` to `filled`.
    struct Lane
    {
        std::unique_ptr<PipedProcess> process;
        std::vector<char> buffer;
        std::size_t consumed = 0;
        std::size_t filled = 0;

        bool fill();
        Result<std::string> readLine();
        Result<std::string> readBytes(std::uint64_t size);
        Status skipBytes(std::uint64_t size);
    };

    /// What is kept of an answer.
    struct Keep
    {
        bool hasBytes = false;
        std::uint64_t mostBytes = 0;
    };
    Status
    ask(std::string_view command, std::span<const std::string> names, Keep keep, const Sink& take);
    Result<std::vector<Object>>
    askAll(std::string_view command, std::span<const std::string> names, Keep keep);
    Result<Object> readObject(Lane& lane, const std::string& name, Keep keep);
    Status ensureStarted(Lane& lane);
    void letGo();

    const GitProcess& m_git;
    std::array<Lane, 2> m_lanes;
};
}  // namespace rope
