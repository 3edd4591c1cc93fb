// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/object_id.h"
#include "core/base/progress.h"
#include "core/base/result.h"

#include <cstdint>
#include <functional>
#include <map>
#include <stop_token>
#include <string>
#include <vector>

namespace rope {
/// What is done about bytes that a partial copy lacks.
struct MissingBytes
{
    bool isFetched = false;  ///< Asked of the remote that has promised them, many at a time.
    ProgressSink progress;
    std::stop_token stop;  ///< Ends such a fetch; what needed it fails with `cancelled`.
};

/// How a person is asked for a password, a passphrase, or whether an unknown host is the right one:
/// a program that is started with the question as its argument and prints the answer, and what it
/// finds the person by. Without a program nobody is asked, and what needs an answer fails.
struct Asking
{
    std::string program;
    std::string address;  ///< Given to the program in the variable ROPE_SPLICE_ASK.
};

/// A line of work as a remote has it.
struct RemoteLine
{
    std::string name;  ///< "main".
    ObjectId tip;
};

/// What a remote has, as it said when it was asked.
struct RemoteLines
{
    std::vector<RemoteLine> lines;
    std::string first;  ///< The line that it starts new copies with; empty if it names none.
    [[nodiscard]] ObjectId tipOf(const std::string& name) const;  ///< Null if there is none.
};

/// Where a line of work is sent.
struct SendTarget
{
    std::string remote;     ///< Empty: there is no remote.
    std::string name;       ///< Of the line there: "main".
    std::string sharedRef;  ///< The full name of what is known of it here; empty if nothing is.
    ObjectId known;         ///< Its tip, as of when the remote was last asked; null if unknown.
    /// The line here stood at `known` once, as far as its own log tells: where it does not contain it
    /// now, it was rewritten.
    bool wasHere = false;
};

/// What is sent where.
struct Sending
{
    std::string remote;
    std::string name;  ///< Of the line there.
    ObjectId commit;
    /// Set: commits that the line has there may go, if it still stands at this one.
    ObjectId replaced;
    std::string
        follows;  ///< Full name of an own line that is to follow it from now on; empty: none.
};

/// A copy of a repository that is to be made.
struct CopyRequest
{
    std::string address;
    std::string branch;  ///< The one to begin with, as it is called there; empty: the remote's own.
    std::string folder;  ///< Where it is to stand.
};

/// Part of the port: other people's copies. A remote's words arrive as bytes that nobody has checked.
/// Errors where a remote is asked: `systemFailed` with the remote as subject and all that was said as
/// detail: Reason::remoteUnreachable, ::remoteAccess, ::remoteMissing, ::remoteUnsafe, ::diskFull, or
/// ::remoteFailed where git's words are not known; `cancelled`.
class Remotes
{
public:
    virtual ~Remotes() = default;

    virtual Result<std::vector<std::string>> remotes() = 0;
    /// When each remote last answered, as far as the system's own traces tell, in seconds since 1970.
    virtual Result<std::map<std::string, std::int64_t>> lastAsked() = 0;
    virtual void setAsking(Asking how) = 0;
    /// Asks every remote what it has. `answered` is told the name of each as soon as it has answered.
    /// One that fails does not keep the others from being asked; the first failure is returned.
    virtual Status fetch(const std::function<void(const std::string&)>& answered,
                         const ProgressSink& progress,
                         const std::stop_token& stop) = 0;
    /// Asks one remote for its lines of work; nothing is brought here.
    virtual Result<RemoteLines> ask(const std::string& remote, const std::stop_token& stop) = 0;

    /// Where a line of work (full name) goes when it is sent, as it is set up; else under its own name
    /// to the remote that it follows, or to the first one.
    virtual Result<SendTarget> sendTarget(const std::string& line) = 0;
    /// Sends a commit and what it needs. What is known of the remote here moves with it. Returns what
    /// the remote and hooks have said.
    /// Errors, besides those above: `refused` with Reason::remoteMovedOn when the line there has
    /// commits that would go, ::remoteRefused when the remote says no, ::hookRefused when the place's
    /// own hook does; ::remoteTooLarge. Nothing was sent then.
    virtual Result<std::string>
    send(const Sending& sending, const ProgressSink& progress, const std::stop_token& stop) = 0;
    /// Takes a line away from a remote, if it stands at `expected` there. Errors: as send().
    virtual Status removeLine(const std::string& remote,
                              const std::string& name,
                              const ObjectId& expected,
                              const std::stop_token& stop) = 0;

    /// What happens when bytes are needed that a partial copy lacks. Not fetched at first: looking
    /// must not reach out by itself.
    virtual void setMissingBytes(MissingBytes how) = 0;
};
}  // namespace rope
