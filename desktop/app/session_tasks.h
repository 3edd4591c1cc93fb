// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/recorder.h"
#include "core/splice/region_authors.h"
#include "desktop/resolve/side_facts.h"
#include "desktop/survey/survey_view.h"

namespace rope {
// What the session runs beside the interface: plain functions of values, each opening the repository
// for itself, so that none shares anything with another. Any thread.

/// A repository as it was found when it was opened.
struct OpenedRepository
{
    std::shared_ptr<const SurveyFacts> facts;
    std::string privateFolder;         ///< Empty where no splice can be kept (bare).
    std::optional<Recovery> recovery;  ///< A recording that had been interrupted.
    std::optional<Error> recoveryFailure;
    std::optional<Signature> identity;
};

/// `recovers` finishes or undoes an interrupted recording first.
[[nodiscard]] Result<OpenedRepository> openRepository(const std::string& folder, bool recovers);

[[nodiscard]] Result<std::shared_ptr<const SurveyForecast>>
surveyForecast(const std::string& folder,
               const ObjectId& ours,
               const ObjectId& theirs,
               const ProgressSink& progress,
               const std::stop_token& stop);

/// Makes sure that a splice may start now, and keeps both its commits alive.
[[nodiscard]] Status prepareSplice(const std::string& folder, const SplicePlan& plan);
/// Lets a splice's commits go.
[[nodiscard]] Status releaseSplice(const std::string& folder, const std::string& splice);

struct FileFacts
{
    std::vector<PlaceFacts> regions;
    PlaceFacts whole;
    FileVersions versions;  ///< Filled where the file is asked about as a whole.
};
/// Who touched each region of a file, in words.
[[nodiscard]] Result<FileFacts> fileFacts(const std::string& folder,
                                          const std::shared_ptr<const Forecast>& forecast,
                                          const FileOutcome& file,
                                          std::int64_t now,
                                          const std::stop_token& stop);

[[nodiscard]] Result<Recorded> recordInBackground(const std::string& folder,
                                                  const std::string& privateFolder,
                                                  const RecordRequest& request,
                                                  const std::optional<Signature>& newIdentity,
                                                  const ProgressSink& progress);

[[nodiscard]] Status fetchRepository(const std::string& folder,
                                     const ProgressSink& progress,
                                     const std::stop_token& stop);
}  // namespace rope
