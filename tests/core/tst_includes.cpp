// SPDX-License-Identifier: GPL-3.0-or-later
// The direction of dependencies, read off every #include: see docs/architecture.md.
#include "tests/support/test_program.h"

#include <QDir>
#include <QDirIterator>
#include <QFile>
#include <QMap>
#include <QRegularExpression>
#include <QTest>

namespace {
/// What each folder may include besides itself.
const QMap<QString, QStringList>& allowed()
{
    static const QStringList kText{QStringLiteral("core/base"), QStringLiteral("core/text")};
    static const QStringList kMerge =
        kText + QStringList{QStringLiteral("core/diff"), QStringLiteral("core/merge")};
    static const QStringList kPort = kText + QStringList{QStringLiteral("core/system")};
    static const QStringList kSnapshot =
        kMerge + QStringList{QStringLiteral("core/system"), QStringLiteral("core/snapshot")};
    static const QStringList kJoin =
        kSnapshot + QStringList{QStringLiteral("core/history"), QStringLiteral("core/join")};
    static const QStringList kDecide = kJoin + QStringList{QStringLiteral("core/decide")};
    static const QStringList kFindings = kDecide + QStringList{QStringLiteral("core/findings")};
    static const QStringList kCore = kFindings
                                     + QStringList{QStringLiteral("core/logbook"),
                                                   QStringLiteral("core/plan"),
                                                   QStringLiteral("core/trial")};
    static const QStringList kStation = kCore
                                        + QStringList{QStringLiteral("desktop/background"),
                                                      QStringLiteral("desktop/facts"),
                                                      QStringLiteral("desktop/widgets"),
                                                      QStringLiteral("desktop/wording")};
    static const QStringList kCourse = kCore
                                       + QStringList{QStringLiteral("core/system/factory"),
                                                     QStringLiteral("desktop/background"),
                                                     QStringLiteral("desktop/facts"),
                                                     QStringLiteral("desktop/wording")};
    static const QMap<QString, QStringList> kAllowed{
        {QStringLiteral("core/base"), {}},
        {QStringLiteral("core/text"), {QStringLiteral("core/base")}},
        {QStringLiteral("core/diff"), kText},
        {QStringLiteral("core/merge"), kText + QStringList{QStringLiteral("core/diff")}},
        {QStringLiteral("core/system"), kText},
        {QStringLiteral("core/system/git"), kPort},
        {QStringLiteral("core/system/memory"), kPort},
        // The factory alone knows the adapters.
        {QStringLiteral("core/system/factory"),
         kPort + QStringList{QStringLiteral("core/system/git")}},
        {QStringLiteral("core/history"), kPort + QStringList{QStringLiteral("core/diff")}},
        {QStringLiteral("core/snapshot"), kSnapshot},
        {QStringLiteral("core/join"), kJoin},
        {QStringLiteral("core/decide"), kDecide},
        {QStringLiteral("core/plan"), kDecide + QStringList{QStringLiteral("core/plan")}},
        {QStringLiteral("core/logbook"), kDecide + QStringList{QStringLiteral("core/logbook")}},
        {QStringLiteral("core/findings"), kFindings},
        {QStringLiteral("core/trial"), kPort},
        {QStringLiteral("desktop/background"), {}},
        {QStringLiteral("desktop/wording"),
         kFindings + QStringList{QStringLiteral("core/plan"), QStringLiteral("core/trial")}},
        {QStringLiteral("desktop/facts"), kCore + QStringList{QStringLiteral("desktop/wording")}},
        {QStringLiteral("desktop/widgets"),
         kMerge
             + QStringList{QStringLiteral("core/history"),
                           QStringLiteral("desktop/facts"),
                           QStringLiteral("desktop/wording")}},
        {QStringLiteral("desktop/commits"), kStation},
        {QStringLiteral("desktop/survey"),
         kStation + QStringList{QStringLiteral("desktop/commits")}},
        {QStringLiteral("desktop/push"), kStation + QStringList{QStringLiteral("desktop/commits")}},
        {QStringLiteral("desktop/result"), kStation},
        {QStringLiteral("desktop/resolve"),
         kStation + QStringList{QStringLiteral("desktop/result")}},
        {QStringLiteral("desktop/check"), kStation + QStringList{QStringLiteral("desktop/result")}},
        {QStringLiteral("desktop/record"),
         kStation + QStringList{QStringLiteral("desktop/commits")}},
        {QStringLiteral("desktop/start"), kStation},
        {QStringLiteral("desktop/logbook"), kStation},
        {QStringLiteral("desktop/command"),
         kCore
             + QStringList{QStringLiteral("core/system/factory"),
                           QStringLiteral("desktop/wording")}},
        {QStringLiteral("desktop/ask"),
         kText
             + QStringList{QStringLiteral("core/system"),
                           QStringLiteral("desktop/widgets"),
                           QStringLiteral("desktop/wording")}},
        {QStringLiteral("desktop/course"), kCourse},
        {QStringLiteral("desktop/app"),
         kCourse
             + QStringList{QStringLiteral("desktop/ask"),
                           QStringLiteral("desktop/check"),
                           QStringLiteral("desktop/command"),
                           QStringLiteral("desktop/course"),
                           QStringLiteral("desktop/logbook"),
                           QStringLiteral("desktop/push"),
                           QStringLiteral("desktop/record"),
                           QStringLiteral("desktop/resolve"),
                           QStringLiteral("desktop/start"),
                           QStringLiteral("desktop/survey"),
                           QStringLiteral("desktop/widgets")}},
    };
    return kAllowed;
}

bool mayUseQt(const QString& folder)
{
    return folder.startsWith(QLatin1String("desktop")) || folder == QLatin1String("core/join")
           || folder == QLatin1String("core/decide") || folder == QLatin1String("core/logbook")
           || folder == QLatin1String("core/findings") || folder == QLatin1String("core/trial")
           || folder == QLatin1String("core/system/git");
}
}  // namespace

class TestIncludes : public QObject
{
    Q_OBJECT
private slots:
    void includes_followTheArrows();
    void testedBy_namesFilesThatExist();
    void headers_standInAList();
};

void TestIncludes::includes_followTheArrows()
{
    const QString root = rope::test::sourceFolder() + QStringLiteral("/");
    const QRegularExpression include(QStringLiteral("^#include ([\"<])([^\">]+)"),
                                     QRegularExpression::MultilineOption);
    int seen = 0;
    for (const QString& top : {QStringLiteral("core"), QStringLiteral("desktop")}) {
        QDirIterator files(root + top,
                           {QStringLiteral("*.h"), QStringLiteral("*.cpp")},
                           QDir::Files,
                           QDirIterator::Subdirectories);
        while (files.hasNext()) {
            const QString path = files.next().mid(root.size());
            const QString folder = path.section(QLatin1Char('/'), 0, -2);
            QVERIFY2(allowed().contains(folder),
                     qPrintable(folder + QStringLiteral(" is not on the map")));
            QFile file(root + path);
            QVERIFY(file.open(QIODevice::ReadOnly));
            const QString content = QString::fromUtf8(file.readAll());
            for (auto match = include.globalMatch(content); match.hasNext();) {
                const auto found = match.next();
                const QString target = found.captured(2);
                if (found.captured(1) == QLatin1String("<")) {
                    const bool isQt = target.startsWith(QLatin1Char('Q'));
                    QVERIFY2(!isQt || mayUseQt(folder),
                             qPrintable(path + QStringLiteral(" includes ") + target));
                    QVERIFY2(!target.startsWith(QLatin1String("Qsci"))
                                 || folder == QLatin1String("desktop/widgets"),
                             qPrintable(path));
                    continue;
                }
                const QString targetFolder = target.section(QLatin1Char('/'), 0, -2);
                QVERIFY2(targetFolder == folder || allowed()[folder].contains(targetFolder),
                         qPrintable(path + QStringLiteral(" must not include ") + target));
                ++seen;
            }
        }
    }
    QVERIFY(seen > 100);
}

void TestIncludes::testedBy_namesFilesThatExist()
{
    const QString root = rope::test::sourceFolder() + QStringLiteral("/");
    QStringList tests;
    QDirIterator found(root + QStringLiteral("tests"), QDir::Files, QDirIterator::Subdirectories);
    while (found.hasNext()) {
        tests << QFileInfo(found.next()).fileName();
    }
    const QRegularExpression named(
        QStringLiteral("Tested by ([a-z_]+\\.[a-z]+)( and ([a-z_]+\\.[a-z]+))?"));
    int seen = 0;
    for (const QString& top : {QStringLiteral("core"), QStringLiteral("desktop")}) {
        QDirIterator files(
            root + top, {QStringLiteral("*.cpp")}, QDir::Files, QDirIterator::Subdirectories);
        while (files.hasNext()) {
            QFile file(files.next());
            QVERIFY(file.open(QIODevice::ReadOnly));
            const auto match = named.match(QString::fromUtf8(file.readAll()));
            for (const int group : {1, 3}) {
                const QString test = match.captured(group);
                QVERIFY2(test.isEmpty() || tests.contains(test),
                         qPrintable(file.fileName() + QStringLiteral(" names ") + test));
                seen += test.isEmpty() ? 0 : 1;
            }
        }
    }
    QVERIFY(seen > 50);
}

/// What stands in no list of a library is not verified on its own.
void TestIncludes::headers_standInAList()
{
    const QString root = rope::test::sourceFolder() + QStringLiteral("/");
    int seen = 0;
    for (const QString& top : {QStringLiteral("core"), QStringLiteral("desktop")}) {
        QDirIterator headers(
            root + top, {QStringLiteral("*.h")}, QDir::Files, QDirIterator::Subdirectories);
        while (headers.hasNext()) {
            const QString path = headers.next();
            QDir folder = QFileInfo(path).dir();
            while (!folder.exists(QStringLiteral("CMakeLists.txt"))) {
                folder.cdUp();
            }
            QFile lists(folder.filePath(QStringLiteral("CMakeLists.txt")));
            QVERIFY(lists.open(QIODevice::ReadOnly));
            const QStringList words = QString::fromUtf8(lists.readAll())
                                          .split(QRegularExpression(QStringLiteral("[\\s()]+")));
            QVERIFY2(words.contains(folder.relativeFilePath(path)),
                     qPrintable(path + QStringLiteral(" stands in no list")));
            ++seen;
        }
    }
    QVERIFY(seen > 100);
}

ROPE_TESTS(TestIncludes, QCoreApplication)
#include "tst_includes.moc"
