// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merges_round.cpp.
#include "desktop/facts/merge_view.h"

#include "desktop/wording/odd_words.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QStringList>

#include <algorithm>

namespace rope {
namespace {
/// What weighs more comes first.
int weightOf(OddKind kind)
{
    switch (kind) {
    case OddKind::markersLeft:
        return 0;
    case OddKind::neitherSide:
        return 1;
    case OddKind::changeDropped:
        return 2;
    case OddKind::takenWhole:
        break;
    }
    return 3;
}
}  // namespace

QString worstInWords(const ReadMergeRow& row)
{
    if (row.isUnreadable) {
        return tr("not read");
    }
    if (row.odd.empty()) {
        return row.decided == 0 ? tr("merged cleanly") : tr("%1 decided").arg(row.decided);
    }
    const auto worst =
        std::min_element(row.odd.begin(), row.odd.end(), [](const auto& a, const auto& b) {
            return weightOf(a.kind) < weightOf(b.kind);
        });
    const QString words = oddInWords(*worst);
    return row.odd.size() == 1 ? words : tr("%1, and %2 more").arg(words).arg(row.odd.size() - 1);
}

bool matches(const ReadMergeRow& row, const QString& filter)
{
    QString all = QStringLiteral("%1 %2 %3")
                      .arg(shownSubject(row.merge),
                           shown(row.merge.author.name),
                           QString::fromStdString(row.merge.id.hex()));
    for (const OddPlace& place : row.odd) {
        all += QLatin1Char(' ') + shownPath(place.path);
    }
    const QStringList words = filter.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    return std::all_of(words.begin(), words.end(), [&](const QString& word) {
        return all.contains(word, Qt::CaseInsensitive);
    });
}
}  // namespace rope
