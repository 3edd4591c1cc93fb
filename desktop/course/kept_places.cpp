// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_kept_places.cpp.
#include "desktop/course/kept_places.h"

#include <QThreadPool>

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMostKeptPlaces = 3;
}  // namespace

Result<KeptPlaces::Used> KeptPlaces::take(const std::string& folder,
                                          const PlacePermissions& permissions)
{
    int round = 0;
    {
        const std::scoped_lock lock(m_mutex);
        round = m_round;
        const auto found = std::find_if(m_kept.begin(), m_kept.end(), [&](const Used& used) {
            return used.folder == folder && used.permissions == permissions
                   && Clock::now() - used.openedAt < kLongest;
        });
        if (found != m_kept.end()) {
            Used used = std::move(*found);
            m_kept.erase(found);
            return used;
        }
    }
    TRY_ASSIGN(auto place, openPlace(folder, permissions));
    return Used{folder, permissions, std::move(place), round, Clock::now()};
}

void KeptPlaces::keep(Used used)
{
    used.place->setAsking({});
    used.place->setMissingBytes({});
    Used oldest;  // goes when the lock is gone
    const std::scoped_lock lock(m_mutex);
    if (used.round != m_round) {
        oldest = std::move(used);
        return;
    }
    if (m_kept.size() == kMostKeptPlaces) {
        oldest = std::move(m_kept.front());
        m_kept.erase(m_kept.begin());
    }
    m_kept.push_back(std::move(used));
}

void KeptPlaces::letGo()
{
    auto gone = std::make_shared<std::vector<Used>>();
    {
        const std::scoped_lock lock(m_mutex);
        ++m_round;
        gone->swap(m_kept);
    }
    // Their programs are waited for.
    if (!gone->empty()) {
        QThreadPool::globalInstance()->start([gone] { gone->clear(); });
    }
}

std::size_t KeptPlaces::count() const
{
    const std::scoped_lock lock(m_mutex);
    return m_kept.size();
}
}  // namespace rope
