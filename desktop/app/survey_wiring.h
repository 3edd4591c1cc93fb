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
    void joinNext();

private:
    void joinForecasts();
    void joinCollisions();
    void reckonRebase(const std::string& ref,
                      const std::shared_ptr<const SurveyForecast>& forecast);
    void start(const StartChoice& choice);
    void askWhatToCommit(const ResultReading& uncommitted);
    void showQueue();

    const WindowParts& m_parts;
};
}  // namespace rope
