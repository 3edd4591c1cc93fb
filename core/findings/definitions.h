// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/text/line_range.h"

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace rope {
class HelperProcess;

/// A name where it is defined.
struct Definition
{
    std::string name;
    std::string kind;       ///< In the words of ctags: "function", "class", "member", …
    std::string scope;      ///< What it is defined in; empty: the file.
    std::string signature;  ///< With its parentheses; empty where that is not told.
    LineNumber line = 0;
    std::optional<LineNumber> end;  ///< Its last line, where that is told.
};

using Definitions = std::shared_ptr<const std::vector<Definition>>;

/// Finds definitions in texts with Universal Ctags, a helper process that reads nothing but what it is
/// given (its sandbox). Texts that were read are remembered. May be used from several threads, one at a time.
class DefinitionReader
{
public:
    DefinitionReader();
    ~DefinitionReader();
    DefinitionReader(const DefinitionReader&) = delete;
    DefinitionReader& operator=(const DefinitionReader&) = delete;

    /// The definitions of a text, in its order; the path's last part tells its language. Null: the helper
    /// is missing, gave no answer in time, or broke off at this text; it is started anew for the next.
    [[nodiscard]] Definitions read(std::string_view path, std::string_view text);

    /// Whether the helper could be started.
    [[nodiscard]] bool isAvailable();

private:
    bool start();
    Definitions ask(const std::string& name, std::string_view text);

    std::unique_ptr<HelperProcess> m_helper;
    bool m_cannotStart = false;
    std::unordered_map<std::string, Definitions> m_known;  ///< By a digest of name and text.
};
inline constexpr std::size_t kMostDefinitionBytes = 2'000'000;
}  // namespace rope
