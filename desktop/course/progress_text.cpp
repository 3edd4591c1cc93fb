// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/progress_text.h"

#include "desktop/wording/progress_words.h"

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
        const QString text = inWords(progress);
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
