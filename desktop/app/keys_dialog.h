// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/key_hints.h"

#include <QList>
#include <QString>

#include <vector>

class QAction;
class QWidget;

namespace rope {
/// What keys do in one part of the program.
struct KeySection
{
    QString title;
    std::vector<KeyHint> keys;  ///< Key and what it does, in reading order.

    /// Adds the actions that have a key.
    void add(const QList<QAction*>& actions);
};

/// Shows keys, section by section, beside the window, and on a second page what the marks mean; closes with
/// Escape.
void showKeys(const std::vector<KeySection>& sections, QWidget* parent);
}  // namespace rope
