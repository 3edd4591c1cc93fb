// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/worklist_rows.h"

#include "desktop/wording/merge_words.h"
#include "desktop/wording/question_words.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <algorithm>
#include <iterator>
#include <map>

namespace rope {
namespace {
int lineBreaksIn(std::string_view text)
{
    return static_cast<int>(std::count(text.begin(), text.end(), '\n'));
}

bool isWrittenInto(const SpliceFile& file)
{
    for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
        if (!file.text->isRegion(slot) && file.text->state(slot).text) {
            return true;
        }
    }
    return false;
}

QString fileRemark(const SpliceFile& file)
{
    if (file.outcome->question) {
        return file.outcome->kind == OutcomeKind::binary ? tr("binary") : QString();
    }
    return file.outcome->regionCount() == 0
               ? tr("merged")
               : countOf(file.outcome->regionCount(), "region", "regions");
}

QString decidedInShort(const SplicedText* text, std::size_t slot, const SlotState& state)
{
    if (!state.isDecided) {
        return {};
    }
    if (state.choice == kOwnText) {
        return tr("by hand");
    }
    const bool isBoth = state.choice == nameOf(CandidateKind::oursTheirs)
                        || state.choice == nameOf(CandidateKind::theirsOurs);
    const QString choice = isBoth ? tr("both") : labelOfChoice(state.choice).toLower();
    return text != nullptr && text->isEditedByHand(slot) ? tr("%1, by hand").arg(choice) : choice;
}

/// What was written outside regions: its first line that differs from what joining gave.
WorklistRow writtenRow(const SplicedText& text, SlotPlace place, int firstLine)
{
    const std::string_view joined = text.joinedText(place.slot);
    const std::string_view now = text.text(place.slot);
    const auto differs = std::mismatch(joined.begin(), joined.end(), now.begin(), now.end());
    const auto at = static_cast<std::size_t>(differs.second - now.begin());
    const std::string_view head = now.substr(0, at);
    const std::size_t begin = head.rfind('\n') == std::string_view::npos ? 0 : head.rfind('\n') + 1;
    const std::string_view line = now.substr(begin, now.find('\n', at) - begin);
    WorklistRow row;
    row.kind = WorklistRow::Kind::item;
    row.place = place;
    row.label = shown(line).simplified();
    if (row.label.isEmpty()) {
        row.label = tr("(blank lines)");
    }
    row.line = firstLine + lineBreaksIn(head) + 1;
    row.decided = tr("by hand");
    row.knot = Knot::decidedByHand;
    return row;
}

/// What can be looked for in a region: the text of either side, as far as anybody remembers it.
QString wordsIn(const RegionTexts& texts)
{
    constexpr std::size_t kMostBytes = 2000;
    return shown(std::string(texts.theirs.substr(0, kMostBytes))
                 + std::string(texts.ours.substr(0, kMostBytes)));
}

/// The rows of a file's question, its regions and what was written outside them.
std::vector<WorklistRow>
itemsOf(const SpliceFile& file, std::size_t index, const WorklistFilter& filter)
{
    std::vector<WorklistRow> items;
    const auto append =
        [&](std::size_t slot, const QString& label, int line, const SlotState& state) {
            WorklistRow row;
            row.kind = WorklistRow::Kind::item;
            row.place = {index, slot};
            row.label = label;
            row.line = line;
            row.isOpen = !state.isDecided;
            row.decided = decidedInShort(
                slot == SlotPlace::kQuestion ? nullptr : file.text.get(), slot, state);
            row.knot = row.isOpen                            ? Knot::open
                       : row.decided.endsWith(tr("by hand")) ? Knot::decidedByHand
                                                             : Knot::decided;
            items.push_back(std::move(row));
        };
    if (file.outcome->question) {
        append(SlotPlace::kQuestion, questionInShort(*file.outcome->question), 0, file.answer);
    }
    int line = 0;
    for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
        if (file.text->isRegion(slot)) {
            const RegionName name =
                filter.names != nullptr ? filter.names->of(file, slot) : RegionName{};
            append(slot, regionLabel(name, line + 1), line + 1, file.text->state(slot));
            if (!filter.text.isEmpty()) {
                items.back().words =
                    wordsIn(file.text->join().regionTexts(file.text->regionOf(slot)));
            }
        } else if (file.text->state(slot).text) {
            items.push_back(writtenRow(*file.text, {index, slot}, line));
        }
        line += lineBreaksIn(file.text->text(slot));
    }
    return items;
}

bool isWorkedOn(const SpliceFile& file)
{
    return file.outcome->needsDecision() || isWrittenInto(file);
}

/// What of a file's rows is wanted.
std::vector<WorklistRow>
wantedItemsOf(const SpliceFile& file, std::size_t index, const WorklistFilter& filter)
{
    std::vector<WorklistRow> items = itemsOf(file, index, filter);
    const bool isPathWanted =
        shownPath(file.outcome->path).contains(filter.text, Qt::CaseInsensitive);
    std::erase_if(items, [&](const WorklistRow& row) {
        return (filter.show == WorklistFilter::Show::open && !row.isOpen)
               || (!isPathWanted && !row.label.contains(filter.text, Qt::CaseInsensitive)
                   && !row.words.contains(filter.text, Qt::CaseInsensitive));
    });
    return items;
}

/// What sort of thing is to be decided in a place.
QString kindOf(const SpliceFile& file, std::size_t slot)
{
    if (slot == SlotPlace::kQuestion) {
        return questionInShort(*file.outcome->question);
    }
    if (!file.text->isRegion(slot)) {
        return tr("Written by hand");
    }
    const RegionTexts texts = file.text->join().regionTexts(file.text->regionOf(slot));
    if (texts.base.empty()) {
        return tr("Both added");
    }
    if (texts.ours.empty() || texts.theirs.empty()) {
        return tr("Removed against changed");
    }
    return tr("Both changed");
}

QString groupOf(const SpliceFile& file, SlotPlace place, const WorklistFilter& filter)
{
    switch (filter.grouping) {
    case WorklistGrouping::folder: {
        const QString path = shownPath(file.outcome->path);
        const qsizetype slash = path.lastIndexOf(QLatin1Char('/'));
        return slash < 0 ? tr("(top folder)") : path.first(slash + 1);
    }
    case WorklistGrouping::people: {
        const QString who = filter.whoOf ? filter.whoOf(place) : QString();
        return who.isEmpty() ? tr("Not known yet") : who;
    }
    case WorklistGrouping::kind:
    case WorklistGrouping::file:
        break;
    }
    return kindOf(file, place.slot);
}

/// Other headings than files: each thing tells the name of its file itself.
void appendGroups(const Splice& splice,
                  const WorklistFilter& filter,
                  std::vector<WorklistRow>& rows)
{
    std::map<QString, std::vector<WorklistRow>> groups;
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const SpliceFile& file = splice.files()[i];
        if (!isWorkedOn(file)) {
            continue;
        }
        const QString path = shownPath(file.outcome->path);
        const QString name = path.mid(path.lastIndexOf(QLatin1Char('/')) + 1);
        for (WorklistRow& row : wantedItemsOf(file, i, filter)) {
            row.label = name + QStringLiteral(": ") + row.label;
            groups[groupOf(file, row.place, filter)].push_back(std::move(row));
        }
    }
    for (auto& [name, items] : groups) {
        WorklistRow heading;
        heading.place = items.front().place;
        heading.label = name;
        heading.remark = QString::number(items.size());
        heading.isOpen = std::any_of(
            items.begin(), items.end(), [](const WorklistRow& row) { return row.isOpen; });
        rows.push_back(std::move(heading));
        std::move(items.begin(), items.end(), std::back_inserter(rows));
    }
}

/// A row before the first of several open places that are alike.
void insertAlike(const SpliceFile& file, AlikePlaces& alike, std::vector<WorklistRow>& items)
{
    const std::vector<AlikeRegions>& groups = alike.of(file);
    if (groups.empty()) {
        return;
    }
    std::vector<std::size_t> groupOf(file.text->join().regionCount(), groups.size());
    for (std::size_t group = 0; group < groups.size(); ++group) {
        for (const std::size_t region : groups[group].regions) {
            groupOf[region] = group;
        }
    }
    std::vector<std::vector<SlotPlace>> open(groups.size() + 1);
    for (const WorklistRow& item : items) {
        const bool isOpenRegion = item.isOpen && item.place.slot != SlotPlace::kQuestion
                                  && file.text->isRegion(item.place.slot);
        if (isOpenRegion) {
            open[groupOf[file.text->regionOf(item.place.slot)]].push_back(item.place);
        }
    }
    open.back().clear();  // those that are like no other
    for (std::size_t group = 0; group < groups.size(); ++group) {
        if (open[group].size() < kLeastAlike) {
            continue;
        }
        WorklistRow row;
        row.kind = WorklistRow::Kind::alike;
        row.places = std::move(open[group]);
        row.place = row.places.front();
        row.label = groups[group].what == AlikeRegions::What::numbers
                        ? tr("%1 alike: only numbers").arg(row.places.size())
                        : tr("%1 alike: the same").arg(row.places.size());
        row.isOpen = true;
        const auto first = std::find_if(items.begin(), items.end(), [&row](const auto& item) {
            return item.kind == WorklistRow::Kind::item && item.place == row.place;
        });
        items.insert(first, std::move(row));
    }
}

/// Many decided places become one row, which opens; the one that is looked at stays.
void foldDecided(const WorklistFilter& filter, std::vector<WorklistRow>& items)
{
    constexpr std::size_t kMostListed = 8;
    const auto isFolded = [&filter](const WorklistRow& item) {
        return item.kind == WorklistRow::Kind::item && !item.isOpen
               && item.place != filter.selected;
    };
    WorklistRow row;
    row.kind = WorklistRow::Kind::folded;
    for (const WorklistRow& item : items) {
        if (isFolded(item)) {
            row.places.push_back(item.place);
        }
    }
    if (row.places.size() < kMostListed) {
        return;
    }
    row.place = row.places.front();
    row.label = tr("%1 decided").arg(row.places.size());
    row.knot = Knot::decided;
    const auto first = std::find_if(items.begin(), items.end(), isFolded);
    *first = std::move(row);
    items.erase(std::remove_if(first + 1, items.end(), isFolded), items.end());
}

void appendFile(const Splice& splice,
                std::size_t index,
                const WorklistFilter& filter,
                std::vector<WorklistRow>& rows)
{
    const SpliceFile& file = splice.files()[index];
    std::vector<WorklistRow> items = wantedItemsOf(file, index, filter);
    if (items.empty()) {
        return;
    }
    WorklistRow heading;
    heading.place.file = index;
    heading.place.slot = items.front().place.slot;
    if (filter.text.isEmpty() && filter.alike != nullptr) {
        insertAlike(file, *filter.alike, items);
    }
    if (filter.text.isEmpty() && !filter.unfolded.contains(index)) {
        foldDecided(filter, items);
    }
    heading.label = shownPath(file.outcome->path);
    heading.remark = fileRemark(file);
    heading.isOpen = file.openCount() > 0;
    rows.push_back(std::move(heading));
    std::move(items.begin(), items.end(), std::back_inserter(rows));
}

WorklistRow groupRow(const QString& label)
{
    WorklistRow heading;
    heading.kind = WorklistRow::Kind::group;
    heading.place.file = SlotPlace::kQuestion;
    heading.label = label;
    return heading;
}

/// Headings of commits that are written anew, from `told` to the one of `leg`. A commit of which nothing
/// is wanted has one as well, unless something is looked for: one wants to see what becomes of each.
void appendLegsBefore(const Splice& splice,
                      std::size_t leg,
                      const WorklistFilter& filter,
                      std::size_t& told,
                      std::vector<WorklistRow>& rows)
{
    const auto& standings = splice.standings();
    for (; told < standings.size() && told <= leg; ++told) {
        const LegStanding& standing = standings[told];
        const std::size_t open = splice.openCountOf(told);
        const bool isWanted =
            told == leg || (filter.show != WorklistFilter::Show::open && filter.text.isEmpty());
        if (!isWanted) {
            continue;
        }
        const bool isAllAfter = splice.plan().isCorrection() && standing.isCarried;
        WorklistRow heading =
            groupRow(isAllAfter ? tr("What came after it") : shownSubject(standing.commit));
        heading.kind = WorklistRow::Kind::commit;
        heading.before = tr("%1 of %2").arg(told + 1).arg(standings.size());
        const bool isSkipped = splice.plan().skips(standing) && !splice.plan().isCorrection();
        heading.remark = isSkipped                      ? tr("empty, skipped")
                         : standing.isAbout && open > 0 ? tr("about %1 open").arg(open)
                         : open > 0                     ? tr("%1 open").arg(open)
                         : standing.isAbout             ? tr("about")
                                                        : QString();
        rows.push_back(std::move(heading));
    }
}

void insertJoinedHeading(std::size_t at, std::vector<WorklistRow>& rows)
{
    if (rows.size() > at) {
        WorklistRow heading = groupRow(tr("Merged automatically"));
        heading.remark = countOf(rows.size() - at, "file", "files");
        rows.insert(rows.begin() + static_cast<std::ptrdiff_t>(at), std::move(heading));
    }
}

void appendJoined(const Splice& splice,
                  const WorklistFilter& filter,
                  std::vector<WorklistRow>& rows)
{
    const std::size_t headingAt = rows.size();
    const auto appendRow = [&](const RepoPath& path, std::size_t file, const QString& remark) {
        WorklistRow row;
        row.kind = WorklistRow::Kind::joinedFile;
        row.place = {file, 0};
        row.label = shownPath(path);
        row.remark = remark;
        if (row.label.contains(filter.text, Qt::CaseInsensitive)) {
            rows.push_back(std::move(row));
        }
    };
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const FileOutcome& outcome = *splice.files()[i].outcome;
        const bool isOneSides = splice.files()[i].own != nullptr;  // it is told of with theirs
        if (!outcome.needsDecision() && !isOneSides && !isWrittenInto(splice.files()[i])) {
            appendRow(outcome.path, i, tr("merged from both"));
        }
    }
    if (splice.plan().laysOwnCommits()) {
        insertJoinedHeading(headingAt, rows);
        return;  // what commits take from theirs is all that came in since: Survey tells of it
    }
    for (const FileOutcome& outcome : splice.forecast().join.files) {
        if (!outcome.needsDecision() && !outcome.text) {
            appendRow(outcome.path,
                      SlotPlace::kQuestion,
                      outcome.settled ? tr("merged as a whole") : tr("deleted by both"));
        }
    }
    for (const TreeEdit& edit : splice.forecast().join.theirsEdits) {
        appendRow(edit.path,
                  SlotPlace::kQuestion,
                  edit.version ? tr("from theirs") : tr("deleted by theirs"));
    }
    insertJoinedHeading(headingAt, rows);
}
}  // namespace

QString regionLabel(const RegionName& name, int line)
{
    switch (name.kind) {
    case RegionName::Kind::none:
        break;
    case RegionName::Kind::imports:
        return tr("the imports");
    case RegionName::Kind::definition:
        return tr("in %1").arg(shown(name.name).simplified());
    case RegionName::Kind::heading:
    case RegionName::Kind::key:
    case RegionName::Kind::base:
        return shown(name.name).simplified();
    }
    return tr("line %1").arg(line);
}

int firstLineOfSlot(const SplicedText& text, std::size_t slot)
{
    int line = 0;
    for (std::size_t i = 0; i < slot; ++i) {
        line += lineBreaksIn(text.text(i));
    }
    return line;
}

std::vector<WorklistRow> worklistRows(const Splice& splice, const WorklistFilter& filter)
{
    std::vector<WorklistRow> rows;
    std::size_t toldLegs = 0;
    bool isWorkTold = false;
    if (filter.grouping != WorklistGrouping::file) {
        appendGroups(splice, filter, rows);
    }
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        if (filter.grouping != WorklistGrouping::file || !isWorkedOn(splice.files()[i])) {
            continue;
        }
        appendLegsBefore(splice, splice.files()[i].leg, filter, toldLegs, rows);
        const std::size_t before = rows.size();
        appendFile(splice, i, filter, rows);
        if (rows.size() > before && splice.files()[i].leg == splice.workLeg() && !isWorkTold) {
            isWorkTold = true;
            rows.insert(rows.begin() + static_cast<std::ptrdiff_t>(before),
                        groupRow(tr("Your uncommitted work")));
        }
    }
    if (filter.grouping == WorklistGrouping::file) {
        appendLegsBefore(splice, splice.workLeg(), filter, toldLegs, rows);
    }
    if (filter.show == WorklistFilter::Show::joinedToo) {
        appendJoined(splice, filter, rows);
    }
    return rows;
}
}  // namespace rope
