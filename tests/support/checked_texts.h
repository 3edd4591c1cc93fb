// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/checked_splice.h"
#include "core/merge/candidates.h"

#include <functional>

namespace rope::test {
/// A file joined from three texts, with its regions decided, as it is checked.
struct CheckedTexts
{
    CheckedFile file;
    std::shared_ptr<const CheckedResult> result;
};

/// Which text a region gets.
using Decide = std::function<std::string(const TextJoin& join, std::size_t region)>;

inline std::string firstCandidate(const TextJoin& join, std::size_t region)
{
    return candidatesFor(join.regionTexts(region), habitsOf(join)).front().text;
}

inline SharedText shared(std::string text)
{
    return std::make_shared<const std::string>(std::move(text));
}

inline CheckedTexts joinedForChecking(const std::string& path,
                                      const std::string& base,
                                      const std::string& ours,
                                      const std::string& theirs,
                                      const Decide& decide = firstCandidate)
{
    FileOutcome outcome;
    outcome.path = outcome.basePath = outcome.oursPath = outcome.theirsPath = path;
    outcome.base = outcome.ours = outcome.theirs = FileVersion{};
    outcome.text = std::make_shared<const TextJoin>(joinTexts(base, ours, theirs).value());
    SpliceFile file;
    file.outcome = &outcome;
    file.text = CopiedPtr(SplicedText(outcome.text));
    for (std::size_t region = 0; region < outcome.regionCount(); ++region) {
        file.text->setState(file.text->slotOfRegion(region),
                            {true, std::string(kOwnText), decide(*outcome.text, region)});
    }
    CheckedTexts checked;
    checked.file = {path, path, path, path, shared(base), shared(ours), shared(theirs)};
    checked.result = resultOf(file, checked.file);
    return checked;
}
}  // namespace rope::test
