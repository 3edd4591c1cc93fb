// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/merge_file_command.h"

#include "core/merge/candidates.h"
#include "core/merge/marked_text.h"
#include "core/text/encoding.h"
#include "desktop/app/command_line.h"
#include "desktop/app/json_bytes.h"

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <memory>
#include <nlohmann/json.hpp>

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

/// Writes beside the file first, so that a failure leaves what was there.
Status writeFile(const std::string& path, const std::string& bytes)
{
    const std::string fresh = path + ".rope-splice-new";
    File file(std::fopen(fresh.c_str(), "wb"), &std::fclose);
    bool isWritten = file && std::fwrite(bytes.data(), 1, bytes.size(), file.get()) == bytes.size();
    isWritten = isWritten && std::fclose(file.release()) == 0;
    if (!isWritten || std::rename(fresh.c_str(), path.c_str()) != 0) {
        Error error{ErrorCode::io, path, std::strerror(errno)};
        std::remove(fresh.c_str());
        return error;
    }
    return ok();
}

int fail(const Error& error)
{
    std::fprintf(stderr,
                 "rope-splice: %s could not be read or written: %s\n",
                 error.subject.c_str(),
                 error.detail.c_str());
    return kExitError;
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
            std::fprintf(stderr,
                         "rope-splice: %s is not text: it cannot be joined by lines.\n",
                         paths[i]->c_str());
            return kExitError;
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
        std::fputs(jsonText(mergeJson(*join, marked)).c_str(), stdout);
    } else if (request.output.empty()) {
        std::fwrite(bytes.data(), 1, bytes.size(), stdout);
    }
    return exitCode;
}
}  // namespace rope
