// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/text/words.h"

namespace rope {
namespace {
bool isNameByte(char c)
{
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_'
           || static_cast<unsigned char>(c) >= 0x80;
}

bool isBlank(char c)
{
    return c == ' ' || c == '\t';
}

template <typename Predicate>
std::size_t runLength(std::string_view text, Predicate belongs)
{
    std::size_t length = 0;
    while (length < text.size() && belongs(text[length])) {
        ++length;
    }
    return length;
}
}  // namespace

std::size_t firstWordLength(std::string_view text)
{
    if (isNameByte(text[0])) {
        return runLength(text, isNameByte);
    }
    if (isBlank(text[0])) {
        return runLength(text, isBlank);
    }
    return text.starts_with("\r\n") ? 2 : 1;
}

std::vector<std::string_view> splitWords(std::string_view text)
{
    std::vector<std::string_view> words;
    words.reserve(text.size() / 3 + 1);
    eachWord(text, [&words](std::string_view word) { words.push_back(word); });
    return words;
}

bool isName(std::string_view word)
{
    return !word.empty() && isNameByte(word[0]);
}
}  // namespace rope
