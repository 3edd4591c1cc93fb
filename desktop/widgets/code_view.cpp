// SPDX-License-Identifier: GPL-3.0-or-later
// Facts of QScintilla 2.13 that are hidden here: its setText() and text() stop at a NUL and replace
// invalid bytes, so text goes in and out by length; a lone CR ends a line, so the outside speaks byte
// offsets; its own undo is switched off, since decisions and text share one history.
// Tested by tst_code_view.cpp.
#include "desktop/widgets/code_view.h"

#include "core/text/line_end.h"
#include "desktop/widgets/code_lexer.h"
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
namespace {
constexpr int kNumberMargin = 0;
constexpr int kRailMargin = 1;
constexpr int kTextGapMargin = 2;
constexpr int kRailWidth = 10;
constexpr int kFirstStrandMarker = 0;  // one marker per Strand, in its order
constexpr std::array kStrands{
    Strand::base, Strand::ours, Strand::theirs, Strand::both, Strand::hand, Strand::open};
constexpr int kGapAboveMarker = 6;
constexpr int kGapBelowMarker = 7;
constexpr int kFirstRegionMarker = 10;  // one per RegionLook, in its order
constexpr int kRegionLooks = 4;
constexpr int kNewLineMarker = 15;
constexpr int kNewSignMarker = 16;
constexpr int kBadLineMarker = 17;
constexpr int kNewWordIndicator = 9;
constexpr int kBadIndicator = 10;
constexpr int kRemarkIndicator = 11;
constexpr int kSignWidth = 20;  // of the margin with the signs of new lines
constexpr int kHeadingLooks = 5;
constexpr int kContextLines = 5;
constexpr int kMostFollowedEdits = 32;      // before headings are laid anew as a whole
constexpr int kMostFollowedLines = 10'000;  // of one edit
constexpr std::size_t kHeadingPadding =
    240;  // blanks after a heading, so that its band spans the view

/// Of text only: telling of thousands of marks and headings takes longer than setting them.
constexpr unsigned long kToldOf =
    QsciScintillaBase::SC_MOD_INSERTTEXT | QsciScintillaBase::SC_MOD_DELETETEXT;

/// While it lives, a scroll bar tells nobody of a new range; then once. Each heading that comes or goes
/// changes it, and each telling lays the view out anew.
class RangeHold
{
public:
    explicit RangeHold(QScrollBar& bar)
        : m_bar(bar)
        , m_wasBlocked(bar.blockSignals(true))
    {
    }
    ~RangeHold()
    {
        m_bar.blockSignals(m_wasBlocked);
        emit m_bar.rangeChanged(m_bar.minimum(), m_bar.maximum());
    }
    RangeHold(const RangeHold&) = delete;
    RangeHold& operator=(const RangeHold&) = delete;

private:
    QScrollBar& m_bar;
    bool m_wasBlocked;
};

unsigned int strandMask()
{
    return ((1U << kStrands.size()) - 1U) << kFirstStrandMarker;
}
}  // namespace

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
    m_editor->setCaretForegroundColor(theme().ink);
    m_editor->setColor(theme().ink);
    m_editor->setPaper(theme().paper);
    m_editor->setFont(codeFont());
    (void)send(QsciScintillaBase::SCI_SETEXTRAASCENT, 1);
    (void)send(QsciScintillaBase::SCI_SETEXTRADESCENT, 2);
    m_editor->setScrollWidth(200);
    m_editor->setScrollWidthTracking(true);
    m_editor->setMarginsFont(codeFont());
    m_editor->setMarginsForegroundColor(theme().muted);
    m_editor->setMarginsBackgroundColor(theme().paper);
    m_editor->setMarginType(kNumberMargin, QsciScintilla::NumberMargin);
    m_editor->setMarginType(kRailMargin, QsciScintilla::SymbolMarginColor);
    m_editor->setMarginType(kTextGapMargin, QsciScintilla::SymbolMarginColor);
    m_editor->setMarginWidth(kRailMargin, kRailWidth);
    m_editor->setMarginWidth(kTextGapMargin, 8);
    m_editor->setMarginBackgroundColor(kRailMargin, theme().base.word);
    m_editor->setMarginBackgroundColor(kTextGapMargin, theme().paper);
    m_editor->setMarginMarkerMask(kTextGapMargin, 0);
    (void)send(QsciScintillaBase::SCI_SETMARGINMASKN,
               kRailMargin,
               static_cast<long>(strandMask() | 1U << kGapAboveMarker | 1U << kGapBelowMarker));
    m_editor->setBraceMatching(QsciScintilla::SloppyBraceMatch);
    m_editor->setMatchedBraceBackgroundColor(theme().selection);
    m_editor->setMatchedBraceForegroundColor(theme().ink);
    m_editor->setUnmatchedBraceBackgroundColor(theme().openFill);
    m_editor->setUnmatchedBraceForegroundColor(theme().openInk);
    m_belowText = new QWidget(m_editor->viewport());
    m_belowText->setAutoFillBackground(true);
    m_belowText->setAttribute(Qt::WA_TransparentForMouseEvents);
    connect(m_editor, &QsciScintillaBase::SCN_PAINTED, this, &CodeView::coverBelowText);
    m_editor->setSelectionBackgroundColor(palette().color(QPalette::Highlight));
    m_editor->resetSelectionForegroundColor();
    (void)send(QsciScintillaBase::SCI_SETUNDOCOLLECTION, 0);
    for (const QKeyCombination key :
         {Qt::CTRL | Qt::Key_Z, Qt::CTRL | Qt::Key_Y, Qt::CTRL | Qt::SHIFT | Qt::Key_Z}) {
        if (QsciCommand* const command = m_editor->standardCommands()->boundTo(key.toCombined())) {
            command->setKey(0);  // these keys belong to the window
        }
    }
    (void)send(QsciScintillaBase::SCI_ANNOTATIONSETVISIBLE, QsciScintillaBase::ANNOTATION_STANDARD);
    (void)send(QsciScintillaBase::SCI_SETMODEVENTMASK, kToldOf);
    defineMarkers();
    m_editor->viewport()->installEventFilter(this);
    m_editor->installEventFilter(this);
    connectEditor();
}

void CodeView::connectEditor()
{
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
    const auto marks = static_cast<unsigned long>(
        send(QsciScintillaBase::SCI_MARKERGET,
             static_cast<unsigned long>(lineAt(static_cast<std::size_t>(position)))));
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
    } else {
        m_editor->setColor(theme().ink);
        m_editor->setPaper(theme().paper);
        m_editor->setFont(codeFont());
    }
    // The text comes after the lexer, which would colour all of it at once.
    m_editor->SendScintilla(QsciScintillaBase::SCI_ADDTEXT, bytes.size(), bytes.data());
    m_editor->setMarginsFont(codeFont());
    m_editor->setMarginsForegroundColor(theme().muted);
    m_editor->setMarginsBackgroundColor(theme().paper);
    m_editor->setMarginBackgroundColor(kRailMargin, theme().base.word);
    m_editor->setMarginBackgroundColor(kTextGapMargin, theme().paper);
    defineMarkers();
    defineHeadingStyles();
    m_editor->setScrollWidth(200);  // long lines of another text do not widen this one
    setLineEnd(bytes);
    m_editor->setIndentationsUseTabs(bytes.find('\t') != std::string_view::npos);
    const int digits = std::max(3, static_cast<int>(QString::number(lineCount()).size()));
    m_editor->setMarginWidth(kNumberMargin, QString(digits + 1, QLatin1Char('9')));
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

void CodeView::setReadOnly(bool isReadOnly)
{
    m_editor->setReadOnly(isReadOnly);
}

void CodeView::setStrands(int firstLine, const std::vector<Strand>& strands)
{
    int line = firstLine;
    for (const Strand strand : strands) {
        const auto number = static_cast<unsigned long>(line++);
        const unsigned long present =
            static_cast<unsigned long>(send(QsciScintillaBase::SCI_MARKERGET, number))
            & strandMask();
        const auto at = std::find(kStrands.begin(), kStrands.end(), strand) - kStrands.begin();
        const int wanted = kFirstStrandMarker + static_cast<int>(at);
        const unsigned long wish = strand == Strand::base ? 0UL : 1UL << wanted;
        for (std::size_t i = 0; i < kStrands.size() && present != 0; ++i) {
            removeMarker(number, kFirstStrandMarker + static_cast<int>(i));
        }
        if (wish != 0) {
            (void)send(QsciScintillaBase::SCI_MARKERADD, number, wanted);
        }
    }
}

void CodeView::markGaps(int firstLine, int lineCount, const std::vector<std::uint32_t>& gaps)
{
    for (int line = firstLine; line < firstLine + lineCount; ++line) {
        removeMarker(static_cast<unsigned long>(line), kGapAboveMarker);
        removeMarker(static_cast<unsigned long>(line), kGapBelowMarker);
    }
    for (const std::uint32_t gap : gaps) {
        const bool isAtEnd = static_cast<int>(gap) >= lineCount;
        const int line = firstLine + (isAtEnd ? std::max(lineCount - 1, 0) : static_cast<int>(gap));
        (void)send(QsciScintillaBase::SCI_MARKERADD,
                   static_cast<unsigned long>(line),
                   isAtEnd ? kGapBelowMarker : kGapAboveMarker);
    }
}

/// Behind the last line end Scintilla shows one more line, which is none of the text: its number and
/// rail are covered, as is what lies below.
void CodeView::coverBelowText()
{
    const int last = lineCount() - 1;
    const bool isPhantom = last > 0 && positionOfLine(last) == size();
    const auto end = static_cast<long>(size());
    const int top =
        static_cast<int>(send(QsciScintillaBase::SCI_POINTYFROMPOSITION, 0, end))
        + (isPhantom ? 0 : static_cast<int>(send(QsciScintillaBase::SCI_TEXTHEIGHT, 0)));
    const int width = m_editor->marginWidth(kNumberMargin) + kRailWidth;
    const QRect cover(0, top, width, std::max(m_editor->viewport()->height() - top, 0));
    if (cover != m_belowText->geometry()) {
        m_belowText->setGeometry(cover);
    }
    m_belowText->setVisible(!cover.isEmpty());
}

void CodeView::markRegion(int firstLine, int lineCount, std::optional<RegionLook> look)
{
    for (int line = firstLine; line < firstLine + lineCount; ++line) {
        const auto number = static_cast<unsigned long>(line);
        for (int i = 0; i < kRegionLooks; ++i) {
            removeMarker(number, kFirstRegionMarker + i);
        }
        if (look) {
            (void)send(QsciScintillaBase::SCI_MARKERADD,
                       number,
                       kFirstRegionMarker + static_cast<int>(*look));
        }
    }
}

void CodeView::removeMarker(unsigned long line, int marker)
{
    // Joining lines can leave a marker on a line twice; each call deletes one.
    while (
        (static_cast<unsigned long>(send(QsciScintillaBase::SCI_MARKERGET, line)) & (1UL << marker))
        != 0) {
        (void)send(QsciScintillaBase::SCI_MARKERDELETE, line, marker);
    }
}

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

/// A plus as high as a line.
QPixmap CodeView::newSign(const QColor& ink) const
{
    const int height = static_cast<int>(send(QsciScintillaBase::SCI_TEXTHEIGHT, 0));
    const qreal scale = devicePixelRatioF();
    QPixmap pixmap(QSize(kSignWidth - 6, height) * scale);
    pixmap.setDevicePixelRatio(scale);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setPen(QPen(ink, 1.6));
    const QPointF centre((kSignWidth - 6) / 2.0, height / 2.0);
    painter.drawLine(centre - QPointF(4, 0), centre + QPointF(4, 0));
    painter.drawLine(centre - QPointF(0, 4), centre + QPointF(0, 4));
    return pixmap;
}

void CodeView::setNewLines(const std::vector<NewLine>& lines, const SideColours& colours)
{
    m_editor->markerDeleteAll(kNewLineMarker);
    m_editor->markerDeleteAll(kNewSignMarker);
    m_editor->setMarkerBackgroundColor(colours.fill, kNewLineMarker);
    m_editor->markerDefine(newSign(colours.ink), kNewSignMarker);
    m_editor->setIndicatorForegroundColor(colours.word, kNewWordIndicator);
    m_editor->setMarginWidth(kTextGapMargin, kSignWidth);
    m_editor->setMarginMarkerMask(kTextGapMargin, 1 << kNewSignMarker);
    (void)send(QsciScintillaBase::SCI_SETINDICATORCURRENT, kNewWordIndicator);
    (void)send(QsciScintillaBase::SCI_INDICATORCLEARRANGE, 0, static_cast<long>(size()));
    for (const NewLine& line : lines) {
        const auto number = static_cast<unsigned long>(line.line);
        (void)send(QsciScintillaBase::SCI_MARKERADD, number, kNewLineMarker);
        (void)send(QsciScintillaBase::SCI_MARKERADD, number, kNewSignMarker);
        const std::size_t begin = positionOfLine(line.line);
        for (const auto& [from, to] : line.words) {
            (void)send(QsciScintillaBase::SCI_INDICATORFILLRANGE,
                       begin + from,
                       static_cast<long>(to - from));
        }
    }
}

void CodeView::setUnderlined(const std::vector<Underlined>& places)
{
    m_editor->markerDeleteAll(kBadLineMarker);
    for (const int indicator : {kBadIndicator, kRemarkIndicator}) {
        (void)send(QsciScintillaBase::SCI_SETINDICATORCURRENT,
                   static_cast<unsigned long>(indicator));
        (void)send(QsciScintillaBase::SCI_INDICATORCLEARRANGE, 0, static_cast<long>(size()));
    }
    for (const Underlined& place : places) {
        (void)send(QsciScintillaBase::SCI_SETINDICATORCURRENT,
                   static_cast<unsigned long>(place.isBad ? kBadIndicator : kRemarkIndicator));
        (void)send(QsciScintillaBase::SCI_INDICATORFILLRANGE,
                   place.position,
                   static_cast<long>(place.length));
        if (place.isBad) {
            (void)send(QsciScintillaBase::SCI_MARKERADD,
                       static_cast<unsigned long>(lineAt(place.position)),
                       kBadLineMarker);
        }
    }
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
