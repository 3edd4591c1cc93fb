// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/place_authors.h"
#include "desktop/app/place_tasks.h"
#include "desktop/resolve/side_facts.h"

namespace rope {
// What the splice session runs beside the interface. As place_tasks.h.

/// Makes sure that a splice may start now, and keeps both its commits alive.
[[nodiscard]] Status prepareSplice(const PlaceAddress& address, const SplicePlan& plan);

struct FileFacts
{
    std::vector<PlaceFacts> chunks;  ///< Of its join.
    PlaceFacts whole;
    FileVersions versions;  ///< Filled where the file is asked about as a whole.
};
/// Who touched each place of a file, in words.
[[nodiscard]] Result<FileFacts> fileFacts(const PlaceAddress& address,
                                          const std::shared_ptr<const Forecast>& forecast,
                                          const FileOutcome& file,
                                          std::int64_t now,
                                          const std::stop_token& stop);

/// What to record, with the name to do it under, where none was known.
struct RecordRequest
{
    std::string splice;
    RecordingPlan plan;
    std::optional<Signature> newIdentity;
};
[[nodiscard]] Result<Recorded> recordInPlace(const PlaceAddress& address,
                                             const RecordRequest& request,
                                             const ProgressSink& progress,
                                             const std::stop_token& stop);
}  // namespace rope
