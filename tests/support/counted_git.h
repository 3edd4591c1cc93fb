// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QFile>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>

namespace rope::test {
/// While it lives, every start of git by this process is counted: a script of that name stands first in
/// the search path, notes it and becomes the real one.
class CountedGit
{
public:
    CountedGit()
        : m_searchPath(qgetenv("PATH"))
    {
        const QString real = QStandardPaths::findExecutable(QStringLiteral("git"));
        QFile script(m_folder.filePath(QStringLiteral("git")));
        QVERIFY(script.open(QIODevice::WriteOnly));
        script.write("#!/bin/sh\necho \"$*\" >>'" + m_folder.path().toUtf8() + "/started'\nexec '"
                     + real.toUtf8() + "' \"$@\"\n");
        script.setPermissions(QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
        qputenv("PATH", m_folder.path().toUtf8() + ':' + m_searchPath);
    }
    ~CountedGit() { qputenv("PATH", m_searchPath); }
    CountedGit(const CountedGit&) = delete;
    CountedGit& operator=(const CountedGit&) = delete;

    /// How often it was started since it was last asked.
    [[nodiscard]] int takeCount()
    {
        QFile started(m_folder.filePath(QStringLiteral("started")));
        const int count =
            started.open(QIODevice::ReadOnly) ? static_cast<int>(started.readAll().count('\n')) : 0;
        started.close();
        started.remove();
        return count;
    }

private:
    QTemporaryDir m_folder;
    QByteArray m_searchPath;
};
}  // namespace rope::test
