// SPDX-License-Identifier: GPL-3.0-or-later
// Opening a journal: whose it is, and bringing an older one up to date. Its tables are read and written in
// journal_splices.cpp, journal_decisions.cpp and journal_memory.cpp. Tested by tst_journal.cpp.
#include "core/logbook/journal.h"

#include "core/logbook/journal_tables.h"
#include "core/logbook/known_journals.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <QSqlQuery>

#include <array>
#include <cerrno>
#include <cstring>
#include <sys/stat.h>
#include <unistd.h>

namespace rope {
namespace {
constexpr std::size_t kIdDigits = 12;  // of a journal's id, in names of what it keeps

std::string folderOf(const std::string& file)
{
    return QFileInfo(QString::fromStdString(file)).path().toStdString();
}
}  // namespace

Journal::Journal(const std::string& file)
    : m_database(file, Reason::journalUnreadable)
{
}

Result<std::unique_ptr<Journal>> Journal::openFile(const std::string& file,
                                                   std::chrono::milliseconds patience)
{
    std::unique_ptr<Journal> journal(new Journal(file));
    TRY(journal->m_database.connect(patience));
    TRY(journal->prepareTables());
    return journal;
}

namespace {
constexpr std::array<const char*, 3> kParts{"", "-wal", "-shm"};  // of a database on disk

/// SQLite would follow a link, and write into whatever it leads to.
Status checkFiles(const std::string& folder, const std::string& file)
{
    struct stat info
    {
    };
    const auto refuse = [](const std::string& path, const char* why) {
        return Error{ErrorCode::unsupported, path, why, Reason::journalUnreadable};
    };
    if (::lstat(folder.c_str(), &info) == 0 && !S_ISDIR(info.st_mode)) {
        return refuse(folder, "it is a link, or no folder");
    }
    for (const char* part : kParts) {
        const std::string path = file + part;
        if (::lstat(path.c_str(), &info) != 0) {
            continue;
        }
        if (!S_ISREG(info.st_mode)) {
            return refuse(path, "it is a link, or no file");
        }
        if (info.st_uid != ::geteuid()) {
            return refuse(path, "it belongs to another user");
        }
    }
    return ok();
}
}  // namespace

Result<std::string> Journal::setAside(const std::string& folder)
{
    const QString name = QString::fromStdString(folder + "/journal.sqlite");
    const QString aside =
        QStringLiteral("%1-unreadable-%2")
            .arg(name, QDateTime::currentDateTimeUtc().toString(QStringLiteral("yyyyMMdd-hhmmss")));
    for (const char* part : kParts) {
        const QString from = name + QLatin1String(part);
        if (!QFile::rename(from, aside + QLatin1String(part)) && *part == '\0') {
            return Error{ErrorCode::io, from.toStdString(), std::strerror(errno)};
        }
    }
    return aside.toStdString();
}

Result<std::unique_ptr<Journal>> Journal::open(const std::string& folder,
                                               std::chrono::milliseconds patience)
{
    const std::string file = folder + "/journal.sqlite";
    TRY(checkFiles(folder, file));
    auto journal = openFile(file, patience);
    const bool isUnreadable = !journal && journal.error().code == ErrorCode::corrupt;
    const bool isSomething = isUnreadable && QFile::exists(QString::fromStdString(file));
    if (!isSomething) {
        return journal;
    }
    auto aside = setAside(folder);
    if (!aside) {
        return journal;
    }
    auto fresh = openFile(file, patience);
    if (fresh) {
        (*fresh)->m_setAsideAs = std::move(*aside);
    }
    return fresh;
}

Status Journal::adopt()
{
    TRY(rememberJournal(m_id, folderOf(m_database.file())));
    m_isOurs = true;
    return ok();
}

std::string Journal::keptName(const std::string& splice, const std::string& part) const
{
    return m_id.substr(0, kIdDigits) + "/" + splice + "/" + part;
}

Result<int> Journal::version()
{
    int version = 0;
    TRY(m_database.read(
        "PRAGMA user_version", {}, [&](const QSqlQuery& row) { version = row.value(0).toInt(); }));
    return version;
}

Status Journal::prepareTables()
{
    const std::string& file = m_database.file();
    TRY_ASSIGN(const int version, this->version());
    if (version > kJournalVersion) {
        return Error{ErrorCode::unsupported,
                     file,
                     "version " + std::to_string(version),
                     Reason::journalNewer};
    }
    if (version < kJournalVersion) {
        TRY(migrate(version == 0));
    }
    TRY(m_database.run("SELECT id, work FROM splice LIMIT 1"));
    TRY(m_database.read("SELECT id FROM identity", {}, [this](const QSqlQuery& row) {
        m_id = textOf(row.value(0));
    }));
    writeIdBeside();
    m_isOurs = version == 0 || isKnownJournal(m_id, folderOf(file));
    return ok();
}

/// So that other working trees of the repository know what is this journal's to keep. Where it cannot be
/// written they list it as nobody's, and let nothing of it go.
void Journal::writeIdBeside() const
{
    const QString name =
        QString::fromStdString(folderOf(m_database.file())) + QStringLiteral("/journal-id");
    const QByteArray wanted =
        QByteArray::fromStdString(keptName({}, {}).substr(0, kIdDigits)) + '\n';
    QFile file(name);
    if (file.open(QIODevice::ReadOnly) && file.readAll() == wanted) {
        return;
    }
    file.close();
    QSaveFile fresh(name);
    if (fresh.open(QIODevice::WriteOnly)) {
        fresh.write(wanted);
        fresh.commit();
    }
}

/// A journal that this process makes is this person's, and known to be before it is there: whoever is killed in
/// between leaves nothing that would be asked about. Where it cannot be kept, a person is asked the next time.
Status Journal::remember()
{
    TRY(m_database.read("SELECT id FROM identity", {}, [this](const QSqlQuery& row) {
        m_id = textOf(row.value(0));
    }));
    (void)rememberJournal(m_id, folderOf(m_database.file()));
    return ok();
}

Status Journal::bringTo(int version, int present, std::span<const char* const> statements)
{
    if (present >= version) {
        return ok();
    }
    for (const char* statement : statements) {
        TRY(m_database.run(statement));
    }
    return ok();
}

/// One step after the other, all or none. Another instance may have been quicker.
Status Journal::migrate(bool isNew)
{
    return m_database.inTransaction([this, isNew]() -> Status {
        TRY_ASSIGN(const int present, version());
        TRY(bringTo(1, present, kFirstTables));
        TRY(bringTo(2, present, kSecondTables));
        TRY(bringTo(3, present, kThirdTables));
        TRY(bringTo(4, present, kFourthTables));
        TRY(bringTo(5, present, kFifthTables));
        TRY(bringTo(6, present, kSixthTables));
        TRY(bringTo(7, present, kSeventhTables));
        TRY(bringTo(8, present, kEighthTables));
        TRY(bringTo(9, present, kNinthTables));
        TRY(bringTo(10, present, kTenthTables));
        TRY(bringTo(11, present, kEleventhTables));
        return isNew ? remember() : ok();
    });
}
}  // namespace rope
