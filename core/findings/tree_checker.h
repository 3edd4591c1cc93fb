// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/checked_file.h"
#include "core/findings/finding.h"

#include <memory>
#include <stop_token>
#include <vector>

namespace rope {
/// What was found in a result.
struct CheckReport
{
    std::vector<Finding> findings;  ///< By path, then line.
    std::vector<NotChecked> notChecked;
    std::size_t checkedFiles = 0;  ///< Files with a text that is decided.
    bool hasDefinitions = true;    ///< Whether the helper for definitions could be used.
};

/// Which kinds of findings are looked for.
enum class Told {
    byDefault,  ///< See isToldByDefault().
    all,
};

/// Finds what a clean join, or decisions, can still get wrong, over all files that either side changed.
/// What the sides did is worked out once; a file whose result is the same object as before costs nothing
/// again. The outcome depends on the arguments alone. May be used from several threads, one at a time.
class TreeChecker
{
public:
    explicit TreeChecker(std::vector<CheckedFile> files, Told told = Told::byDefault);
    ~TreeChecker();
    TreeChecker(const TreeChecker&) = delete;
    TreeChecker& operator=(const TreeChecker&) = delete;

    [[nodiscard]] const std::vector<CheckedFile>& files() const;

    /// REQUIRES: one result for each of files(), none of them null
    [[nodiscard]] CheckReport
    check(const std::vector<std::shared_ptr<const CheckedResult>>& results,
          const std::stop_token& stop = {});

private:
    struct State;
    std::unique_ptr<State> m_state;
};
}  // namespace rope
