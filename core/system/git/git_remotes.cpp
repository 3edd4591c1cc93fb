// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_place.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_place.h"
#include "core/text/text.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>

#include <algorithm>

namespace rope {
Result<std::vector<std::string>> GitPlace::remotes()
{
    TRY_ASSIGN(const std::string out, m_git.output({"remote"}));
    std::vector<std::string> names;
    for (const std::string_view line : splitLines(out)) {
        names.push_back(withoutLineEnd(std::string(line)));
    }
    return names;
}

Result<std::map<std::string, std::int64_t>> GitPlace::lastAsked()
{
    std::map<std::string, std::int64_t> asked;
    TRY_ASSIGN(const auto names, remotes());
    for (const std::string& remote : names) {
        const auto note = [&asked, &remote](const QFileInfo& mark) {
            if (mark.exists()) {
                std::int64_t& latest = asked[remote];
                latest = std::max<std::int64_t>(latest, mark.lastModified().toSecsSinceEpoch());
            }
        };
        // Written when the remote was cloned, and not by any fetch after it.
        note(QFileInfo(
            QString::fromStdString(m_commonFolder + "/refs/remotes/" + remote + "/HEAD")));
        TRY_ASSIGN(const GitOutput url,
                   m_git.run({"config", "--get", "remote." + remote + ".url"}));
        std::string address = withoutLineEnd(url.out);
        while (address.ends_with('/') || address.ends_with(".git")) {
            address.resize(address.size() - (address.ends_with('/') ? 1 : 4));
        }
        for (const std::string& folder : {m_gitFolder, m_commonFolder}) {
            // A fetch that got no answer leaves it empty, or as it was.
            QFile mark(QString::fromStdString(folder + "/FETCH_HEAD"));
            if (!address.empty() && mark.open(QIODevice::ReadOnly)
                && mark.readAll().contains(address.c_str())) {
                note(QFileInfo(mark));
            }
        }
    }
    return asked;
}

Status GitPlace::fetch(const std::function<void(const std::string&)>& answered,
                       const ProgressSink& progress,
                       const std::stop_token& stop)
{
    GitRunOptions options;
    options.stop = stop;
    options.purpose = RunFor::acting;
    options.onErrorText = [&progress](std::string_view text) {
        const std::size_t lastLine =
            text.find_last_of("\r\n", text.size() - std::min<std::size_t>(2, text.size()));
        if (progress) {
            progress({withoutLineEnd(std::string(
                          text.substr(lastLine == std::string_view::npos ? 0 : lastLine + 1))),
                      0,
                      0});
        }
    };
    TRY_ASSIGN(const auto names, remotes());
    for (const std::string& remote : names) {
        TRY_ASSIGN(
            const GitOutput isSkipped,
            m_git.run({"config", "--type=bool", "--get", "remote." + remote + ".skipFetchAll"}));
        if (withoutLineEnd(isSkipped.out) == "true") {
            continue;
        }
        TRY_ASSIGN(
            const GitOutput fetched,
            m_git.run({"fetch", "--progress", "--no-auto-maintenance", "--", remote}, options));
        if (fetched.exitCode != 0) {
            return Error{ErrorCode::systemFailed, remote, fetched.err, Reason::remoteFailed};
        }
        if (answered) {
            answered(remote);
        }
    }
    return ok();
}
}  // namespace rope
