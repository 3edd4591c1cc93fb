// SPDX-License-Identifier: GPL-3.0-or-later
// What a person does to a text: finding and replacing, comments, going to places. All of it counts as
// typed, so whoever uses the view hears of each edit.
// Tested by tst_code_view.cpp.
#include "core/diff/diff_tokens.h"
#include "core/text/text.h"
#include "desktop/widgets/code_view.h"

#include <Qsci/qsciscintilla.h>

#include <algorithm>

namespace rope {
std::optional<std::size_t>
CodeView::find(std::string_view bytes, bool matchesCase, std::size_t from, std::size_t to) const
{
    (void)send(QsciScintillaBase::SCI_SETSEARCHFLAGS,
               static_cast<unsigned long>(matchesCase ? QsciScintillaBase::SCFIND_MATCHCASE : 0));
    (void)send(QsciScintillaBase::SCI_SETTARGETRANGE, from, static_cast<long>(to));
    const long found =
        m_editor->SendScintilla(QsciScintillaBase::SCI_SEARCHINTARGET, bytes.size(), bytes.data());
    return found < 0 ? std::nullopt : std::optional(static_cast<std::size_t>(found));
}

std::string CodeView::selectedBytes() const
{
    const auto from = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONSTART));
    const auto to = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONEND));
    return bytes(from, to - from);
}

bool CodeView::findNext(std::string_view bytes, bool matchesCase, int direction, AtEnd atEnd)
{
    const auto from = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONSTART));
    const auto to = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONEND));
    auto found =
        direction > 0 ? find(bytes, matchesCase, to, size()) : find(bytes, matchesCase, from, 0);
    if (!found && atEnd == AtEnd::beginsAnew) {
        found = direction > 0 ? find(bytes, matchesCase, 0, size())
                              : find(bytes, matchesCase, size(), 0);
    }
    if (!found) {
        return false;
    }
    const auto end = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETTARGETEND));
    (void)send(QsciScintillaBase::SCI_SETSEL, *found, static_cast<long>(end));
    reveal(lineAt(*found), 1);
    return true;
}

std::size_t CodeView::countOf(std::string_view bytes, bool matchesCase) const
{
    std::size_t count = 0;
    for (std::size_t from = 0; const auto found = find(bytes, matchesCase, from, size()); ++count) {
        from = *found + bytes.size();
    }
    return count;
}

bool CodeView::isMatchSelected(std::string_view bytes, bool matchesCase) const
{
    const auto from = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONSTART));
    const auto to = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONEND));
    return to > from && find(bytes, matchesCase, from, to) == from
           && static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETTARGETEND)) == to;
}

void CodeView::replaceSelected(std::string_view bytes)
{
    m_editor->SendScintilla(QsciScintillaBase::SCI_REPLACESEL, std::string(bytes).c_str());
}

std::size_t CodeView::replaceAll(std::string_view bytes, bool matchesCase, std::string_view by)
{
    std::size_t count = 0;
    for (std::size_t from = 0; !bytes.empty();) {
        const auto found = find(bytes, matchesCase, from, size());
        if (!found) {
            break;
        }
        m_editor->SendScintilla(QsciScintillaBase::SCI_REPLACETARGET, by.size(), by.data());
        from = *found + by.size();
        ++count;
    }
    return count;
}

void CodeView::typeOver(std::string_view bytes)
{
    const std::string present = this->bytes(0, size());
    const auto before = splitLines(present);
    const auto after = splitLines(bytes);
    LineInterner interner(before.size() + after.size());
    const auto beforeIds = interner.internAll(before);
    const auto afterIds = interner.internAll(after);
    const auto hunks = diffTokens(beforeIds, afterIds, interner.idCount(), DiffMethod::histogram);
    ROPE_ASSERT(hunks.hasValue(), "a diff without a stop token cannot be cancelled");
    const auto positionIn = [](std::string_view text, const auto& lines, LineNumber line) {
        return line < lines.size() ? static_cast<std::size_t>(lines[line].data() - text.data())
                                   : text.size();
    };
    for (auto hunk = hunks->rbegin(); hunk != hunks->rend(); ++hunk) {
        const std::size_t from = positionIn(present, before, hunk->before.begin);
        const std::size_t to = positionIn(present, before, hunk->before.end);
        const std::size_t newFrom = positionIn(bytes, after, hunk->after.begin);
        const std::size_t newTo = positionIn(bytes, after, hunk->after.end);
        (void)send(QsciScintillaBase::SCI_SETTARGETRANGE, from, static_cast<long>(to));
        m_editor->SendScintilla(
            QsciScintillaBase::SCI_REPLACETARGET, newTo - newFrom, bytes.data() + newFrom);
    }
}

void CodeView::toggleComment()
{
    if (m_commentMark.isEmpty() || send(QsciScintillaBase::SCI_GETREADONLY) != 0) {
        return;
    }
    const std::string mark = m_commentMark.toStdString();
    const auto from = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONSTART));
    const auto to = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONEND));
    struct Line
    {
        std::size_t at;  ///< Behind its indent.
        std::string text;
    };
    std::vector<Line> lines;
    std::size_t indent = ~std::size_t{0};
    const int last = lineAt(to > from ? to - 1 : to);
    for (int line = lineAt(from); line <= last; ++line) {
        const std::size_t begin = positionOfLine(line);
        const std::string text = bytes(begin, positionOfLine(line + 1) - begin);
        const std::size_t blanks = text.find_first_not_of(" \t\r\n");
        if (blanks != std::string::npos) {
            lines.push_back({begin + blanks, text.substr(blanks)});
            indent = std::min(indent, blanks);
        }
    }
    const bool isCommented = std::all_of(
        lines.begin(), lines.end(), [&](const Line& line) { return line.text.starts_with(mark); });
    for (auto line = lines.rbegin(); line != lines.rend(); ++line) {
        if (isCommented) {
            const bool hasBlank = line->text.starts_with(mark + " ");
            (void)send(QsciScintillaBase::SCI_DELETERANGE,
                       line->at,
                       static_cast<long>(mark.size() + (hasBlank ? 1 : 0)));
        } else {
            const std::size_t at = positionOfLine(lineAt(line->at)) + indent;
            m_editor->SendScintilla(QsciScintillaBase::SCI_INSERTTEXT, at, (mark + " ").c_str());
        }
    }
}

void CodeView::goToMatchingBracket()
{
    m_editor->moveToMatchingBrace();
}

void CodeView::goToLine(int line)
{
    const int known = std::clamp(line, 0, lineCount() - 1);
    placeCaret(positionOfLine(known));
    reveal(known, 1);
    emit caretMoved(caret());
}

void CodeView::cut()
{
    m_editor->cut();
}

void CodeView::copy()
{
    m_editor->copy();
}

void CodeView::paste()
{
    m_editor->paste();
}

void CodeView::selectAll()
{
    m_editor->selectAll();
}
}  // namespace rope
