// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp.
#include "core/system/git/scratch_folder.h"

#include "core/base/process_tree.h"

#include <QDir>

#include <unistd.h>

namespace rope {
QString scratchTemplate(const std::string& privateFolder, const char* purpose)
{
    return QStringLiteral("%1/%2-%3-XXXXXX")
        .arg(QString::fromStdString(privateFolder), QLatin1String(purpose))
        .arg(::getpid());
}

void removeLeftScratch(const std::string& privateFolder)
{
    QDir folder(QString::fromStdString(privateFolder));
    for (const QString& name : folder.entryList({QStringLiteral("blobs-*"),
                                                 QStringLiteral("merge-*"),
                                                 QStringLiteral("message-*"),
                                                 QStringLiteral("work-*")},
                                                QDir::Dirs | QDir::NoSymLinks)) {
        const int process = name.section(QLatin1Char('-'), 1, 1).toInt();
        if (!isRunning(process)) {
            QDir(folder.filePath(name)).removeRecursively();
        }
    }
}
}  // namespace rope
