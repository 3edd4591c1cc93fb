// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/window_parts.h"

#include <QObject>

#include <string>

namespace rope {
class Splice;

/// Joins Resolve to the splice under way: what it asks for, copies in other editors, where one is.
class ResolveWiring final : public QObject
{
    Q_OBJECT
public:
    ResolveWiring(const WindowParts& parts, QObject* parent);
    /// Something was written elsewhere than in Resolve: it is shown anew when one goes there.
    void setStale() { m_isStale = true; }
    void setSplice(Splice* splice, const std::string& place);

signals:
    /// Something was decided or written.
    void changed();

private:
    const WindowParts& m_parts;
    bool m_isStale = false;
    std::string m_placeBefore;  ///< Where the person was before files got other places.
};
}  // namespace rope
