// SPDX-License-Identifier: GPL-3.0-or-later
// The editor holds the slots' texts one after the other; m_lengths says where each ends. An insertion
// belongs to the slot it falls into (at a border: to the selected region, else to the slot that
// begins there); a deletion is taken from every slot it reaches.
// Tested by tst_resolve_station.cpp.
#include "desktop/result/result_view.h"

#include "core/text/encoding.h"
#include "core/text/line_end.h"
#include "desktop/widgets/find_bar.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/region_strip.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include <algorithm>
#include <numeric>
#include <utility>

namespace rope {
namespace {
constexpr int kStrandPauseMs = 200;  // the rail follows when typing pauses
constexpr int kStripPauseMs = 100;
constexpr std::size_t kMostPatchedSlots = 64;  // of more, the whole text is laid anew
}  // namespace

ResultView::ResultView(QWidget* parent)
    : QWidget(parent)
    , m_code(new CodeView(this))
    , m_head(new QWidget(this))
    , m_strip(new RegionStrip(this))
    , m_find(new FindBar(*m_code, this))
    , m_title(new ElidedLabel(TextRole::muted, this))
{
    m_code->setObjectName(QStringLiteral("resultView"));
    m_title->setObjectName(QStringLiteral("resultTitle"));
    auto* headColumn = new QVBoxLayout(m_head);
    headColumn->setContentsMargins(0, 0, 0, 0);
    headColumn->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 8, 12, 8);
    head->setSpacing(10);
    auto* word = makeLabel(tr("Result"), TextRole::heading, this);
    word->setWordWrap(false);
    head->addWidget(word);
    head->addWidget(m_title, 1);
    auto* body = new QHBoxLayout;
    body->setSpacing(0);
    body->addWidget(m_code, 1);
    body->addWidget(m_strip);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    headColumn->addLayout(head);
    headColumn->addWidget(makeRule(Qt::Horizontal, m_head));
    column->addWidget(m_head);
    column->addLayout(body, 1);
    column->addWidget(m_find);
    connect(m_code, &CodeView::leaveRequested, this, &ResultView::leaveRequested);
    setFocusProxy(m_code);
    m_flushTimer.setSingleShot(true);
    m_flushTimer.setInterval(0);
    m_typingClock.start();
    m_strandTimer.setSingleShot(true);
    m_strandTimer.setInterval(kStrandPauseMs);
    connect(&m_flushTimer, &QTimer::timeout, this, &ResultView::flushTyping);
    connect(&m_strandTimer, &QTimer::timeout, this, [this] {
        for (const std::size_t slot : m_staleStrands) {
            paintStrands(slot);
        }
        m_staleStrands.clear();
        clearLastLine();
        paintHeadings();
        paintStrip();
        emit settled();
    });
    m_stripTimer.setSingleShot(true);
    m_stripTimer.setInterval(kStripPauseMs);
    connect(&m_stripTimer, &QTimer::timeout, this, [this] {
        if (m_splice != nullptr && m_typedSlots.empty()) {
            paintStrip();
        }
    });
    connect(m_code, &CodeView::textEdited, this, &ResultView::onTextEdited);
    connect(m_code, &CodeView::caretMoved, this, [this](std::size_t position) {
        if (m_splice == nullptr || !m_typedSlots.empty()) {
            return;
        }
        const std::size_t slot = slotAt(position);
        if (text().isRegion(slot)) {
            m_enteredChunk.reset();
            if (slot != m_selectedSlot) {
                emit regionEntered(slot);
            }
            return;
        }
        const auto line = static_cast<LineNumber>(m_code->lineAt(position) - firstLineOf(slot));
        const auto chunk = text().chunkAt(slot, line);
        const bool isNews = chunk && chunk != m_enteredChunk
                            && text().join().chunks()[*chunk].kind != ChunkKind::unchanged;
        if (isNews) {
            m_enteredChunk = chunk;
            const std::size_t left = std::exchange(m_selectedSlot, kNoSlot);
            hideCandidate();
            if (left < m_lengths.size()) {
                paintRegion(left);
            }
            emit joinedLineEntered(slot, line);
        }
    });
    connect(
        m_strip, &RegionStrip::lineRequested, this, [this](int line) { m_code->reveal(line, 1); });
}

void ResultView::clear()
{
    // Nothing that was to follow typing may come when the splice is gone.
    m_flushTimer.stop();
    m_strandTimer.stop();
    m_stripTimer.stop();
    m_steps.reset();
    m_beginsStep = false;
    m_areHeadingsStale = false;
    m_shown.reset();
    m_splice = nullptr;
    m_typedSlots.clear();
    m_staleStrands.clear();
    m_reading.reset();
    m_remarks.clear();
    m_code->setText({}, {});
    m_title->setFullText({});
}

namespace {
QString formInWords(const TextJoin& join, std::string_view whole)
{
    if (join.form()) {
        return shown(join.form()->encoding)
               + (join.form()->hasMark ? ResultView::tr(" with byte-order mark") : QString());
    }
    return isUtf8(whole) ? QStringLiteral("UTF-8") : ResultView::tr("not UTF-8, bytes kept");
}
}  // namespace

void ResultView::showFile(Splice& splice, std::size_t file)
{
    flushTyping();
    if (!shows(file)) {
        m_shown.reset();
        m_remarks.clear();
    }
    m_reading.reset();
    m_writtenSlot = kNoSlot;
    m_splice = &splice;
    m_file = file;
    m_selectedSlot = kNoSlot;
    m_staleStrands.clear();
    const FileOutcome& outcome = *splice.files()[file].outcome;
    std::string whole;
    m_lengths.clear();
    m_keptHeadings.clear();
    for (std::size_t slot = 0; slot < text().slotCount(); ++slot) {
        m_lengths.push_back(shownText(slot).size());
        whole += shownText(slot);
    }
    m_begins.clear();
    m_gapSlots.clear();
    m_code->setText(whole, shownPath(outcome.path));
    m_title->setFullText(
        tr("%1 · %2 · %3")
            .arg(shownPath(outcome.path),
                 formInWords(text().join(), whole)
                     + (text().join().hasConvertedForm() ? tr(", as one side made it") : QString()),
                 shown(nameOf(lineEndOf(whole)))
                     + (text().join().hasConvertedLineEnds() ? tr(", as one side made it")
                                                             : QString())));
    m_firstStrands.assign(text().slotCount(), Strand::base);
    for (std::size_t slot = 0; slot < text().slotCount(); ++slot) {
        paintStrands(slot);
        if (text().isOpen(slot)) {
            paintRegion(slot);
        }
    }
    paintHeadings();
    paintStrip();
    emit settled();
}

void ResultView::setReadOnly(bool isReadOnly)
{
    m_code->setReadOnly(isReadOnly);
    m_find->setReadOnly(isReadOnly);
}

std::string_view ResultView::shownText(std::size_t slot) const
{
    return m_shown && m_shown->slot == slot ? std::string_view(m_shown->text) : text().text(slot);
}

void ResultView::showCandidate(std::size_t slot, const Candidate& candidate, const QString& name)
{
    if (m_splice == nullptr || !text().isOpen(slot) || !m_typedSlots.empty()) {
        return;
    }
    const bool isSame = m_shown && m_shown->slot == slot && m_shown->name == name;
    if (isSame && m_shown->isTyped) {
        return;  // somebody is at work in it
    }
    if (isSame && m_shown->text == candidate.text && !m_areHeadingsStale) {
        return;
    }
    if (m_shown && m_shown->slot != slot) {
        const std::size_t previous = m_shown->slot;
        m_shown.reset();
        layText(previous);
    }
    const bool isCaretThere = slotAt(m_code->caret()) == slot;
    m_shown = {slot, candidate.text, candidate.origins, name};
    layText(slot);
    if (isCaretThere) {
        bringCaretTo(slot);  // an empty one has left it behind its text
    }
    paintAround();
}

void ResultView::hideCandidate()
{
    if (m_splice == nullptr || (!m_shown && !m_areHeadingsStale)) {
        return;
    }
    if (m_shown) {
        const std::size_t slot = m_shown->slot;
        m_shown.reset();
        layText(slot);
    }
    paintAround();
}

/// What depends on all slots together.
void ResultView::paintAround()
{
    m_areHeadingsStale = false;
    clearLastLine();
    paintHeadings();
    // In the strip a candidate moves the others by less than can be seen.
    m_stripTimer.start();
}

/// Puts into the editor what is to be shown of a slot, and paints it and its neighbours.
void ResultView::layText(std::size_t slot)
{
    replaceText(slot);
    // Replacing lines leaves marks of the old ones on the line that follows.
    for (std::size_t near = slot; near < m_lengths.size(); ++near) {
        paintStrands(near);
        paintRegion(near);
        if (near > slot && m_lengths[near] > 0) {
            break;
        }
    }
}

/// Replaces what differs between editor and splice, and no more.
void ResultView::replaceText(std::size_t slot)
{
    const std::string_view bytes = shownText(slot);
    const std::size_t begin = beginOf(slot);
    const std::string before = m_code->bytes(begin, m_lengths[slot]);
    if (before == bytes) {
        return;
    }
    const auto [own, wanted] =
        std::mismatch(before.begin(), before.end(), bytes.begin(), bytes.end());
    const auto same = static_cast<std::size_t>(own - before.begin());
    m_changedAt = begin + same;
    m_code->replaceBytes(begin, before.size(), bytes);
    setLength(slot, bytes.size());
}

void ResultView::revealChange()
{
    m_code->placeCaret(std::min(m_changedAt, m_code->size()));
    m_code->reveal(m_code->lineAt(m_changedAt), 1);
}

std::size_t ResultView::beginOf(std::size_t slot) const
{
    // Beginnings up to where m_begins reaches still hold; the rest is summed up anew.
    if (m_begins.empty()) {
        m_begins.push_back(0);
    }
    while (m_begins.size() <= slot) {
        m_begins.push_back(m_begins.back() + m_lengths[m_begins.size() - 1]);
    }
    return m_begins[slot];
}

void ResultView::setLength(std::size_t slot, std::size_t length)
{
    m_lengths[slot] = length;
    m_begins.resize(std::min(m_begins.size(), slot + 1));
}

std::size_t ResultView::slotAt(std::size_t position) const
{
    std::size_t begin = 0;
    std::optional<std::size_t> found;
    for (std::size_t slot = 0; slot < m_lengths.size(); ++slot) {
        const std::size_t end = begin + m_lengths[slot];
        if (begin == position && slot == m_selectedSlot) {
            return slot;
        }
        if (begin <= position && position < end) {
            found = found.value_or(slot);
        }
        if (begin > position) {
            break;
        }
        begin = end;
    }
    return found.value_or(m_lengths.size() - 1);
}

int ResultView::firstLineOf(std::size_t slot) const
{
    return m_code->lineAt(beginOf(slot));
}

int ResultView::lineCountOf(std::size_t slot) const
{
    if (m_lengths[slot] == 0) {
        return 0;
    }
    const std::size_t begin = beginOf(slot);
    return m_code->lineAt(begin + m_lengths[slot] - 1) - m_code->lineAt(begin) + 1;
}

void ResultView::onTextEdited(std::size_t position, std::size_t removed, std::size_t added)
{
    if (m_splice == nullptr) {
        return;
    }
    if (added > 0) {
        const std::string inserted = m_code->bytes(position, added);
        m_beginsStep =
            m_steps.beginsStep({position, inserted, 0, m_typingClock.elapsed()}) || m_beginsStep;
        const std::size_t slot = slotAt(position);
        setLength(slot, m_lengths[slot] + added);
        m_typedSlots.insert(slot);
    } else {
        m_beginsStep =
            m_steps.beginsStep({position, {}, removed, m_typingClock.elapsed()}) || m_beginsStep;
        std::size_t begin = 0;
        const std::size_t end = position + removed;
        for (std::size_t slot = 0; slot < m_lengths.size(); ++slot) {
            const std::size_t slotEnd = begin + m_lengths[slot];
            const std::size_t from = std::max(begin, position);
            const std::size_t to = std::min(slotEnd, end);
            if (from < to) {
                setLength(slot, m_lengths[slot] - (to - from));
                m_typedSlots.insert(slot);
            }
            begin = slotEnd;
        }
    }
    m_flushTimer.start();  // the editor must not be touched while it tells of a change
}

void ResultView::flushTyping()
{
    m_flushTimer.stop();
    if (m_splice == nullptr || m_typedSlots.empty()) {
        return;
    }
    std::vector<SlotChange> changes;
    bool decidesRegion = false;
    for (const std::size_t slot : m_typedSlots) {
        if (auto state = stateAfterTyping(slot)) {
            decidesRegion = decidesRegion || (state->isDecided && text().isOpen(slot));
            changes.push_back({{m_file, slot}, std::move(*state)});
        }
        m_staleStrands.insert(slot);
    }
    const std::set<std::size_t> typedSlots = std::move(m_typedSlots);
    m_typedSlots.clear();
    if (m_beginsStep) {
        m_splice->endTyping();
        m_beginsStep = false;
    }
    m_splice->change(std::move(changes), true);
    m_strandTimer.start();
    if (decidesRegion) {
        paintHeadings();
    }
    for (const std::size_t slot : typedSlots) {
        paintRegion(slot);
    }
    emit typed();
}

namespace {
std::string withoutBlanks(std::string_view text)
{
    std::string bare;
    std::copy_if(text.begin(), text.end(), std::back_inserter(bare), [](char c) {
        return c != ' ' && c != '\t' && c != '\r' && c != '\n';
    });
    return bare;
}
}  // namespace

/// What typing has made of a slot; nothing if that is to be forgotten. A blank alone decides no region
/// unless somebody has said that they write their own, and text between regions that stands as it was joined is not edited any more.
std::optional<SlotState> ResultView::stateAfterTyping(std::size_t slot)
{
    SlotState state = text().state(slot);
    std::string bytes = m_code->bytes(beginOf(slot), m_lengths[slot]);
    if (!text().isRegion(slot)) {
        return bytes == text().joinedText(slot) ? SlotState{}
                                                : SlotState{false, {}, std::move(bytes)};
    }
    if (!state.isDecided) {
        const bool isBlankOnly =
            slot != m_writtenSlot && withoutBlanks(bytes) == withoutBlanks(shownText(slot));
        if (m_shown && m_shown->slot == slot) {
            if (isBlankOnly) {
                m_shown->text = std::move(bytes);
                m_shown->isTyped = true;
                return std::nullopt;
            }
            m_shown.reset();  // it is the person's own text now
        }
        state.isDecided = !isBlankOnly;
        state.choice = isBlankOnly ? std::string() : std::string(kOwnText);
    }
    state.text = std::move(bytes);
    return state;
}

void ResultView::refreshSlots(const std::vector<std::size_t>& changed)
{
    if (m_shown && !text().isOpen(m_shown->slot)) {
        m_shown.reset();
    }
    if (changed.size() > kMostPatchedSlots) {
        const int top = m_code->firstVisibleLine();
        const std::size_t selected = m_selectedSlot;
        showFile(*m_splice, m_file);
        m_selectedSlot = selected;
        m_code->reveal(top, 1);
        return;
    }
    for (const std::size_t slot : changed) {
        replaceText(slot);
    }
    // Replacing lines leaves marks of the old ones on the line that follows: paint the neighbours too.
    std::set<std::size_t> stale;
    for (const std::size_t slot : changed) {
        for (std::size_t near = slot; near < m_lengths.size(); ++near) {
            stale.insert(near);
            if (near > slot && m_lengths[near] > 0) {
                break;
            }
        }
    }
    for (const std::size_t slot : stale) {
        paintStrands(slot);
        paintRegion(slot);
    }
    clearLastLine();
    paintHeadings();
    paintStrip();
    emit settled();
}

void ResultView::clearLastLine()
{
    // Behind the last line end the editor has one more line, which is no slot's.
    const int last = m_code->lineCount() - 1;
    if (m_code->positionOfLine(last) == m_code->size()) {
        m_code->setStrands(last, {Strand::base});
        m_code->markRegion(last, 1, std::nullopt);
    }
}

void ResultView::setTitleVisible(bool isVisible)
{
    m_head->setVisible(isVisible);
}

std::size_t ResultView::slotOfCaret() const
{
    return slotAt(m_code->caret());
}

std::string ResultView::shownBytes() const
{
    return m_code->bytes(0, m_code->size());
}

void ResultView::goToLine(LineNumber line)
{
    const int number = std::min(static_cast<int>(line), std::max(m_code->lineCount() - 1, 0));
    m_code->placeCaret(m_code->positionOfLine(number));
    m_code->reveal(number, 1);
}

void ResultView::selectRegion(std::size_t slot)
{
    m_enteredChunk.reset();
    if (m_shown && m_shown->slot != slot) {
        // Another candidate is shown next, or none: the headings wait for that, they are many.
        const std::size_t left = m_shown->slot;
        m_shown.reset();
        layText(left);
        m_areHeadingsStale = true;
    }
    const std::size_t previous = m_selectedSlot;
    m_selectedSlot = slot;
    m_writtenSlot = m_writtenSlot == slot ? slot : kNoSlot;
    if (previous < m_lengths.size()) {
        paintRegion(previous);
    }
    paintRegion(slot);
    m_code->reveal(firstLineOf(slot), lineCountOf(slot));
    bringCaretTo(slot);
}

/// Who goes into the text from here is at the region, and hears of it.
void ResultView::bringCaretTo(std::size_t slot)
{
    if (slotAt(m_code->caret()) != slot) {
        m_code->placeCaret(beginOf(slot));
    }
}

void ResultView::openFind(bool replaces)
{
    m_find->open(replaces);
}

void ResultView::findNext(int direction)
{
    m_find->findNext(direction);
}

void ResultView::revealStretch(std::size_t slot)
{
    hideCandidate();
    const std::string_view joined = text().joinedText(slot);
    const std::string_view now = text().text(slot);
    const auto [before, after] =
        std::mismatch(joined.begin(), joined.end(), now.begin(), now.end());
    const std::size_t at =
        text().state(slot).text ? static_cast<std::size_t>(after - now.begin()) : 0;
    m_code->reveal(m_code->lineAt(beginOf(slot) + at), 1);
}

void ResultView::beginWriting(std::size_t slot)
{
    if (m_lengths[slot] == 0) {
        // An empty region has no line to write on: give it one.
        const std::string lineEnd = lineEndOf(text().wholeText()) == LineEnd::crlf ? "\r\n" : "\n";
        m_splice->change({{{m_file, slot}, {true, std::string(kOwnText), lineEnd}}}, true);
        refreshSlots({slot});
        emit typed();
    }
    m_selectedSlot = slot;
    m_writtenSlot = slot;
    m_code->placeCaret(beginOf(slot));
    m_code->beginWriting();
}
}  // namespace rope
