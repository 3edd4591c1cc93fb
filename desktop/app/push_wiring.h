// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/window_parts.h"

#include <QObject>

namespace rope {
/// Joins Push to what there is to send, and to the remote's answers.
class PushWiring final : public QObject
{
    Q_OBJECT
public:
    PushWiring(const WindowParts& parts, QObject* parent);

private:
    const WindowParts& m_parts;
};
}  // namespace rope
