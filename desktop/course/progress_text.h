// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"

#include <QObject>
#include <QString>

#include <functional>

namespace rope {
/// How often progress is shown: some twenty times a second at most, or every step of a few.
enum class ProgressPace { calm, everyStep };

/// A sink that may be called on a worker: it gives `show` the progress in words and numbers, on the
/// owner's thread, as long as the owner lives.
[[nodiscard]] ProgressSink
progressTo(QObject* owner, ProgressPace pace, std::function<void(const QString&)> show);
}  // namespace rope
