// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <string>

namespace rope {
/// Where a region is, in words that stay right whatever is decided in it: by what it lies in, as the base has
/// it, and never by the text of one side.
struct RegionName
{
    enum class Kind {
        none,        ///< Nothing that has a name.
        imports,     ///< Lines that import something; `name` is empty.
        definition,  ///< Inside a function, class or other block of this name.
        heading,     ///< A section of a configuration, or below a heading of a text.
        key,         ///< The value of this key.
        base,        ///< Nothing that has a name, but the base has this line there.
    };
    Kind kind = Kind::none;
    std::string name;  ///< Bytes of the base.
};

/// Reads indentation, brackets and the words by which common languages begin a definition; the ending of
/// `path` tells texts from code. Looks at some hundred lines above the region. REQUIRES: region < regionCount()
[[nodiscard]] RegionName
regionName(const TextJoin& join, std::size_t region, std::string_view path);
}  // namespace rope
