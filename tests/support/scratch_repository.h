// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QByteArray>
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QProcessEnvironment>
#include <QTemporaryDir>
#include <QTest>

#include <string>

namespace rope::test {
/// A real repository in a temporary folder, made with real git, with fixed people and a clock that
/// moves on by a minute with every commit.
class ScratchRepository
{
public:
    explicit ScratchRepository(const QStringList& initArguments = {})
    {
        git(QStringList{QStringLiteral("init"),
                        QStringLiteral("-q"),
                        QStringLiteral("-b"),
                        QStringLiteral("main")}
            + initArguments);
        git({QStringLiteral("config"), QStringLiteral("user.name"), QStringLiteral("Maren Voss")});
        git({QStringLiteral("config"),
             QStringLiteral("user.email"),
             QStringLiteral("maren@slackwater.example")});
    }

    [[nodiscard]] QString folder() const { return m_folder.path(); }
    [[nodiscard]] std::string path() const { return m_folder.path().toStdString(); }
    [[nodiscard]] QString filePath(const char* path) const
    {
        return m_folder.filePath(QString::fromUtf8(path));
    }

    /// Runs git here; gives its output without the last line end. A failure fails the test. Where the
    /// program under test has the index for a moment, git is run again, as a person would.
    QByteArray git(const QStringList& arguments, const QByteArray& input = {})
    {
        constexpr int kMostTries = 20;
        constexpr int kPauseMs = 50;
        int exitCode = 0;
        QByteArray out = tryGit(arguments, exitCode, input);
        for (int tries = 1;
             exitCode != 0 && tries < kMostTries && out.contains("index.lock': File exists");
             ++tries) {
            QTest::qSleep(kPauseMs);
            out = tryGit(arguments, exitCode, input);
        }
        if (exitCode != 0) {
            QTest::qFail(("git " + arguments.join(QLatin1Char(' ')).toUtf8() + ": exit "
                          + QByteArray::number(exitCode) + ", " + out)
                             .constData(),
                         __FILE__,
                         __LINE__);
        }
        return out;
    }
    QByteArray git(const char* words)
    {
        return git(QString::fromUtf8(words).split(QLatin1Char(' ')));
    }

    QByteArray tryGit(const QStringList& arguments, int& exitCode, const QByteArray& input = {})
    {
        QProcess process;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        const QString date = QStringLiteral("%1 +0000").arg(1'793'610'000 + 60 * m_clock);
        environment.insert(QStringLiteral("GIT_AUTHOR_DATE"), date);
        environment.insert(QStringLiteral("GIT_COMMITTER_DATE"), date);
        process.setProcessEnvironment(environment);
        process.setWorkingDirectory(m_folder.path());
        process.setProcessChannelMode(QProcess::MergedChannels);
        process.start(QStringLiteral("git"), arguments);
        process.write(input);
        process.closeWriteChannel();
        process.waitForFinished(-1);
        exitCode = process.exitCode();
        QByteArray out = process.readAll();
        while (out.endsWith('\n')) {
            out.chop(1);
        }
        return out;
    }

    void write(const char* path, const QByteArray& content) const
    {
        const QString file = filePath(path);
        QDir().mkpath(QFileInfo(file).path());
        QFile out(file);
        QVERIFY2(out.open(QIODevice::WriteOnly), path);
        out.write(content);
    }
    [[nodiscard]] QByteArray read(const char* path) const
    {
        QFile in(filePath(path));
        return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray("(no such file)");
    }
    void remove(const char* path) const { QFile::remove(filePath(path)); }

    /// Commits everything; gives the commit's id.
    QByteArray commit(const char* message)
    {
        ++m_clock;
        git("add -A");
        git({QStringLiteral("commit"),
             QStringLiteral("-q"),
             QStringLiteral("--allow-empty"),
             QStringLiteral("-m"),
             QString::fromUtf8(message)});
        return git("rev-parse HEAD");
    }
    /// Adds a commit to a branch as somebody else would, index and files untouched: with the branch's
    /// own tree, unless one is given. Gives the commit's id.
    QByteArray commitUpon(const char* branch, QByteArray tree = {})
    {
        const QByteArray name(branch);
        if (tree.isEmpty()) {
            tree = name + "^{tree}";
        }
        const QByteArray commitTree = "commit-tree " + tree + " -p " + name + " -m later";
        const QByteArray id = git(commitTree.constData());
        const QByteArray updateRef = "update-ref refs/heads/" + name + " " + id;
        git(updateRef.constData());
        return id;
    }
    void addHook(const char* name, const QByteArray& script) const
    {
        const QByteArray path = QByteArray(".git/hooks/") + name;
        write(path.constData(), "#!/bin/sh\n" + script);
        QFile::setPermissions(filePath(path.constData()),
                              QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    }
    /// refs, staged tree and status: what must not change before something is recorded.
    QByteArray fingerprint()
    {
        return git("for-each-ref --format=%(refname)%(objectname) refs/heads refs/tags "
                   "refs/remotes")
               + git("write-tree") + git("status --porcelain=v2 --untracked-files=all");
    }

private:
    QTemporaryDir m_folder;
    int m_clock = 0;
};

/// A repository on branch `ours` that has parted from `theirs` in one file with one region.
inline void makeDiverged(ScratchRepository& repository)
{
    repository.write("plan.txt", "one\ntwo\nthree\nfour\nfive\nsix\n");
    repository.write("keep.txt", "kept\n");
    repository.commit("base");
    repository.git("switch -q -c theirs");
    repository.write("plan.txt", "one\ntwo theirs\nthree\nfour\nfive\nSIX\n");
    repository.write("new.txt", "from theirs\n");
    repository.commit("theirs edits");
    repository.git("switch -q -c ours main");
    repository.write("plan.txt", "one\ntwo ours\nthree\nfour\nfive\nsix\n");
    repository.commit("ours edits");
}
}  // namespace rope::test
