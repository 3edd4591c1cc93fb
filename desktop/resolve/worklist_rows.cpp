// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/worklist_rows.h"

#include "desktop/wording/merge_words.h"

#include <QCoreApplication>

#include <algorithm>

namespace rope {
namespace {
QString tr(const char* text)
{
    return QCoreApplication::translate("Worklist", text);
}

int lineBreaksIn(std::string_view text)
{
    return static_cast<int>(std::count(text.begin(), text.end(), '\n'));
}

Knot knotOf(const SlotState& state, const std::string_view own)
{
    if (!state.isDecided) {
        return Knot::open;
    }
    return state.choice == own ? Knot::decidedByHand : Knot::decided;
}

QString fileRemark(const SpliceFile& file)
{
    if (file.outcome->question) {
        return file.outcome->kind == OutcomeKind::binary ? tr("binary") : QString();
    }
    return countOf(file.outcome->regionCount(), "region", "regions");
}

void appendFile(const Splice& splice,
                std::size_t index,
                const WorklistFilter& filter,
                std::vector<WorklistRow>& rows)
{
    const SpliceFile& file = splice.files()[index];
    if (filter.onlyOpen && file.openCount() == 0) {
        return;
    }
    WorklistRow heading;
    heading.place.file = index;
    heading.place.slot =
        file.outcome->question || !file.text ? SlotPlace::kQuestion : file.text->slotOfRegion(0);
    heading.label = shownPath(file.outcome->path);
    heading.remark = fileRemark(file);
    heading.isOpen = file.openCount() > 0;
    rows.push_back(heading);
    const auto appendItem = [&](WorklistRow row, const SlotState& state) {
        row.kind = WorklistRow::Kind::item;
        row.isOpen = !state.isDecided;
        row.knot = knotOf(state, kOwnText);
        if (row.isOpen || !filter.onlyOpen) {
            rows.push_back(std::move(row));
        }
    };
    if (file.outcome->question) {
        appendItem({{},
                    {index, SlotPlace::kQuestion},
                    questionInShort(*file.outcome->question),
                    {},
                    0,
                    {},
                    false},
                   file.answer);
    }
    int line = 0;
    for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
        if (file.text->isRegion(slot)) {
            const RegionTexts texts = file.text->join().regionTexts(file.text->regionOf(slot));
            appendItem({{}, {index, slot}, regionLabel(texts), {}, line + 1, {}, false},
                       file.text->state(slot));
        }
        line += lineBreaksIn(file.text->text(slot));
    }
}

void appendJoined(const Splice& splice,
                  const WorklistFilter& filter,
                  std::vector<WorklistRow>& rows)
{
    const auto appendRow = [&](const QString& path, std::size_t file, const QString& remark) {
        if (filter.text.isEmpty() || path.contains(filter.text, Qt::CaseInsensitive)) {
            rows.push_back(
                {WorklistRow::Kind::joinedFile, {file, 0}, path, remark, 0, Knot::decided, false});
        }
    };
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const FileOutcome& outcome = *splice.files()[i].outcome;
        if (!outcome.needsDecision()) {
            appendRow(shownPath(outcome.path), i, tr("joined from both"));
        }
    }
    for (const TreeEdit& edit : splice.forecast().join.theirsEdits) {
        appendRow(shownPath(edit.path),
                  SlotPlace::kQuestion,
                  edit.version ? tr("from theirs") : tr("deleted by theirs"));
    }
}
}  // namespace

QString regionLabel(const RegionTexts& texts)
{
    for (const std::string_view side : {texts.theirs, texts.ours, texts.base}) {
        for (const std::string_view line : splitLines(side)) {
            QString words = shown(line).simplified();
            if (words.size() > 2) {
                return words;
            }
        }
    }
    return tr("(blank lines)");
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
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const FileOutcome& outcome = *splice.files()[i].outcome;
        const bool isWanted = filter.text.isEmpty()
                              || shownPath(outcome.path).contains(filter.text, Qt::CaseInsensitive);
        if (outcome.needsDecision() && isWanted) {
            appendFile(splice, i, filter, rows);
        }
    }
    if (filter.showsJoined) {
        appendJoined(splice, filter, rows);
    }
    return rows;
}
}  // namespace rope
