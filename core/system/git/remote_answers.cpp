// SPDX-License-Identifier: GPL-3.0-or-later
// git's words are those of version 2.39 in the C locale; ssh's, curl's and the kernel's come through it
// as they are. What is not known stays Reason::remoteFailed, with all that was said.
// Tested by tst_remote_answers.cpp.
#include "core/system/git/remote_answers.h"

#include "core/system/git/git_errors.h"
#include "core/system/git/git_progress.h"
#include "core/text/text.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
struct Meaning
{
    std::string_view words;
    Reason reason;
};

/// In the order in which they count: what names a cause comes before what follows from it.
constexpr std::array kMeanings{
    Meaning{"No space left on device", Reason::diskFull},
    Meaning{"Disk quota exceeded", Reason::diskFull},
    Meaning{"Host key verification failed", Reason::remoteUnsafe},
    Meaning{"SSL certificate problem", Reason::remoteUnsafe},
    Meaning{"certificate verification failed", Reason::remoteUnsafe},
    Meaning{"' not allowed", Reason::remoteUnsafe},  // transport 'ext' not allowed
    Meaning{"dubious ownership", Reason::remoteUnsafe},
    Meaning{"strange hostname", Reason::remoteUnsafe},
    Meaning{"strange pathname", Reason::remoteUnsafe},
    Meaning{"Authentication failed", Reason::remoteAccess},
    Meaning{"could not read Username", Reason::remoteAccess},
    Meaning{"could not read Password", Reason::remoteAccess},
    Meaning{"Permission denied", Reason::remoteAccess},
    Meaning{"insufficient permission", Reason::remoteAccess},
    Meaning{"unable to create temporary", Reason::remoteAccess},
    Meaning{"error: 401", Reason::remoteAccess},
    Meaning{"error: 403", Reason::remoteAccess},
    Meaning{"access denied", Reason::remoteMissing},  // git daemon: or not exported
    Meaning{"does not appear to be a git repository", Reason::remoteMissing},
    Meaning{"couldn't find remote ref", Reason::remoteMissing},
    Meaning{"error: 404", Reason::remoteMissing},
    Meaning{"not found", Reason::remoteMissing},
    Meaning{"does not exist", Reason::remoteMissing},
    Meaning{"Could not resolve", Reason::remoteUnreachable},
    Meaning{"unable to look up", Reason::remoteUnreachable},
    Meaning{"Connection refused", Reason::remoteUnreachable},
    Meaning{"Connection reset", Reason::remoteUnreachable},
    Meaning{"Connection closed", Reason::remoteUnreachable},
    Meaning{"timed out", Reason::remoteUnreachable},
    Meaning{"unreachable", Reason::remoteUnreachable},
    Meaning{"No route to host", Reason::remoteUnreachable},
    Meaning{"unable to connect", Reason::remoteUnreachable},
    Meaning{"Failed to connect", Reason::remoteUnreachable},
    Meaning{"Couldn't connect", Reason::remoteUnreachable},
    Meaning{"hung up unexpectedly", Reason::remoteUnreachable},
    Meaning{"early EOF", Reason::remoteUnreachable},
};

/// The remote's own lines do not count: a banner may say anything.
std::string withoutRemoteWords(std::string_view said)
{
    std::string own;
    for (const std::string_view line : splitLines(said)) {
        if (!line.starts_with("remote:")) {
            own += line;
        }
    }
    return own;
}

/// The words in brackets and parentheses of the line that porcelain output begins with "!".
std::string_view rejectionIn(std::string_view out)
{
    for (const std::string_view line : splitLines(out)) {
        if (line.starts_with("!\t")) {
            const std::size_t tab = line.rfind('\t');
            return line.substr(tab + 1);
        }
    }
    return {};
}
}  // namespace

Environment environmentOf(const Asking& asking)
{
    if (asking.program.empty()) {
        return {};
    }
    return {{"GIT_ASKPASS", asking.program},
            {"SSH_ASKPASS", asking.program},
            {"SSH_ASKPASS_REQUIRE", "force"},
            {"ROPE_SPLICE_ASK", asking.address}};
}

std::string fullNameThere(const std::string& name)
{
    return name.starts_with("refs/") ? name : "refs/heads/" + name;
}

RemoteLines parseRemoteLines(std::string_view out)
{
    constexpr std::string_view kBranches = "refs/heads/";
    constexpr std::string_view kPointer = "ref: ";
    RemoteLines lines;
    for (const std::string_view whole : splitLines(out)) {
        const std::string line = withoutNewline(std::string(whole));
        const std::size_t tab = line.find('\t');
        if (tab == std::string::npos) {
            continue;
        }
        const std::string name = line.substr(tab + 1);
        const std::string value = line.substr(0, tab);
        if (value.starts_with(kPointer) && name == "HEAD") {
            const std::string target = value.substr(kPointer.size());
            lines.first = target.starts_with(kBranches) ? target.substr(kBranches.size()) : "";
        } else if (name.starts_with(kBranches)) {
            if (const auto tip = ObjectId::fromHex(value)) {
                lines.lines.push_back({name.substr(kBranches.size()), *tip});
            }
        }
    }
    return lines;
}

Result<RemoteLines>
askAddress(const GitProcess& git, const std::string& remote, const GitRunOptions& options)
{
    TRY_ASSIGN(const GitOutput asked,
               git.run({"ls-remote", "--symref", "--", remote, "HEAD", "refs/heads/*"}, options));
    if (asked.exitCode != 0) {
        return remoteError(remote, asked.err);
    }
    return parseRemoteLines(asked.out);
}

Error remoteError(const std::string& remote, std::string_view said)
{
    const std::string own = withoutRemoteWords(said);
    Error error{ErrorCode::systemFailed, remote, withoutProgress(said), Reason::remoteFailed};
    const auto found = std::find_if(kMeanings.begin(), kMeanings.end(), [&own](const Meaning& m) {
        return mentions(own, m.words);
    });
    if (found != kMeanings.end()) {
        error.reason = found->reason;
        error.code = found->reason == Reason::diskFull ? ErrorCode::io : error.code;
    }
    return error;
}

Error pushError(const std::string& remote, std::string_view out, std::string_view said)
{
    const std::string_view rejection = rejectionIn(out);
    const auto says = [rejection](std::string_view words) {
        return mentions(rejection, words);
    };
    Error error = remoteError(remote, said);
    if (mentions(said, "HTTP 413") || mentions(said, "error: 413")
        || mentions(said, "exceeds maximum allowed size")) {
        error.reason = Reason::remoteTooLarge;
    } else if (says("fetch first") || says("non-fast-forward") || says("stale info")
               || says("but expected") || says("reference already exists")) {
        error.reason = Reason::remoteMovedOn;
    } else if (!rejection.empty()) {
        error.reason = Reason::remoteRefused;
        error.detail = std::string(rejection) + error.detail;
    } else if (error.reason == Reason::remoteFailed && mentions(said, "failed to push some refs")
               && !mentions(said, "fatal:")) {
        // Nothing was offered to the remote: the place's own hook ended it.
        error.subject = "pre-push";
        error.reason = Reason::hookRefused;
    }
    const bool isRefusal =
        error.reason == Reason::remoteTooLarge || error.reason == Reason::remoteMovedOn
        || error.reason == Reason::remoteRefused || error.reason == Reason::hookRefused;
    error.code = isRefusal ? ErrorCode::refused : error.code;
    return error;
}
}  // namespace rope
