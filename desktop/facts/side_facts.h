// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

#include <optional>
#include <string>

namespace rope {
/// Who touched a place on one side, ready to be shown. Empty where it is not known yet.
struct SideFacts
{
    QString name;  ///< "I. Falk"
    QString who;   ///< "I. Falk · 3 days ago"
    QString exactTime;
    QString commit;  ///< "7c21e9d Use each lock's own cycle time"
};

/// A file's contents on either side and before both; nothing where there is none. Bytes.
struct FileVersions
{
    std::optional<std::string> base;
    std::optional<std::string> ours;
    std::optional<std::string> theirs;
    /// Of a submodule: each side's commit in words, and how they lie to each other.
    QString baseCommit;
    QString oursCommit;
    QString theirsCommit;
    QString relation;
};

/// Both sides' facts about one region or file.
struct PlaceFacts
{
    SideFacts ours;
    SideFacts theirs;
};
}  // namespace rope
