// SPDX-License-Identifier: GPL-3.0-or-later
// Finding and replacing over all files of the splice, from the bar below the result.
// Tested by tst_resolve_station.cpp.
#include "core/decide/splice_search.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/result/result_view.h"
#include "desktop/widgets/find_bar.h"
#include "desktop/wording/shown_text.h"

namespace rope {
void ResolveStation::connectFind()
{
    FindBar& find = m_result->findBar();
    find.setElsewhere([this](const std::string& words, bool matchesCase) {
        if (m_splice == nullptr) {
            return QString();
        }
        const SearchCount count = countWords(m_splice->decided(), {words, matchesCase});
        return tr("%1 in %2").arg(count.places).arg(countOf(count.files, "file", "files"));
    });
    connect(&find, &FindBar::otherFileRequested, this, &ResolveStation::findInOtherFile);
    connect(&find, &FindBar::replaceEverywhereRequested, this, &ResolveStation::replaceEverywhere);
}

/// Goes to the next file that holds what is looked for, and to its first place there, or its last.
void ResolveStation::findInOtherFile(int direction)
{
    if (!hasPlace()) {
        return;
    }
    flush();
    const SearchWords search{m_result->findBar().words(), m_result->findBar().matchesCase()};
    const auto count = static_cast<std::ptrdiff_t>(m_splice->files().size());
    const auto here = static_cast<std::ptrdiff_t>(m_at.file);
    for (std::ptrdiff_t step = 1; step <= count; ++step) {
        const auto at =
            static_cast<std::size_t>(((here + direction * step) % count + count) % count);
        const SpliceFile& file = m_splice->files()[at];
        if (holdsWords(file, search)) {
            goTo({at, file.outcome->regionCount() > 0 ? file.text->slotOfRegion(0) : 0});
            m_result->findBar().findFromEdge(direction);
            return;
        }
    }
}

void ResolveStation::replaceEverywhere(const QString& by)
{
    if (m_splice == nullptr || !m_isEditable) {
        return;
    }
    flush();
    m_result->hideCandidate();
    const SearchWords search{m_result->findBar().words(), m_result->findBar().matchesCase()};
    const Replacement replacement = replaceWords(m_splice->decided(), search, by.toStdString());
    std::vector<SlotPlace> places;
    for (const SlotChange& change : replacement.changes) {
        places.push_back(change.place);
    }
    m_splice->change(replacement.changes);
    afterChange(places);
    QString words = tr("%1 replaced").arg(replacement.places);
    if (replacement.leftInOpen > 0) {
        words += tr(", %1 left in open regions").arg(replacement.leftInOpen);
    }
    emit told(words);
}
}  // namespace rope
