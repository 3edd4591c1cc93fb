// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_command.cpp.
#include "desktop/check/output_view.h"

#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QMouseEvent>
#include <QScrollBar>
#include <QTextBlock>

#include <algorithm>

namespace rope {
namespace {
// Dark in either look: this is what a program says, not a part of the result.
const QColor kGround(0x23, 0x27, 0x2e);
const QColor kInk(0xe8, 0xe6, 0xdf);
constexpr std::size_t kMostPlaces = 2'000;
constexpr std::size_t kPartBytes = 8'000;      // shown in one go: some hundred lines
constexpr std::size_t kMostWaiting = 400'000;  // of more, so much of the end is shown

QColor colour(std::uint32_t rgb)
{
    return {static_cast<int>(rgb >> 16 & 255),
            static_cast<int>(rgb >> 8 & 255),
            static_cast<int>(rgb & 255)};
}

/// Ink that can be read on its ground, whatever the program chose.
QColor readable(const QColor& ink, const QColor& ground)
{
    const int difference = qGray(ink.rgb()) - qGray(ground.rgb());
    if (std::abs(difference) >= 70) {
        return ink;
    }
    return qGray(ground.rgb()) < 128 ? kInk : kGround;
}

QTextCharFormat formatOf(const OutputStyle& style)
{
    QTextCharFormat format;
    const QColor ground = style.ground ? colour(*style.ground) : kGround;
    QColor ink = readable(style.ink ? colour(*style.ink) : kInk, ground);
    if (style.isFaint) {
        ink.setAlpha(170);
    }
    format.setForeground(ink);
    if (style.ground) {
        format.setBackground(ground);
    }
    format.setFontWeight(style.isBold ? QFont::Bold : QFont::Normal);
    format.setFontItalic(style.isItalic);
    format.setFontUnderline(style.isUnderlined);
    return format;
}
}  // namespace

OutputView::OutputView(QWidget* parent)
    : QPlainTextEdit(parent)
{
    setReadOnly(true);
    setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    setUndoRedoEnabled(false);
    setMaximumBlockCount(kMostLines);
    useCodeFont(this);
    setFrameShape(QFrame::NoFrame);
    setLineWrapMode(QPlainTextEdit::WidgetWidth);
    setWordWrapMode(QTextOption::WrapAnywhere);
    setAccessibleName(tr("What the check command said"));
    document()->setDocumentMargin(10);
    QPalette colours = palette();
    colours.setColor(QPalette::Base, kGround);
    colours.setColor(QPalette::Text, kInk);
    colours.setColor(QPalette::PlaceholderText, QColor(0x9a, 0xa2, 0xac));
    colours.setColor(QPalette::Highlight, QColor(0x4a, 0x5a, 0x70));
    colours.setColor(QPalette::HighlightedText, kInk);
    setPalette(colours);
    viewport()->setMouseTracking(true);
    m_timer.setSingleShot(true);
    connect(&m_timer, &QTimer::timeout, this, &OutputView::takePart);
}

void OutputView::setFiles(std::set<RepoPath> files, std::string folder)
{
    m_files = std::move(files);
    m_folder = std::move(folder);
}

void OutputView::clearOutput()
{
    m_places.clear();
    m_at.reset();
    m_reader = {};
    m_waiting.clear();
    m_timer.stop();
    m_lastLine = LastLine::none;
    clear();
}

bool OutputView::isAtEnd() const
{
    return verticalScrollBar()->value() >= verticalScrollBar()->maximum() - 1;
}

/// What stands in the last line is said anew, and more of it.
void OutputView::dropUnfinished(QTextCursor& cursor)
{
    cursor.movePosition(QTextCursor::StartOfBlock, QTextCursor::KeepAnchor);
    while (!m_places.empty() && m_places.back().text.selectionStart() >= cursor.position()) {
        m_places.pop_back();
    }
    cursor.removeSelectedText();
    m_lastLine = cursor.position() == 0 ? LastLine::none : LastLine::complete;
    if (m_lastLine == LastLine::complete) {
        cursor.deletePreviousChar();
    }
}

void OutputView::append(std::string_view bytes)
{
    m_waiting += bytes;
    if (m_waiting.size() > kMostWaiting) {
        const std::size_t line = m_waiting.find('\n', m_waiting.size() - kMostWaiting / 2);
        m_waiting.erase(0, line == std::string::npos ? kMostWaiting / 2 : line);
        m_waiting.insert(0, "\n[...]");
    }
    if (!m_timer.isActive()) {
        takePart();
    }
}

void OutputView::takePart()
{
    const std::string part = m_waiting.substr(0, kPartBytes);
    m_waiting.erase(0, part.size());
    showPart(part);
    if (!m_waiting.empty()) {
        m_timer.start(0);
    }
}

void OutputView::showPart(std::string_view bytes)
{
    const bool keepsEnd = isAtEnd();
    QTextCursor cursor(document());
    cursor.movePosition(QTextCursor::End);
    cursor.beginEditBlock();
    if (m_lastLine == LastLine::unfinished) {
        dropUnfinished(cursor);
    }
    for (const OutputLine& line : m_reader.add(bytes)) {
        addLine(cursor, line);
    }
    if (!m_reader.unfinished().runs.empty()) {
        addLine(cursor, m_reader.unfinished());
        m_lastLine = LastLine::unfinished;
    }
    cursor.endEditBlock();
    if (keepsEnd) {
        verticalScrollBar()->setValue(verticalScrollBar()->maximum());
        horizontalScrollBar()->setValue(0);
    }
}

void OutputView::resizeEvent(QResizeEvent* event)
{
    const bool keepsEnd = isAtEnd();
    QPlainTextEdit::resizeEvent(event);
    if (keepsEnd) {
        verticalScrollBar()->setValue(verticalScrollBar()->maximum());
    }
}

/// Adds a line below the others; none of it is empty at the end, so that the last one stands lowest.
void OutputView::addLine(QTextCursor& cursor, const OutputLine& line)
{
    if (m_lastLine != LastLine::none) {
        cursor.insertBlock(QTextBlockFormat(), QTextCharFormat());
    }
    m_lastLine = LastLine::complete;
    const int begin = cursor.position();
    for (const OutputRun& run : line.runs) {
        cursor.insertText(shown(run.text), formatOf(run.style));
    }
    const std::string bytes = line.text();
    const auto links = findOutputLinks(
        bytes, m_folder, [this](const RepoPath& path) { return m_files.contains(path); });
    const int end = cursor.position();
    for (const OutputLink& link : links) {
        if (m_places.size() >= kMostPlaces) {
            break;
        }
        const auto from = shown(bytes.substr(0, link.begin)).size();
        const auto size = shown(bytes.substr(link.begin, link.length)).size();
        Place place{QTextCursor(document()), link.path, link.line};
        place.text.setPosition(begin + static_cast<int>(from));
        place.text.setPosition(begin + static_cast<int>(from + size), QTextCursor::KeepAnchor);
        QTextCharFormat format;
        format.setFontUnderline(true);
        place.text.mergeCharFormat(format);
        m_places.push_back(std::move(place));
    }
    cursor.setPosition(end);
}

void OutputView::goToPlace(int direction)
{
    if (m_places.empty()) {
        return;
    }
    const std::size_t count = m_places.size();
    follow(!m_at           ? (direction > 0 ? 0 : count - 1)
           : direction > 0 ? (*m_at + 1) % count
                           : (*m_at + count - 1) % count);
}

void OutputView::follow(std::size_t place)
{
    m_at = place;
    setTextCursor(m_places[place].text);
    centerCursor();
    emit placeRequested(m_places[place].path, m_places[place].line);
}

std::optional<std::size_t> OutputView::placeAt(int position) const
{
    for (std::size_t i = 0; i < m_places.size(); ++i) {
        const QTextCursor& text = m_places[i].text;
        if (text.hasSelection() && text.selectionStart() <= position
            && position <= text.selectionEnd()) {
            return i;
        }
    }
    return std::nullopt;
}

void OutputView::mouseMoveEvent(QMouseEvent* event)
{
    const bool isOver = placeAt(cursorForPosition(event->pos()).position()).has_value();
    viewport()->setCursor(isOver ? Qt::PointingHandCursor : Qt::IBeamCursor);
    QPlainTextEdit::mouseMoveEvent(event);
}

void OutputView::mouseReleaseEvent(QMouseEvent* event)
{
    QPlainTextEdit::mouseReleaseEvent(event);
    if (event->button() == Qt::LeftButton && !textCursor().hasSelection()) {
        if (const auto place = placeAt(cursorForPosition(event->pos()).position())) {
            follow(*place);
        }
    }
}

void OutputView::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        if (const auto place = placeAt(textCursor().position())) {
            follow(*place);
            return;
        }
    }
    QPlainTextEdit::keyPressEvent(event);
}
}  // namespace rope
