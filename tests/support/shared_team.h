// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

namespace rope::test {
/// A bare shared remote and two clones of it, one's own and a teammate's, made with real git.
class SharedTeam
{
public:
    /// A line of work in one folder: a clone, with git at hand.
    class Clone
    {
    public:
        explicit Clone(QString folder)
            : m_folder(std::move(folder))
        {
        }
        [[nodiscard]] const QString& folder() const { return m_folder; }

        QByteArray git(const QStringList& arguments) const
        {
            QProcess process;
            process.setWorkingDirectory(m_folder);
            process.setProcessChannelMode(QProcess::MergedChannels);
            process.start(QStringLiteral("git"), arguments);
            process.waitForFinished(-1);
            QByteArray out = process.readAll();
            if (process.exitCode() != 0) {
                qWarning("git %s: %s", qPrintable(arguments.join(QLatin1Char(' '))), out.data());
            }
            while (out.endsWith('\n')) {
                out.chop(1);
            }
            return out;
        }
        QByteArray git(const char* words) const
        {
            return git(QString::fromUtf8(words).split(QLatin1Char(' ')));
        }
        void write(const char* path, const QByteArray& content) const
        {
            const QString file = m_folder + QLatin1Char('/') + QString::fromUtf8(path);
            QDir().mkpath(QFileInfo(file).path());
            QFile out(file);
            QVERIFY2(out.open(QIODevice::WriteOnly), path);
            out.write(content);
        }
        [[nodiscard]] QByteArray read(const char* path) const
        {
            QFile in(m_folder + QLatin1Char('/') + QString::fromUtf8(path));
            return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray("(no such file)");
        }
        void commit(const char* message) const
        {
            git("add -A");
            git({QStringLiteral("commit"),
                 QStringLiteral("-q"),
                 QStringLiteral("-m"),
                 QString::fromUtf8(message)});
        }

    private:
        QString m_folder;
    };

    SharedTeam()
    {
        const Clone top(m_folder.path());
        top.git("init -q --bare -b main shared.git");
        top.git("clone -q shared.git teammate");
        introduce(teammate(), "Were Otieno");
        teammate().git("switch -q -c main");
        teammate().write("plan.txt", "one\ntwo\nthree\nfour\nfive\nsix\nseven\neight\nnine\n");
        teammate().write("notes.txt", "kept\n");
        teammate().commit("The first plan");
        teammate().git("push -q -u origin main");
        top.git("clone -q shared.git yours");
        introduce(yours(), "Maren Voss");
    }

    [[nodiscard]] QString folder() const { return m_folder.path(); }
    [[nodiscard]] QString address() const
    {
        return m_folder.filePath(QStringLiteral("shared.git"));
    }
    [[nodiscard]] Clone yours() const { return clone("yours"); }
    [[nodiscard]] Clone teammate() const { return clone("teammate"); }
    QByteArray shared(const char* words) const { return Clone(address()).git(words); }

    /// The teammate replaces a line and sends that.
    void teammateSends(const QByteArray& before, const QByteArray& after, const char* message) const
    {
        teammate().git("pull -q --no-rebase --no-edit");
        teammate().write("plan.txt", teammate().read("plan.txt").replace(before, after));
        teammate().commit(message);
        teammate().git("push -q origin HEAD");
    }
    /// You replace a line, and commit it.
    void youCommit(const QByteArray& before, const QByteArray& after, const char* message) const
    {
        yours().write("plan.txt", yours().read("plan.txt").replace(before, after));
        yours().commit(message);
    }

private:
    [[nodiscard]] Clone clone(const char* name) const
    {
        return Clone(m_folder.filePath(QLatin1String(name)));
    }
    static void introduce(const Clone& clone, const char* name)
    {
        clone.git({QStringLiteral("config"), QStringLiteral("user.name"), QLatin1String(name)});
        clone.git("config user.email someone@slackwater.example");
    }
    QTemporaryDir m_folder;
};
}  // namespace rope::test
