// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/diff/marked_lines.h"
#include "desktop/result/typing_steps.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include <set>

class QLabel;

namespace rope {
class FindBar;
class ElidedLabel;
class RegionStrip;

/// A text as it is read against another one.
struct Reading
{
    std::vector<MarkedLine> marks;  ///< Of the text, against `other`; see markLines().
    std::string other;
    Strand strand = Strand::base;  ///< Whose colours what is new has: of whom it comes from.
};

/// Something said of a place in the text.
struct LineRemark
{
    std::size_t position = 0;  ///< Bytes that are underlined.
    std::size_t length = 0;
    QString text;  ///< Stands below the line.
    bool isBad = false;
};

/// The result of one file: the whole text, always editable, regions marked where they stand. Keeps
/// editor and Splice in step: what is typed becomes a change of the slot it stands in.
class ResultView final : public QWidget
{
    Q_OBJECT
public:
    explicit ResultView(QWidget* parent);

    /// Shows a file of a splice; both must outlive what is shown. REQUIRES: the file has a text
    void showFile(Splice& splice, std::size_t file);
    void clear();
    void setReadOnly(bool isReadOnly);
    [[nodiscard]] bool shows(std::size_t file) const
    {
        return m_splice != nullptr && m_file == file;
    }

    /// Marks a region as the one at hand and brings it into view. To be followed by showCandidate() or
    /// hideCandidate().
    void selectRegion(std::size_t slot);
    /// Shows an outcome in an open region, in its place, without taking it: until it is typed into,
    /// the region is decided, another region is selected, or hideCandidate().
    void showCandidate(std::size_t slot, const Candidate& candidate, const QString& name);
    void hideCandidate();
    /// Brings into view what was written into a stretch of joined text, else its beginning.
    void revealStretch(std::size_t slot);
    /// Takes over what changed in the splice elsewhere.
    void refreshSlots(const std::vector<std::size_t>& changed);
    /// Brings the place into view that refreshSlots() has changed last, and puts the caret there.
    void revealChange();
    /// Puts the caret into a region, ready to write.
    void beginWriting(std::size_t slot);
    [[nodiscard]] CodeView& code() { return *m_code; }
    [[nodiscard]] FindBar& findBar() { return *m_find; }
    /// From now on regions have no headings: it is to be read, not to be decided.
    void setForReading() { m_isForReading = true; }
    /// The line with the file's name, encoding and line ends.
    void setTitleVisible(bool isVisible);
    /// The slot that the caret is in.
    [[nodiscard]] std::size_t slotOfCaret() const;
    /// Marks what is new and what is gone. Null: nothing. REQUIRES: made of shownBytes() as it is now
    void setReading(std::shared_ptr<const Reading> reading);
    /// Says something of places in the text. They move with it until they are told anew.
    void setRemarks(std::vector<LineRemark> remarks);
    /// All that the editor holds.
    [[nodiscard]] std::string shownBytes() const;
    /// Brings a line, from 0, into view and puts the caret there.
    void goToLine(LineNumber line);
    void openFind(bool replaces);
    void findNext(int direction);
    /// Hands over what was typed and is not in the splice yet.
    void flushTyping();

signals:
    /// A change came from typing.
    void typed();
    /// The text is another one than before, and nobody types just now.
    void settled();
    /// The caret moved into a region.
    void regionEntered(std::size_t slot);
    /// The caret moved to a line, from 0 in its slot, that a side changed and that joined by itself.
    void joinedLineEntered(std::size_t slot, rope::LineNumber line);
    void leaveRequested();

private:
    [[nodiscard]] const SplicedText& text() const { return *m_splice->files()[m_file].text; }
    /// What is shown of a slot: its text, or a candidate in its place.
    [[nodiscard]] std::string_view shownText(std::size_t slot) const;
    void layText(std::size_t slot);
    void replaceText(std::size_t slot);
    [[nodiscard]] std::optional<SlotState> stateAfterTyping(std::size_t slot);
    [[nodiscard]] std::size_t beginOf(std::size_t slot) const;
    void setLength(std::size_t slot, std::size_t length);
    [[nodiscard]] std::size_t slotAt(std::size_t position) const;
    [[nodiscard]] int firstLineOf(std::size_t slot) const;
    [[nodiscard]] int lineCountOf(std::size_t slot) const;
    void onTextEdited(std::size_t position, std::size_t removed, std::size_t added);
    void clearLastLine();
    void bringCaretTo(std::size_t slot);
    void paintAround();
    void paintStrands(std::size_t slot);
    void paintRegion(std::size_t slot);
    void paintHeadings();
    void paintStrip();
    void addReadingTo(std::vector<CodeView::Heading>& headings) const;
    [[nodiscard]] QString headingOf(std::size_t slot) const;
    [[nodiscard]] const QString& keptHeadingOf(std::size_t slot);

    CodeView* m_code;
    QWidget* m_head;
    RegionStrip* m_strip;
    FindBar* m_find;
    ElidedLabel* m_title;
    Splice* m_splice = nullptr;
    std::size_t m_file = 0;
    static constexpr std::size_t kNoSlot = ~std::size_t{0};
    std::size_t m_selectedSlot = 0;
    std::size_t m_writtenSlot = kNoSlot;        ///< The region that a person has said they write.
    std::optional<std::size_t> m_enteredChunk;  ///< That the caret was found in last.
    struct ShownCandidate
    {
        std::size_t slot = 0;
        std::string text;
        std::vector<LineOrigin> origins;
        QString name;
        bool isTyped = false;  ///< Blanks were typed into it, which decide nothing yet.
    };
    std::optional<ShownCandidate> m_shown;
    bool m_isForReading = false;
    std::shared_ptr<const Reading> m_reading;
    std::vector<LineRemark> m_remarks;
    bool m_areHeadingsStale =
        false;  ///< A candidate was hidden; showCandidate() or hideCandidate() follows.
    struct KeptHeading
    {
        bool isShown = false;
        bool isEmpty = false;
        bool isEdited = false;
        bool isDecided = false;
        std::string choice;
        QString words;
    };
    std::map<std::size_t, KeptHeading> m_keptHeadings;  ///< By slot.
    std::vector<std::size_t> m_lengths;                 ///< Bytes of each slot in the editor.
    mutable std::vector<std::size_t>
        m_begins;  ///< Sums of m_lengths, as long as they hold; see beginOf().
    std::vector<Strand> m_firstStrands;  ///< Of each slot, as painted last: what the strip shows.
    std::set<std::size_t> m_typedSlots;  ///< Edited in the editor, not yet in the splice.
    TypingSteps m_steps;
    QElapsedTimer m_typingClock;
    bool m_beginsStep =
        false;  ///< What is typed and not yet in the splice is to be a step of its own.
    std::size_t m_changedAt = 0;  ///< Where refreshSlots() last put other text.
    QTimer m_flushTimer;
    QTimer m_strandTimer;  ///< Repaints the rail of typed slots when typing pauses.
    QTimer m_stripTimer;   ///< Repaints the strip when a person rests at a candidate.
    std::set<std::size_t> m_staleStrands;
    std::set<std::size_t> m_gapSlots;  ///< That carry marks of lines taken out.
};
}  // namespace rope
