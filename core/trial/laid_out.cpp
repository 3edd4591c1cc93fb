// SPDX-License-Identifier: GPL-3.0-or-later
// A text: a heading, the tree, what decided conversions, and for each file its id, kind, numbers and path;
// each ends in a NUL.
// Tested by tst_layout.cpp.
#include "core/trial/laid_out.h"

#include <QFile>
#include <QSaveFile>

#include <array>
#include <charconv>

namespace rope {
namespace {
constexpr std::string_view kHeading = "rope-splice laid out, version 1";
constexpr std::string_view kKinds = "fxl?s";  // in the order of EntryKind

std::optional<std::string_view> takeField(std::string_view& bytes, char end)
{
    const std::size_t size = bytes.find(end);
    if (size == std::string_view::npos) {
        return std::nullopt;
    }
    const std::string_view field = bytes.substr(0, size);
    bytes.remove_prefix(size + 1);
    return field;
}

template <typename Number>
bool takeNumber(std::string_view& bytes, Number& number)
{
    const auto field = takeField(bytes, ' ');
    return field
           && std::from_chars(field->data(), field->data() + field->size(), number).ec
                  == std::errc();
}

std::optional<LaidOutFile> fileFrom(std::string_view line)
{
    LaidOutFile file;
    const auto id = takeField(line, ' ');
    const auto kind = takeField(line, ' ');
    const auto objectId = id ? ObjectId::fromHex(*id) : std::nullopt;
    const std::size_t kindAt =
        kind && kind->size() == 1 ? kKinds.find(kind->front()) : std::string_view::npos;
    if (!objectId || kindAt == std::string_view::npos || !takeNumber(line, file.stamp.size)
        || !takeNumber(line, file.stamp.modifiedNs) || !takeNumber(line, file.stamp.changedNs)
        || !takeNumber(line, file.stamp.inode) || line.empty()) {
        return std::nullopt;
    }
    file.version = {static_cast<EntryKind>(kindAt), *objectId};
    file.path = line;
    return file;
}
Status store(const std::string& file, const std::string& bytes)
{
    QSaveFile stored(QString::fromStdString(file));
    if (!stored.open(QIODevice::WriteOnly)
        || stored.write(bytes.data(), static_cast<qint64>(bytes.size())) < 0 || !stored.commit()) {
        return Error{ErrorCode::io, file, stored.errorString().toStdString()};
    }
    return ok();
}
}  // namespace

std::optional<LaidOut> readLaidOut(const std::string& file)
{
    QFile stored(QString::fromStdString(file));
    if (!stored.open(QIODevice::ReadOnly)) {
        return std::nullopt;
    }
    const QByteArray all = stored.readAll();
    std::string_view bytes(all.constData(), static_cast<std::size_t>(all.size()));
    LaidOut laidOut;
    const auto heading = takeField(bytes, '\0');
    const auto tree = takeField(bytes, '\0');
    const auto treeId = tree ? ObjectId::fromHex(*tree) : std::nullopt;
    const auto conversions = takeField(bytes, '\0');
    if (heading != kHeading || !treeId || !conversions) {
        return std::nullopt;
    }
    laidOut.tree = *treeId;
    laidOut.conversions = *conversions;
    while (!bytes.empty()) {
        const auto line = takeField(bytes, '\0');
        auto entry = line ? fileFrom(*line) : std::nullopt;
        if (!entry) {
            return std::nullopt;
        }
        laidOut.files.push_back(std::move(*entry));
    }
    return laidOut;
}

Status writeLaidOut(const std::string& file, const LaidOut& laidOut)
{
    std::string bytes(kHeading);
    bytes.append(1, '\0').append(laidOut.tree.hex()).append(1, '\0');
    bytes.append(laidOut.conversions).append(1, '\0');
    bytes.reserve(laidOut.files.size() * 160);
    const auto add = [&bytes](auto number) {
        std::array<char, 24> digits{};
        const auto end = std::to_chars(digits.data(), digits.data() + digits.size(), number).ptr;
        bytes.append(digits.data(), end).append(1, ' ');
    };
    for (const LaidOutFile& entry : laidOut.files) {
        bytes.append(entry.version.id.hex()).append(1, ' ');
        bytes.append(1, kKinds[static_cast<std::size_t>(entry.version.kind)]);
        bytes.append(1, ' ');
        add(entry.stamp.size);
        add(entry.stamp.modifiedNs);
        add(entry.stamp.changedNs);
        add(entry.stamp.inode);
        bytes.append(entry.path).append(1, '\0');
    }
    return store(file, bytes);
}

Status writeChanging(const std::string& file, const std::vector<RepoPath>& paths)
{
    if (paths.empty()) {
        QFile::remove(QString::fromStdString(file));
        return ok();
    }
    std::string bytes;
    for (const RepoPath& path : paths) {
        bytes.append(path).append(1, '\0');
    }
    return store(file, bytes);
}

std::vector<RepoPath> readChanging(const std::string& file)
{
    std::vector<RepoPath> paths;
    QFile stored(QString::fromStdString(file));
    const QByteArray all = stored.open(QIODevice::ReadOnly) ? stored.readAll() : QByteArray();
    std::string_view bytes(all.constData(), static_cast<std::size_t>(all.size()));
    while (const auto path = takeField(bytes, '\0')) {
        paths.emplace_back(*path);
    }
    return paths;
}
}  // namespace rope
