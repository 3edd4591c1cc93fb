// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/hunk.h"
#include "core/findings/checked_file.h"
#include "core/findings/code_scan.h"
#include "core/findings/finding.h"

#include <optional>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace rope {
/// One version of a file, taken apart. Keeps its text alive. An absent version is empty.
class VersionView
{
public:
    VersionView() = default;
    VersionView(SharedText text, Language language);

    [[nodiscard]] bool exists() const { return m_text != nullptr; }
    [[nodiscard]] std::string_view text() const { return m_text ? *m_text : std::string_view(); }
    /// With their ends.
    [[nodiscard]] const std::vector<std::string_view>& lines() const { return m_lines; }
    [[nodiscard]] const CodeScan& scan() const { return m_scan; }
    /// How often a name stands in it, comments aside.
    [[nodiscard]] int countOf(std::string_view name) const;
    /// All names with how often they stand there.
    [[nodiscard]] const std::unordered_map<std::string_view, int>& names() const { return m_names; }
    /// How often a line stands in it, blanks at its ends aside.
    [[nodiscard]] int countOfLine(std::string_view trimmedLine) const;

private:
    SharedText m_text;
    std::vector<std::string_view> m_lines;
    CodeScan m_scan;
    std::unordered_map<std::string_view, int> m_names;
    mutable std::unordered_map<std::string_view, int> m_lineCounts;  ///< Made when first asked for.
};

/// How a side's lines differ from the base's; lines are equal where their numbers are.
struct LineHunks
{
    std::vector<std::uint32_t> base;
    std::vector<std::uint32_t> side;
    std::vector<Hunk> hunks;
};

/// The versions of a file that are joined. They do not change while results do.
struct SideViews
{
    SideViews(const CheckedFile& file, Language languageOfIt);
    Language language = Language::prose;
    VersionView base;
    VersionView ours;
    VersionView theirs;
    [[nodiscard]] const VersionView& side(FindingSide which) const
    {
        return which == FindingSide::ours ? ours : theirs;
    }
    /// Whether a side made something else of the file than the base has.
    [[nodiscard]] bool isChangedBy(FindingSide which) const;
    /// Worked out when first asked for. REQUIRES: both versions exist
    [[nodiscard]] const LineHunks& hunksOf(FindingSide which) const;

private:
    mutable std::optional<LineHunks> m_oursHunks;
    mutable std::optional<LineHunks> m_theirsHunks;
};

/// A file with what became of it.
struct FileView
{
    const CheckedFile& file;
    const SideViews& sides;
    const CheckedResult& result;
    const VersionView& joined;

    [[nodiscard]] LineOrigin originOf(LineNumber line) const;
    /// Whether a line of the result is not in the base, and may be a side's: its own, of both, by hand.
    [[nodiscard]] bool mayBeOf(LineNumber line, FindingSide side) const;
    [[nodiscard]] std::string_view line(LineNumber number) const { return joined.lines()[number]; }
    /// The beginning of a finding at some of its lines.
    [[nodiscard]] Finding findingAt(FindingKind kind, LineRange lines, FindingSide side) const;
    /// Where a line of the result begins, in bytes.
    [[nodiscard]] std::size_t positionOf(LineNumber number) const;
};

[[nodiscard]] constexpr FindingSide otherSide(FindingSide side)
{
    return side == FindingSide::ours ? FindingSide::theirs : FindingSide::ours;
}
inline constexpr FindingSide kBothSides[] = {FindingSide::ours, FindingSide::theirs};

/// Whether it has at least that many letters, digits and underscores.
[[nodiscard]] bool hasLetters(std::string_view line, std::size_t least);
}  // namespace rope
