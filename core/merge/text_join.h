// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/merge/three_way_chunks.h"
#include "core/text/line_end.h"
#include "core/text/text.h"
#include "core/text/text_form.h"

#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace rope {
/// The base, ours and theirs text of one region; views into the join that gave it.
struct RegionTexts
{
    std::string_view base;
    std::string_view ours;
    std::string_view theirs;
    /// Lines that both sides put in alike directly before the region, and directly behind it: each side's own
    /// piece begins or ends with them, and they stand in the joined text once.
    std::string_view sharedBefore{};
    std::string_view sharedBehind{};
};

/// Three versions of a text joined: what joined by itself and the regions left to a person.
/// A value, computed once and never changed; copies share the texts. Any thread may read it.
class TextJoin
{
public:
    struct Versions
    {
        Text base;
        Text ours;
        Text theirs;
    };

    TextJoin()
        : m_versions(std::make_shared<const Versions>())
    {
    }
    TextJoin(std::shared_ptr<const Versions> versions,
             std::vector<Chunk> chunks,
             bool convertedLineEnds,
             std::optional<TextForm> form = {},
             bool convertedForm = false);

    [[nodiscard]] const Text& base() const { return m_versions->base; }
    [[nodiscard]] const Text& ours() const { return m_versions->ours; }
    [[nodiscard]] const Text& theirs() const { return m_versions->theirs; }
    [[nodiscard]] const std::vector<Chunk>& chunks() const { return m_chunks; }

    [[nodiscard]] bool isClean() const { return m_regions.empty(); }
    [[nodiscard]] std::size_t regionCount() const { return m_regions.size(); }
    /// The chunk of a region. REQUIRES: index < regionCount()
    [[nodiscard]] const Chunk& region(std::size_t index) const
    {
        return m_chunks[m_regions[index]];
    }
    /// Where in chunks() a region is. REQUIRES: index < regionCount()
    [[nodiscard]] std::size_t chunkOfRegion(std::size_t index) const { return m_regions[index]; }
    [[nodiscard]] RegionTexts regionTexts(std::size_t index) const;
    /// As regionTexts(), of any chunk.
    [[nodiscard]] RegionTexts chunkTexts(std::size_t chunk) const;
    /// What a region is known by wherever it is met again: a digest of its three texts.
    [[nodiscard]] std::string regionKey(std::size_t index) const;
    /// As regionKey(), blanks aside.
    [[nodiscard]] std::string looseRegionKey(std::size_t index) const;

    /// The text a chunk gives without a person: empty for a region.
    [[nodiscard]] std::string_view joinedText(const Chunk& chunk) const;
    /// The joined text. REQUIRES: isClean()
    [[nodiscard]] std::string cleanText() const;

    /// Whether the sides' line ends were joined as a property of the file: one side had converted
    /// the whole file. The versions kept here then all have the joined style.
    [[nodiscard]] bool hasConvertedLineEnds() const { return m_convertedLineEnds; }

    /// How the joined text is written down. Where it is set, the versions kept here are UTF-8 without
    /// a mark; where not, they are the bytes as they were.
    [[nodiscard]] const std::optional<TextForm>& form() const { return m_form; }
    /// Whether encoding or byte-order mark were joined as properties: one side had changed them.
    [[nodiscard]] bool hasConvertedForm() const { return m_convertedForm; }
    /// A text in the joined form, for the file; nothing where its encoding lacks a character of it.
    [[nodiscard]] std::optional<std::string> encoded(std::string text) const;

private:
    std::shared_ptr<const Versions> m_versions;
    std::vector<Chunk> m_chunks;
    std::vector<std::size_t> m_regions;  ///< Indices into m_chunks, rising.
    bool m_convertedLineEnds = false;
    std::optional<TextForm> m_form;
    bool m_convertedForm = false;
};

/// What to make of bytes that are not Unicode.
enum class LegacyText {
    asBytes,  ///< Joined as they are.
    decoded,  ///< Read in the encoding they are guessed to have, where that loses nothing.
};

/// Joins three versions of a text by lines. Bytes are compared as they are, line ends included,
/// except that a whole-file change of line-end style on one side is joined on its own, and so are
/// encoding and byte-order mark where the texts are Unicode.
/// Promises: join(b, b, x) is x; join(b, x, x) is x; swapped sides give the swapped outcome.
/// Errors: `cancelled`. Threads: any.
/// REQUIRES: each text is at most Text::kMaxBytes.
[[nodiscard]] Result<TextJoin> joinTexts(std::string base,
                                         std::string ours,
                                         std::string theirs,
                                         const std::stop_token& stop = {},
                                         LegacyText legacy = LegacyText::asBytes);

/// A file's bytes in the form in which a join keeps its texts; nothing where they cannot be read so.
[[nodiscard]] std::optional<std::string> decodedFor(const TextJoin& join, std::string_view bytes);

/// Whether a content is nothing that could be joined by lines: isBinary(), and not Unicode with a mark.
[[nodiscard]] bool isBeyondLines(std::string_view bytes);
}  // namespace rope
