// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_text_join.cpp.
#include "core/merge/text_join.h"

#include "core/base/digest.h"
#include "core/diff/diff_tokens.h"
#include "core/text/encoding.h"

#include <algorithm>
#include <array>
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
/// A property that three versions have, joined three-way; nothing where both changed it differently.
template <typename T>
std::optional<T> joinedProperty(const T& base, const T& ours, const T& theirs)
{
    if (ours != base && theirs != base && ours != theirs) {
        return std::nullopt;
    }
    return ours == base ? theirs : ours;
}

/// Three contents brought to UTF-8 without a mark.
struct Decoded
{
    std::string base;
    std::string ours;
    std::string theirs;
    TextForm form;
    bool isConverted = false;  ///< The three had different forms.
};

/// The forms of three versions; nothing where one of them is unknown.
std::optional<std::array<TextForm, 3>> formsOf(const std::array<std::string_view, 3>& versions,
                                               LegacyText legacy)
{
    std::array<TextForm, 3> forms;
    std::string_view legacyBytes;
    for (std::size_t i = 0; i < 3; ++i) {
        if (const auto form = formOf(versions[i])) {
            forms[i] = *form;
        } else if (legacyBytes.size() < versions[i].size()) {
            legacyBytes = versions[i];
        }
    }
    if (legacyBytes.empty()) {
        return forms;
    }
    if (legacy == LegacyText::asBytes) {
        return std::nullopt;
    }
    // One guess for all, so that they agree; plain ASCII is written alike in all these encodings.
    const TextForm guess = guessedForm(legacyBytes);
    for (std::size_t i = 0; i < 3; ++i) {
        if (!formOf(versions[i]) || isAscii(versions[i])) {
            forms[i] = guess;
        }
    }
    return forms;
}

/// Nothing where the bytes are best joined as they are: plain UTF-8, or nothing that can be decoded.
std::optional<Decoded> decodedVersions(std::string_view base,
                                       std::string_view ours,
                                       std::string_view theirs,
                                       LegacyText legacy)
{
    // What is empty has no form of its own: it takes that of the others.
    const std::string_view some = !base.empty() ? base : !ours.empty() ? ours : theirs;
    const auto orSome = [some](std::string_view version) {
        return version.empty() ? some : version;
    };
    const auto forms = formsOf({some, orSome(ours), orSome(theirs)}, legacy);
    if (forms && base.empty() && (*forms)[1] != (*forms)[2]) {
        return std::nullopt;  // added in two forms: there is none to prefer
    }
    const TextForm plain;
    if (!forms || std::all_of(forms->begin(), forms->end(), [&](const TextForm& form) {
            return form == plain;
        })) {
        return std::nullopt;
    }
    const auto& [baseForm, oursForm, theirsForm] = *forms;
    const auto decode = [](std::string_view version, const TextForm& form) {
        return version.empty() ? std::optional(std::string()) : decodedText(version, form);
    };
    auto baseText = decode(base, baseForm);
    auto oursText = decode(ours, oursForm);
    auto theirsText = decode(theirs, theirsForm);
    const auto encoding = joinedProperty(baseForm.encoding, oursForm.encoding, theirsForm.encoding);
    const auto hasMark = joinedProperty(baseForm.hasMark, oursForm.hasMark, theirsForm.hasMark);
    if (!baseText || !oursText || !theirsText || !encoding || !hasMark) {
        return std::nullopt;
    }
    return Decoded{std::move(*baseText),
                   std::move(*oursText),
                   std::move(*theirsText),
                   {*encoding, *hasMark},
                   !(baseForm == oursForm && oursForm == theirsForm)};
}

struct TokensOfVersions
{
    std::vector<TokenId> base;
    std::vector<TokenId> ours;
    std::vector<TokenId> theirs;
    TokenId count = 0;
};

/// What was needed to number the lines is let go at once: of large texts it is large.
TokensOfVersions tokensOf(const TextJoin::Versions& versions)
{
    // Room for what the sides bring, so that nothing has to grow as a rule.
    LineInterner interner(versions.base.lineCount() + versions.base.lineCount() / 4 + 64);
    TokensOfVersions tokens;
    tokens.base = interner.internLines(versions.base);
    tokens.ours = interner.internLines(versions.ours);
    tokens.theirs = interner.internLines(versions.theirs);
    tokens.count = interner.idCount();
    return tokens;
}
}  // namespace

TextJoin::TextJoin(std::shared_ptr<const Versions> versions,
                   std::vector<Chunk> chunks,
                   bool convertedLineEnds,
                   std::optional<TextForm> form,
                   bool convertedForm)
    : m_versions(std::move(versions))
    , m_chunks(std::move(chunks))
    , m_convertedLineEnds(convertedLineEnds)
    , m_form(std::move(form))
    , m_convertedForm(convertedForm)
{
    for (std::size_t i = 0; i < m_chunks.size(); ++i) {
        if (m_chunks[i].kind == ChunkKind::region) {
            m_regions.push_back(i);
        }
    }
}

RegionTexts TextJoin::regionTexts(std::size_t index) const
{
    return chunkTexts(m_regions[index]);
}

RegionTexts TextJoin::chunkTexts(std::size_t chunk) const
{
    const Chunk& own = m_chunks[chunk];
    const auto putInAlike = [this](std::size_t index) {
        const bool isPutIn = index < m_chunks.size() && m_chunks[index].kind == ChunkKind::alike
                             && m_chunks[index].base.isEmpty();
        const auto text = isPutIn ? ours().lines(m_chunks[index].ours) : std::string_view();
        // In a file that both added it is the file's frame, a heading or its last entry: meant to stand once.
        const bool isFrame =
            base().bytes().empty() && text.find_first_not_of(" \t\r\n") != std::string_view::npos;
        return isFrame ? std::string_view() : text;
    };
    return {base().lines(own.base),
            ours().lines(own.ours),
            theirs().lines(own.theirs),
            chunk == 0 ? std::string_view() : putInAlike(chunk - 1),
            putInAlike(chunk + 1)};
}

std::string TextJoin::regionKey(std::size_t index) const
{
    const RegionTexts texts = regionTexts(index);
    return digestOfParts({texts.base, texts.ours, texts.theirs});
}

std::string TextJoin::looseRegionKey(std::size_t index) const
{
    const auto withoutBlanks = [](std::string_view text) {
        std::string rest;
        std::copy_if(text.begin(), text.end(), std::back_inserter(rest), [](char c) {
            return c != ' ' && c != '\t' && c != '\r';
        });
        return rest;
    };
    const RegionTexts texts = regionTexts(index);
    return digestOfParts(
        {withoutBlanks(texts.base), withoutBlanks(texts.ours), withoutBlanks(texts.theirs)});
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

std::optional<std::string> TextJoin::encoded(std::string text) const
{
    return m_form ? encodedText(text, *m_form) : std::optional(std::move(text));
}

bool isBeyondLines(std::string_view bytes)
{
    if (!isBinary(bytes)) {
        return false;
    }
    const auto form = formOf(bytes);
    return !form || form->encoding == "UTF-8";
}

Result<TextJoin> joinTexts(std::string base,
                           std::string ours,
                           std::string theirs,
                           const std::stop_token& stop,
                           LegacyText legacy)
{
    // Where one version is another the bytes decide, whatever they mean.
    const bool isTrivial = ours == theirs || ours == base || theirs == base;
    auto decoded = isTrivial ? std::nullopt : decodedVersions(base, ours, theirs, legacy);
    if (decoded) {
        base = std::move(decoded->base);
        ours = std::move(decoded->ours);
        theirs = std::move(decoded->theirs);
    }
    const auto style = joinedLineEnd(lineEndOf(base), lineEndOf(ours), lineEndOf(theirs));
    if (style) {
        base = withLineEnd(base, *style);
        ours = withLineEnd(ours, *style);
        theirs = withLineEnd(theirs, *style);
    }
    auto versions = std::make_shared<const TextJoin::Versions>(
        TextJoin::Versions{Text(std::move(base)), Text(std::move(ours)), Text(std::move(theirs))});
    const TokensOfVersions ids = tokensOf(*versions);
    TRY_ASSIGN(const auto oursHunks,
               diffTokens(ids.base, ids.ours, ids.count, DiffMethod::histogram, stop));
    TRY_ASSIGN(const auto theirsHunks,
               diffTokens(ids.base, ids.theirs, ids.count, DiffMethod::histogram, stop));
    return TextJoin(versions,
                    joinHunks({ids.base, ids.ours, ids.theirs}, oursHunks, theirsHunks),
                    style.has_value(),
                    decoded ? std::optional(decoded->form) : std::nullopt,
                    decoded && decoded->isConverted);
}

std::optional<std::string> decodedFor(const TextJoin& join, std::string_view bytes)
{
    return join.form() ? decodedText(bytes, *join.form()) : std::optional(std::string(bytes));
}
}  // namespace rope
