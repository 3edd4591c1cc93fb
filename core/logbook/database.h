// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <QString>
#include <QVariant>

#include <chrono>
#include <functional>
#include <map>
#include <memory>
#include <string>
#include <utility>
#include <vector>

class QSqlError;
class QSqlQuery;

namespace rope {
/// One SQLite file on disk, with a write-ahead log: what a call has stored outlives the process.
/// SQL is written by us, values are always bound. One thread per instance; several instances, also of
/// other processes, may share a file.
/// Errors of all calls: `io`; `busy` where another instance has kept the file for longer than the patience; `corrupt`
/// with the reason given to the constructor where the file is damaged, no database, or has other tables.
class Database
{
public:
    using Values = std::vector<QVariant>;
    using Statements = std::vector<std::pair<std::string, Values>>;
    using TakeRow = std::function<void(const QSqlQuery& row)>;

    /// How long a call waits for another instance that writes, unless something else is said.
    static constexpr std::chrono::milliseconds kPatience{5000};

    explicit Database(std::string file, Reason whenDamaged = Reason::none);
    ~Database();
    Database(const Database&) = delete;
    Database& operator=(const Database&) = delete;

    /// Opens the file, or makes it.
    Status connect(std::chrono::milliseconds patience = kPatience);
    /// Whether what is stored from now on outlives a loss of power too, which costs a wait for the disk.
    Status setOutlivesPower(bool outlives);

    Status run(const std::string& sql, const Values& values = {});
    /// Gives each row that a query finds to `take`.
    Status read(const std::string& sql, const Values& values, const TakeRow& take);
    /// Runs all of these in one transaction, or none.
    Status store(const Statements& statements);
    /// What `work` runs and stores is stored together, or, where it fails, not at all. Not nested.
    Status inTransaction(const std::function<Status()>& work);

    [[nodiscard]] const std::string& file() const { return m_file; }

private:
    [[nodiscard]] Error failure(const QSqlError& problem) const;
    /// The statement, prepared when it is first asked for.
    Result<QSqlQuery*> prepared(const std::string& sql);

    QString m_connection;  ///< Name of the Qt Sql connection, unique to this instance.
    std::string m_file;
    Reason m_whenDamaged;
    std::map<std::string, std::unique_ptr<QSqlQuery>> m_prepared;  ///< By their SQL.
};

// Paths, names and texts are bytes: they are stored as blobs, so that nothing is taken for an encoding.
[[nodiscard]] QVariant blob(const std::string& bytes);
[[nodiscard]] std::string bytesOf(const QVariant& value);
[[nodiscard]] QVariant text(const std::string& ascii);
[[nodiscard]] std::string textOf(const QVariant& value);
}  // namespace rope
