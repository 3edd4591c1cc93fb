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

#include <QHelpEvent>
#include <QKeyEvent>
#include <QLabel>
#include <QScrollBar>
#include <QToolTip>
#include <QVBoxLayout>
#include <Qsci/qscicommand.h>
#include <Qsci/qscicommandset.h>
#include <Qsci/qscilexer.h>
#include <Qsci/qsciscintilla.h>

#include <algorithm>
#include <array>
#include <map>

namespace rope {
namespace {
constexpr int kNumberMargin = 0;
constexpr int kRailMargin = 1;
constexpr int kTextGapMargin = 2;
constexpr int kRailWidth = 10;
constexpr int kFirstStrandMarker = 0;  // one marker per Strand, in its order
constexpr std::array kStrands{
    Strand::base, Strand::ours, Strand::theirs, Strand::both, Strand::hand, Strand::open};
constexpr int kFirstRegionMarker = 10;  // one per RegionLook, in its order
constexpr int kRegionLooks = 4;
constexpr int kContextLines = 5;
constexpr int kMostFollowedEdits = 32;  // before headings are laid anew as a whole
constexpr std::size_t kHeadingPadding =
    240;  // blanks after a heading, so that its band spans the view

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
    (void)send(QsciScintillaBase::SCI_SETMARGINMASKN, kRailMargin, static_cast<long>(strandMask()));
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
    // Told of text only: telling of thousands of marks and headings takes longer than setting them.
    (void)send(QsciScintillaBase::SCI_SETMODEVENTMASK,
               static_cast<unsigned long>(QsciScintillaBase::SC_MOD_INSERTTEXT
                                          | QsciScintillaBase::SC_MOD_DELETETEXT));
    defineMarkers();
    m_editor->viewport()->installEventFilter(this);
    m_editor->installEventFilter(this);
    connect(m_editor,
            &QsciScintillaBase::SCN_MODIFIED,
            this,
            [this](int position, int type, const char*, int length, int linesAdded, int line) {
                onModified(position, type, length, linesAdded, line);
            });
    connect(m_editor, &QsciScintilla::cursorPositionChanged, this, [this] {
        if (!m_isSyncing) {
            emit caretMoved(caret());
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
    if (event->type() == QEvent::KeyPress
        && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        emit leaveRequested();
        return true;
    }
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        QToolTip::showText(help->globalPos(), originAt(help->pos()), m_editor);
        return true;
    }
    return QWidget::eventFilter(watched, event);
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
    for (int i = 0; i < kRegionLooks; ++i) {
        m_editor->markerDefine(QsciScintilla::Background, kFirstRegionMarker + i);
        m_editor->setMarkerBackgroundColor(colours[i], kFirstRegionMarker + i);
    }
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
    m_headingLines.clear();
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
    m_isSyncing = false;
}

void CodeView::replaceBytes(std::size_t position, std::size_t length, std::string_view bytes)
{
    m_isSyncing = true;
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
    m_isSyncing = false;
}

std::string CodeView::bytes(std::size_t position, std::size_t length) const
{
    if (length == 0) {
        return {};
    }
    const auto* all = static_cast<const char*>(
        m_editor->SendScintillaPtrResult(QsciScintillaBase::SCI_GETCHARACTERPOINTER));
    return {all + position, length};
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
        m_headingStyle = static_cast<int>(send(QsciScintillaBase::SCI_ALLOCATEEXTENDEDSTYLES, 2));
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
}

void CodeView::setHeadings(const std::vector<Heading>& headings)
{
    m_isSyncing = true;
    const RangeHold hold(*m_editor->verticalScrollBar());
    // A heading hangs below the line before it; several at one place share that line.
    std::map<int, std::pair<std::string, std::string>> byLine;  // text, and one style per byte
    std::vector<Heading> top;
    for (const Heading& heading : headings) {
        if (heading.beforeLine == 0) {
            top.push_back(heading);  // nothing can hang above the first line but the view itself
            continue;
        }
        auto& [text, styles] = byLine[heading.beforeLine - 1];
        text += (text.empty() ? " " : "\n ") + heading.text.toStdString();
        text.append(kHeadingPadding, ' ');  // the fill reaches as far as the text does
        styles.resize(text.size(), heading.isOpen ? 1 : 0);
    }
    const auto shownAt = [this](unsigned long line) {
        std::string text(
            static_cast<std::size_t>(send(QsciScintillaBase::SCI_ANNOTATIONGETTEXT, line)), '\0');
        if (!text.empty()) {
            m_editor->SendScintilla(QsciScintillaBase::SCI_ANNOTATIONGETTEXT, line, text.data());
        }
        return text;
    };
    if (m_editsSinceHeadings > kMostFollowedEdits) {
        (void)send(QsciScintillaBase::SCI_ANNOTATIONCLEARALL);
    }
    m_editsSinceHeadings = 0;
    for (const int line : m_headingLines) {
        const auto number = static_cast<unsigned long>(line);
        if (line >= 0 && line < lineCount() && !byLine.contains(line) && !shownAt(number).empty()) {
            m_editor->SendScintilla(QsciScintillaBase::SCI_ANNOTATIONSETTEXT,
                                    number,
                                    static_cast<const char*>(nullptr));
        }
    }
    m_headingLines.clear();
    for (const auto& [line, annotation] : byLine) {
        const auto number = static_cast<unsigned long>(line);
        m_headingLines.insert(line);
        if (shownAt(number) != annotation.first) {
            m_editor->SendScintilla(
                QsciScintillaBase::SCI_ANNOTATIONSETTEXT, number, annotation.first.c_str());
            m_editor->SendScintilla(
                QsciScintillaBase::SCI_ANNOTATIONSETSTYLES, number, annotation.second.c_str());
        }
    }
    setTopHeadings(top);
    m_isSyncing = false;
}

void CodeView::setTopHeadings(const std::vector<Heading>& headings)
{
    QStringList lines;
    for (const Heading& heading : headings) {
        lines << heading.text;
    }
    const bool isOpen = std::any_of(
        headings.begin(), headings.end(), [](const Heading& heading) { return heading.isOpen; });
    m_topHeading->setText(lines.join(QLatin1Char('\n')));
    QPalette palette = m_topHeading->palette();
    palette.setColor(QPalette::Window, isOpen ? theme().openFill : theme().decidedFill);
    palette.setColor(QPalette::WindowText, isOpen ? theme().openInk : theme().decided);
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

bool CodeView::findNext(std::string_view bytes, bool matchesCase, int direction)
{
    const auto from = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONSTART));
    const auto to = static_cast<std::size_t>(send(QsciScintillaBase::SCI_GETSELECTIONEND));
    auto found =
        direction > 0 ? find(bytes, matchesCase, to, size()) : find(bytes, matchesCase, from, 0);
    if (!found) {
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

void CodeView::focusText()
{
    m_editor->setFocus();
}

QWidget* CodeView::editor() const
{
    return m_editor;
}

void CodeView::onModified(int position, int type, int length, int linesAdded, int line)
{
    // Many edits in a row are not followed one by one: that would take the square of their number.
    if (linesAdded != 0 && ++m_editsSinceHeadings > kMostFollowedEdits) {
        m_headingLines.clear();
    }
    if (linesAdded != 0 && !m_headingLines.empty()) {
        // Headings move with their lines; near the edit any line may have kept or lost one.
        std::set<int> moved;
        for (const int heading : m_headingLines) {
            moved.insert(heading > line ? std::max(line, heading + linesAdded) : heading);
        }
        for (int near = line - 1; near <= line + std::abs(linesAdded) + 1; ++near) {
            moved.insert(near);
        }
        m_headingLines = std::move(moved);
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
