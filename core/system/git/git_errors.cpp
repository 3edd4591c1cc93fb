// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_place.cpp.
#include "core/system/git/git_errors.h"

namespace rope {
std::string listOf(const std::vector<RepoPath>& paths)
{
    std::string names;
    for (const RepoPath& path : paths) {
        names += (names.empty() ? "" : ", ") + path;
    }
    return names;
}

std::string withoutNewline(std::string text)
{
    while (text.ends_with('\n')) {
        text.pop_back();
    }
    return text;
}

Error writingError(std::string subject, std::string detail)
{
    const auto says = [&detail](std::string_view part) {
        return mentions(detail, part);
    };
    Error error{ErrorCode::systemFailed, std::move(subject), {}, Reason::none};
    if ((says(".lock") || says("could not lock")) && says("File exists")) {
        error.code = ErrorCode::busy;
    } else if (says("No space left") || says("Permission denied") || says("Read-only file system")
               || says("File too large") || says("unable to write")) {
        error.code = ErrorCode::io;
        error.reason = says("No space left") ? Reason::diskFull : Reason::none;
    } else if (says("would be overwritten") || says("not uptodate")) {
        error.code = ErrorCode::stale;
    } else if (says("but expected")) {
        error.code = ErrorCode::stale;
        error.reason = Reason::lineMoved;
    } else if (says("tell me who you are") || says("empty ident name") || says("auto-detect")) {
        error.code = ErrorCode::noIdentity;
    } else if (says("gpg failed") || says("failed to sign") || says("cannot run gpg")) {
        error.code = ErrorCode::refused;
        error.reason = Reason::signingFailed;
    }
    error.detail = std::move(detail);
    return error;
}
}  // namespace rope
