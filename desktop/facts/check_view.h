// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/finding.h"
#include "core/join/place_authors.h"

#include <optional>
#include <string>
#include <vector>

namespace rope {
/// A finding as it is told here.
struct FoundItem
{
    Finding finding;
    PlaceAuthors authors;  ///< As far as they are known.
    bool isFine = false;   ///< A person said so.
};

/// A file of the result that can be read.
struct ReadItem
{
    RepoPath path;
    std::optional<std::size_t> file;  ///< Of the splice; nothing: one side's, not taken up yet.
    bool isOneSided = false;          ///< Only one side changed it: it need not be read.
    bool isAlike = false;             ///< Both sides have it alike: it need not be read either.
    bool isOpen = false;              ///< Something in it is not decided yet.
    bool isText = true;               ///< It has a text that can be shown.
    bool isGone = false;              ///< The result has no such file.
    bool isRead = false;
    std::size_t decided = 0;  ///< Regions and questions.
    std::string key;          ///< What it is ticked off under: a digest of path and text.
};

/// What the Check station shows. A value.
struct CheckView
{
    std::vector<FoundItem> found;  ///< Of kinds that are told; what is probably wrong first.
    std::vector<ReadItem> files;   ///< Those to be read first; each part by path.
    std::vector<NotChecked> notChecked;
    std::size_t checkedFiles = 0;
    std::size_t openFiles = 0;   ///< Of them nothing can be said yet.
    bool hasDefinitions = true;  ///< Whether the helper that finds definitions was there.
    bool balances = true;        ///< Nothing was found about brackets, quotes, indent, structure.
    bool hasMarkers = false;
    bool hasLooked = false;  ///< Before that nothing can be said of anything.

    /// Findings that nobody called fine.
    [[nodiscard]] std::size_t openCount() const;
    [[nodiscard]] std::size_t toReadCount() const;
    [[nodiscard]] std::size_t readCount() const;
};
}  // namespace rope
