// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QWidget>

#include <cstdint>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

class QLabel;
class QsciScintilla;

namespace rope {
/// How the lines of a region are marked.
enum class RegionLook { open, decided, selected, selectedOpen };

/// An editor for bytes with syntax colours, a strand rail and headings between lines. The only place
/// that knows QScintilla. Speaks byte offsets; text that is not UTF-8 is shown byte by byte and kept.
/// Has no undo of its own: whoever uses it keeps the history.
class CodeView final : public QWidget
{
    Q_OBJECT
public:
    explicit CodeView(QWidget* parent);

    /// Replaces everything; chooses the lexer by the file's name. No textEdited() follows.
    void setText(std::string_view bytes, const QString& fileName);
    /// Replaces some bytes. No textEdited() follows; the caret stays with its text.
    void replaceBytes(std::size_t position, std::size_t length, std::string_view bytes);
    [[nodiscard]] std::string bytes(std::size_t position, std::size_t length) const;
    [[nodiscard]] std::size_t size() const;
    [[nodiscard]] int lineCount() const;
    [[nodiscard]] int lineAt(std::size_t position) const;
    [[nodiscard]] std::size_t positionOfLine(int line) const;

    void setReadOnly(bool isReadOnly);
    /// Whether lines that are too long for the view go on in a further row; at first they do.
    void setWrapped(bool isWrapped);
    /// Marks lines on the rail; lines not told are plain.
    void setStrands(int firstLine, const std::vector<Strand>& strands);
    /// Marks lines as a region's, or, without a look, as no region's any more.
    void markRegion(int firstLine, int lineCount, std::optional<RegionLook> look);

    /// Marks on the rail where lines were taken out by hand: before the first line plus each number,
    /// behind the last for `lineCount`. Other lines of these lose such marks.
    void markGaps(int firstLine, int lineCount, const std::vector<std::uint32_t>& gaps);

    enum class HeadingLook {
        decided,
        open,
        gone,    ///< A line that is not in the text any more.
        remark,  ///< Something said of the line above it that is probably wrong.
        quiet,   ///< Something else said of it.
    };
    struct Heading
    {
        int beforeLine = 0;
        QString text;
        HeadingLook look = HeadingLook::decided;
    };
    /// Headings stand between lines and are no part of the text. Replaces all; only those that differ
    /// from what is shown cost time.
    void setHeadings(const std::vector<Heading>& headings);

    /// A line that is not in what the text is read against, and what of it is new; no words: all of it.
    struct NewLine
    {
        int line = 0;
        std::vector<std::pair<std::size_t, std::size_t>>
            words{};  ///< Bytes [begin, end) of the line.
    };
    /// Marks new lines with a sign beside them, and their words. Replaces all such marks.
    void setNewLines(const std::vector<NewLine>& lines, Strand strand);
    /// Some bytes that something is said of.
    struct Underlined
    {
        std::size_t position = 0;
        std::size_t length = 0;
        bool isBad = false;
    };
    /// Underlines them and marks their lines. Replaces all such marks.
    void setUnderlined(const std::vector<Underlined>& places);

    /// Brings lines into view with some context around, without moving the caret.
    void reveal(int firstLine, int lineCount);
    void placeCaret(std::size_t position);
    [[nodiscard]] std::size_t caret() const;
    [[nodiscard]] int firstVisibleLine() const;
    [[nodiscard]] int lastVisibleLine() const;
    void focusText();
    /// As focusText(), and Tab indents from now on, until the text is left.
    void beginWriting();

    [[nodiscard]] std::string selectedBytes() const;
    /// Selects the next (or, with -1, the previous) place of some bytes from the selection on; false if there is none. What these put in place of others counts as typed.
    enum class AtEnd { beginsAnew, stops };
    bool findNext(std::string_view bytes, bool matchesCase, int direction, AtEnd atEnd);
    [[nodiscard]] std::size_t countOf(std::string_view bytes, bool matchesCase) const;
    [[nodiscard]] bool isMatchSelected(std::string_view bytes, bool matchesCase) const;
    void replaceSelected(std::string_view bytes);
    /// Puts other text in place, line by line where it differs, as if it were typed.
    void typeOver(std::string_view bytes);
    /// Puts a mark that makes a comment before the selected lines, or takes it away.
    void toggleComment();
    /// To the bracket that belongs to the one at the caret.
    void goToMatchingBracket();
    void goToLine(int line);
    void cut();
    void copy();
    void paste();
    void selectAll();
    std::size_t replaceAll(std::string_view bytes, bool matchesCase, std::string_view by);

    /// The editor widget itself, for tests that type.
    [[nodiscard]] QWidget* editor() const;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

signals:
    /// The person inserted or removed bytes. One of `added` and `removed` is 0.
    void textEdited(std::size_t position, std::size_t removed, std::size_t added);
    void caretMoved(std::size_t position);
    /// Escape was pressed: the person wants to be elsewhere.
    void leaveRequested();
    void menuRequested(QPoint globalPosition);
    /// Other lines came into view.
    void scrolled();

private:
    /// Whether a key is none for the editor.
    [[nodiscard]] bool filterKey(const QKeyEvent& event);
    void layHeadings(int line, const std::vector<Heading>& headings);
    void clearHeading(int line);
    void followHeadings(int line, int linesAdded);
    void setTopHeadings(const std::vector<Heading>& headings);
    void showTopHeading();
    /// Where the bytes stand in [from, to), searched backwards if from > to; nothing if nowhere.
    [[nodiscard]] std::optional<std::size_t>
    find(std::string_view bytes, bool matchesCase, std::size_t from, std::size_t to) const;
    void onModified(int position, int type, int length, int linesAdded, int line);
    [[nodiscard]] QString originAt(QPoint point) const;
    [[nodiscard]] QString originOfLine(int line) const;
    /// What marks and headings tell of a line, for who cannot see them.
    [[nodiscard]] QString aboutLine(int line) const;
    void describeCaretLine();
    void removeMarker(unsigned long line, int marker);
    void connectEditor();
    /// Colours and fonts of the look.
    void dress();
    void fitNumbers();
    void dressNewLines();
    void wrap();
    void defineMarkers();
    [[nodiscard]] QPixmap newSign(const QColor& ink) const;
    void coverBelowText();
    void defineHeadingStyles();
    void setLineEnd(std::string_view bytes);
    [[nodiscard]] long send(unsigned int message, unsigned long first = 0, long second = 0) const;

    QString m_commentMark;           ///< Of the language; empty: it has none, or is not known.
    QWidget* m_belowText = nullptr;  ///< Lies over the margins where no line is.
    QLabel* m_topHeading;            ///< Of a region that begins in the first line.
    QsciScintilla* m_editor;
    int m_headingStyle = -1;  ///< Scintilla's number of the first HeadingLook; the others follow.
    struct HeadingsBelow
    {
        int line = 0;
        std::vector<Heading> headings;
    };
    Strand m_newStrand = Strand::base;  ///< Whose colours new lines have.
    std::vector<Heading> m_topHeadings;
    std::vector<HeadingsBelow> m_headings;  ///< What is known to stand below a line, by line.
    std::set<int> m_unsureLines;   ///< Lines near an edit, which may have kept or lost one.
    int m_editsSinceHeadings = 0;  ///< Up to kMostFollowedEdits they were followed in both.
    std::size_t m_knownCaret = 0;  ///< Where it was told to be, or was put.
    bool m_isWriting = false;      ///< Tab indents, and does not go on to the next widget.
    bool m_isWrapped = true;
    bool m_isSyncing = false;  ///< Our own change is under way: not an edit.
};
}  // namespace rope
