// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "desktop/resolve/alike_places.h"
#include "desktop/resolve/region_names.h"
#include "desktop/widgets/strand_pattern.h"

#include <QString>

#include <functional>
#include <set>
#include <vector>

namespace rope {
/// One row of the worklist.
struct WorklistRow
{
    enum class Kind {
        file,
        item,
        group,
        commit,
        joinedFile,
        alike,   ///< Stands for several open places that are alike, to be answered together.
        folded,  ///< Stands for a file's decided places, which are not listed.
    };
    Kind kind = Kind::file;
    SlotPlace place;  ///< For items; `place.file` for all but joined files taken from theirs.
    std::vector<SlotPlace> places;  ///< What an `alike` or `folded` row stands for.
    QString label;
    QString words;    ///< Besides the label: what of it can be looked for.
    QString before;   ///< Of a commit that is written anew, which it is: "2 of 5".
    QString remark;   ///< After a file's name: "3 regions", "binary".
    int line = 0;     ///< From 1, in the result; 0 for none.
    QString decided;  ///< What it was decided for, in short; empty while it is open.
    Knot knot = Knot::open;
    bool isOpen = false;
};

/// By what the worklist is put together.
enum class WorklistGrouping { file, folder, kind, people };

/// What the worklist leaves out, and how it is put together.
struct WorklistFilter
{
    enum class Show { open, all, joinedToo };
    QString text;  ///< Part of a path or of a row's words; empty: all.
    Show show = Show::all;
    WorklistGrouping grouping = WorklistGrouping::file;
    /// Who brought a place in; empty while that is not known. Asked for `people` alone.
    std::function<QString(SlotPlace)> whoOf = {};
    /// Where regions are, kept from one list to the next; null: they are called by their lines.
    RegionNames* names = nullptr;
    /// Which are alike, kept likewise; null: no such rows.
    AlikePlaces* alike = nullptr;
    /// Files of which decided places are listed however many there are.
    std::set<std::size_t> unfolded = {};
    /// What is looked at: it is listed in any case.
    SlotPlace selected = {};
};

/// Returns the worklist's rows: a heading for each file (or folder, kind, person), below it what is to
/// be decided there; then, if wanted, the files that joined by themselves.
[[nodiscard]] std::vector<WorklistRow> worklistRows(const Splice& splice,
                                                    const WorklistFilter& filter);

/// A region by where it is: "in passage_slots", "season.winter", "the imports"; else by its line, from 1.
[[nodiscard]] QString regionLabel(const RegionName& name, int line);

/// The line, from 0, at which a slot's text begins in the result.
[[nodiscard]] int firstLineOfSlot(const SplicedText& text, std::size_t slot);
}  // namespace rope
