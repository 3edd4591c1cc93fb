// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_preferences.cpp.
#include "desktop/course/join_queue.h"

#include <QSettings>
#include <QStringList>

#include <algorithm>

namespace rope {
namespace {
QString keyOf(const QString& folder)
{
    return QStringLiteral("queues/")
           + QString::fromLatin1(folder.toUtf8().toBase64(QByteArray::Base64UrlEncoding));
}
}  // namespace

void JoinQueue::open(const QString& folder)
{
    m_folder = folder;
    m_refs.clear();
    const QVariantList stored = QSettings().value(keyOf(folder)).toList();
    for (const QVariant& ref : stored) {
        m_refs.push_back(ref.toByteArray().toStdString());
    }
    emit changed();
}

void JoinQueue::toggle(const std::string& ref)
{
    const auto found = std::find(m_refs.begin(), m_refs.end(), ref);
    if (found == m_refs.end()) {
        m_refs.push_back(ref);
    } else {
        m_refs.erase(found);
    }
    store();
}

void JoinQueue::remove(const std::string& ref)
{
    if (std::erase(m_refs, ref) > 0) {
        store();
    }
}

void JoinQueue::store()
{
    QVariantList list;
    for (const std::string& ref : m_refs) {
        list << QByteArray::fromStdString(ref);
    }
    if (list.isEmpty()) {
        QSettings().remove(keyOf(m_folder));
    } else {
        QSettings().setValue(keyOf(m_folder), list);
    }
    emit changed();
}
}  // namespace rope
