// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/course/clone_session.h"

#include "core/system/factory/copy_place.h"
#include "desktop/course/log.h"
#include "desktop/course/progress_text.h"
#include "desktop/start/clone_panel.h"
#include "desktop/wording/describe_error.h"

namespace rope {
CloneSession::CloneSession(ClonePanel& panel, QObject* parent)
    : QObject(parent)
    , m_panel(panel)
    , m_asks(1, this)
    , m_copies(1, this)
{
    connect(&m_panel, &ClonePanel::addressEntered, this, &CloneSession::ask);
    connect(&m_panel, &ClonePanel::cloneRequested, this, &CloneSession::copy);
    connect(&m_panel, &ClonePanel::stopRequested, this, [this] { m_stop.request_stop(); });
}

void CloneSession::ask(const QString& address)
{
    m_asks.supersede();
    m_asks.run([text = address.toStdString(), asking = m_asking](
                   const std::stop_token& stop) { return askAddress(text, asking, stop); },
               [this, address](const Result<RemoteLines>& lines) {
                   if (lines) {
                       m_panel.showLines(address, *lines);
                   } else if (lines.error().code != ErrorCode::cancelled) {
                       logError(lines.error());
                       m_panel.showAddressFailure(address, describeInLine(lines.error()));
                   }
               });
}

void CloneSession::copy(const CopyRequest& request)
{
    if (m_isCopying) {
        return;
    }
    m_isCopying = true;
    m_stop = {};
    m_asks.supersede();
    m_panel.setBusy(tr("Copying…"));
    m_copies.runToTheEnd(
        [request,
         asking = m_asking,
         progress = progressTo(this,
                               ProgressPace::calm,
                               [this](const QString& text) {
                                   if (m_isCopying) {
                                       m_panel.setBusy(text);
                                   }
                               })](const std::stop_token& stop) {
            return copyPlace(request, asking, progress, stop);
        },
        [this, folder = QString::fromStdString(request.folder)](const Status& copied) {
            m_isCopying = false;
            if (copied) {
                m_panel.clear();
                emit cloned(folder);
                return;
            }
            logError(copied.error());
            m_panel.showFailure(copied.error().code == ErrorCode::cancelled
                                    ? tr("Stopped. Nothing was left behind.")
                                    : describeInLine(copied.error()));
        },
        m_stop.get_token());
}
}  // namespace rope
