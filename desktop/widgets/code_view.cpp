// SPDX-License-Identifier: GPL-3.0-or-later
// Facts of QScintilla 2.13 that are hidden here: its setText() and text() stop at a NUL and replace
// invalid bytes, so text goes in and out by length; a lone CR ends a line, so the outside speaks byte
// offsets; its own undo is switched off, since decisions and text share one history.
// Tested by tst_code_view.cpp.
#include "desktop/widgets/code_view.h"

#include "core/text/line_end.h"
#include "desktop/widgets/code_lexer.h"
#include "desktop/widgets/code_view_marks.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QApplication>
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
CodeView::CodeView(QWidget* parent)
    : QWidget(parent)
    , m_topHeading(new QLabel(this))
    , m_editor(new QsciScintilla(this))
{
    m_editor->setObjectName(QStringLiteral("codeEditor"));
    m_editor->setAccessibleName(tr("Text of the file"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    m_topHeading->setObjectName(QStringLiteral("topHeading"));
    m_topHeading->setTextFormat(Qt::PlainText);
    m_topHeading->setAutoFillBackground(true);
    m_topHeading->setContentsMargins(40, 2, 0, 2);
    m_topHeading->hide();
    layout->setSpacing(0);
    layout->addWidget(m_topHeading);
    layout->addWidget(m_editor);
    connect(
        m_editor->verticalScrollBar(), &QScrollBar::valueChanged, this, &CodeView::showTopHeading);
    setFocusProxy(m_editor);
    m_editor->setFrameShape(QFrame::NoFrame);
    m_editor->setUtf8(true);
    m_editor->setTabWidth(4);
    m_editor->setAutoIndent(true);
    (void)send(QsciScintillaBase::SCI_SETEXTRAASCENT, 1);
    (void)send(QsciScintillaBase::SCI_SETEXTRADESCENT, 2);
    m_editor->setScrollWidth(200);
    m_editor->setScrollWidthTracking(true);
    m_editor->setMarginType(kNumberMargin, QsciScintilla::NumberMargin);
    m_editor->setMarginType(kRailMargin, QsciScintilla::SymbolMarginColor);
    m_editor->setMarginType(kTextGapMargin, QsciScintilla::SymbolMarginColor);
    m_editor->setMarginWidth(kRailMargin, kRailWidth);
    m_editor->setMarginWidth(kTextGapMargin, 8);
    m_editor->setMarginMarkerMask(kTextGapMargin, 0);
    (void)send(QsciScintillaBase::SCI_SETMARGINMASKN,
               kRailMargin,
               static_cast<long>(strandMask() | 1U << kGapAboveMarker | 1U << kGapBelowMarker));
    m_editor->setBraceMatching(QsciScintilla::SloppyBraceMatch);
    m_belowText = new QWidget(m_editor->viewport());
    m_belowText->setAutoFillBackground(true);
    m_belowText->setAttribute(Qt::WA_TransparentForMouseEvents);
    connect(m_editor, &QsciScintillaBase::SCN_PAINTED, this, &CodeView::coverBelowText);
    (void)send(QsciScintillaBase::SCI_SETUNDOCOLLECTION, 0);
    for (const QKeyCombination key :
         {Qt::CTRL | Qt::Key_Z, Qt::CTRL | Qt::Key_Y, Qt::CTRL | Qt::SHIFT | Qt::Key_Z}) {
        if (QsciCommand* const command = m_editor->standardCommands()->boundTo(key.toCombined())) {
            command->setKey(0);  // these keys belong to the window
        }
    }
    (void)send(QsciScintillaBase::SCI_ANNOTATIONSETVISIBLE, QsciScintillaBase::ANNOTATION_STANDARD);
    (void)send(QsciScintillaBase::SCI_SETMODEVENTMASK, kToldOf);
    whenLookChanges(this, [this] { dress(); });
    m_editor->viewport()->installEventFilter(this);
    m_editor->installEventFilter(this);
    connectEditor();
}

void CodeView::dress()
{
    if (QsciLexer* const lexer = m_editor->lexer()) {
        dressLexer(*lexer);
    } else {
        m_editor->setColor(theme().ink);
        m_editor->setPaper(theme().paper);
        m_editor->setFont(codeFont());
    }
    m_editor->setCaretForegroundColor(theme().ink);
    m_editor->setMarginsFont(codeFont());
    m_editor->setMarginsForegroundColor(theme().muted);
    m_editor->setMarginsBackgroundColor(theme().paper);
    m_editor->setMarginBackgroundColor(kRailMargin, theme().base.word);
    m_editor->setMarginBackgroundColor(kTextGapMargin, theme().paper);
    m_editor->setMatchedBraceBackgroundColor(theme().selection);
    m_editor->setMatchedBraceForegroundColor(theme().ink);
    m_editor->setUnmatchedBraceBackgroundColor(theme().openFill);
    m_editor->setUnmatchedBraceForegroundColor(theme().openInk);
    m_editor->setSelectionBackgroundColor(QApplication::palette().color(QPalette::Highlight));
    m_editor->resetSelectionForegroundColor();
    defineMarkers();
    dressNewLines();
    defineHeadingStyles();
    const std::vector<Heading> top = m_topHeadings;  // is set anew
    setTopHeadings(top);
    fitNumbers();
}

void CodeView::fitNumbers()
{
    const int digits = std::max(3, static_cast<int>(QString::number(lineCount()).size()));
    m_editor->setMarginWidth(kNumberMargin, QString(digits + 1, QLatin1Char('9')));
}

QString CodeView::aboutLine(int line) const
{
    QStringList facts{tr("line %1").arg(line + 1), originOfLine(line)};
    const auto marks = static_cast<unsigned long>(
        send(QsciScintillaBase::SCI_MARKERGET, static_cast<unsigned long>(line)));
    if ((marks & 1UL << kNewLineMarker) != 0) {
        facts << tr("new against what it is compared with");
    }
    const auto add = [&facts](const std::vector<Heading>& headings, bool areOfLineAbove) {
        for (const Heading& heading : headings) {
            const bool isRemark =
                heading.look == HeadingLook::remark || heading.look == HeadingLook::quiet;
            if (isRemark == areOfLineAbove) {
                facts << (heading.look == HeadingLook::gone
                              ? tr("gone before it: %1").arg(heading.text)
                              : heading.text);
            }
        }
    };
    if (line == 0) {
        add(m_topHeadings, false);
    }
    for (const HeadingsBelow& below : m_headings) {
        if (below.line == line - 1) {
            add(below.headings, false);
        } else if (below.line == line) {
            add(below.headings, true);
        }
    }
    return facts.join(QStringLiteral(" · "));
}

void CodeView::describeCaretLine()
{
    m_editor->setAccessibleDescription(aboutLine(lineAt(caret())));
}

void CodeView::connectEditor()
{
    connect(this, &CodeView::caretMoved, this, &CodeView::describeCaretLine);
    // Scintilla moves the scroll bar without its telling.
    connect(m_editor, &QsciScintillaBase::SCN_UPDATEUI, this, [this](int what) {
        if ((what & QsciScintillaBase::SC_UPDATE_V_SCROLL) != 0) {
            showTopHeading();
            emit scrolled();
        }
    });
    connect(m_editor,
            &QsciScintillaBase::SCN_MODIFIED,
            this,
            [this](int position, int type, const char*, int length, int linesAdded, int line) {
                onModified(position, type, length, linesAdded, line);
            });
    connect(m_editor, &QsciScintilla::cursorPositionChanged, this, [this] {
        // Told late, with the next painting: what was not moved by a person is known by then.
        if (!m_isSyncing && caret() != m_knownCaret) {
            m_knownCaret = caret();
            emit caretMoved(m_knownCaret);
        }
    });
}

QString CodeView::originAt(QPoint point) const
{
    const int railLeft = m_editor->marginWidth(kNumberMargin);
    if (point.x() < railLeft || point.x() >= railLeft + kRailWidth) {
        return {};
    }
    const long position = send(QsciScintillaBase::SCI_POSITIONFROMPOINT,
                               static_cast<unsigned long>(railLeft + 40),
                               point.y());
    return originOfLine(lineAt(static_cast<std::size_t>(position)));
}

QString CodeView::originOfLine(int line) const
{
    const auto marks = static_cast<unsigned long>(
        send(QsciScintillaBase::SCI_MARKERGET, static_cast<unsigned long>(line)));
    constexpr std::array kOrigins{
        LineOrigin::base, LineOrigin::ours, LineOrigin::theirs, LineOrigin::both, LineOrigin::hand};
    if ((marks & (1UL << (kFirstStrandMarker + kOrigins.size()))) != 0) {
        return tr("open: the base's text");
    }
    for (std::size_t i = 1; i < kOrigins.size(); ++i) {
        if ((marks & (1UL << (kFirstStrandMarker + i))) != 0) {
            return nameOfOrigin(kOrigins[i]);
        }
    }
    return nameOfOrigin(LineOrigin::base);
}

bool CodeView::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress && watched == m_editor) {
        return filterKey(*static_cast<QKeyEvent*>(event));
    }
    if (event->type() == QEvent::FocusOut && watched == m_editor
        && static_cast<QFocusEvent*>(event)->reason() != Qt::PopupFocusReason
        && static_cast<QFocusEvent*>(event)->reason() != Qt::ActiveWindowFocusReason) {
        m_isWriting = false;
    }
    if (event->type() == QEvent::ContextMenu) {
        emit menuRequested(static_cast<QContextMenuEvent*>(event)->globalPos());
        return true;
    }
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        QToolTip::showText(help->globalPos(), originAt(help->pos()), m_editor);
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

/// Tab goes through the text like through any other widget, unless somebody is writing in it or has
/// selected what is to be indented.
bool CodeView::filterKey(const QKeyEvent& event)
{
    const bool isBack = event.key() == Qt::Key_Backtab;
    if (event.key() == Qt::Key_Escape) {
        m_isWriting = false;
        emit leaveRequested();
        return true;
    }
    if ((event.key() == Qt::Key_Tab || isBack) && !m_isWriting && !m_editor->hasSelectedText()) {
        (void)focusNextPrevChild(!isBack);
        return true;
    }
    const bool isCommand =
        (event.modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier)) != 0;
    if (!event.text().isEmpty() && !isCommand) {
        m_isWriting = true;
    }
    return false;
}

long CodeView::send(unsigned int message, unsigned long first, long second) const
{
    return m_editor->SendScintilla(message, first, second);
}

void CodeView::defineMarkers()
{
    const int lineHeight = static_cast<int>(send(QsciScintillaBase::SCI_TEXTHEIGHT, 0));
    for (std::size_t i = 0; i < kStrands.size(); ++i) {
        m_editor->markerDefine(strandPixmap(kStrands[i], {kRailWidth, lineHeight}),
                               kFirstStrandMarker + static_cast<int>(i));
    }
    const QColor colours[kRegionLooks] = {
        theme().openFill, theme().decidedFill, theme().decidedFill, theme().openSelected};
    m_editor->markerDefine(gapPixmap(GapSide::above, {kRailWidth, lineHeight}), kGapAboveMarker);
    m_editor->markerDefine(gapPixmap(GapSide::below, {kRailWidth, lineHeight}), kGapBelowMarker);
    for (int i = 0; i < kRegionLooks; ++i) {
        m_editor->markerDefine(QsciScintilla::Background, kFirstRegionMarker + i);
        m_editor->setMarkerBackgroundColor(colours[i], kFirstRegionMarker + i);
    }
    m_editor->markerDefine(QsciScintilla::Background, kNewLineMarker);
    m_editor->markerDefine(QsciScintilla::Background, kBadLineMarker);
    m_editor->setMarkerBackgroundColor(theme().openFill, kBadLineMarker);
    m_editor->indicatorDefine(QsciScintilla::FullBoxIndicator, kNewWordIndicator);
    m_editor->setIndicatorDrawUnder(true, kNewWordIndicator);
    (void)send(QsciScintillaBase::SCI_INDICSETALPHA, kNewWordIndicator, 255);
    (void)send(QsciScintillaBase::SCI_INDICSETOUTLINEALPHA, kNewWordIndicator, 255);
    m_editor->indicatorDefine(QsciScintilla::ThickCompositionIndicator, kBadIndicator);
    m_editor->setIndicatorForegroundColor(theme().openInk, kBadIndicator);
    m_editor->indicatorDefine(QsciScintilla::DotsIndicator, kRemarkIndicator);
    m_editor->setIndicatorForegroundColor(theme().muted, kRemarkIndicator);
}

void CodeView::setLineEnd(std::string_view bytes)
{
    const bool isCrlf = lineEndOf(bytes) == LineEnd::crlf;
    m_editor->setEolMode(isCrlf ? QsciScintilla::EolWindows : QsciScintilla::EolUnix);
}

void CodeView::setText(std::string_view bytes, const QString& fileName)
{
    m_isSyncing = true;
    const RangeHold hold(*m_editor->verticalScrollBar());
    (void)send(QsciScintillaBase::SCI_SETREADONLY, 0);
    (void)send(QsciScintillaBase::SCI_ANNOTATIONCLEARALL);
    m_editor->markerDeleteAll();
    QsciLexer* const previous = m_editor->lexer();
    m_editor->setLexer(nullptr);
    delete previous;
    (void)send(QsciScintillaBase::SCI_CLEARALL);
    m_commentMark = commentMarkOf(fileName);
    m_headings.clear();
    m_unsureLines.clear();
    setTopHeadings({});
    m_editsSinceHeadings = 0;
    if (QsciLexer* const lexer = makeLexer(fileName, this)) {
        m_editor->setLexer(lexer);
    }
    // The text comes after the lexer, which would colour all of it at once.
    m_editor->SendScintilla(QsciScintillaBase::SCI_ADDTEXT, bytes.size(), bytes.data());
    dress();
    m_editor->setScrollWidth(200);  // long lines of another text do not widen this one
    setLineEnd(bytes);
    m_editor->setIndentationsUseTabs(bytes.find('\t') != std::string_view::npos);
    fitNumbers();
    wrap();
    (void)send(QsciScintillaBase::SCI_GOTOPOS, 0);
    m_knownCaret = 0;
    m_isSyncing = false;
}

void CodeView::replaceBytes(std::size_t position, std::size_t length, std::string_view bytes)
{
    m_isSyncing = true;
    // With each telling QScintilla counts the letters before the place, for screen readers: that
    // takes milliseconds far down in a large text.
    (void)send(QsciScintillaBase::SCI_SETMODEVENTMASK, 0);
    const int line = lineAt(position);
    const int linesRemoved = lineAt(position + length) - line;
    const std::size_t before = caret();
    const bool isReadOnly = send(QsciScintillaBase::SCI_GETREADONLY) != 0;
    (void)send(QsciScintillaBase::SCI_SETREADONLY, 0);
    (void)send(
        QsciScintillaBase::SCI_SETTARGETRANGE, position, static_cast<long>(position + length));
    m_editor->SendScintilla(QsciScintillaBase::SCI_REPLACETARGET, bytes.size(), bytes.data());
    if (before >= position + length) {
        (void)send(QsciScintillaBase::SCI_SETEMPTYSELECTION, before - length + bytes.size());
    } else if (before > position) {
        (void)send(QsciScintillaBase::SCI_SETEMPTYSELECTION,
                   std::min(before, position + bytes.size()));
    }
    (void)send(QsciScintillaBase::SCI_SETREADONLY, isReadOnly ? 1 : 0);
    (void)send(QsciScintillaBase::SCI_SETMODEVENTMASK, kToldOf);
    for (const int linesAdded : {-linesRemoved, lineAt(position + bytes.size()) - line}) {
        if (linesAdded != 0) {
            followHeadings(line, linesAdded);
        }
    }
    m_knownCaret = caret();
    m_isSyncing = false;
}

std::string CodeView::bytes(std::size_t position, std::size_t length) const
{
    if (length == 0) {
        return {};
    }
    std::string bytes(length, '\0');
    // A pointer to the text would have all of it moved into one piece each time.
    m_editor->SendScintilla(QsciScintillaBase::SCI_GETTEXTRANGE,
                            static_cast<long>(position),
                            static_cast<long>(position + length),
                            bytes.data());
    return bytes;
}

std::size_t CodeView::size() const
{
    return static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETLENGTH));
}

int CodeView::lineCount() const
{
    return static_cast<int>(send(QsciScintillaBase::SCI_GETLINECOUNT));
}

int CodeView::lineAt(std::size_t position) const
{
    return static_cast<int>(send(QsciScintillaBase::SCI_LINEFROMPOSITION, position));
}

std::size_t CodeView::positionOfLine(int line) const
{
    return static_cast<std::size_t>(
        send(QsciScintillaBase::SCI_POSITIONFROMLINE, static_cast<unsigned long>(line)));
}

void CodeView::setWrapped(bool isWrapped)
{
    m_isWrapped = isWrapped;
    wrap();
}

/// Lines of a very long text keep to one row: laying it out anew at each change of width takes seconds.
void CodeView::wrap()
{
    constexpr int kMostWrapped = 20'000;
    const bool wraps = m_isWrapped && lineCount() <= kMostWrapped;
    (void)send(QsciScintillaBase::SCI_SETWRAPMODE,
               wraps ? QsciScintillaBase::SC_WRAP_WORD : QsciScintillaBase::SC_WRAP_NONE);
    (void)send(QsciScintillaBase::SCI_SETWRAPINDENTMODE,
               QsciScintillaBase::SC_WRAPINDENT_DEEPINDENT);
}

void CodeView::setReadOnly(bool isReadOnly)
{
    m_editor->setReadOnly(isReadOnly);
}

void CodeView::reveal(int firstLine, int lineCount)
{
    (void)send(QsciScintillaBase::SCI_SETXOFFSET, 0);
    const int visible = static_cast<int>(send(QsciScintillaBase::SCI_LINESONSCREEN));
    const int top = firstVisibleLine();
    const int last = firstLine + lineCount;
    const bool isInView = firstLine - 1 >= top && last + 1 < top + visible;
    if (!isInView) {
        const int room = std::max(kContextLines, (visible - lineCount) / 3);
        const int wanted = std::max(0, firstLine - room);
        const long display =
            send(QsciScintillaBase::SCI_VISIBLEFROMDOCLINE, static_cast<unsigned long>(wanted));
        (void)send(QsciScintillaBase::SCI_SETFIRSTVISIBLELINE, static_cast<unsigned long>(display));
    }
}

void CodeView::placeCaret(std::size_t position)
{
    m_isSyncing = true;
    (void)send(QsciScintillaBase::SCI_SETEMPTYSELECTION, position);
    (void)send(QsciScintillaBase::SCI_CHOOSECARETX);  // moving up and down keeps this column
    m_knownCaret = position;
    m_isSyncing = false;
    describeCaretLine();
}

std::size_t CodeView::caret() const
{
    return static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETCURRENTPOS));
}

int CodeView::firstVisibleLine() const
{
    const long display = send(QsciScintillaBase::SCI_GETFIRSTVISIBLELINE);
    return static_cast<int>(
        send(QsciScintillaBase::SCI_DOCLINEFROMVISIBLE, static_cast<unsigned long>(display)));
}

int CodeView::lastVisibleLine() const
{
    const long display = send(QsciScintillaBase::SCI_GETFIRSTVISIBLELINE)
                         + send(QsciScintillaBase::SCI_LINESONSCREEN) - 1;
    const long line =
        send(QsciScintillaBase::SCI_DOCLINEFROMVISIBLE, static_cast<unsigned long>(display));
    return std::min(static_cast<int>(line), lineCount() - 1);
}

void CodeView::focusText()
{
    m_editor->setFocus();
}

void CodeView::beginWriting()
{
    focusText();
    m_isWriting = true;
}

QWidget* CodeView::editor() const
{
    return m_editor;
}

void CodeView::onModified(int position, int type, int length, int linesAdded, int line)
{
    if (linesAdded != 0) {
        followHeadings(line, linesAdded);
    }
    if (m_isSyncing) {
        return;
    }
    const auto at = static_cast<std::size_t>(position);
    const auto count = static_cast<std::size_t>(length);
    if ((type & QsciScintillaBase::SC_MOD_INSERTTEXT) != 0) {
        emit textEdited(at, 0, count);
    } else if ((type & QsciScintillaBase::SC_MOD_DELETETEXT) != 0) {
        emit textEdited(at, count, 0);
    }
}
}  // namespace rope
