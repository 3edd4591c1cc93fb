// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/word_text.h"

#include "core/diff/word_diff.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QScrollBar>
#include <QTextBlock>

#include <algorithm>
#include <unordered_set>

namespace rope {
namespace {
constexpr int kMostLines = 11;  // taller texts scroll
constexpr std::size_t kMostShown =
    60'000;  // bytes; evidence beyond that is read in the file itself

QTextCharFormat plainFormat()
{
    QTextCharFormat format;
    format.setForeground(theme().ink);
    return format;
}

QTextCharFormat wordFormat(const SideColours& colours)
{
    QTextCharFormat format = plainFormat();
    format.setBackground(colours.word);
    format.setFontUnderline(true);
    format.setUnderlineColor(colours.ink);
    return format;
}

QTextCharFormat struckFormat()
{
    QTextCharFormat format = plainFormat();
    format.setForeground(theme().muted);
    format.setFontStrikeOut(true);
    return format;
}

std::unordered_set<std::string> addedRuns(std::string_view base, std::string_view side)
{
    std::unordered_set<std::string> runs;
    for (WordRun& run : diffWords(base, side)) {
        if (run.change == WordChange::added) {
            runs.insert(std::move(run.text));
        }
    }
    return runs;
}
}  // namespace

WordText::WordText(QWidget* parent)
    : QPlainTextEdit(parent)
{
    setReadOnly(true);
    setFrameShape(QFrame::NoFrame);
    setLineWrapMode(QPlainTextEdit::NoWrap);
    setFont(codeFont());
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setTabStopDistance(4 * QFontMetricsF(font()).horizontalAdvance(QLatin1Char(' ')));
    setTabChangesFocus(true);
    setUndoRedoEnabled(false);
}

void WordText::begin()
{
    clear();
}

void WordText::append(std::string_view bytes, const QTextCharFormat& format)
{
    QTextCursor cursor(document());
    cursor.movePosition(QTextCursor::End);
    cursor.insertText(shown(bytes.substr(0, kMostShown)).remove(QLatin1Char('\r')), format);
}

void WordText::finish()
{
    // The line end of the last line would show as an empty line of its own.
    QTextCursor cursor(document());
    cursor.movePosition(QTextCursor::End);
    if (document()->blockCount() > 1 && cursor.block().text().isEmpty()) {
        cursor.deletePreviousChar();
    }
    moveCursor(QTextCursor::Start);
    m_widestLine = 0;
    for (const QString& line : toPlainText().split(QLatin1Char('\n'))) {
        m_widestLine = std::max(m_widestLine, QFontMetrics(font()).horizontalAdvance(line));
    }
    setVerticalScrollBarPolicy(document()->blockCount() > kMostLines ? Qt::ScrollBarAsNeeded
                                                                     : Qt::ScrollBarAlwaysOff);
    setAccessibleName(toPlainText().left(400));
    updateGeometry();
}

void WordText::showEdit(std::string_view base, std::string_view side, Side which)
{
    begin();
    const QTextCharFormat added = wordFormat(which == Side::ours ? theme().ours : theme().theirs);
    for (const WordRun& run : diffWords(base, side)) {
        switch (run.change) {
        case WordChange::kept:
            append(run.text, plainFormat());
            break;
        case WordChange::removed:
            append(run.text, struckFormat());
            break;
        case WordChange::added:
            append(run.text, added);
            break;
        }
    }
    finish();
}

void WordText::showOutcome(std::string_view outcome, const RegionTexts& texts)
{
    begin();
    const auto ours = addedRuns(texts.base, texts.ours);
    const auto theirs = addedRuns(texts.base, texts.theirs);
    const auto isIn = [](const std::unordered_set<std::string>& runs, std::string_view text) {
        return std::any_of(runs.begin(), runs.end(), [&](const std::string& run) {
            return run == text || (text.size() > 2 && run.find(text) != std::string::npos);
        });
    };
    for (const WordRun& run : diffWords(texts.base, outcome)) {
        if (run.change == WordChange::removed) {
            continue;
        }
        if (run.change == WordChange::kept) {
            append(run.text, plainFormat());
            continue;
        }
        for (std::string_view line : splitLines(run.text)) {  // a run may hold lines of both sides
            const std::string_view words = line.substr(0, line.find('\n'));
            const bool isOurs = isIn(ours, words);
            const bool isTheirs = isIn(theirs, words);
            append(words,
                   isOurs && !isTheirs   ? wordFormat(theme().ours)
                   : isTheirs && !isOurs ? wordFormat(theme().theirs)
                                         : plainFormat());
            append(line.substr(words.size()), plainFormat());
        }
    }
    finish();
}

void WordText::showPlain(std::string_view text)
{
    begin();
    append(text, plainFormat());
    finish();
}

void WordText::showRemark(const QString& remark)
{
    begin();
    QTextCharFormat format = plainFormat();
    format.setForeground(theme().muted);
    format.setFontItalic(true);
    QTextCursor cursor(document());
    cursor.insertText(remark, format);
    finish();
}

void WordText::resizeEvent(QResizeEvent* event)
{
    QPlainTextEdit::resizeEvent(event);
    updateGeometry();  // whether a scroll bar takes room depends on the width
}

QSize WordText::sizeHint() const
{
    const int lines = std::clamp(document()->blockCount(), 1, kMostLines);
    const int margins = static_cast<int>(2 * document()->documentMargin());
    const bool isWide = m_widestLine + margins > viewport()->width();
    const int bar = isWide ? horizontalScrollBar()->sizeHint().height() : 0;
    return {200, lines * QFontMetrics(font()).lineSpacing() + margins + bar + 4};
}

QSize WordText::minimumSizeHint() const
{
    return {80, sizeHint().height()};
}
}  // namespace rope
