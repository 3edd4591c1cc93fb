// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>

namespace rope {
/// Tells that the look or the size of code has changed, see whenLookChanges(). A signal, so that whoever
/// listens may go at any time. Interface thread.
class LookChange final : public QObject
{
    Q_OBJECT
public:
    [[nodiscard]] static LookChange& instance();

signals:
    void changed();
};
}  // namespace rope
