// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/assert.h"

#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace rope {
/// What kind of expected failure happened; it steers the program, the texts beside it are evidence.
enum class ErrorCode {
    cancelled,     ///< The caller's stop token was triggered.
    notFound,      ///< The named thing does not exist.
    invalidInput,  ///< What was given cannot be worked on as it is.
    unsupported,   ///< Understood, but beyond what this program does.
    corrupt,       ///< Stored data contradicts itself.
    stale,         ///< Something changed since it was read; nothing was overwritten.
    busy,          ///< Another program holds what is needed.
    refused,       ///< A hook or a remote said no.
    noIdentity,    ///< Nobody is named as the author of a commit.
    io,            ///< The operating system failed to read or write.
    systemFailed,  ///< The version-control system ended with an error that has no better name.
};

/// What exactly happened, where a code has several sentences. A program may steer by it; evidence
/// for people stands in the error's `detail` and is never compared.
enum class Reason {
    none,
    notARepository,    ///< notFound: the folder belongs to no repository.
    noSuchFolder,      ///< notFound.
    ownedByOther,      ///< systemFailed: the system does not open another user's repository.
    historyCutOff,     ///< unsupported: a shallow copy ends before the common commit.
    objectsMissing,    ///< unsupported: a partial copy lacks what is needed; the remote has it.
    emptyMessage,      ///< invalidInput.
    unencodable,       ///< invalidInput: a text has characters that its encoding lacks.
    pathTwice,         ///< invalidInput: two answers put files at one path.
    pathLost,          ///< invalidInput: a result without a file that nobody was asked about.
    nothingToRewrite,  ///< invalidInput: every commit that was to be written anew is there already.
    changesNothing,    ///< invalidInput: a commit on top that would hold what is there already.
    markersLeft,       ///< invalidInput: the result holds a conflict marker that no side has.
    uncommitted,       ///< stale: work that is not committed yet; subject: the paths.
    begunChanged,      ///< stale: somebody went on with a begun join since it was taken over.
    mergeAbove,  ///< unsupported: a merge commit stands upon what would be recorded anew; subject: it.
    inTheWay,           ///< stale: files that are not tracked stand where the result has some.
    lineMoved,          ///< stale: the line of work stands elsewhere than expected.
    switched,           ///< stale: another line of work was checked out meanwhile; subject: which.
    checkedOut,         ///< stale: the line of work is checked out somewhere; detail: where.
    changedSince,       ///< stale: a path holds neither what stood before nor the result.
    hookRefused,        ///< refused; subject: the hook.
    hookChangedResult,  ///< refused: a hook, or somebody meanwhile, changed what was to be recorded.
    signingFailed,      ///< refused.
    notUndone,          ///< Not everything could be brought back; the next start tries again.
    copyInUse,          ///< busy: another window runs a command in the scratch copy.
    commandNotFound,    ///< notFound: a program that is to be run; subject: its name.
    commandUnclear,     ///< invalidInput: a command whose quotes do not end, or with no word.
    needsShell,         ///< invalidInput: a command that only a shell would understand.
    sharedUnreadable,   ///< invalidInput: the file of shared settings; subject: which.
    recordingElsewhere,  ///< busy: another process of ours records here; subject: which.
    foreignWorkingTree,  ///< unsupported: the working tree that is named is another repository's.
    remoteFailed,        ///< systemFailed: the remote could not be asked.
    remoteUnreachable,   ///< systemFailed: nobody answers there.
    remoteAccess,        ///< systemFailed: it answers, but not to this person.
    remoteMissing,       ///< systemFailed: it answers, but there is no such repository or line.
    remoteUnsafe,        ///< systemFailed: an address or host that is not trusted.
    remoteMovedOn,       ///< refused: the line of work has commits there that would be lost.
    remoteRefused,       ///< refused: the remote, or a hook of it, said no.
    remoteTooLarge,      ///< refused: more than the remote takes.
    diskFull,            ///< io.
    targetExists,        ///< invalidInput: a folder that is to be made is there, and not empty.
    programMissing,      ///< notFound: a program that this one works with, as git; subject: its name.
    missingPart,         ///< notFound: a file that ships with this program; subject: which.
    invalidAddress,      ///< invalidInput: not an address that can be copied from.
    workClashes,        ///< stale: uncommitted work does not fit what comes in; subject: the files.
    workInTheWay,       ///< stale: there is uncommitted work where other such work is to come back.
    workNotBack,        ///< It is recorded; uncommitted work could not be put back yet.
    workChanged,        ///< stale: uncommitted work is not what it was when it was looked at.
    programFailed,      ///< systemFailed: a merge program that was set up; subject: its command.
    readerKilled,       ///< systemFailed: what reads the repository was killed; subject: at what.
    spliceOpen,         ///< busy: a splice is under way here already.
    journalUnreadable,  ///< corrupt.
    begunElsewhere,     ///< refused: a recording that this person's state does not know of.
    outOfMemory,        ///< io: more than fits into memory; subject: what was worked on.
    journalNewer,       ///< unsupported: written by a later version of this program.
};

/// An expected failure. `subject` is a path, ref or object id; `detail` is raw evidence such as
/// git's own message. Neither is meant to be read without the sentence that the desktop makes of it.
struct [[nodiscard]] Error
{
    ErrorCode code = ErrorCode::io;
    std::string subject;
    std::string detail;
    Reason reason = Reason::none;
    /// The files that it is about, where there may be several.
    std::vector<std::string> paths{};
};

/// Either a value or an Error. Never dropped silently; value() on an error is a bug and aborts.
template <typename T>
class [[nodiscard]] Result
{
public:
    Result(T value)
        : m_state(std::move(value))
    {
    }
    Result(Error error)
        : m_state(std::move(error))
    {
    }

    [[nodiscard]] bool hasValue() const { return m_state.index() == 0; }
    explicit operator bool() const { return hasValue(); }

    [[nodiscard]] const T& value() const&
    {
        ROPE_ASSERT(hasValue(), "value() of a failed result");
        return *std::get_if<0>(&m_state);
    }
    [[nodiscard]] T& value() &
    {
        ROPE_ASSERT(hasValue(), "value() of a failed result");
        return *std::get_if<0>(&m_state);
    }
    [[nodiscard]] T value() &&
    {
        ROPE_ASSERT(hasValue(), "value() of a failed result");
        return std::move(*std::get_if<0>(&m_state));
    }
    [[nodiscard]] const Error& error() const&
    {
        ROPE_ASSERT(!hasValue(), "error() of a result that succeeded");
        return *std::get_if<1>(&m_state);
    }
    [[nodiscard]] Error error() &&
    {
        ROPE_ASSERT(!hasValue(), "error() of a result that succeeded");
        return std::move(*std::get_if<1>(&m_state));
    }
    const T* operator->() const { return &value(); }
    T* operator->() { return &value(); }
    const T& operator*() const& { return value(); }
    T& operator*() & { return value(); }

private:
    std::variant<T, Error> m_state;
};

/// A result without a value.
using Status = Result<std::monostate>;

/// The status of something that worked.
[[nodiscard]] inline Status ok()
{
    return std::monostate{};
}
}  // namespace rope

#define ROPE_CONCAT_INNER(a, b) a##b
#define ROPE_CONCAT(a, b) ROPE_CONCAT_INNER(a, b)

/// TRY_ASSIGN(auto tree, readTree(id)); binds the value or returns the error to the caller.
#define TRY_ASSIGN(declaration, expression)                                                        \
    auto ROPE_CONCAT(ropeResult, __LINE__) = (expression);                                         \
    if (!ROPE_CONCAT(ropeResult, __LINE__)) {                                                      \
        return std::move(ROPE_CONCAT(ropeResult, __LINE__)).error();                               \
    }                                                                                              \
    declaration = std::move(ROPE_CONCAT(ropeResult, __LINE__)).value()

/// TRY(writeTree()); returns the error to the caller, drops the value.
#define TRY(expression)                                                                            \
    if (auto ropeStatus = (expression); !ropeStatus) {                                             \
        return std::move(ropeStatus).error();                                                      \
    }
