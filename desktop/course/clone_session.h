// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/remotes.h"
#include "desktop/background/background_runner.h"

namespace rope {
class ClonePanel;

/// Serves the start page's wish to copy a repository: asks the address, makes the copy beside the
/// interface, says when it is there. Lives on the interface thread.
class CloneSession final : public QObject
{
    Q_OBJECT
public:
    CloneSession(ClonePanel& panel, QObject* parent);
    void setAsking(Asking asking) { m_asking = std::move(asking); }

signals:
    void cloned(const QString& folder);

private:
    void ask(const QString& address);
    void copy(const CopyRequest& request);
    ClonePanel& m_panel;
    Asking m_asking;
    std::stop_source m_stop;
    bool m_isCopying = false;
    BackgroundRunner m_asks;
    BackgroundRunner m_copies;
};
}  // namespace rope
