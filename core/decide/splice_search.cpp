// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice_search.cpp.
#include "core/decide/splice_search.h"

#include "core/text/encoding.h"

#include <QByteArray>
#include <QString>

#include <algorithm>

namespace rope {
namespace {
char folded(char c)
{
    return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
}

/// UTF-8 with each letter folded by Unicode's simple folding, where that takes as many bytes: what
/// stands anywhere in it stands in the text at the same place. Other bytes stay as they are.
std::string foldedUtf8(std::string_view text)
{
    std::string result;
    result.reserve(text.size());
    for (std::size_t at = 0; at < text.size();) {
        std::size_t end = at + 1;
        while (end < text.size() && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80) {
            ++end;
        }
        const std::string_view letter = text.substr(at, end - at);
        at = end;
        if (letter.size() == 1) {
            result += folded(letter.front());
            continue;
        }
        const QByteArray small =
            QString::fromUtf8(letter.data(), static_cast<qsizetype>(letter.size()))
                .toCaseFolded()
                .toUtf8();
        const bool isSameSize = static_cast<std::size_t>(small.size()) == letter.size();
        result += isSameSize ? small.toStdString() : std::string(letter);
    }
    return result;
}

std::size_t countIn(std::string_view text, const SearchWords& search)
{
    std::size_t count = 0;
    for (std::size_t from = 0; const auto at = findWords(text, search, from); ++count) {
        from = *at + search.words.size();
    }
    return count;
}

std::string replacedIn(std::string_view text, const SearchWords& search, const std::string& by)
{
    std::string replaced;
    std::size_t from = 0;
    while (const auto at = findWords(text, search, from)) {
        replaced += text.substr(from, *at - from);
        replaced += by;
        from = *at + search.words.size();
    }
    replaced += text.substr(from);
    return replaced;
}
}  // namespace

std::optional<std::size_t>
findWords(std::string_view text, const SearchWords& search, std::size_t from)
{
    if (search.words.empty() || from > text.size()) {
        return std::nullopt;
    }
    if (!search.matchesCase && !isAscii(search.words)) {
        const std::size_t at = foldedUtf8(text.substr(from)).find(foldedUtf8(search.words));
        return at == std::string::npos ? std::nullopt : std::optional(from + at);
    }
    const auto begin = text.begin() + static_cast<std::ptrdiff_t>(from);
    const auto found =
        search.matchesCase
            ? std::search(begin, text.end(), search.words.begin(), search.words.end())
            : std::search(
                begin, text.end(), search.words.begin(), search.words.end(), [](char a, char b) {
                    return folded(a) == folded(b);
                });
    return found == text.end() ? std::nullopt
                               : std::optional(static_cast<std::size_t>(found - text.begin()));
}

bool holdsWords(const SpliceFile& file, const SearchWords& search)
{
    return file.text && findWords(file.text->wholeText(), search).has_value();
}

SearchCount countWords(const DecidedJoin& decided, const SearchWords& search)
{
    SearchCount count;
    for (const SpliceFile& file : decided.files()) {
        const std::size_t own = file.text ? countIn(file.text->wholeText(), search) : 0;
        count.places += own;
        count.files += own > 0 ? 1U : 0U;
    }
    return count;
}

Replacement
replaceWords(const DecidedJoin& decided, const SearchWords& search, const std::string& by)
{
    Replacement replacement;
    for (std::size_t i = 0; i < decided.files().size(); ++i) {
        const auto& text = decided.files()[i].text;
        for (std::size_t slot = 0; text && slot < text->slotCount(); ++slot) {
            const std::size_t places = countIn(text->text(slot), search);
            if (text->isOpen(slot)) {
                replacement.leftInOpen += places;
            } else if (places > 0) {
                SlotState state = text->state(slot);
                state.text = replacedIn(text->text(slot), search, by);
                replacement.changes.push_back({{i, slot}, std::move(state)});
                replacement.places += places;
            }
        }
    }
    return replacement;
}
}  // namespace rope
