// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/join/rebase_scope.h"

#include <QString>

#include <optional>
#include <vector>

namespace rope {
/// What Record says of a splice. It looks at what it is given and keeps nothing.
class RecordWords
{
public:
    /// `leftOut`: of a rebase, commits that are not written anew, since their change is there already.
    /// `hasCheckPassed`: nothing: the check commands have not all run on the result as it stands.
    RecordWords(const Splice& splice,
                const std::vector<CommitLeftOut>& leftOut,
                std::optional<bool> hasCheckPassed);

    /// What will be recorded, with all that follows from it.
    [[nodiscard]] QString contents() const;
    /// Every commit that will not be there, and why.
    [[nodiscard]] QStringList leftOut() const;

private:
    [[nodiscard]] QString files() const;
    [[nodiscard]] QString move() const;
    [[nodiscard]] QString finishes() const;
    [[nodiscard]] QString onTop() const;
    [[nodiscard]] QString check() const;
    [[nodiscard]] QString carried() const;
    [[nodiscard]] QString rebase() const;
    [[nodiscard]] QStringList writtenAnew(std::size_t first, std::size_t& written) const;
    [[nodiscard]] QString emptied(std::size_t leg) const;
    [[nodiscard]] QStringList leftOutBefore() const;

    const Splice& m_splice;
    const std::vector<CommitLeftOut>& m_leftOut;
    std::optional<bool> m_hasCheckPassed;
};

/// What becomes of uncommitted work when a splice is recorded; empty: there is none, or it stays as it is.
[[nodiscard]] QString workInWords(const SplicePlan& plan,
                                  const std::vector<UncommittedFile>& uncommitted);
}  // namespace rope
