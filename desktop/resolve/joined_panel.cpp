// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/joined_panel.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/side_text.h"
#include "desktop/wording/question_words.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace rope {
namespace {
/// What differs between a text and its edited form, with a line of context around.
struct Difference
{
    std::string before;
    std::string after;
};

Difference differenceOf(std::string_view joined, std::string_view written)
{
    const auto before = splitLines(joined);
    const auto after = splitLines(written);
    std::size_t head = 0;
    while (head < before.size() && head < after.size() && before[head] == after[head]) {
        ++head;
    }
    std::size_t tail = 0;
    while (tail < before.size() - head && tail < after.size() - head
           && before[before.size() - 1 - tail] == after[after.size() - 1 - tail]) {
        ++tail;
    }
    const std::size_t from = head > 0 ? head - 1 : 0;
    const std::size_t behind = tail > 0 ? tail - 1 : 0;
    Difference difference;
    for (std::size_t i = from; i < before.size() - behind; ++i) {
        difference.before += before[i];
    }
    for (std::size_t i = from; i < after.size() - behind; ++i) {
        difference.after += after[i];
    }
    return difference;
}
}  // namespace

JoinedPanel::JoinedPanel(QWidget* parent)
    : QWidget(parent)
    , m_title(makeLabel({}, TextRole::heading, this))
    , m_note(makeLabel({}, TextRole::muted, this))
    , m_edit(new QWidget(this))
    , m_written(new SideText(Strand::base, m_edit))
    , m_asJoined(makeButton(tr("As merged"), "asJoinedButton", ButtonRole::plain, m_edit))
    , m_cards(new SideCards(this, QStringLiteral("joined")))
{
    m_title->setObjectName(QStringLiteral("joinedTitle"));
    m_note->setObjectName(QStringLiteral("joinedNote"));
    m_written->setObjectName(QStringLiteral("writtenText"));
    m_written->setAccessibleName(tr("What was written by hand"));
    m_asJoined->setToolTip(tr("Restore what the merge gave here (Ctrl+Backspace)"));
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 8, 12, 8);
    head->addWidget(m_title);
    auto* edit = new QVBoxLayout(m_edit);
    edit->setContentsMargins(0, 0, 0, 0);
    edit->setSpacing(10);
    edit->addWidget(m_written);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_asJoined);
    buttons->addStretch();
    edit->addLayout(buttons);
    auto* body = new QVBoxLayout;
    body->setContentsMargins(12, 12, 12, 12);
    body->setSpacing(10);
    body->addWidget(m_note);
    body->addWidget(m_edit);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addLayout(body);
    column->addWidget(m_cards, 1);
    connect(m_asJoined, &QPushButton::clicked, this, &JoinedPanel::asJoinedRequested);
}

void JoinedPanel::showStretch(const SplicedText& text,
                              std::size_t slot,
                              std::optional<LineNumber> line,
                              SideCards::Place place)
{
    const auto& written = text.state(slot).text;
    m_edit->setVisible(written.has_value());
    m_title->setText(written ? tr("Written by hand") : tr("Merged automatically"));
    m_chunk = text.chunkAt(slot, line.value_or(text.firstChangedLine(slot)));
    if (m_chunk && text.join().chunks()[*m_chunk].kind == ChunkKind::unchanged) {
        m_chunk.reset();
    }
    if (written) {
        m_note->setText(tr("Compared with what the merge gave here:"));
        const Difference difference = differenceOf(text.joinedText(slot), *written);
        m_written->showSide(difference.after,
                            readAgainstBase({difference.before, difference.after, {}}).ours,
                            Strand::base);
    } else if (!m_chunk) {
        m_note->setText(
            tr("Both sides left this as it was in the base. Nothing here needs you; you "
               "can write into it all the same."));
    } else {
        m_note->setText(chunkInWords(text.join().chunks()[*m_chunk].kind, place.names));
    }
    m_cards->setVisible(m_chunk.has_value());
    if (m_chunk) {
        showChunk(text, std::move(place));
    }
}

void JoinedPanel::showChunk(const SplicedText& text, SideCards::Place place)
{
    place.texts = text.join().chunkTexts(*m_chunk);
    place.firstBaseLine = text.join().chunks()[*m_chunk].base.begin;
    m_cards->showPlace(place);
}

void JoinedPanel::setEditable(bool isEditable)
{
    m_asJoined->setEnabled(isEditable);
}
}  // namespace rope
