// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/factory/open_place.h"

#include <chrono>
#include <memory>
#include <mutex>
#include <type_traits>
#include <utility>
#include <vector>

namespace rope {
/// Places that were opened for one answer and serve the next one too: its programs run already, and folders
/// and small files are read. Whoever uses one has it alone. Any thread.
class KeptPlaces
{
public:
    /// One that was opened longer ago may have missed what nobody watches, as a person's own configuration.
    static constexpr std::chrono::seconds kLongest{30};

    KeptPlaces() = default;
    ~KeptPlaces() { letGo(); }
    KeptPlaces(const KeptPlaces&) = delete;
    KeptPlaces& operator=(const KeptPlaces&) = delete;

    /// Returns what `work(place)` returns, a Result; or the error of openPlace(). The place is kept where that
    /// succeeded, unless letGo() was called meanwhile.
    template <typename Work>
    auto use(const std::string& folder, const PlacePermissions& permissions, Work work)
        -> std::invoke_result_t<Work, Place&>
    {
        TRY_ASSIGN(Used used, take(folder, permissions));
        auto answer = work(*used.place);
        if (answer) {
            keep(std::move(used));
        }
        return answer;
    }

    /// What is kept, or in use now, serves nobody else: something may have changed. Returns at once.
    void letGo();

    /// How many are kept and not in use.
    [[nodiscard]] std::size_t count() const;

private:
    using Clock = std::chrono::steady_clock;
    struct Used
    {
        std::string folder;
        PlacePermissions permissions;
        std::unique_ptr<Place> place;
        int round = 0;  ///< How often letGo() had been called when it was taken.
        Clock::time_point openedAt;
    };

    Result<Used> take(const std::string& folder, const PlacePermissions& permissions);
    void keep(Used used);

    mutable std::mutex m_mutex;
    std::vector<Used> m_kept;
    int m_round = 0;
};
}  // namespace rope
