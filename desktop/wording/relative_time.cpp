// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/relative_time.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

namespace rope {
namespace {
constexpr std::int64_t kMinute = 60;
constexpr std::int64_t kHour = 60 * kMinute;

QString counted(const char* one, const char* many, std::int64_t count)
{
    return QCoreApplication::translate("relativeTime", count == 1 ? one : many).arg(count);
}
}  // namespace

QString relativeTime(std::int64_t time, std::int64_t now)
{
    const std::int64_t age = now - time;
    if (age < kMinute) {
        return age < -kMinute ? exactTime(time)
                              : QCoreApplication::translate("relativeTime", "just now");
    }
    if (age < kHour) {
        return counted("%1 minute ago", "%1 minutes ago", age / kMinute);
    }
    const QDate today = QDateTime::fromSecsSinceEpoch(now).date();
    const QDate day = QDateTime::fromSecsSinceEpoch(time).date();
    const qint64 days = day.daysTo(today);
    if (days == 0) {
        return counted("%1 hour ago", "%1 hours ago", age / kHour);
    }
    if (days == 1) {
        return QCoreApplication::translate("relativeTime", "yesterday");
    }
    if (days < 7) {
        return counted("%1 day ago", "%1 days ago", days);
    }
    const QString format =
        day.year() == today.year() ? QStringLiteral("d MMM") : QStringLiteral("d MMM yyyy");
    return QLocale::c().toString(day, format);
}

QString exactTime(std::int64_t time)
{
    return QLocale::c().toString(QDateTime::fromSecsSinceEpoch(time),
                                 QStringLiteral("ddd d MMM yyyy, HH:mm:ss"));
}
}  // namespace rope
