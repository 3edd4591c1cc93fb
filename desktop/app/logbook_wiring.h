// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/window_parts.h"

#include <QObject>

namespace rope {
/// Joins the logbook to the splices of the past, and to what can be done with each.
class LogbookWiring final : public QObject
{
    Q_OBJECT
public:
    LogbookWiring(const WindowParts& parts, QObject* parent);

private:
    void joinMerges();
    void joinKept();
    /// Whether nothing is under way; else that is said.
    [[nodiscard]] bool isFree() const;

    const WindowParts& m_parts;
};
}  // namespace rope
