// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/resolve_station.h"

#include "desktop/resolve/candidate_finder.h"
#include "desktop/resolve/evidence_panel.h"
#include "desktop/resolve/joined_panel.h"
#include "desktop/resolve/lines_view.h"
#include "desktop/resolve/question_panel.h"
#include "desktop/resolve/reason_line.h"
#include "desktop/resolve/side_cards.h"
#include "desktop/resolve/side_names.h"
#include "desktop/resolve/together_panel.h"
#include "desktop/resolve/versions_view.h"
#include "desktop/resolve/worklist.h"
#include "desktop/result/result_view.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/question_words.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QAction>
#include <QApplication>
#include <QDateTime>
#include <QMenu>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
/// Longer texts are not laid in the editor: its regions are decided by their candidates.
constexpr std::size_t kMostEditableBytes = 16'000'000;

bool isEditable(const SpliceFile& file)
{
    return file.text && file.text->join().ours().bytes().size() <= kMostEditableBytes
           && file.text->join().theirs().bytes().size() <= kMostEditableBytes;
}

/// How a place is called in the journal.
std::string nameOf(const Splice& splice, SlotPlace place)
{
    const SpliceFile& file = splice.files()[place.file];
    return file.outcome->path + '\n'
           + (place.slot == SlotPlace::kQuestion ? std::string(kQuestionSlot)
                                                 : file.text->key(place.slot))
           + (file.leg == 0 ? std::string() : '\n' + std::to_string(file.leg));
}
}  // namespace

ResolveStation::ResolveStation(QWidget* parent)
    : StationPage(parent)
    , m_splitter(new PaneSplitter(Qt::Horizontal, {16, 46, 38}, tr("Line between panes"), this))
    , m_worklist(new Worklist(m_splitter))
    , m_centre(new PageStack(m_splitter))
    , m_result(new ResultView(m_centre))
    , m_sidePane(new QWidget(m_splitter))
    , m_side(new PageStack(m_sidePane))
    , m_evidence(new EvidencePanel(m_side))
    , m_question(new QuestionPanel(m_side))
    , m_joined(new JoinedPanel(m_side))
    , m_together(new TogetherPanel(m_side))
    , m_reason(new ReasonLine(m_sidePane))
    , m_finder(new CandidateFinder(this))
{
    layCentre();
    laySide();
    // Pages that are not shown must not keep a pane wider than its share.
    m_worklist->setMinimumWidth(150);
    m_centre->setMinimumWidth(300);
    m_sidePane->setMinimumWidth(320);
    m_splitter->addWidget(m_worklist);
    m_splitter->addWidget(m_centre);
    m_splitter->addWidget(m_sidePane);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_splitter);
    connectWorklist();
    connectResult();
    connectChoices();
    connectFind();
    addActions();
    setLeadOnLabel(tr("Go to Check"));
}

void ResolveStation::setLeadOnLabel(const QString& label)
{
    m_leadOn->setText(label);
    m_evidence->setLeadOnLabel(label);
    m_question->setLeadOnLabel(label);
}

void ResolveStation::setSplice(Splice* splice, const std::string& place)
{
    m_result->clear();
    m_evidence->clear();
    m_finder->clear();
    m_facts.clear();
    m_since.clear();
    m_chosen.clear();
    if (splice != nullptr) {
        m_placeLetGo.reset();
    }
    m_splice = splice;
    m_worklist->show(splice);
    m_at = {};
    if (splice == nullptr) {
        // Nothing may be shown any more of texts that are gone.
        m_side->setCurrentIndex(2);
        m_centreNote->setText(tr("No splice is under way."));
        m_leadOn->hide();
        m_centre->setCurrentIndex(1);
        return;
    }
    const auto places = decidablePlaces();
    const auto before = std::find_if(
        places.begin(), places.end(), [&](SlotPlace p) { return nameOf(*m_splice, p) == place; });
    const auto open = std::find_if(
        places.begin(), places.end(), [&](SlotPlace p) { return !m_splice->state(p).isDecided; });
    if (before != places.end()) {
        m_at = *before;
    } else if (open != places.end()) {
        m_at = *open;
    } else if (!places.empty()) {
        m_at = places.front();
    }
    showPlace();
}

QVariantMap ResolveStation::shares() const
{
    return {{QStringLiteral("panes"), m_splitter->shares()},
            {QStringLiteral("evidence"), m_evidence->splitter()->shares()}};
}

void ResolveStation::setSideways(bool isSideways)
{
    for (SideCards* cards : findChildren<SideCards*>()) {
        cards->setSideways(isSideways);
    }
    m_result->code().setWrapped(!isSideways);
}

void ResolveStation::setShares(const QVariantMap& shares)
{
    m_splitter->setShares(shares[QStringLiteral("panes")].toList());
    m_evidence->splitter()->setShares(shares[QStringLiteral("evidence")].toList());
}

void ResolveStation::setEditable(bool isEditable)
{
    m_isEditable = isEditable;
    enableActions();
    m_result->setReadOnly(!isEditable);
    m_evidence->setEditable(isEditable);
    m_question->setEnabled(isEditable);
    m_reason->setEnabled(isEditable);
    m_joined->setEditable(isEditable);
    m_together->setEditable(isEditable);
}

std::string ResolveStation::place() const
{
    return hasPlace() ? nameOf(*m_splice, m_at) : std::string();
}

void ResolveStation::letGoFrom(std::size_t leg)
{
    flush();
    m_chosen.clear();
    m_finder->clear();
    if (hasPlace() && m_splice->files()[m_at.file].leg < leg) {
        // Those of later legs stand behind it.
        std::erase_if(m_facts,
                      [&](const auto& facts) { return m_splice->files()[facts.first].leg >= leg; });
        std::erase_if(m_since, [&](const auto& since) {
            return m_splice->files()[since.first.first].leg >= leg;
        });
        return;
    }
    m_placeLetGo = place();
    setSplice(nullptr);
}

void ResolveStation::takeAgain(Splice* splice)
{
    if (const auto place = std::exchange(m_placeLetGo, {})) {
        setSplice(splice, *place);
        return;
    }
    m_worklist->show(m_splice);
    const SpliceFile& file = m_splice->files()[m_at.file];
    if (isQuestion()) {
        m_question->showQuestion(file,
                                 namesOf(*m_splice, file),
                                 asidesInWords(*m_splice->legs()[file.leg], *file.outcome));
        showFacts();
    }
    const bool leadsOn = m_splice->openCount() == 0;
    m_evidence->setLeadsOn(leadsOn);
    m_question->setLeadsOn(leadsOn);
}

void ResolveStation::refreshList()
{
    if (m_splice != nullptr) {
        m_worklist->show(m_splice);
    }
}

bool ResolveStation::hasPlace() const
{
    if (m_splice == nullptr || m_at.file >= m_splice->files().size()) {
        return false;
    }
    const SpliceFile& file = m_splice->files()[m_at.file];
    return isQuestion() ? file.outcome->question.has_value() : bool(file.text);
}

std::vector<SlotPlace> ResolveStation::decidablePlaces() const
{
    std::vector<SlotPlace> places;
    for (std::size_t i = 0; i < m_splice->files().size(); ++i) {
        const SpliceFile& file = m_splice->files()[i];
        if (file.outcome->question) {
            places.push_back({i, SlotPlace::kQuestion});
        }
        for (std::size_t region = 0; region < file.outcome->regionCount(); ++region) {
            places.push_back({i, file.text->slotOfRegion(region)});
        }
    }
    return places;
}

/// What the cards need to know of a file.
namespace {
/// Where the region is small, what stands around it says where one is; a large one says so itself.
LinesAround aroundShown(const TextJoin& join, std::size_t region)
{
    constexpr LineNumber kMostLines = 8;
    const Chunk& chunk = join.region(region);
    return std::max({chunk.base.size(), chunk.ours.size(), chunk.theirs.size()}) > kMostLines
               ? LinesAround{}
               : linesAround(join, region, 2, 1);
}
}  // namespace

SideCards::Place ResolveStation::sidesOf(const SpliceFile& file) const
{
    const auto& base = m_splice->forecast().base;
    SideCards::Place place;
    place.names = namesOf(*m_splice, file);
    place.baseName = file.leg > 0 || m_splice->plan().laysOwnCommits()
                         ? shown(m_splice->legs()[file.leg]->base.label)
                     : base ? shown(base->id.brief())
                            : QString();
    place.hasBase = file.outcome->base.has_value();
    place.oursRemark = fileRemarkInWords(*file.outcome, true);
    place.theirsRemark = fileRemarkInWords(*file.outcome, false);
    return place;
}

void ResolveStation::goTo(SlotPlace place)
{
    flush();
    m_lineAt.reset();
    m_at = place;
    showPlace();
    emit placeChanged();
}

void ResolveStation::showPlace()
{
    // The page that has the keyboard may be left: then the one that follows has it.
    const bool hadFocus = m_side->isAncestorOf(QApplication::focusWidget());
    const QWidget* const before = m_side->currentWidget();
    showPlaceOnly();
    if (hadFocus && m_side->currentWidget() != before) {
        focusChoices();
    }
}

/// Of regions and questions; what joined by itself needs no reason.
void ResolveStation::showReason()
{
    const bool isDecidable =
        m_keepsReasons && hasPlace() && m_chosen.empty()
        && (isQuestion() || m_splice->files()[m_at.file].text->isRegion(m_at.slot));
    m_reason->setVisible(isDecidable);
    if (isDecidable) {
        m_reason->showReason(editableText(m_splice->reason(m_at)));
    }
}

void ResolveStation::setKeepsReasons(bool keepsReasons)
{
    m_keepsReasons = keepsReasons;
    for (QAction* action : m_actions) {
        if (action->objectName() == QLatin1String("reasonAction")) {
            action->setVisible(keepsReasons);
        }
    }
    showReason();
}

void ResolveStation::giveReason(const QString& text)
{
    if (hasPlace() && m_isEditable) {
        emit reasonGiven(m_splice->giveReason(m_at, text.toStdString()));
    }
}

void ResolveStation::showPlaceOnly()
{
    m_chosen.clear();
    showReason();
    const bool leadsOn = m_splice != nullptr && m_splice->openCount() == 0;
    m_evidence->setLeadsOn(leadsOn);
    m_question->setLeadsOn(leadsOn);
    m_leadOn->setVisible(!hasPlace() && leadsOn);
    if (!hasPlace()) {
        m_side->setCurrentIndex(2);
        m_centre->setCurrentIndex(1);
        m_centreNote->setText(tr("No conflict: everything merged cleanly.\n“merged too” below the "
                                 "worklist lists the files."));
        return;
    }
    const SpliceFile& file = m_splice->files()[m_at.file];
    if (isEditable(file)) {
        if (!m_result->shows(m_at.file)) {
            m_result->showFile(*m_splice, m_at.file);
        }
        m_centre->setCurrentWidget(m_result);
    } else if (file.text) {
        m_centreNote->setText(tr("This file is too large to be edited here (%1 MB). Its regions "
                                 "can be decided by their candidates.")
                                  .arg(file.text->join().ours().bytes().size() / 1'000'000));
        m_centre->setCurrentIndex(1);
    } else {
        m_versions->showVersions(nullptr, *file.outcome, namesOf(*m_splice, file));
        m_centre->setCurrentWidget(m_versions);
    }
    m_worklist->select(m_at);
    if (isQuestion()) {
        m_question->showQuestion(file,
                                 namesOf(*m_splice, file),
                                 asidesInWords(*m_splice->legs()[file.leg], *file.outcome));
        m_side->setCurrentWidget(m_question);
    } else if (file.text->isRegion(m_at.slot)) {
        const TextJoin& join = file.text->join();
        const std::size_t region = file.text->regionOf(m_at.slot);
        EvidencePanel::RegionView view;
        view.place = sidesOf(file);
        view.place.texts = join.regionTexts(region);
        view.place.around = aroundShown(join, region);
        view.place.firstBaseLine = join.region(region).base.begin;
        if (file.text->isOpen(m_at.slot) && m_splice->offerFromSameRegion(m_at)) {
            m_finder->forget(m_at);
        }
        view.candidates = m_finder->candidatesOf(file, m_at);
        view.number = region + 1;
        view.count = join.regionCount();
        view.state = &m_splice->state(m_at);
        view.isEditedByHand = file.text->isEditedByHand(m_at.slot);
        if (const auto source = file.text->earlierSource(m_at.slot)) {
            view.earlier = earlierInWords(*source, QDateTime::currentSecsSinceEpoch());
        }
        m_evidence->showRegion(view);
        m_side->setCurrentWidget(m_evidence);
        if (m_result->shows(m_at.file)) {
            m_result->selectRegion(m_at.slot);
            previewCandidate(m_evidence->lookedAt());
        }
    } else {
        m_joined->showStretch(*file.text, m_at.slot, m_lineAt, sidesOf(file));
        m_side->setCurrentWidget(m_joined);
        if (m_result->shows(m_at.file) && !m_lineAt) {
            m_result->revealStretch(m_at.slot);
        }
    }
    showFacts();
}

void ResolveStation::showFacts()
{
    const auto found = m_facts.find(m_at.file);
    if (found == m_facts.end()) {
        emit factsRequested(m_at.file);
        return;
    }
    const SpliceFile& file = m_splice->files()[m_at.file];
    if (isQuestion()) {
        const SideNames names = namesOf(*m_splice, file);
        m_question->setFacts(found->second.whole, names);
        m_versions->showVersions(&found->second.versions, *file.outcome, names);
    } else if (file.text->isRegion(m_at.slot)) {
        const std::size_t chunk = file.text->join().chunkOfRegion(file.text->regionOf(m_at.slot));
        if (chunk < found->second.chunks.size()) {
            m_evidence->setFacts(found->second.chunks[chunk]);
        }
        const auto since = m_since.find({m_at.file, m_at.slot});
        if (since != m_since.end()) {
            m_evidence->setSince(since->second);
        } else {
            emit sinceRequested(m_at);
        }
    } else if (m_joined->chunk() && *m_joined->chunk() < found->second.chunks.size()) {
        m_joined->cards().setFacts(found->second.chunks[*m_joined->chunk()]);
    }
}

void ResolveStation::setFacts(std::size_t file,
                              std::vector<PlaceFacts> chunks,
                              PlaceFacts whole,
                              FileVersions versions)
{
    m_facts[file] = {std::move(chunks), std::move(whole), std::move(versions)};
    m_worklist->refreshPeople();
    if (hasPlace() && m_at.file == file && m_chosen.empty()) {
        showFacts();
    }
}

void ResolveStation::setSince(SlotPlace place, const QString& words)
{
    m_since[{place.file, place.slot}] = words;
    if (hasPlace() && m_at == place && m_chosen.empty() && !isQuestion()) {
        m_evidence->setSince(words);
    }
}

void ResolveStation::goToNextOpen(int direction)
{
    if (m_splice == nullptr) {
        return;
    }
    flush();
    const auto places = decidablePlaces();
    const bool isAllDecided = m_splice->openCount() == 0;  // then the decided ones are walked
    const auto count = static_cast<std::ptrdiff_t>(places.size());
    const auto here = std::find(places.begin(), places.end(), m_at) - places.begin();
    for (std::ptrdiff_t step = 1; step <= count; ++step) {
        const std::ptrdiff_t at = ((here + direction * step) % count + count) % count;
        const SlotPlace place = places[static_cast<std::size_t>(at)];
        if (isAllDecided || !m_splice->state(place).isDecided) {
            goTo(place);
            return;
        }
    }
}

QString ResolveStation::whoBrought(SlotPlace place) const
{
    const auto found = m_facts.find(place.file);
    if (found == m_facts.end()) {
        return {};
    }
    const SpliceFile& file = m_splice->files()[place.file];
    const bool isRegion = place.slot != SlotPlace::kQuestion && file.text->isRegion(place.slot);
    const std::size_t chunk =
        isRegion ? file.text->join().chunkOfRegion(file.text->regionOf(place.slot)) : 0;
    const PlaceFacts& facts = isRegion && chunk < found->second.chunks.size()
                                  ? found->second.chunks[chunk]
                                  : found->second.whole;
    return facts.theirs.name.isEmpty() ? facts.ours.name : facts.theirs.name;
}

/// Who brought things in is found file by file; the grouping by people needs all of them.
void ResolveStation::requestPeople()
{
    if (m_splice == nullptr || m_worklist->grouping() != WorklistGrouping::people) {
        return;
    }
    for (std::size_t file = 0; file < m_splice->files().size(); ++file) {
        if (m_splice->files()[file].outcome->needsDecision() && !m_facts.contains(file)) {
            emit factsRequested(file);
        }
    }
}

/// Goes round the panes: worklist, result, evidence, choices.
void ResolveStation::goToPane(int direction)
{
    const std::vector<QWidget*> panes{m_worklist, m_centre, m_evidence->cards(), m_side};
    const QWidget* here = QApplication::focusWidget();
    const auto isIn = [here](const QWidget* pane) {
        return here != nullptr && (pane == here || pane->isAncestorOf(here));
    };
    const auto at = std::find_if(panes.begin(), panes.end(), isIn);
    const auto count = static_cast<std::ptrdiff_t>(panes.size());
    auto next = at == panes.end() ? 0 : at - panes.begin() + direction;
    if (panes[static_cast<std::size_t>((next % count + count) % count)] == m_evidence->cards()
        && m_side->currentWidget() != m_evidence) {
        next += direction;
    }
    const auto pane = static_cast<std::size_t>((next % count + count) % count);
    if (panes[pane] == m_side) {
        focusChoices();
    } else if (panes[pane] == m_centre) {
        m_centre->currentWidget()->setFocus();
    } else {
        panes[pane]->setFocus();
    }
}

void ResolveStation::focusChoices()
{
    m_side->currentWidget()->setFocus();
}

void ResolveStation::flush()
{
    m_result->flushTyping();
}

void ResolveStation::afterChange(const std::vector<SlotPlace>& places)
{
    m_splice->endTyping();
    std::vector<std::size_t> stale;
    for (const SlotPlace place : places) {
        if (m_result->shows(place.file) && place.slot != SlotPlace::kQuestion) {
            stale.push_back(place.slot);
        }
    }
    if (!stale.empty()) {
        m_result->refreshSlots(stale);
    }
    m_worklist->show(m_splice);
    showPlace();
    emit changed();
}

std::vector<KeyHint> ResolveStation::hints() const
{
    if (m_splice == nullptr) {
        return {{tr("Ctrl+1"), tr("back to Survey")}};
    }
    return {{tr("Ctrl+J"), tr("next open")},
            {tr("Alt+1…9"), tr("use a candidate")},
            {tr("Ctrl+Z"), tr("undo")}};
}

QString ResolveStation::status() const
{
    if (m_splice == nullptr) {
        return {};
    }
    if (m_splice->openCount() == 0) {
        return tr("Nothing is open · Ctrl+Enter goes on to Check");
    }
    const auto files = std::count_if(m_splice->files().begin(),
                                     m_splice->files().end(),
                                     [](const SpliceFile& file) { return file.openCount() > 0; });
    return tr("%1 still open in %2")
        .arg(m_splice->openCount())
        .arg(countOf(static_cast<std::size_t>(files), "file", "files"));
}

std::vector<KeyHint> ResolveStation::keys() const
{
    return {{tr("Ctrl+Enter"), tr("go on to Check, or to the next that is open")},
            {tr("Up, Down"), tr("look at another candidate")},
            {tr("Enter"), tr("use it")},
            {tr("Escape"), tr("out of the result, to the worklist")},
            {tr("Shift+Up, Down"), tr("choose several, in the worklist")},
            {tr("Space"), tr("take or leave a line, in Lines")},
            {tr("Alt+Up, Down"), tr("move a line, in Lines")},
            {tr("Left, Right"), tr("choice of a part, in Lines")}};
}
}  // namespace rope
