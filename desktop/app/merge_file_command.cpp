// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/merge_file_command.h"

#include "core/merge/candidates.h"
#include "core/merge/marked_text.h"
#include "core/text/encoding.h"
#include "desktop/app/command_line.h"
#include "desktop/app/json_bytes.h"
#include "desktop/app/terminal_text.h"

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <memory>
#include <nlohmann/json.hpp>
#include <sys/stat.h>
#include <unistd.h>

namespace rope {
namespace {
using Json = nlohmann::ordered_json;
using File = std::unique_ptr<std::FILE, int (*)(std::FILE*)>;

Result<std::string> readFile(const std::string& path)
{
    const File file(std::fopen(path.c_str(), "rb"), &std::fclose);
    if (!file) {
        return Error{ErrorCode::io, path, std::strerror(errno)};
    }
    std::string bytes;
    constexpr std::size_t kPiece = 1 << 20;
    for (std::size_t got = 1; got > 0;) {
        const std::size_t before = bytes.size();
        bytes.resize(before + kPiece);
        got = std::fread(bytes.data() + before, 1, kPiece, file.get());
        bytes.resize(before + got);
    }
    if (std::ferror(file.get()) != 0) {
        return Error{ErrorCode::io, path, std::strerror(errno)};
    }
    return bytes;
}

Error writingError(const std::string& path)
{
    return {ErrorCode::io, path, std::strerror(errno)};
}

/// Writes into what is no ordinary file (a pipe, a device), as it is.
Status writeThrough(const std::string& path, const std::string& bytes)
{
    File file(std::fopen(path.c_str(), "wb"), &std::fclose);
    const bool isWritten =
        file && std::fwrite(bytes.data(), 1, bytes.size(), file.get()) == bytes.size();
    return isWritten && std::fclose(file.release()) == 0 ? ok() : writingError(path);
}

/// Writes beside the file first, so that a failure leaves what was there. A link stays one: the file
/// that it leads to is replaced. A file that was there keeps its mode and, where we may, its owner.
Status writeFile(const std::string& given, const std::string& bytes)
{
    std::string path = given;
    struct stat present
    {
    };
    if (::stat(given.c_str(), &present) == 0) {
        if (!S_ISREG(present.st_mode)) {
            return writeThrough(given, bytes);
        }
        std::error_code error;
        path = std::filesystem::canonical(given, error).string();
        if (error) {
            return Error{ErrorCode::io, given, error.message()};
        }
    } else if (::lstat(given.c_str(), &present) == 0) {
        return writeThrough(given, bytes);  // a link to a file that is not there yet
    } else {
        present = {};
    }
    std::string fresh = path + ".rope-splice-XXXXXX";
    const int descriptor = ::mkstemp(fresh.data());
    if (descriptor < 0) {
        return writingError(path);
    }
    File file(::fdopen(descriptor, "wb"), &std::fclose);
    const mode_t mask = ::umask(0);
    ::umask(mask);
    const bool isReplaced = present.st_mode != 0;
    if (isReplaced && ::fchown(descriptor, present.st_uid, present.st_gid) != 0) {
        errno = 0;  // only root may give a file away; its content counts
    }
    const mode_t mode = isReplaced ? present.st_mode & 07777U : 0666U & ~mask;
    bool isWritten = ::fchmod(descriptor, mode) == 0
                     && std::fwrite(bytes.data(), 1, bytes.size(), file.get()) == bytes.size();
    isWritten = std::fflush(file.get()) == 0 && isWritten;
    isWritten = std::fclose(file.release()) == 0 && isWritten;
    if (!isWritten || std::rename(fresh.c_str(), path.c_str()) != 0) {
        const Error error = writingError(path);
        std::remove(fresh.c_str());
        return error;
    }
    return ok();
}

int fail(const Error& error)
{
    return printSentence(error.subject + " could not be read or written: " + error.detail + ".");
}

Json mergeJson(const TextJoin& join, const MarkedText& marked)
{
    const bool isValid =
        isUtf8(join.base().bytes()) && isUtf8(join.ours().bytes()) && isUtf8(join.theirs().bytes());
    const auto inJson = [isValid](std::string_view bytes) {
        return isValid ? std::string(bytes) : utf8FromLatin1(bytes);
    };
    const Rewrites rewrites = theirsRewrites(join);
    Json regions = Json::array();
    for (std::size_t i = 0; i < join.regionCount(); ++i) {
        const RegionTexts texts = join.regionTexts(i);
        Json candidates = Json::array();
        for (const Candidate& candidate : candidatesFor(texts, rewrites)) {
            candidates.push_back(
                {{"kind", nameOf(candidate.kind)}, {"text", inJson(candidate.text)}});
        }
        regions.push_back({{"line", marked.regionLines[i] + 1},
                           {"base", inJson(texts.base)},
                           {"ours", inJson(texts.ours)},
                           {"theirs", inJson(texts.theirs)},
                           {"candidates", std::move(candidates)}});
    }
    return {{"clean", join.isClean()},
            {"encoding",
             join.form() ? join.form()->encoding
             : isValid   ? "UTF-8"
                         : "ISO-8859-1"},
            {"text", inJson(marked.text)},
            {"regions", std::move(regions)}};
}
}  // namespace

int runMergeFile(const MergeFileRequest& request)
{
    std::string texts[3];
    const std::string* const paths[] = {&request.base, &request.ours, &request.theirs};
    for (int i = 0; i < 3; ++i) {
        auto bytes = readFile(*paths[i]);
        if (!bytes) {
            return fail(bytes.error());
        }
        if (isBeyondLines(*bytes)) {
            return printSentence(*paths[i] + " is not text: it cannot be joined by lines.");
        }
        texts[i] = std::move(*bytes);
    }
    const auto join = joinTexts(std::move(texts[0]), std::move(texts[1]), std::move(texts[2]));
    if (!join) {
        return fail(join.error());
    }
    const MarkedText marked = markedText(*join, {request.ours, request.base, request.theirs});
    const int exitCode = join->isClean() ? kExitClean : kExitMustDecide;
    // In its own encoding; the names in the markers may be beyond that, then it is left as UTF-8.
    const std::string bytes = join->encoded(marked.text).value_or(marked.text);
    if (!request.output.empty()) {
        if (const auto written = writeFile(request.output, bytes); !written) {
            return fail(written.error());
        }
    }
    if (request.asJson) {
        printBytes(jsonText(mergeJson(*join, marked)));
    } else if (request.output.empty()) {
        printBytes(bytes);
    }
    return exitOf(exitCode);
}
}  // namespace rope
