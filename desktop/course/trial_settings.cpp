// SPDX-License-Identifier: GPL-3.0-or-later
// TrialSession: which commands there are, and which may run.
// Tested by tst_check_command.cpp.
#include "core/base/digest.h"
#include "desktop/course/log.h"
#include "desktop/course/trial_session.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/trial_words.h"

#include <QDateTime>
#include <QFile>
#include <QSettings>

#include <algorithm>

namespace rope {
std::vector<std::string> TrialSession::commands() const
{
    std::vector<std::string> all = m_settings.commands;
    std::erase_if(all, [this](const std::string& command) { return !isAllowed(command); });
    for (const std::string& command : m_shared) {
        if (isAllowed(command) && std::find(all.begin(), all.end(), command) == all.end()) {
            all.push_back(command);
        }
    }
    return all;
}

/// What was allowed: this very command, in this place.
QString TrialSession::keyOf(const std::string& command) const
{
    return QStringLiteral("checksAllowed/")
           + QString::fromStdString(digestOfParts({m_place.privateFolder(), command}));
}

/// What a person wrote for all their places needs no word; what a place brings along does, once for each
/// text.
bool TrialSession::isAllowed(const std::string& command) const
{
    const bool isOwn = std::find(m_settings.commands.begin(), m_settings.commands.end(), command)
                           != m_settings.commands.end()
                       && !m_settings.ofPlace.contains(command);
    return isOwn || QSettings().value(keyOf(command)).toBool();
}

/// Commands that the place or the result brings along, and that nobody has said anything of.
std::vector<std::string> TrialSession::askedCommands() const
{
    std::vector<std::string> asked(m_settings.ofPlace.begin(), m_settings.ofPlace.end());
    asked.insert(asked.end(), m_shared.begin(), m_shared.end());
    std::erase_if(asked, [this](const std::string& command) {
        return isAllowed(command) || m_leftOut.contains(keyOf(command));
    });
    return asked;
}

void TrialSession::allowAsked(bool isAllowed)
{
    for (const std::string& command : m_view.asked) {  // those that were shown, and no others
        if (isAllowed) {
            QSettings().setValue(keyOf(command), true);
        } else {
            m_leftOut.insert(keyOf(command));
        }
    }
    show();
}

void TrialSession::askAgain()
{
    m_leftOut.clear();
    show();
}

void TrialSession::setCommands(const std::vector<std::string>& commands)
{
    // What a person has not said anything of stays in the settings, and is asked about still.
    std::vector<std::string> kept = commands;
    for (const std::string& command : m_settings.commands) {
        if (!isAllowed(command) && std::find(kept.begin(), kept.end(), command) == kept.end()) {
            kept.push_back(command);
        }
    }
    for (const std::string& command : commands) {
        QSettings().setValue(keyOf(command), true);
    }
    m_settings.commands = std::move(kept);
    m_settings.ofPlace.insert(commands.begin(), commands.end());
    store();
}

void TrialSession::setRequired(bool isRequired)
{
    m_settings.isRequired = isRequired;
    store();
}

void TrialSession::setWithSubmodules(bool withSubmodules)
{
    m_settings.withSubmodules = withSubmodules;
    store();
}

void TrialSession::store()
{
    m_stores.run(
        [address = m_place.address(), settings = m_settings](const std::stop_token&) -> Status {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return place->setCheckSettings(settings);
        },
        [this](const Status& status) {
            if (!status) {
                emit failed(status.error());
            }
        });
    show();
}
}  // namespace rope
