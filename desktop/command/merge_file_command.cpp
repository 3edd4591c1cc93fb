// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/command/merge_file_command.h"

#include "core/base/whole_file.h"
#include "core/merge/candidates.h"
#include "core/merge/marked_text.h"
#include "core/text/encoding.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/join_warnings.h"
#include "desktop/command/json_bytes.h"
#include "desktop/command/terminal_text.h"

#include <algorithm>
#include <atomic>
#include <thread>
#include <utility>
#include <vector>

namespace rope {
namespace {
int fail(const Error& error)
{
    return printSentence(error.subject + " could not be read or written: " + error.detail + ".");
}

MarkerStyle styleOf(const MergeFileRequest& request)
{
    const bool hasLabels = request.labels.size() == 3;
    return {hasLabels ? request.labels[1] : request.ours,
            hasLabels ? request.labels[0] : request.base,
            hasLabels ? request.labels[2] : request.theirs,
            request.markerSize};
}

/// The joined text in its own encoding; the names in the markers may be beyond that, then it is left as
/// UTF-8.
std::string encodedMarked(const TextJoin& join, const MarkerStyle& style)
{
    std::string text = markedText(join, style).text;
    if (join.form()) {
        if (auto encoded = join.encoded(text)) {
            return std::move(*encoded);
        }
    }
    return text;
}

/// Prints what joinTexts() gave as JSON. Of large files this is several times as large as they are, so
/// nothing is held but what is being written.
class MergePrinter
{
public:
    explicit MergePrinter(const TextJoin& join)
        : m_join(join)
        , m_isValid(isUtf8(join.base().bytes()) && isUtf8(join.ours().bytes())
                    && isUtf8(join.theirs().bytes()))
        , m_habits(habitsOf(join))
    {
    }

    void print(const MarkerStyle& style)
    {
        JsonPieces out(stdout);
        out.raw(m_join.isClean() ? R"({"clean":true,"encoding":)"
                                 : R"({"clean":false,"encoding":)");
        out.string(m_join.form() ? m_join.form()->encoding : m_isValid ? "UTF-8" : "ISO-8859-1");
        out.raw(R"(,"text":")");
        m_lines =
            writeMarkedText(m_join, style, [&](std::string_view piece) { bytes(out, piece); });
        out.raw(R"(","regions":[)");
        printRegions(out);
        const std::string warnings = jsonText(warningsJson(m_join));
        out.raw(R"(],"warnings":)").raw(warnings.substr(0, warnings.size() - 1)).raw("}\n");
    }

private:
    /// Of the files: as text, where they are not in UTF-8 byte by byte.
    void bytes(JsonPieces& out, std::string_view piece) const
    {
        if (m_isValid) {
            out.inString(piece);
            return;
        }
        constexpr std::size_t kMostAtOnce = 1 << 16;
        for (; !piece.empty(); piece.remove_prefix(std::min(piece.size(), kMostAtOnce))) {
            out.inString(utf8FromLatin1(piece.substr(0, kMostAtOnce)));
        }
    }

    void region(JsonPieces& out, std::size_t index) const
    {
        const RegionTexts texts = m_join.regionTexts(index);
        out.raw(index == 0 ? R"({"line":)" : R"(,{"line":)")
            .raw(std::to_string(m_lines[index] + 1));
        out.raw(R"(,"base":")");
        bytes(out, texts.base);
        out.raw(R"(","ours":")");
        bytes(out, texts.ours);
        out.raw(R"(","theirs":")");
        bytes(out, texts.theirs);
        out.raw(R"(","candidates":[)");
        bool isFirst = true;
        for (const CandidateView& candidate : candidateViews(texts, m_habits)) {
            out.raw(std::exchange(isFirst, false) ? R"({"kind":)" : R"(,{"kind":)");
            out.string(nameOf(candidate.kind())).raw(R"(,"text":")");
            bytes(out, candidate.text());
            out.raw(R"("})");
        }
        out.raw("]}");
    }

    [[nodiscard]] bool isLarge(std::size_t index) const
    {
        constexpr std::size_t kLarge = 1'000'000;
        const RegionTexts texts = m_join.regionTexts(index);
        return texts.base.size() + texts.ours.size() + texts.theirs.size() > kLarge;
    }

    /// Two share the regions, some hundred at a time; the large ones are written one by one.
    void printRegions(JsonPieces& out) const
    {
        constexpr std::size_t kManyRegions = 32;
        constexpr std::size_t kAtOnce = 512;
        for (std::size_t begin = 0; begin < m_join.regionCount(); begin += kAtOnce) {
            std::vector<std::string> written(std::min(kAtOnce, m_join.regionCount() - begin));
            std::atomic<std::size_t> next{0};
            const auto work = [&] {
                for (std::size_t i = next++; i < written.size(); i = next++) {
                    if (!isLarge(begin + i)) {
                        JsonPieces pieces;
                        region(pieces, begin + i);
                        written[i] = pieces.take();
                    }
                }
            };
            {
                std::jthread second;  // waited for at the end of this block
                if (written.size() >= kManyRegions) {
                    second = std::jthread(work);
                }
                work();
            }
            for (std::size_t i = 0; i < written.size(); ++i) {
                if (written[i].empty()) {
                    region(out, begin + i);
                } else {
                    out.raw(written[i]);
                }
            }
        }
    }

    const TextJoin& m_join;
    bool m_isValid;
    FileHabits m_habits;
    std::vector<LineNumber> m_lines;  ///< Of each region's first marker.
};

/// Prints the joined text in the encoding of the file.
void printMarked(const TextJoin& join, const MarkerStyle& style)
{
    if (join.form()) {
        printBytes(encodedMarked(join, style));
        return;
    }
    std::string kept;
    constexpr std::size_t kMostKeptBytes = 1 << 16;
    (void)writeMarkedText(join, style, [&kept](std::string_view piece) {
        kept += piece;
        if (kept.size() >= kMostKeptBytes) {
            printBytes(kept);
            kept.clear();
        }
    });
    printBytes(kept);
}
}  // namespace

int runMergeFile(const MergeFileRequest& request)
{
    std::string texts[3];
    const std::string* const paths[] = {&request.base, &request.ours, &request.theirs};
    for (int i = 0; i < 3; ++i) {
        auto bytes = readWholeFile(*paths[i]);
        if (!bytes) {
            return fail(bytes.error());
        }
        if (isBeyondLines(*bytes)) {
            return printSentence(*paths[i] + " is not text: it cannot be merged by lines.");
        }
        texts[i] = std::move(*bytes);
    }
    const auto join = joinTexts(std::move(texts[0]), std::move(texts[1]), std::move(texts[2]));
    if (!join) {
        return fail(join.error());
    }
    const MarkerStyle style = styleOf(request);
    const int exitCode = join->isClean() ? kExitClean : kExitMustDecide;
    if (!request.output.empty()) {
        const auto written = writeWholeFile(request.output, encodedMarked(*join, style));
        if (!written) {
            return fail(written.error());
        }
    }
    if (request.asJson) {
        MergePrinter(*join).print(style);
    } else if (request.output.empty()) {
        printMarked(*join, style);
    }
    return exitOf(exitCode);
}
}  // namespace rope
