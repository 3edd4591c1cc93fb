// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_command.cpp.
#include "desktop/wording/trial_words.h"

#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QDateTime>
#include <QLocale>
#include <QStringList>

#include <cstring>

namespace rope {
namespace {
QString durationInWords(std::int64_t ms)
{
    if (ms < 10'000) {
        return tr("%1 s").arg(static_cast<double>(ms) / 1000, 0, 'f', 1);
    }
    const std::int64_t seconds = ms / 1000;
    return seconds < 60 ? tr("%1 s").arg(seconds)
                        : tr("%1 min %2 s").arg(seconds / 60).arg(seconds % 60);
}

QString endInWords(int exitCode, int signal, std::int64_t durationMs)
{
    const QString time = durationInWords(durationMs);
    if (signal != 0) {
        return tr("A signal ended it after %1: %2").arg(time, QString::fromUtf8(strsignal(signal)));
    }
    return exitCode == 0 ? tr("Passed in %1").arg(time)
                         : tr("Failed with exit status %1 after %2").arg(exitCode).arg(time);
}
}  // namespace

QString runningInWords(const QString& where, qint64 seconds, qint64 quietSeconds)
{
    const QString words =
        tr("Running on %1, %2")
            .arg(where, durationInWords(seconds * 1000).remove(QStringLiteral(".0")));
    return quietSeconds == 0
               ? words
               : words
                     + tr(". It has said nothing for %1 and may be waiting for something")
                           .arg(durationInWords(quietSeconds * 1000));
}

QString endedInWords(const RunOutcome& outcome)
{
    QStringList parts{endInWords(outcome.exitCode, outcome.signal, outcome.durationMs)};
    if (outcome.leftBehind > 0) {
        parts << tr("%1 ended")
                     .arg(countOf(outcome.leftBehind,
                                  "process that it left behind was",
                                  "processes that it left behind were"));
    }
    if (outcome.droppedBytes > 0) {
        parts << tr("it said %1, of which the beginning and the end are kept")
                     .arg(QLocale::c().formattedDataSize(static_cast<qint64>(outcome.outputBytes)));
    }
    return parts.join(QStringLiteral("; "));
}

QString stoppedInWords(const RunOutcome& outcome)
{
    return tr("Stopped after %1, with all that it had started")
        .arg(durationInWords(outcome.durationMs));
}

QString rememberedInWords(int exitCode, int signal, std::int64_t durationMs, std::int64_t endedAt)
{
    return tr("%1, %2").arg(endInWords(exitCode, signal, durationMs),
                            relativeTime(endedAt, QDateTime::currentSecsSinceEpoch()));
}

QString submodulesInWords(const std::vector<LaidOutSubmodule>& submodules)
{
    QStringList missing;
    QStringList others;
    for (const LaidOutSubmodule& submodule : submodules) {
        if (submodule.commit.isNull()) {
            missing << shownPath(submodule.path);
        } else if (!submodule.isAsNamed) {
            others << shownPath(submodule.path);
        }
    }
    QStringList parts;
    if (!missing.isEmpty()) {
        parts << tr("Not checked out here, so empty in the copy: %1.")
                     .arg(missing.join(QStringLiteral(", ")));
    }
    if (!others.isEmpty()) {
        parts << tr("At another commit here than these files name: %1.")
                     .arg(others.join(QStringLiteral(", ")));
    }
    return parts.join(QLatin1Char(' '));
}
}  // namespace rope
