// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decided_join.h"

#include <mutex>

namespace rope {
/// The result of one leg as it was decided at one moment. It is worked out once, by whoever asks first;
/// others wait for that. To make one costs little. Any thread.
class DecidedResult
{
public:
    DecidedResult(DecidedJoin join, std::size_t leg)
        : m_join(std::move(join))
        , m_leg(leg)
    {
    }

    /// As DecidedJoin::result(), with the same requirement.
    [[nodiscard]] const Result<ResultSnapshot>& get() const
    {
        std::call_once(m_once, [this] { m_result = m_join.result(m_leg); });
        return *m_result;
    }

private:
    DecidedJoin m_join;
    std::size_t m_leg;
    mutable std::once_flag m_once;
    mutable std::optional<Result<ResultSnapshot>> m_result;
};
}  // namespace rope
