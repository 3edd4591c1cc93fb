// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_text_join.cpp.
#include "core/merge/text_join.h"

#include "core/base/digest.h"
#include "core/diff/diff_tokens.h"

#include <optional>

namespace rope {
namespace {
/// The style all three versions are brought to before they are joined; nothing: leave them alone.
std::optional<LineEnd> joinedLineEnd(LineEnd base, LineEnd ours, LineEnd theirs)
{
    const auto isUniform = [](LineEnd style) {
        return style == LineEnd::lf || style == LineEnd::crlf;
    };
    if (!isUniform(base) || !isUniform(ours) || !isUniform(theirs)
        || (base == ours && ours == theirs)) {
        return std::nullopt;
    }
    return ours == base ? theirs : ours;
}
}  // namespace

TextJoin::TextJoin(std::shared_ptr<const Versions> versions,
                   std::vector<Chunk> chunks,
                   bool convertedLineEnds)
    : m_versions(std::move(versions))
    , m_chunks(std::move(chunks))
    , m_convertedLineEnds(convertedLineEnds)
{
    for (std::size_t i = 0; i < m_chunks.size(); ++i) {
        if (m_chunks[i].kind == ChunkKind::region) {
            m_regions.push_back(i);
        }
    }
}

RegionTexts TextJoin::regionTexts(std::size_t index) const
{
    const Chunk& chunk = region(index);
    return {base().lines(chunk.base), ours().lines(chunk.ours), theirs().lines(chunk.theirs)};
}

std::string TextJoin::regionKey(std::size_t index) const
{
    const RegionTexts texts = regionTexts(index);
    return digestOfParts({texts.base, texts.ours, texts.theirs});
}

std::string_view TextJoin::joinedText(const Chunk& chunk) const
{
    switch (chunk.kind) {
    case ChunkKind::unchanged:
    case ChunkKind::ours:
    case ChunkKind::alike:
        return ours().lines(chunk.ours);
    case ChunkKind::theirs:
        return theirs().lines(chunk.theirs);
    case ChunkKind::region:
        return {};
    }
    return {};
}

std::string TextJoin::cleanText() const
{
    ROPE_ASSERT(isClean(), "a text with open regions has no joined text");
    std::string text;
    text.reserve(ours().bytes().size() + theirs().bytes().size() / 8);
    for (const Chunk& chunk : m_chunks) {
        text += joinedText(chunk);
    }
    return text;
}

Result<TextJoin>
joinTexts(std::string base, std::string ours, std::string theirs, const std::stop_token& stop)
{
    const auto style = joinedLineEnd(lineEndOf(base), lineEndOf(ours), lineEndOf(theirs));
    if (style) {
        base = withLineEnd(base, *style);
        ours = withLineEnd(ours, *style);
        theirs = withLineEnd(theirs, *style);
    }
    auto versions = std::make_shared<const TextJoin::Versions>(
        TextJoin::Versions{Text(std::move(base)), Text(std::move(ours)), Text(std::move(theirs))});
    LineInterner interner(versions->base.lineCount() + 64);
    const std::vector<TokenId> baseIds = interner.internLines(versions->base);
    const std::vector<TokenId> oursIds = interner.internLines(versions->ours);
    const std::vector<TokenId> theirsIds = interner.internLines(versions->theirs);
    TRY_ASSIGN(const auto oursHunks,
               diffTokens(baseIds, oursIds, interner.idCount(), DiffMethod::histogram, stop));
    TRY_ASSIGN(const auto theirsHunks,
               diffTokens(baseIds, theirsIds, interner.idCount(), DiffMethod::histogram, stop));
    return TextJoin(versions,
                    joinHunks({baseIds, oursIds, theirsIds}, oursHunks, theirsHunks),
                    style.has_value());
}
}  // namespace rope
