// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merge_rules.cpp.
#include "core/system/git/attribute_reader.h"

#include <algorithm>
#include <array>
#include <iterator>

namespace rope {
namespace {
constexpr int kAttributesMs = 60'000;
constexpr std::size_t kAttributeCount = 2;
constexpr std::size_t kFields = 3;             // path, attribute, value, each ended by NUL
constexpr std::size_t kMostAnswered = 32'000;  // bytes in one go: a pipe holds 65,536 (pipe(7))
constexpr std::size_t kLongestNames = 60;      // of the attributes and usual values, for one path
}  // namespace

AttributeReader::~AttributeReader() = default;

void AttributeReader::restart()
{
    m_process.reset();
}

Result<std::vector<AttributeValue>> AttributeReader::valuesOf(std::span<const RepoPath> paths)
{
    std::vector<AttributeValue> values;
    values.reserve(kAttributeCount * paths.size());
    while (!paths.empty()) {
        std::size_t few = 0;
        for (std::size_t bytes = 0; few < paths.size() && (few == 0 || bytes < kMostAnswered);) {
            bytes += kAttributeCount * paths[few++].size() + kLongestNames;
        }
        auto some = valuesOfFew(paths.first(few));
        if (!some) {
            restart();
            return some.error();
        }
        std::move(some->begin(), some->end(), std::back_inserter(values));
        paths = paths.subspan(few);
    }
    return values;
}

Result<std::vector<AttributeValue>> AttributeReader::valuesOfFew(std::span<const RepoPath> paths)
{
    if (!m_process) {
        GitRunOptions options;
        options.environment = {{"GIT_FLUSH", "1"}};  // each answer at once
        TRY_ASSIGN(m_process,
                   m_git.startPiped(
                       {"check-attr", "-z", "--stdin", "merge", "conflict-marker-size"}, options));
    }
    std::string input;
    for (const RepoPath& path : paths) {
        input.append(path).append(1, '\0');
    }
    TRY(m_process->write(input));
    std::string out;
    std::array<char, 16'384> part{};
    for (std::size_t ends = 0; ends < kFields * kAttributeCount * paths.size();) {
        TRY_ASSIGN(const std::size_t got, m_process->read(part, kAttributesMs));
        if (got == 0) {
            return Error{ErrorCode::io, "check-attr", m_process->errorText()};
        }
        ends += static_cast<std::size_t>(std::count(part.begin(), part.begin() + got, '\0'));
        out.append(part.data(), got);
    }
    auto values = parseAttributes(out);
    if (!values || values->size() != kAttributeCount * paths.size()) {
        return Error{ErrorCode::corrupt, "check-attr", out.substr(0, 500)};
    }
    return std::move(*values);
}
}  // namespace rope
