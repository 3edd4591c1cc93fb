// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_repository.cpp.
#include "core/repository/git/held_objects.h"

#include "core/repository/git/git_parsers.h"

#include <QByteArrayView>
#include <QCryptographicHash>

namespace rope {
ObjectId HeldObjects::idOf(std::string_view type, std::string_view bytes) const
{
    // gitformat: an object's id is the digest of "<type> <size>\0" and its bytes.
    std::string header(type);
    header.append(" ").append(std::to_string(bytes.size())).append(1, '\0');
    QCryptographicHash hash(m_usesSha256 ? QCryptographicHash::Sha256 : QCryptographicHash::Sha1);
    hash.addData(QByteArrayView(header.data(), static_cast<qsizetype>(header.size())));
    hash.addData(QByteArrayView(bytes.data(), static_cast<qsizetype>(bytes.size())));
    const auto id = ObjectId::fromRaw(hash.result().toStdString());
    ROPE_ASSERT(id.has_value(), "a digest has the length of an id");
    return *id;
}

ObjectId HeldObjects::holdBlob(const std::string& bytes)
{
    const ObjectId id = idOf("blob", bytes);
    m_blobs.try_emplace(id, std::make_shared<const std::string>(bytes));
    return id;
}

ObjectId HeldObjects::holdTree(std::span<const TreeEntry> entries)
{
    std::string bytes;
    for (const TreeEntry& entry : entries) {
        // Raw trees write a folder's mode without the leading zero.
        const std::string_view mode = modeOf(entry.kind);
        bytes.append(mode.substr(mode.front() == '0' ? 1 : 0));
        bytes.append(" ").append(entry.name).append(1, '\0').append(entry.id.raw());
    }
    const ObjectId id = idOf("tree", bytes);
    m_trees.try_emplace(
        id, std::make_shared<const std::vector<TreeEntry>>(entries.begin(), entries.end()));
    return id;
}

BlobBytes HeldObjects::blob(const ObjectId& id) const
{
    const auto found = m_blobs.find(id);
    return found == m_blobs.end() ? nullptr : found->second;
}

TreeEntries HeldObjects::tree(const ObjectId& id) const
{
    const auto found = m_trees.find(id);
    return found == m_trees.end() ? nullptr : found->second;
}
}  // namespace rope
