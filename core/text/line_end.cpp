// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/text/line_end.h"

#include "core/base/assert.h"

#include <cstring>

namespace rope {
LineEnd lineEndOf(std::string_view text)
{
    if (text.find('\r') == std::string_view::npos) {  // nearly always, and told in one go
        return text.find('\n') == std::string_view::npos ? LineEnd::none : LineEnd::lf;
    }
    bool hasLf = false;
    bool hasCrlf = false;
    for (std::size_t at = text.find('\n'); at != std::string_view::npos && !(hasLf && hasCrlf);
         at = text.find('\n', at + 1)) {
        const bool isCrlf = at > 0 && text[at - 1] == '\r';
        (isCrlf ? hasCrlf : hasLf) = true;
    }
    if (hasLf && hasCrlf) {
        return LineEnd::mixed;
    }
    return hasCrlf ? LineEnd::crlf : hasLf ? LineEnd::lf : LineEnd::none;
}

std::string withLineEnd(std::string_view text, LineEnd style)
{
    ROPE_ASSERT(style == LineEnd::lf || style == LineEnd::crlf, "no style to write line ends in");
    std::string out;
    out.reserve(text.size() + (style == LineEnd::crlf ? text.size() / 16 : 0));
    std::size_t from = 0;
    for (std::size_t at = text.find('\n'); at != std::string_view::npos;
         at = text.find('\n', from)) {
        const bool isCrlf = at > from && text[at - 1] == '\r';
        out.append(text, from, at - from - (isCrlf ? 1 : 0));
        out += style == LineEnd::crlf ? "\r\n" : "\n";
        from = at + 1;
    }
    return out.append(text, from);
}

std::string_view nameOf(LineEnd style)
{
    switch (style) {
    case LineEnd::none:
        return "no line end";
    case LineEnd::lf:
        return "LF";
    case LineEnd::crlf:
        return "CRLF";
    case LineEnd::mixed:
        return "mixed line ends";
    }
    return "";
}
}  // namespace rope
