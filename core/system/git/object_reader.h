// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_process.h"
#include "core/system/snapshots.h"

#include <array>
#include <deque>
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

    /// Starts the first process, so that it is there when something is asked. Errors: `io`.
    Status startAhead() { return ensureStarted(m_lanes.front()); }

    /// The objects in the order asked. Errors: `notFound` with the id, `corrupt` when git breaks off
    /// in the middle, as it does for an object it cannot read.
    /// Objects of more than `mostBytes` are passed over without being kept.
    Result<std::vector<Object>> contents(std::span<const ObjectId> ids,
                                         std::uint64_t mostBytes = kAnySize);
    /// Told each object in the order asked, while git reads those behind it. What it adds to `more` is
    /// read behind all others. An error ends the reading.
    using Sink = std::function<Status(Object&& object, std::vector<ObjectId>& more)>;
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
    /// What is asked of an object.
    struct Question
    {
        std::string_view command;
        bool hasBytes = false;  ///< Whether the answer holds its bytes.
        std::uint64_t mostBytes = 0;
    };

    /// One process, what was asked of it, and what it answered so far.
    struct Lane
    {
        std::unique_ptr<PipedProcess> process;
        std::deque<std::size_t>
            asked;                 ///< What it has not answered in full, as places in the list.
        std::vector<char> buffer;  ///< Read and not consumed: from `consumed` to `filled`.
        std::size_t consumed = 0;
        std::size_t filled = 0;
        std::optional<Object> begun;  ///< Its bytes are still coming.
        std::uint64_t toCome = 0;     ///< Of `begun`, with the line end behind it.

        Status fill();
        /// The next object that has come in full, if any.
        Result<std::optional<Object>> nextWhole(const Question& question, const std::string& name);

    private:
        std::optional<std::string_view> takeLine();
        void takeBytes(bool isKept);
    };

    class Reading;

    Result<std::vector<Object>> askAll(const Question& question, std::vector<std::string> names);
    Status ask(const Question& question, std::vector<std::string> names, const Sink& take);
    Status ensureStarted(Lane& lane);
    void letGo();

    const GitProcess& m_git;
    std::array<Lane, 2> m_lanes;
};
}  // namespace rope
