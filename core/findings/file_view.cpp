// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/file_view.h"

#include "core/diff/diff_tokens.h"
#include "core/text/line_interner.h"
#include "core/text/text.h"
#include "core/text/words.h"

#include <algorithm>

namespace rope {
bool hasLetters(std::string_view line, std::size_t least)
{
    std::size_t count = 0;
    for (const char c : line) {
        count += isName(std::string_view(&c, 1)) ? 1U : 0U;
    }
    return count >= least;
}

VersionView::VersionView(SharedText text, Language language)
    : m_text(std::move(text))
{
    if (!m_text) {
        return;
    }
    m_lines = splitLines(*m_text);
    m_scan = scanCode(*m_text, language);
    for (const CodeWord& word : m_scan.words) {
        ++m_names[word.text];
    }
}

int VersionView::countOf(std::string_view name) const
{
    const auto found = m_names.find(name);
    return found == m_names.end() ? 0 : found->second;
}

int VersionView::countOfLine(std::string_view line) const
{
    if (m_lineCounts.empty()) {
        m_lineCounts.reserve(m_lines.size());
        for (const std::string_view one : m_lines) {
            ++m_lineCounts[trimmed(one)];
        }
    }
    const auto found = m_lineCounts.find(line);
    return found == m_lineCounts.end() ? 0 : found->second;
}

SideViews::SideViews(const CheckedFile& file, Language languageOfIt)
    : language(languageOfIt)
    , base(file.base, languageOfIt)
    , ours(file.ours == file.base ? SharedText() : file.ours, languageOfIt)
    , theirs(file.theirs == file.base ? SharedText() : file.theirs, languageOfIt)
{
    if (file.ours != nullptr && file.ours == file.base) {
        ours = base;
    }
    if (file.theirs != nullptr && file.theirs == file.base) {
        theirs = base;
    }
}

bool SideViews::isChangedBy(FindingSide which) const
{
    const VersionView& own = side(which);
    return own.exists() != base.exists() || own.text() != base.text();
}

const LineHunks& SideViews::hunksOf(FindingSide which) const
{
    auto& hunks = which == FindingSide::ours ? m_oursHunks : m_theirsHunks;
    if (!hunks) {
        LineInterner interner(base.lines().size() + side(which).lines().size());
        hunks = LineHunks{
            interner.internAll(base.lines()), interner.internAll(side(which).lines()), {}};
        hunks->hunks = diffTokens(hunks->base, hunks->side, interner.idCount()).value();
    }
    return *hunks;
}

LineOrigin FileView::originOf(LineNumber line) const
{
    return line < result.origins.size() ? result.origins[line] : LineOrigin::base;
}

bool FileView::mayBeOf(LineNumber line, FindingSide side) const
{
    switch (originOf(line)) {
    case LineOrigin::base:
        return false;
    case LineOrigin::ours:
        return side == FindingSide::ours;
    case LineOrigin::theirs:
        return side == FindingSide::theirs;
    case LineOrigin::both:
    case LineOrigin::hand:
        return true;
    }
    return false;
}

Finding FileView::findingAt(FindingKind kind, LineRange lines, FindingSide side) const
{
    Finding finding;
    finding.kind = kind;
    finding.path = file.path;
    finding.lines = lines;
    finding.side = side;
    return finding;
}

std::size_t FileView::positionOf(LineNumber number) const
{
    return number < joined.lines().size()
               ? static_cast<std::size_t>(joined.lines()[number].data() - joined.text().data())
               : joined.text().size();
}
}  // namespace rope
