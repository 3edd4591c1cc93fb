// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/together_panel.h"

#include "desktop/resolve/candidate_list.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/together_words.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <set>

namespace rope {
namespace {
constexpr std::array kTogetherChoices{TogetherChoice::ours,
                                      TogetherChoice::theirs,
                                      TogetherChoice::oursTheirs,
                                      TogetherChoice::theirsOurs,
                                      TogetherChoice::leaveOpen};

QString countInWords(const Splice& splice, const std::vector<SlotPlace>& places)
{
    std::set<std::size_t> files;
    std::size_t questions = 0;
    std::size_t open = 0;
    for (const SlotPlace place : places) {
        files.insert(place.file);
        questions += place.slot == SlotPlace::kQuestion ? 1U : 0U;
        open += splice.state(place).isDecided ? 0U : 1U;
    }
    QStringList what;
    if (questions < places.size()) {
        what << countOf(places.size() - questions, "region", "regions");
    }
    if (questions > 0) {
        what << countOf(questions, "question", "questions");
    }
    return TogetherPanel::tr("%1 in %2 · %3 open, %4 decided")
        .arg(what.join(TogetherPanel::tr(" and ")), countOf(files.size(), "file", "files"))
        .arg(open)
        .arg(places.size() - open);
}
}  // namespace

TogetherPanel::TogetherPanel(QWidget* parent)
    : QWidget(parent)
    , m_count(makeLabel({}, TextRole::strong, this))
    , m_choices(new CandidateList(this))
    , m_take(makeButton({}, "takeTogetherButton", ButtonRole::primary, this))
{
    m_count->setObjectName(QStringLiteral("togetherCount"));
    m_choices->setObjectName(QStringLiteral("togetherList"));
    m_choices->setAccessibleName(tr("What to make of all of them"));
    auto* body = layPanel(this, makeLabel(tr("Chosen together"), TextRole::heading, this));
    body->addWidget(m_count);
    body->addSpacing(6);
    body->addWidget(m_choices);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_take);
    buttons->addStretch();
    body->addLayout(buttons);
    body->addWidget(makeLabel(tr("One step: Ctrl+Z takes all of it back."), TextRole::muted, this));
    body->addStretch();
    setFocusProxy(m_choices);
    connect(m_choices, &CandidateList::taken, this, &TogetherPanel::chosen);
    connect(m_choices, &CandidateList::lookedAtChanged, this, [this](int row) {
        m_take->setText(tr("Use answer %1").arg(row + 1));
    });
    connect(m_take, &QPushButton::clicked, this, [this] { emit chosen(lookedAt()); });
}

void TogetherPanel::showPlaces(const Splice& splice,
                               const std::vector<SlotPlace>& places,
                               const SideNames& names)
{
    m_count->setText(countInWords(splice, places));
    std::vector<ChoiceRow> rows;
    for (const TogetherChoice choice : kTogetherChoices) {
        const TogetherLoss loss = lossTogether(splice.decided(), places, choice);
        const bool isLosing = loss.filesGone + loss.handTexts > 0;
        rows.push_back({labelOf(choice), lossInWords(loss, choice, names), isLosing, false});
    }
    m_choices->setRows(std::move(rows));
    m_choices->lookAt(0);
}

void TogetherPanel::setEditable(bool isEditable)
{
    setEnabled(isEditable);
}

int TogetherPanel::lookedAt() const
{
    return m_choices->lookedAt();
}

TogetherChoice TogetherPanel::choiceOf(int row) const
{
    return kTogetherChoices.at(static_cast<std::size_t>(row));
}

int TogetherPanel::rowOf(TogetherChoice choice) const
{
    const auto found = std::find(kTogetherChoices.begin(), kTogetherChoices.end(), choice);
    return found == kTogetherChoices.end() ? -1
                                           : static_cast<int>(found - kTogetherChoices.begin());
}

int TogetherPanel::rowCount() const
{
    return static_cast<int>(kTogetherChoices.size());
}
}  // namespace rope
