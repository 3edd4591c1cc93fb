// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/progress_text.h"

#include "desktop/wording/shown_text.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QPointer>

#include <memory>

namespace rope {
namespace {
constexpr qint64 kProgressEveryMs = 60;
}

ProgressSink progressTo(QObject* owner, ProgressPace pace, std::function<void(const QString&)> show)
{
    auto last = std::make_shared<qint64>(0);
    return [self = QPointer<QObject>(owner), pace, show = std::move(show), last](
               const Progress& progress) {
        const qint64 now = QDateTime::currentMSecsSinceEpoch();
        if (pace == ProgressPace::calm && now - *last < kProgressEveryMs) {
            return;
        }
        *last = now;
        QString text = shown(progress.step);
        if (progress.total > 0) {
            text += QStringLiteral(" · %1 of %2").arg(progress.done + 1).arg(progress.total);
        }
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [self, show, text] {
                if (self) {
                    show(text);
                }
            },
            Qt::QueuedConnection);
    };
}
}  // namespace rope
