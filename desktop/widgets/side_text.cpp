// SPDX-License-Identifier: GPL-3.0-or-later
// Rows above a line are its block's top margin; the gap of a word that is gone is letter spacing after
// the letter before it, or the block's indent. So nothing of it is text.
// Tested by tst_side_text.cpp.
#include "desktop/widgets/side_text.h"

#include "core/text/encoding.h"
#include "core/text/text.h"
#include "desktop/widgets/side_text_measures.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QAbstractTextDocumentLayout>
#include <QApplication>
#include <QDrag>
#include <QMimeData>
#include <QScrollBar>
#include <QTextBlock>
#include <QTextFrame>

#include <algorithm>
#include <utility>

namespace rope {
namespace {
constexpr std::size_t kMostShown = 400'000;  // bytes; beyond it evidence is read in the file itself
constexpr int kMostHintLines = 40;           // taller texts scroll in any case
constexpr int kLeastLines = 3;               // in view, however small the window
constexpr qsizetype kMostFramed = 24;  // letters of a gone word, longer ones lose their middle

QString shortened(const QString& word)
{
    if (word.size() <= kMostFramed) {
        return word;
    }
    constexpr qsizetype kEnds = kMostFramed / 2 - 1;
    return word.first(kEnds) + QChar(u'…') + word.last(kEnds);
}
}  // namespace

SideText::SideText(Strand side, QWidget* parent)
    : QTextEdit(parent)
    , m_side(side)
{
    setReadOnly(true);
    setFrameShape(QFrame::NoFrame);
    document()->setDocumentMargin(0);
    document()->setUndoRedoEnabled(false);
    setLineWrapMode(QTextEdit::WidgetWidth);
    setWordWrapMode(QTextOption::WrapAtWordBoundaryOrAnywhere);
    setTabChangesFocus(true);
    setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    setSizePolicy(policy);
    viewport()->setMouseTracking(true);
    whenLookChanges(this, [this] {
        setFont(codeFont());
        setTabStopDistance(4 * QFontMetricsF(font()).horizontalAdvance(QLatin1Char(' ')));
        lay();
    });
}

void SideText::setSideways(bool isSideways)
{
    setLineWrapMode(isSideways ? QTextEdit::NoWrap : QTextEdit::WidgetWidth);
    setHorizontalScrollBarPolicy(isSideways ? Qt::ScrollBarAsNeeded : Qt::ScrollBarAlwaysOff);
    updateGeometry();
}

int SideText::rowHeight() const
{
    return QFontMetrics(font()).lineSpacing();
}

QString SideText::decoded(std::string_view bytes) const
{
    const auto size = static_cast<qsizetype>(bytes.size());
    QString text =
        m_isUtf8 ? QString::fromUtf8(bytes.data(), size) : QString::fromLatin1(bytes.data(), size);
    for (QChar& c : text) {
        if (c.unicode() < 0x20 && c != QLatin1Char('\t')) {
            c = QChar(
                static_cast<char16_t>(0x2400 + c.unicode()));  // would cut the document's line
        } else if (c == QChar::ParagraphSeparator || c == QChar::LineSeparator) {
            c = QChar(u'\u23ce');
        }
    }
    return text;
}

void SideText::begin(std::string_view text)
{
    m_lines.clear();
    m_emptyRows.clear();
    m_remark.clear();
    m_bytes = std::string(text.substr(0, kMostShown));
    m_isUtf8 = isUtf8(m_bytes);
}

int SideText::gapOf(const Frame& frame) const
{
    const int bit = frame.hasNew ? kFrameGap + kBitWidth : 0;
    return QFontMetrics(font()).horizontalAdvance(frame.text) + 2 * kFramePadding + bit
           + 2 * kFrameGap;
}

/// Rows above the first line and below the last: a document ignores the outer margins of its blocks there.
void SideText::setRoomAround(std::size_t above, std::size_t below)
{
    QTextFrame* const whole = document()->rootFrame();
    QTextFrameFormat format = whole->frameFormat();
    format.setTopMargin(static_cast<double>(above) * rowHeight());
    format.setBottomMargin(static_cast<double>(below) * rowHeight());
    whole->setFrameFormat(format);
}

int SideText::hiddenWidth(const QString& line) const
{
    qsizetype hidden = 0;
    while (hidden < m_hiddenIndent && hidden < line.size() && line[hidden] == QLatin1Char(' ')) {
        ++hidden;
    }
    return QFontMetrics(font()).horizontalAdvance(line.first(hidden));
}

void SideText::layWords(Line& line, int begin, QTextBlockFormat& block, int hanging)
{
    const std::string_view content = withoutLineEnd(line.bytes);
    const auto format = [&](int from, int to, const QTextCharFormat& wanted) {
        QTextCursor part(document());
        part.setPosition(begin + from);
        part.setPosition(begin + to, QTextCursor::KeepAnchor);
        part.mergeCharFormat(wanted);
    };
    QTextCharFormat fresh;
    fresh.setBackground(coloursOf(m_side).word);
    fresh.setFontUnderline(true);
    fresh.setUnderlineColor(coloursOf(m_side).ink);
    line.frames.clear();
    for (const WordMark& word : line.words) {
        const auto from = static_cast<int>(decoded(content.substr(0, word.begin)).size());
        const auto to = static_cast<int>(decoded(content.substr(0, word.end)).size());
        format(from, to, fresh);
        if (word.gone.empty()) {
            continue;
        }
        const QString whole = decoded(word.gone);
        line.frames.push_back({from, shortened(whole), whole, to > from});
        const int gap = gapOf(line.frames.back());
        if (from > 0) {
            QTextCharFormat spaced;
            spaced.setFontLetterSpacingType(QFont::AbsoluteSpacing);
            spaced.setFontLetterSpacing(gap);
            format(from - 1, from, spaced);
        } else {
            block.setTextIndent(gap - hanging);
        }
    }
}

void SideText::layLine(Line& line, bool isFirst)
{
    const QFontMetrics metrics(font());
    QTextCursor cursor(document());
    cursor.movePosition(QTextCursor::End);
    if (!isFirst) {
        cursor.insertBlock();
    }
    QTextCharFormat plain;
    plain.setForeground(theme().ink);
    const QString text = decoded(withoutLineEnd(line.bytes));
    cursor.setBlockCharFormat(plain);
    cursor.insertText(text, plain);

    // Lines that wrap go on below their own indent.
    qsizetype indent = 0;
    while (indent < text.size() && text[indent].isSpace()) {
        ++indent;
    }
    const int hanging =
        metrics.horizontalAdvance(text.first(indent)) + 2 * metrics.averageCharWidth();
    QTextBlockFormat block;
    // What is hidden of the indent lies left of the view.
    block.setLeftMargin(kTextLeft + hanging - hiddenWidth(text));
    block.setTextIndent(-hanging);
    if (!isFirst) {
        block.setTopMargin(static_cast<int>(line.above.size()) * rowHeight());
    }
    block.setBottomMargin(static_cast<int>(line.below.size()) * rowHeight());
    if (line.isFilled) {
        block.setBackground(line.strand == Strand::both ? theme().decidedFill
                                                        : coloursOf(line.strand).fill);
    }
    layWords(line, cursor.block().position(), block, hanging);
    cursor.setBlockFormat(block);
    cursor.block().setVisible(!line.isFolded);
}

void SideText::lay()
{
    clear();
    setRoomAround(0, 0);
    bool isFirst = true;
    for (Line& line : m_lines) {
        layLine(line, std::exchange(isFirst, false));
    }
    moveCursor(QTextCursor::Start);
    if (m_lines.empty()) {
        setRoomAround(m_emptyRows.size(), 0);
    } else {
        setRoomAround(m_lines.front().above.size(), m_lines.back().below.size());
    }
    document()->markContentsDirty(0, document()->characterCount());  // margins, and what is folded
    setAccessibleDescription(remarks().join(QStringLiteral("; ")));
    updateGeometry();
    viewport()->update();
}

std::vector<SideText::Row> SideText::rowsOf(const std::vector<std::string>& lines,
                                            Row::Kind kind) const
{
    std::vector<Row> rows;
    rows.reserve(lines.size());
    for (const std::string& line : lines) {
        rows.push_back({kind, decoded(withoutLineEnd(line))});
    }
    return rows;
}

void SideText::setAround(const std::vector<std::string_view>& before,
                         const std::vector<std::string_view>& after)
{
    m_before.assign(before.begin(), before.end());
    m_after.assign(after.begin(), after.end());
}

void SideText::showSide(std::string_view text, const SideReading& reading, Strand against)
{
    begin(text);
    m_against = against;
    const auto lines = splitLines(m_bytes);
    const std::vector<Row> before = rowsOf(m_before, Row::Kind::around);
    const std::vector<Row> after = rowsOf(m_after, Row::Kind::around);
    for (std::size_t i = 0; i < lines.size() && i < reading.lines.size(); ++i) {
        const SideLine& side = reading.lines[i];
        Line line;
        line.bytes = lines[i];
        line.above = rowsOf(side.goneBefore, Row::Kind::gone);
        if (i == 0) {
            line.above.insert(line.above.begin(), before.begin(), before.end());
        }
        if (i + 1 == lines.size()) {
            line.below = rowsOf(reading.goneAtEnd, Row::Kind::gone);
            line.below.insert(line.below.end(), after.begin(), after.end());
        }
        line.isFilled = side.kind == MarkedLine::Kind::added || side.isShared;
        line.isMarked = side.kind != MarkedLine::Kind::kept;
        line.strand = side.isShared ? Strand::both : m_side;
        if (side.isShared) {
            line.remark = tr("both added this");
        } else if (side.kind == MarkedLine::Kind::edited && side.words.empty()) {
            line.remark = tr("only blanks differ");
        }
        if (!side.isShared) {
            line.words = side.words;
        }
        m_lines.push_back(std::move(line));
    }
    if (lines.empty()) {
        m_remark = tr("nothing here");
        m_emptyRows = before;
        const std::vector<Row> gone = rowsOf(reading.goneAtEnd, Row::Kind::gone);
        m_emptyRows.insert(m_emptyRows.end(), gone.begin(), gone.end());
    }
    layBlanks(m_wantsBlanks || reading.onlyBlanksDiffer);  // of this text only
    lay();
}

namespace {
QString fateInWords(const BaseLine& line)
{
    const bool goneByOurs = line.byOurs == Fate::removed;
    const bool goneByTheirs = line.byTheirs == Fate::removed;
    if (line.byTheirs == Fate::kept) {
        return goneByOurs ? SideText::tr("removed by ours") : SideText::tr("changed by ours");
    }
    if (line.byOurs == Fate::kept) {
        return goneByTheirs ? SideText::tr("removed by theirs") : SideText::tr("changed by theirs");
    }
    return goneByOurs && goneByTheirs ? SideText::tr("removed by both")
           : goneByOurs               ? SideText::tr("removed by ours, changed by theirs")
           : goneByTheirs             ? SideText::tr("changed by ours, removed by theirs")
                                      : SideText::tr("changed by both");
}

QString foldInWords(int lines)
{
    return lines == 1 ? SideText::tr("1 line the same everywhere")
                      : SideText::tr("%1 lines the same everywhere").arg(lines);
}
}  // namespace

void SideText::showBase(std::string_view text, const std::vector<BaseLine>& fates, bool isFolded)
{
    begin(text);
    m_against = Strand::base;
    const auto lines = splitLines(m_bytes);
    int folded = 0;
    std::optional<std::size_t> lastShown;
    for (std::size_t i = 0; i < lines.size() && i < fates.size(); ++i) {
        const BaseLine& fate = fates[i];
        Line line;
        line.bytes = lines[i];
        if (isFolded && fate.isKept()) {
            ++folded;
            line.isFolded = true;
            m_lines.push_back(std::move(line));
            continue;
        }
        if (folded > 0) {
            line.above.push_back({Row::Kind::fold, foldInWords(folded)});
            folded = 0;
        }
        if (!fate.isKept()) {
            line.remark = fateInWords(fate);
        }
        if (fate.byTheirs != Fate::kept) {
            line.remarkStrands.push_back(Strand::theirs);
        }
        if (fate.byOurs != Fate::kept) {
            line.remarkStrands.push_back(Strand::ours);
        }
        lastShown = i;
        m_lines.push_back(std::move(line));
    }
    if (folded > 0) {
        if (!lastShown) {  // something has to carry the fold: the first line stays
            lastShown = 0;
            m_lines.front().isFolded = false;
            --folded;
        }
        if (folded > 0) {
            m_lines[*lastShown].below.push_back({Row::Kind::fold, foldInWords(folded)});
        }
    }
    if (lines.empty()) {
        m_remark = tr("nothing here");
    }
    lay();
}

void SideText::showOutcome(std::string_view text, const std::vector<LineOrigin>& origins)
{
    begin(text);
    const auto lines = splitLines(m_bytes);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const Strand strand = i < origins.size() ? strandOf(origins[i]) : Strand::base;
        Line line;
        line.bytes = lines[i];
        line.isMarked = strand != Strand::base;
        line.strand = strand;
        line.isFilled =
            strand == Strand::ours || strand == Strand::theirs || strand == Strand::both;
        m_lines.push_back(std::move(line));
    }
    if (lines.empty()) {
        m_remark = tr("nothing here");
    }
    lay();
}

void SideText::showRemark(const QString& remark)
{
    begin({});
    m_remark = remark;
    lay();
}

void SideText::setBlanksShown(bool areShown)
{
    m_wantsBlanks = areShown;
    layBlanks(areShown);
}

void SideText::layBlanks(bool areShown)
{
    m_areBlanksShown = areShown;
    QTextOption option = document()->defaultTextOption();
    option.setFlags(areShown ? QTextOption::ShowTabsAndSpaces : QTextOption::Flags());
    document()->setDefaultTextOption(option);
    viewport()->update();
}

QStringList SideText::remarks() const
{
    QStringList said;
    const auto addRows = [&](const std::vector<Row>& rows) {
        for (const Row& row : rows) {
            said << (row.kind == Row::Kind::gone     ? tr("gone: %1").arg(row.text)
                     : row.kind == Row::Kind::around ? tr("around it: %1").arg(row.text)
                                                     : row.text);
        }
    };
    addRows(m_emptyRows);
    for (const Line& line : m_lines) {
        addRows(line.above);
        for (const Frame& frame : line.frames) {
            said << tr("instead of %1").arg(frame.whole);
        }
        if (!line.remark.isEmpty()) {
            said << line.remark;
        }
        addRows(line.below);
    }
    if (!m_remark.isEmpty()) {
        said << m_remark;
    }
    return said;
}

std::size_t SideText::byteAt(int position) const
{
    const QTextBlock block = document()->findBlock(position);
    const auto number = static_cast<std::size_t>(block.blockNumber());
    if (number >= m_lines.size()) {
        return 0;
    }
    const std::string_view bytes = m_lines[number].bytes;
    const auto begin = static_cast<std::size_t>(bytes.data() - m_bytes.data());
    const qsizetype column = position - block.position();
    if (!m_isUtf8) {
        return begin + static_cast<std::size_t>(column);
    }
    const auto length = static_cast<qsizetype>(bytes.size());
    return begin
           + static_cast<std::size_t>(
               QString::fromUtf8(bytes.data(), length).first(column).toUtf8().size());
}

std::string SideText::selectedBytes() const
{
    const QTextCursor cursor = textCursor();
    if (!cursor.hasSelection()) {
        return {};
    }
    const int end = document()->characterCount() - 1;
    if (cursor.selectionStart() == 0 && cursor.selectionEnd() == end) {
        return m_bytes;  // with the end of its last line
    }
    const std::size_t from = byteAt(cursor.selectionStart());
    return m_bytes.substr(from, byteAt(cursor.selectionEnd()) - from);
}

QMimeData* SideText::createMimeDataFromSelection() const
{
    const std::string bytes = selectedBytes();
    auto* selected = new QMimeData;
    selected->setText(m_isUtf8 ? QString::fromStdString(bytes) : QString::fromLatin1(bytes));
    return selected;
}

QSize SideText::sizeHint() const
{
    const int height = static_cast<int>(document()->size().height());
    const bool isBarred =
        lineWrapMode() == QTextEdit::NoWrap && document()->size().width() > viewport()->width();
    return {240,
            std::clamp(height, rowHeight(), kMostHintLines * rowHeight()) + 2
                + (isBarred ? horizontalScrollBar()->sizeHint().height() : 0)};
}

QSize SideText::minimumSizeHint() const
{
    return {80, std::min(sizeHint().height(), kLeastLines * rowHeight() + 2)};
}

void SideText::resizeEvent(QResizeEvent* event)
{
    QTextEdit::resizeEvent(event);
    updateGeometry();  // how much wraps depends on the width
}

void SideText::mousePressEvent(QMouseEvent* event)
{
    m_pressedAt.reset();
    const int position = cursorForPosition(event->pos()).position();
    const QTextCursor selected = textCursor();
    if (event->button() == Qt::LeftButton && selected.hasSelection()
        && position >= selected.selectionStart() && position < selected.selectionEnd()) {
        m_pressedAt = event->pos();
        return;
    }
    if (isFoldAt(event->pos())) {
        emit foldClicked();
        return;
    }
    QTextEdit::mousePressEvent(event);
}

void SideText::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_pressedAt) {
        QTextEdit::mouseMoveEvent(event);
    } else if ((event->pos() - *m_pressedAt).manhattanLength()
               >= QApplication::startDragDistance()) {
        m_pressedAt.reset();
        startDrag();
    }
}

void SideText::mouseReleaseEvent(QMouseEvent* event)
{
    if (m_pressedAt) {
        m_pressedAt.reset();
        setTextCursor(cursorForPosition(event->pos()));
        return;
    }
    QTextEdit::mouseReleaseEvent(event);
}

void SideText::startDrag()
{
    // The base class would begin a second drag from its scroll timer while the first one goes on.
    auto* drag = new QDrag(this);
    drag->setMimeData(createMimeDataFromSelection());
    drag->exec(Qt::CopyAction);
}
}  // namespace rope
