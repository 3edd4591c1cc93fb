// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"

#include <QObject>
#include <QString>

#include <functional>

namespace rope {
/// A sink that may be called on a worker: some twenty times a second at most it gives `show` the
/// progress in words and numbers, on the owner's thread, as long as the owner lives.
[[nodiscard]] ProgressSink progressTo(QObject* owner, std::function<void(const QString&)> show);
}  // namespace rope
