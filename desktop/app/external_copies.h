// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QTemporaryDir>

#include <map>

namespace rope {
/// Copies of texts that are open in the person's own editor. Each lies in a folder of ours under its own
/// name; what is saved there is told. The folder goes with the object.
class ExternalCopies final : public QObject
{
    Q_OBJECT
public:
    explicit ExternalCopies(QObject* parent);

    /// Writes a copy and opens it in what the desktop has for such files.
    /// Returns why not, as a sentence; empty if it is open.
    [[nodiscard]] QString open(const QString& path, const QByteArray& bytes);
    /// Where the copy of a path lies; empty if there is none.
    [[nodiscard]] QString copyOf(const QString& path) const;

    /// What is saved from now on in copies made before is nobody's: their splice is gone.
    void forget();

signals:
    void changed(const QString& path, const QByteArray& bytes);

private:
    void onFileChanged(const QString& file);

    struct Copy
    {
        QString path;
        QByteArray bytes;  ///< As they were written or told last.
    };
    QTemporaryDir m_folder;
    std::map<QString, Copy> m_copies;  ///< By the copy's own name.
    QFileSystemWatcher m_watcher;
};
}  // namespace rope
