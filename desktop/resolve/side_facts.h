// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

namespace rope {
/// Who touched a place on one side, ready to be shown. Empty where it is not known yet.
struct SideFacts
{
    QString who;  ///< "I. Falk · 3 days ago"
    QString exactTime;
    QString commit;  ///< "7c21e9d Use each lock's own cycle time"
};

/// Both sides' facts about one region or file.
struct PlaceFacts
{
    SideFacts ours;
    SideFacts theirs;
};
}  // namespace rope
