// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

#include <functional>

class QWidget;

namespace rope {
/// What a person prefers, kept in their settings. Interface thread.
struct Preferences
{
    bool fetchesAtOpening = false;     ///< Remotes are asked when a repository is opened.
    bool looksBeforeRecording = true;  ///< A join without questions waits at Record.
    bool leavesNotes = false;          ///< Decisions are left beside commits, as notes.
    bool signsOff = false;             ///< Proposed messages end in a Signed-off-by line.
    QString look{};                    ///< See lookNamed(); empty: as the desktop has it.
    double codeSize = 0;  ///< Of code, in points; 0: as large as the desktop's interface font.
    bool scrollsEvidenceSideways = false;  ///< Long lines of the sides scroll instead of wrapping.

    [[nodiscard]] static Preferences read();
    void store() const;
};

/// Asks for preferences; each counts from the moment it is changed. `changed` is told of every change.
void showPreferences(QWidget* parent, const std::function<void()>& changed);
}  // namespace rope
