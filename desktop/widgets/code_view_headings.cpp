// SPDX-License-Identifier: GPL-3.0-or-later
// CodeView: headings between lines.
// Tested by tst_code_view.cpp.
#include "core/text/line_end.h"
#include "desktop/widgets/code_lexer.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/code_view_marks.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <QVBoxLayout>
#include <Qsci/qscicommand.h>
#include <Qsci/qscicommandset.h>
#include <Qsci/qscilexer.h>
#include <Qsci/qsciscintilla.h>

#include <algorithm>
#include <array>
#include <iterator>
#include <limits>
#include <utility>

namespace rope {
void CodeView::defineHeadingStyles()
{
    // Lexers use styles below 128; ours lie above all of them.
    if (m_headingStyle < 0) {
        m_headingStyle =
            static_cast<int>(send(QsciScintillaBase::SCI_ALLOCATEEXTENDEDSTYLES, kHeadingLooks));
        (void)send(QsciScintillaBase::SCI_ANNOTATIONSETSTYLEOFFSET,
                   static_cast<unsigned long>(m_headingStyle));
    }
    const QByteArray family = font().family().toUtf8();
    const auto define = [&](int style, const QColor& ink, const QColor& fill) {
        const auto number = static_cast<unsigned long>(style);
        const auto bgr = [](const QColor& c) {
            return c.red() | (c.green() << 8) | (c.blue() << 16);
        };
        m_editor->SendScintilla(QsciScintillaBase::SCI_STYLESETFONT, number, family.constData());
        (void)send(QsciScintillaBase::SCI_STYLESETSIZEFRACTIONAL,
                   number,
                   static_cast<long>(font().pointSizeF() * 95));
        (void)send(QsciScintillaBase::SCI_STYLESETFORE, number, bgr(ink));
        (void)send(QsciScintillaBase::SCI_STYLESETBACK, number, bgr(fill));
        (void)send(QsciScintillaBase::SCI_STYLESETEOLFILLED, number, 1);
    };
    define(m_headingStyle, theme().decided, theme().decidedFill);
    define(m_headingStyle + 1, theme().openInk, theme().openFill);
    define(m_headingStyle + 2, theme().muted, theme().paper);
    define(m_headingStyle + 3, theme().openInk, theme().paper);
    define(m_headingStyle + 4, theme().muted, theme().paper);
    const QByteArray code = codeFont().family().toUtf8();  // what is gone was code
    m_editor->SendScintilla(QsciScintillaBase::SCI_STYLESETFONT,
                            static_cast<unsigned long>(m_headingStyle + 2),
                            code.constData());
    (void)send(
        QsciScintillaBase::SCI_STYLESETITALIC, static_cast<unsigned long>(m_headingStyle + 2), 1);
}

void CodeView::setHeadings(const std::vector<Heading>& headings)
{
    m_isSyncing = true;
    const RangeHold hold(*m_editor->verticalScrollBar());
    // A heading hangs below the line before it; several at one place share that line. Above the
    // first line nothing can hang but the view's own.
    std::vector<const Heading*> wanted(headings.size());
    std::transform(headings.begin(), headings.end(), wanted.begin(), [](const Heading& heading) {
        return &heading;
    });
    std::stable_sort(wanted.begin(), wanted.end(), [](const Heading* a, const Heading* b) {
        return a->beforeLine < b->beforeLine;
    });
    const auto topEnd = std::find_if(wanted.begin(), wanted.end(), [](const Heading* heading) {
        return heading->beforeLine > 0;
    });
    if (m_editsSinceHeadings > kMostFollowedEdits) {
        (void)send(QsciScintillaBase::SCI_ANNOTATIONCLEARALL);
        m_headings.clear();
        m_unsureLines.clear();
    }
    m_editsSinceHeadings = 0;
    for (const int line : m_unsureLines) {
        const auto number = static_cast<unsigned long>(std::max(line, 0));
        if (line >= 0 && line < lineCount()
            && send(QsciScintillaBase::SCI_ANNOTATIONGETTEXT, number) > 0) {
            clearHeading(line);
        }
    }
    std::erase_if(m_headings, [this](const HeadingsBelow& shown) {
        return m_unsureLines.contains(shown.line);
    });
    m_unsureLines.clear();
    std::vector<HeadingsBelow> before = std::exchange(m_headings, {});
    auto shown = before.begin();
    const auto clearBefore = [&](int line) {
        for (; shown != before.end() && shown->line < line; ++shown) {
            clearHeading(shown->line);
        }
    };
    for (auto first = topEnd; first != wanted.end();) {
        const int line = (*first)->beforeLine - 1;
        const auto end = std::find_if(first, wanted.end(), [line](const Heading* heading) {
            return heading->beforeLine - 1 != line;
        });
        clearBefore(line);
        const auto isSame = [](const Heading& a, const Heading* b) {
            return a.look == b->look && a.text == b->text;
        };
        const bool isKept =
            shown != before.end() && shown->line == line
            && std::equal(shown->headings.begin(), shown->headings.end(), first, end, isSame);
        if (isKept) {
            m_headings.push_back(std::move(*shown));
        } else {
            HeadingsBelow& laid = m_headings.emplace_back();
            laid.line = line;
            std::transform(first,
                           end,
                           std::back_inserter(laid.headings),
                           [](const Heading* heading) { return *heading; });
            layHeadings(line, laid.headings);
        }
        shown += shown != before.end() && shown->line == line ? 1 : 0;
        first = end;
    }
    clearBefore(std::numeric_limits<int>::max());
    std::vector<Heading> top;
    std::transform(wanted.begin(), topEnd, std::back_inserter(top), [](const Heading* heading) {
        return *heading;
    });
    setTopHeadings(top);
    m_isSyncing = false;
    describeCaretLine();
}

void CodeView::layHeadings(int line, const std::vector<Heading>& headings)
{
    std::string text;
    std::string styles;  // one for each byte
    for (const Heading& heading : headings) {
        const bool isGone = heading.look == HeadingLook::gone;  // it begins where the text does
        text += (text.empty() ? "" : "\n") + std::string(isGone ? "" : " ")
                + heading.text.toStdString();
        text.append(kHeadingPadding, ' ');  // the fill reaches as far as the text does
        styles.resize(text.size(), static_cast<char>(heading.look));
    }
    const auto number = static_cast<unsigned long>(line);
    m_editor->SendScintilla(QsciScintillaBase::SCI_ANNOTATIONSETTEXT, number, text.c_str());
    m_editor->SendScintilla(QsciScintillaBase::SCI_ANNOTATIONSETSTYLES, number, styles.c_str());
}

void CodeView::clearHeading(int line)
{
    m_editor->SendScintilla(QsciScintillaBase::SCI_ANNOTATIONSETTEXT,
                            static_cast<unsigned long>(line),
                            static_cast<const char*>(nullptr));
}

/// Headings move with their lines.
void CodeView::followHeadings(int line, int linesAdded)
{
    if (m_headings.empty() && m_unsureLines.empty()) {
        return;
    }
    // Many edits in a row are not followed one by one: that would take the square of their number.
    m_editsSinceHeadings += std::abs(linesAdded) > kMostFollowedLines ? kMostFollowedEdits : 1;
    if (m_editsSinceHeadings > kMostFollowedEdits) {
        return;
    }
    const auto moved = [line, linesAdded](int at) {
        return at > line ? std::max(line, at + linesAdded) : at;
    };
    for (HeadingsBelow& shown : m_headings) {
        shown.line = moved(shown.line);
    }
    // Of several whose lines became one it is not known what stands there.
    const auto same = std::unique(
        m_headings.begin(), m_headings.end(), [](const HeadingsBelow& a, const HeadingsBelow& b) {
            return a.line == b.line;
        });
    m_headings.erase(same, m_headings.end());
    std::set<int> unsure;
    for (const int at : m_unsureLines) {
        unsure.insert(moved(at));
    }
    for (int near = line - 1; near <= line + std::abs(linesAdded) + 1; ++near) {
        unsure.insert(near);
    }
    m_unsureLines = std::move(unsure);
}

void CodeView::setTopHeadings(const std::vector<Heading>& headings)
{
    m_topHeadings = headings;
    QStringList lines;
    for (const Heading& heading : headings) {
        lines << heading.text;
    }
    const bool isOpen = std::any_of(headings.begin(), headings.end(), [](const Heading& heading) {
        return heading.look == HeadingLook::open;
    });
    const bool isGone = std::all_of(headings.begin(), headings.end(), [](const Heading& heading) {
        return heading.look == HeadingLook::gone;
    });
    if (headings.empty()) {
        m_topHeading->clear();
        showTopHeading();
        return;
    }
    m_topHeading->setFont(isGone ? codeFont() : font());
    m_topHeading->setText(lines.join(QLatin1Char('\n')));
    QPalette palette = m_topHeading->palette();
    palette.setColor(QPalette::Window,
                     isOpen   ? theme().openFill
                     : isGone ? theme().paper
                              : theme().decidedFill);
    palette.setColor(QPalette::WindowText,
                     isOpen   ? theme().openInk
                     : isGone ? theme().muted
                              : theme().decided);
    m_topHeading->setPalette(palette);
    showTopHeading();
}

/// It scrolls away with the first line.
void CodeView::showTopHeading()
{
    m_topHeading->setVisible(!m_topHeading->text().isEmpty() && firstVisibleLine() == 0);
}
}  // namespace rope
