// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/course/clone_session.h"

#include "core/system/factory/copy_place.h"
#include "desktop/course/log.h"
#include "desktop/course/progress_text.h"
#include "desktop/wording/describe_error.h"

namespace rope {
CloneSession::CloneSession(QObject* parent)
    : QObject(parent)
    , m_asks(1, this)
    , m_copies(1, this)
{
}

void CloneSession::ask(const QString& address)
{
    m_asks.supersede();
    m_asks.run([text = address.toStdString(), asking = m_asking](
                   const std::stop_token& stop) { return askAddress(text, asking, stop); },
               [this, address](const Result<RemoteLines>& lines) {
                   if (lines) {
                       emit addressAnswered(address, *lines);
                   } else if (lines.error().code != ErrorCode::cancelled) {
                       logError(lines.error());
                       emit addressFailed(address, describeInLine(lines.error()));
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
    emit progressed(tr("Copying…"));
    m_copies.runToTheEnd(
        [request,
         asking = m_asking,
         progress = progressTo(this,
                               ProgressPace::calm,
                               [this](const QString& text) {
                                   if (m_isCopying) {
                                       emit progressed(text);
                                   }
                               })](const std::stop_token& stop) {
            return copyPlace(request, asking, progress, stop);
        },
        [this, folder = QString::fromStdString(request.folder)](const Status& copied) {
            m_isCopying = false;
            if (copied) {
                emit cloned(folder);
                return;
            }
            logError(copied.error());
            emit failed(copied.error().code == ErrorCode::cancelled
                            ? tr("Stopped. Nothing was left behind.")
                            : describeInLine(copied.error()));
        },
        m_stop.get_token());
}
}  // namespace rope
