// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/recent_places.h"

#include "desktop/course/progress_text.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QDateTime>
#include <QFileInfo>
#include <QSettings>

#include <algorithm>

namespace rope {
namespace {
constexpr qsizetype kMostRecent = 12;  // of those in which nothing waits
constexpr int kAtOnce = 8;             // one that is slow holds up no other; they wait, mostly
const QString kFoldersKey = QStringLiteral("recent");

// What is kept of one: its branch, when it was read, how many splices it has, whether one of them waits.
constexpr qsizetype kKnownFacts = 4;
constexpr qsizetype kWaits = 3;

/// Where it is kept what was last seen in a folder.
QString knownKeyOf(const QString& folder)
{
    return QStringLiteral("recentKnown/")
           + QString::fromLatin1(folder.toUtf8().toBase64(QByteArray::Base64UrlEncoding));
}
/// Whether a splice is open or put away there, as far as is known: such a one never leaves the list.
bool mayWait(const QString& folder)
{
    const QVariantList known = QSettings().value(knownKeyOf(folder)).toList();
    return known.size() < kKnownFacts || known[kWaits].toBool();
}
}  // namespace

RecentPlaces::RecentPlaces(QObject* parent)
    : QObject(parent)
    , m_looks(kAtOnce, this)
    , m_asks(1, this)
{
}

QStringList RecentPlaces::folders()
{
    return QSettings().value(kFoldersKey).toStringList();
}

void RecentPlaces::remember(const QString& folder)
{
    QStringList recent = folders();
    recent.removeAll(folder);
    recent.prepend(folder);
    QSettings settings;
    if (QVariantList known = settings.value(knownKeyOf(folder)).toList(); known.size() > kWaits) {
        known[kWaits] = true;  // until it is looked at again: something may be begun in it
        settings.setValue(knownKeyOf(folder), known);
    }
    qsizetype plain = 0;
    recent.removeIf([&](const QString& one) { return !mayWait(one) && ++plain > kMostRecent; });
    settings.setValue(kFoldersKey, recent);
    emit changed();
}

void RecentPlaces::forget(const QString& folder)
{
    QStringList recent = folders();
    recent.removeAll(folder);
    QSettings settings;
    settings.setValue(kFoldersKey, recent);
    settings.remove(knownKeyOf(folder));
    emit changed();
    show();
}

void RecentPlaces::replace(const QString& folder, const QString& by)
{
    QStringList recent = folders();
    recent.removeAll(by);
    std::replace(recent.begin(), recent.end(), folder, by);
    QSettings().setValue(kFoldersKey, recent);
    emit changed();
    show();
}

void RecentPlaces::show()
{
    m_looks.supersede();
    emit listed(folders());
    for (const QString& folder : folders()) {
        look(folder);
    }
}

void RecentPlaces::look(const QString& folder)
{
    m_looks.run(
        [folder](const std::stop_token& stop) -> Result<RecentPlace> {
            if (stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            return recentPlace({folder.toStdString(), {}}, stop);
        },
        [this, folder](const Result<RecentPlace>& place) {
            if (place) {
                QSettings().setValue(knownKeyOf(folder),
                                     QVariantList{QString::fromStdString(place->branch),
                                                  static_cast<qlonglong>(place->readAt),
                                                  static_cast<qulonglong>(place->spliceCount),
                                                  place->hasOpenSplice || place->putAway > 0});
                emit placeRead(folder, *place);
            } else if (place.error().code != ErrorCode::cancelled) {
                showGone(folder, place.error());
            }
        });
}

void RecentPlaces::showGone(const QString& folder, const Error& error)
{
    const QVariantList known = QSettings().value(knownKeyOf(folder)).toList();
    QString last;
    if (known.size() > 2) {  // earlier versions kept three
        const QString when =
            relativeTime(known[1].toLongLong(), QDateTime::currentSecsSinceEpoch());
        last = tr("Last seen %1 on %2").arg(when, known[0].toString());
        const auto splices = static_cast<std::size_t>(known[2].toULongLong());
        last += splices == 0
                    ? QStringLiteral(".")
                    : tr(", with %1 in its journal.").arg(countOf(splices, "splice", "splices"));
    }
    emit goneSeen(folder,
                  QFileInfo::exists(folder)
                      ? describe(error).sentence
                      : tr("The folder is not there. It may have been moved, or lies on a disk "
                           "that is not plugged in."),
                  last);
}

void RecentPlaces::askAll()
{
    if (m_isAsking) {
        m_askStop.request_stop();
        return;
    }
    m_isAsking = true;
    m_askStop = {};
    emit askingAll(true);
    askNext(folders());
}

void RecentPlaces::askNext(QStringList left)
{
    if (left.isEmpty() || m_askStop.stop_requested()) {
        m_isAsking = false;
        emit askingAll(false);
        return;
    }
    const QString folder = left.takeFirst();
    emit asked(folder, tr("Asking…"));
    m_asks.runToTheEnd(
        [address = PlaceAddress{folder.toStdString(), PlacePermissions(), m_asking},
         progress = progressTo(this,
                               ProgressPace::calm,
                               [this, folder](const QString& text) {
                                   emit asked(folder, tr("Fetching… %1").arg(text));
                               })](const std::stop_token& stop) {
            return fetchPlace(address, progress, stop);
        },
        [this, folder, left](const Result<Fetched>& fetched) {
            if (fetched || fetched.error().code == ErrorCode::cancelled) {
                look(folder);
            } else {
                emit asked(folder, describe(fetched.error()).sentence);
            }
            askNext(left);
        },
        m_askStop.get_token());
}
}  // namespace rope
