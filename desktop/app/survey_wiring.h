// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/window_parts.h"

#include <QObject>

#include <memory>
#include <string>

namespace rope {
struct ResultReading;
struct StartChoice;
struct SurveyForecast;

/// Joins Survey to the open place: its branches, their forecasts, who collides with whom, what is to be joined
/// later; and starts what is planned there.
class SurveyWiring final : public QObject
{
    Q_OBJECT
public:
    SurveyWiring(const WindowParts& parts, QObject* parent);
    /// Goes to Survey with the next branch of the queue picked.
    void joinNext() const;

private:
    void joinForecasts();
    void joinCollisions();
    void joinArrivals();
    void askBeforeDeleting(const std::string& ref) const;
    void reckonRebase(const std::string& ref,
                      const std::shared_ptr<const SurveyForecast>& forecast) const;
    void start(const StartChoice& choice) const;
    void askWhatToCommit(const ResultReading& uncommitted) const;
    void showQueue() const;

    const WindowParts& m_parts;
};
}  // namespace rope
