// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/region_reading.h"
#include "desktop/widgets/strand_pattern.h"

#include <QTextEdit>

#include <optional>

namespace rope {
/// What a side has at a place. The document is that text and nothing else: what is selected, copied,
/// dragged or read aloud is the side's own, to the byte. Everything else is painted beside and behind:
/// strips of the side's pattern, what was gone, folds, remarks. Wraps long lines. Read only.
class SideText final : public QTextEdit
{
    Q_OBJECT
public:
    /// REQUIRES: side is base, ours or theirs
    SideText(Strand side, QWidget* parent);

    /// A side against another text; `against` is the strand of what is gone: base, or the other side.
    void showSide(std::string_view text, const SideReading& reading, Strand against);
    /// Lines that stand before and behind the text on every side: painted dimmed around the next one that is
    /// shown by showSide(). They are no part of it, and are not copied.
    void setAround(const std::vector<std::string_view>& before,
                   const std::vector<std::string_view>& after);
    /// The base, with who changed what; stretches that nobody changed are folded if wished.
    void showBase(std::string_view text, const std::vector<BaseLine>& fates, bool isFolded);
    /// An outcome of a region, each line with the pattern of its origin.
    void showOutcome(std::string_view text, const std::vector<LineOrigin>& origins);
    /// A remark in place of text: that nothing stands here.
    void showRemark(const QString& remark);

    /// How many blanks at the beginnings of lines are not shown; they stay part of the text. Holds from
    /// the next text on.
    void setHiddenIndent(int blanks) { m_hiddenIndent = blanks; }
    [[nodiscard]] int hiddenIndent() const { return m_hiddenIndent; }
    /// Blanks as dots, tabs as arrows, line ends by name.
    void setBlanksShown(bool areShown);
    [[nodiscard]] bool areBlanksShown() const { return m_areBlanksShown; }
    /// What is selected, as it stands in the side.
    [[nodiscard]] std::string selectedBytes() const;
    /// What is painted beside the text, in words, one line for each: for tests and screen readers.
    [[nodiscard]] QStringList remarks() const;

    /// Whether long lines scroll sideways instead of wrapping.
    void setSideways(bool isSideways);
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

signals:
    /// A fold was clicked: what is folded is to be shown, see showBase().
    void foldClicked();

protected:
    [[nodiscard]] QMimeData* createMimeDataFromSelection() const override;
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    bool viewportEvent(QEvent* event) override;

private:
    /// A row above a line, which is no text of the side: a line that is gone, or a fold.
    struct Row
    {
        enum class Kind { gone, fold, around };
        Kind kind = Kind::gone;
        QString text;
    };
    /// A word that is gone, in the gap before `column`.
    struct Frame
    {
        int column = 0;  ///< In UTF-16 units of the line.
        QString text;    ///< Shortened.
        QString whole;
        bool hasNew = false;  ///< Something new stands after it.
    };
    struct Line
    {
        std::string_view bytes;  ///< With its end.
        bool isMarked = false;   ///< Has the strip of a pattern.
        bool isFilled = false;   ///< Lies on its strand's colour.
        bool isFolded = false;   ///< Is not shown.
        Strand strand = Strand::base;
        std::vector<WordMark> words;
        std::vector<Row> above;
        std::vector<Row> below;
        std::vector<Frame> frames;  ///< Follow from the words, see layWords().
        QString remark;
        std::vector<Strand> remarkStrands;
    };

    void begin(std::string_view text);
    /// Builds the document anew from the lines.
    void lay();
    void layLine(Line& line, bool isFirst);
    /// The line as text of the document, its new words marked; tells the gaps before words that are gone.
    void layWords(Line& line, int begin, QTextBlockFormat& block, int hanging);
    void layBlanks(bool areShown);
    void setRoomAround(std::size_t above, std::size_t below);
    [[nodiscard]] std::vector<Row> rowsOf(const std::vector<std::string>& lines,
                                          Row::Kind kind) const;
    [[nodiscard]] bool isFoldAt(QPoint point) const;
    [[nodiscard]] QString decoded(std::string_view bytes) const;
    [[nodiscard]] std::size_t byteAt(int position) const;
    [[nodiscard]] int gapOf(const Frame& frame) const;
    [[nodiscard]] int rowHeight() const;
    [[nodiscard]] int hiddenWidth(const QString& line) const;
    [[nodiscard]] QRect lineRect(const QTextBlock& block) const;
    [[nodiscard]] QRect frameRect(const QTextBlock& block, const Frame& frame) const;
    void paintLine(QPainter& painter, const QTextBlock& block, const Line& line) const;
    void paintRows(QPainter& painter, const std::vector<Row>& rows, int top) const;
    void paintAround(QPainter& painter, const QRect& rect, const QString& text) const;
    void paintGone(QPainter& painter, const QRect& rect, const QString& text, int room) const;
    void paintFrame(QPainter& painter, const QRect& rect, const Frame& frame) const;
    void paintRemark(QPainter& painter, const QTextBlock& block, const Line& line) const;
    void startDrag();

    Strand m_side;
    Strand m_against = Strand::base;
    int m_hiddenIndent = 0;
    std::string m_bytes;
    bool m_isUtf8 = true;
    bool m_wantsBlanks = false;     ///< Asked for.
    bool m_areBlanksShown = false;  ///< Asked for, or nothing else differs.
    QString m_remark;
    std::vector<Line> m_lines;
    std::vector<std::string> m_before;  ///< See setAround().
    std::vector<std::string> m_after;
    std::vector<Row> m_emptyRows;       ///< Of a text without lines.
    std::optional<QPoint> m_pressedAt;  ///< On the selection: it may become a drag.
};
}  // namespace rope
