// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_text.cpp.
#include "core/text/text_form.h"

#include "core/text/encoding.h"

#include <array>
#include <iconv.h>
#include <uchardet.h>
#include <utility>

namespace rope {
namespace {
using namespace std::string_view_literals;

/// Longer marks first: that of UTF-32 little endian begins like that of UTF-16.
constexpr std::array<std::pair<std::string_view, std::string_view>, 5> kMarks{{
    {"\xFF\xFE\0\0"sv, "UTF-32LE"},
    {"\0\0\xFE\xFF"sv, "UTF-32BE"},
    {"\xEF\xBB\xBF"sv, "UTF-8"},
    {"\xFF\xFE"sv, "UTF-16LE"},
    {"\xFE\xFF"sv, "UTF-16BE"},
}};

std::string_view markOf(std::string_view encoding)
{
    for (const auto& [mark, name] : kMarks) {
        if (name == encoding) {
            return mark;
        }
    }
    return {};
}

/// Converts all of it or nothing.
std::optional<std::string>
converted(std::string_view bytes, const std::string& from, const std::string& to)
{
    const iconv_t converter = ::iconv_open(to.c_str(), from.c_str());
    // iconv_open marks a failure with this very value.
    if (converter == reinterpret_cast<iconv_t>(-1)) {
        return std::nullopt;
    }
    std::string result(bytes.size() * 4 + 16, '\0');
    char* in = const_cast<char*>(bytes.data());  // iconv does not write to it
    std::size_t inLeft = bytes.size();
    char* out = result.data();
    std::size_t outLeft = result.size();
    const std::size_t irreversible = ::iconv(converter, &in, &inLeft, &out, &outLeft);
    const std::size_t rest = ::iconv(converter, nullptr, nullptr, &out, &outLeft);
    ::iconv_close(converter);
    if (irreversible != 0 || rest != 0 || inLeft != 0) {
        return std::nullopt;
    }
    result.resize(result.size() - outLeft);
    return result;
}
}  // namespace

std::optional<TextForm> formOf(std::string_view bytes)
{
    for (const auto& [mark, name] : kMarks) {
        if (bytes.starts_with(mark)) {
            TextForm form{std::string(name), true};
            return decodedText(bytes, form) ? std::optional(std::move(form)) : std::nullopt;
        }
    }
    return isUtf8(bytes) ? std::optional(TextForm{}) : std::nullopt;
}

TextForm guessedForm(std::string_view bytes)
{
    const uchardet_t detector = ::uchardet_new();
    const bool isRead = ::uchardet_handle_data(detector, bytes.data(), bytes.size()) == 0;
    ::uchardet_data_end(detector);
    TextForm form{isRead ? ::uchardet_get_charset(detector) : "", false};
    ::uchardet_delete(detector);
    return form.encoding.empty() || !decodedText(bytes, form) ? TextForm{"ISO-8859-1", false}
                                                              : form;
}

std::optional<std::string> decodedText(std::string_view bytes, const TextForm& form)
{
    const std::string_view mark = form.hasMark ? markOf(form.encoding) : std::string_view();
    if (!bytes.starts_with(mark)) {
        return std::nullopt;
    }
    const std::string_view rest = bytes.substr(mark.size());
    if (form.encoding == "UTF-8") {
        return isUtf8(rest) ? std::optional(std::string(rest)) : std::nullopt;
    }
    auto text = converted(rest, form.encoding, "UTF-8");
    return text && encodedText(*text, form) == bytes ? text : std::nullopt;
}

std::optional<std::string> encodedText(std::string_view text, const TextForm& form)
{
    std::string bytes(form.hasMark ? markOf(form.encoding) : std::string_view());
    if (form.encoding == "UTF-8") {
        return bytes.append(text);
    }
    const auto rest = converted(text, "UTF-8", form.encoding);
    return rest ? std::optional(bytes.append(*rest)) : std::nullopt;
}
}  // namespace rope
