// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_place.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_notes.h"
#include "core/system/git/git_place.h"
#include "core/system/git/git_progress.h"
#include "core/system/git/remote_answers.h"
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
        names.push_back(withoutNewline(std::string(line)));
    }
    return names;
}

/// Where each remote is fetched from. One without an address is left out: it cannot be asked.
Result<std::map<std::string, std::string>> GitPlace::remoteAddresses()
{
    constexpr std::string_view kBefore = "remote.";
    constexpr std::string_view kAfter = ".url";
    TRY_ASSIGN(const GitOutput listed,
               m_git.run({"config", "-z", "--get-regexp", "^remote\\..*\\.url$"}));
    std::map<std::string, std::string> addresses;
    for (std::size_t from = 0; from < listed.out.size(); from = listed.out.find('\0', from) + 1) {
        const std::string entry = listed.out.c_str() + from;  // up to the NUL
        const std::size_t end = std::min(entry.find('\n'), entry.size());
        if (end > kBefore.size() + kAfter.size()) {
            // Of several the last one, as `git config --get` has it.
            addresses[entry.substr(kBefore.size(), end - kBefore.size() - kAfter.size())] =
                entry.substr(std::min(end + 1, entry.size()));
        }
    }
    return addresses;
}

Result<std::map<std::string, std::int64_t>> GitPlace::lastAsked()
{
    std::map<std::string, std::int64_t> asked;
    TRY_ASSIGN(const auto addresses, remoteAddresses());
    for (const auto& entry : addresses) {
        const std::string& remote = entry.first;
        std::string address = entry.second;
        const auto note = [&asked, &remote](const QFileInfo& mark) {
            if (mark.exists()) {
                std::int64_t& latest = asked[remote];
                latest = std::max<std::int64_t>(latest, mark.lastModified().toSecsSinceEpoch());
            }
        };
        // Written when the remote was cloned, and not by any fetch after it.
        note(QFileInfo(
            QString::fromStdString(m_commonFolder + "/refs/remotes/" + remote + "/HEAD")));
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

GitRunOptions GitPlace::askingOptions(const ProgressSink& progress,
                                      const std::stop_token& stop) const
{
    GitRunOptions options;
    options.stop = stop;
    options.purpose = RunFor::acting;
    options.onErrorText = progressLinesTo(progress);
    options.environment = environmentOf(m_asking);
    return options;
}

Status GitPlace::fetch(const std::function<void(const std::string&)>& answered,
                       const ProgressSink& progress,
                       const std::stop_token& stop)
{
    const GitRunOptions options = askingOptions(progress, stop);
    TRY_ASSIGN(const auto names, remotes());
    Status first = ok();
    for (const std::string& remote : names) {
        TRY_ASSIGN(
            const GitOutput isSkipped,
            m_git.run({"config", "--type=bool", "--get", "remote." + remote + ".skipFetchAll"}));
        if (withoutNewline(isSkipped.out) == "true") {
            continue;
        }
        // What the remote has of our notes comes along, besides what is set up to be fetched.
        GitRunOptions asking = options;
        asking.settings = {{"remote." + remote + ".fetch", notesRefspec(remote)}};
        TRY_ASSIGN(
            const GitOutput fetched,
            m_git.run({"fetch", "--progress", "--no-auto-maintenance", "--", remote}, asking));
        if (fetched.exitCode != 0) {
            if (first) {
                first = remoteError(remote, fetched.err);
            }
        } else if (answered) {
            answered(remote);
        }
    }
    return first;
}

Result<RemoteLines> GitPlace::ask(const std::string& remote, const std::stop_token& stop)
{
    return askAddress(m_git, remote, askingOptions({}, stop));
}

Result<SendTarget> GitPlace::sendTarget(const std::string& line)
{
    TRY_ASSIGN(const std::string out,
               m_git.output({"for-each-ref",
                             "--format=%(push:remotename)%00%(push:remoteref)%00"
                             "%(upstream:remotename)",
                             "--",
                             line}));
    const std::string_view fields = out;
    const std::size_t first = fields.find('\0');
    const std::size_t second =
        first == std::string_view::npos ? first : fields.find('\0', first + 1);
    SendTarget target;
    std::string there;
    std::string followed;
    if (second != std::string_view::npos) {
        target.remote = out.substr(0, first);
        there = out.substr(first + 1, second - first - 1);
        followed = withoutNewline(out.substr(second + 1));
    }
    TRY_ASSIGN(const auto names, remotes());
    const auto isRemote = [&names](const std::string& name) {
        return std::find(names.begin(), names.end(), name) != names.end();
    };
    if (!isRemote(target.remote)) {
        target.remote = isRemote(followed)   ? followed
                        : isRemote("origin") ? "origin"
                        : names.empty()      ? std::string()
                                             : names.front();
        there.clear();
    }
    constexpr std::string_view kBranches = "refs/heads/";
    const std::string& full = there.empty() ? line : there;
    target.name = full.starts_with(kBranches) ? full.substr(kBranches.size()) : full;
    if (!target.remote.empty()) {
        const std::string shared = "refs/remotes/" + target.remote + "/" + target.name;
        if (const auto tip = resolveCommit(shared)) {
            target.sharedRef = shared;
            target.known = *tip;
            TRY_ASSIGN(const GitOutput log,
                       m_git.run({"reflog", "show", "--format=%H", line, "--"}));
            target.wasHere = log.exitCode == 0 && mentions(log.out, tip->hex());
        }
    }
    return target;
}

Result<std::string>
GitPlace::send(const Sending& sending, const ProgressSink& progress, const std::stop_token& stop)
{
    const std::string there = fullNameThere(sending.name);
    std::vector<std::string> arguments{"push", "--porcelain", "--progress"};
    if (!sending.replaced.isNull()) {
        arguments.push_back("--force-with-lease=" + there + ":" + sending.replaced.hex());
    }
    arguments.insert(arguments.end(), {"--", sending.remote, sending.commit.hex() + ":" + there});
    TRY_ASSIGN(const GitOutput pushed, m_git.run(arguments, askingOptions(progress, stop)));
    if (pushed.exitCode != 0) {
        return pushError(sending.remote, pushed.out, pushed.err);
    }
    constexpr std::string_view kBranches = "refs/heads/";
    if (sending.follows.starts_with(kBranches)) {
        const std::string section = "branch." + sending.follows.substr(kBranches.size());
        // It has arrived; that it is followed is a convenience, and nothing is lost without.
        (void)m_git.run({"config", "--local", section + ".remote", sending.remote});
        (void)m_git.run({"config", "--local", section + ".merge", there});
    }
    return withoutProgress(pushed.err);
}

Status GitPlace::removeLine(const std::string& remote,
                            const std::string& name,
                            const ObjectId& expected,
                            const std::stop_token& stop)
{
    const std::string there = fullNameThere(name);
    TRY_ASSIGN(const GitOutput pushed,
               m_git.run({"push",
                          "--porcelain",
                          "--force-with-lease=" + there + ":" + expected.hex(),
                          "--",
                          remote,
                          ":" + there},
                         askingOptions({}, stop)));
    if (pushed.exitCode != 0) {
        return pushError(remote, pushed.out, pushed.err);
    }
    return ok();
}
}  // namespace rope
