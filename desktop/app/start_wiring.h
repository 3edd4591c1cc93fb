// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/window_parts.h"

#include <QObject>

namespace rope {
/// Joins the start page to the repositories that were open lately, and to cloning.
class StartWiring final : public QObject
{
    Q_OBJECT
public:
    StartWiring(const WindowParts& parts, QObject* parent);

signals:
    void openRequested(const QString& folder);
    /// The made-up repositories are there: the folder that holds all of them.
    void demoMade(const QString& folder);
    /// A folder is to be chosen.
    void chooserRequested();

private:
    const WindowParts& m_parts;
};
}  // namespace rope
