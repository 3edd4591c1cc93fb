// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_journal.cpp.
#include "core/logbook/known_journals.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUrl>

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <unistd.h>

namespace rope {
namespace {
std::string stateFolder()
{
    const QString set = qEnvironmentVariable("XDG_STATE_HOME");
    const QString state = set.isEmpty() ? QDir::homePath() + QStringLiteral("/.local/state") : set;
    return (state + QStringLiteral("/rope-splice")).toStdString();
}

std::string listFile()
{
    return stateFolder() + "/journals";
}

/// However the folder is reached, it is called the same.
QByteArray lineOf(const std::string& id, const std::string& folder)
{
    const QString real = QFileInfo(QString::fromStdString(folder)).canonicalFilePath();
    return QByteArray::fromStdString(id) + ' ' + QUrl::toPercentEncoding(real, "/");
}
}  // namespace

bool isKnownJournal(const std::string& id, const std::string& folder)
{
    QFile list(QString::fromStdString(listFile()));
    const QByteArray line = lineOf(id, folder);
    return !id.empty() && list.open(QIODevice::ReadOnly)
           && list.readAll().split('\n').contains(line);
}

Status rememberJournal(const std::string& id, const std::string& folder)
{
    const std::string file = listFile();
    if (!QDir().mkpath(QString::fromStdString(stateFolder()))) {
        return Error{ErrorCode::io, stateFolder(), std::strerror(errno)};
    }
    // One write to its end: lines of two processes stay whole.
    const int handle =
        ::open(file.c_str(), O_WRONLY | O_CREAT | O_APPEND | O_NOFOLLOW | O_CLOEXEC, 0600);
    if (handle < 0) {
        return Error{ErrorCode::io, file, std::strerror(errno)};
    }
    const std::string line = lineOf(id, folder).toStdString() + "\n";
    const bool isWritten =
        ::write(handle, line.data(), line.size()) == static_cast<ssize_t>(line.size());
    const int problem = errno;
    ::close(handle);
    return isWritten ? ok() : Status(Error{ErrorCode::io, file, std::strerror(problem)});
}
}  // namespace rope
