// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "desktop/background/background_runner.h"

namespace rope {
/// Makes the demo's repositories beside the interface. Interface thread.
class DemoSession final : public QObject
{
    Q_OBJECT
public:
    explicit DemoSession(QObject* parent);
    /// Makes them in a fresh folder among the user's data; while that is under way, another call does nothing.
    void make();

signals:
    /// They are there: the folder that holds all of them, and in it `slackwater`.
    void made(const QString& folder);
    void failed(const rope::Error& error);

private:
    BackgroundRunner m_work;
    bool m_isMaking = false;
};
}  // namespace rope
