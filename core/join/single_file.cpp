// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_single_file.cpp.
#include "core/join/single_file.h"

#include "core/merge/marked_text.h"
#include "core/text/text.h"

namespace rope {
namespace {
constexpr FileVersion kSomeVersion{EntryKind::file, {}};

Status checkText(const std::string& bytes, const char* side)
{
    return bytes.size() <= Text::kMaxBytes && !isBeyondLines(bytes)
               ? ok()
               : Status(Error{ErrorCode::invalidInput, side, "not a text"});
}
}  // namespace

Result<std::shared_ptr<const Forecast>> forecastOfFile(SingleFile file)
{
    TRY(checkText(file.base.value_or(std::string()), "base"));
    TRY(checkText(file.ours, "ours"));
    TRY(checkText(file.theirs, "theirs"));
    FileOutcome outcome;
    outcome.path = outcome.oursPath = outcome.theirsPath = file.path;
    outcome.kind = file.base ? OutcomeKind::content : OutcomeKind::bothAdded;
    if (file.base) {
        outcome.base = kSomeVersion;
        outcome.basePath = file.path;
    }
    outcome.ours = outcome.theirs = kSomeVersion;
    for (const std::string* text : {&file.ours, &file.theirs}) {
        for (const std::string_view line : splitLines(*text)) {
            if (looksLikeMarker(line)) {
                outcome.ownMarkers.emplace(line);
            }
        }
    }
    TRY_ASSIGN(
        TextJoin join,
        joinTexts(file.base.value_or(std::string()), std::move(file.ours), std::move(file.theirs)));
    outcome.text = std::make_shared<const TextJoin>(std::move(join));
    auto forecast = std::make_shared<Forecast>();
    forecast->divergence.relation = Relation::diverged;
    forecast->join.files.push_back(std::move(outcome));
    return std::shared_ptr<const Forecast>(std::move(forecast));
}
}  // namespace rope
