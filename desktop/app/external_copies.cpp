// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_external_copies.cpp.
#include "desktop/app/external_copies.h"

#include <QDesktopServices>
#include <QDir>
#include <QFileInfo>
#include <QSaveFile>
#include <QTimer>
#include <QUrl>

namespace rope {
namespace {
constexpr int kSettleMs = 150;  // editors write in several steps
}

ExternalCopies::ExternalCopies(QObject* parent)
    : QObject(parent)
{
    connect(&m_watcher, &QFileSystemWatcher::fileChanged, this, [this](const QString& file) {
        QTimer::singleShot(kSettleMs, this, [this, file] { onFileChanged(file); });
    });
}

QString ExternalCopies::copyOf(const QString& path) const
{
    for (const auto& [file, copy] : m_copies) {
        if (copy.path == path) {
            return file;
        }
    }
    return {};
}

QString ExternalCopies::open(const QString& path, const QByteArray& bytes)
{
    QString file = copyOf(path);
    if (file.isEmpty()) {
        // Two files of one name must not share a copy.
        const QString folder = m_folder.filePath(QString::number(m_copies.size() + 1));
        QDir().mkpath(folder);
        file = folder + QLatin1Char('/') + QFileInfo(path).fileName();
    }
    m_watcher.removePath(file);
    QSaveFile out(file);
    if (!out.open(QIODevice::WriteOnly) || out.write(bytes) != bytes.size() || !out.commit()) {
        return tr("The copy could not be written: %1").arg(out.errorString());
    }
    m_copies[file] = {path, bytes};
    m_watcher.addPath(file);
    return QDesktopServices::openUrl(QUrl::fromLocalFile(file))
               ? QString()
               : tr("The desktop has no program to open it with. The copy is %1").arg(file);
}

void ExternalCopies::forget()
{
    for (auto& [file, copy] : m_copies) {
        m_watcher.removePath(file);
        copy.path.clear();  // its folder stays taken
    }
}

void ExternalCopies::onFileChanged(const QString& file)
{
    QFile in(file);
    const auto copy = m_copies.find(file);
    if (copy == m_copies.end() || copy->second.path.isEmpty() || !in.open(QIODevice::ReadOnly)) {
        return;  // it is being replaced, or gone
    }
    m_watcher.addPath(file);  // an editor that replaces the file ends its being watched
    const QByteArray bytes = in.readAll();
    if (bytes != copy->second.bytes) {
        copy->second.bytes = bytes;
        emit changed(copy->second.path, bytes);
    }
}
}  // namespace rope
