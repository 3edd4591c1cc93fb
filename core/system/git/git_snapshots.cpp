// SPDX-License-Identifier: GPL-3.0-or-later
// Trees and bytes, and what a partial clone has to ask its remote for.
// Tested by tst_git_place.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"
#include "core/system/git/git_progress.h"
#include "core/system/git/remote_answers.h"
#include "core/text/text.h"

#include <QByteArrayView>
#include <QCryptographicHash>

#include <algorithm>
#include <unordered_set>
#include <utility>

namespace rope {
namespace {
constexpr std::size_t kMostKeptTrees = 20'000;
constexpr std::size_t kMostKeptBlob = 200'000;  // bytes of one
constexpr std::size_t kMostKeptBytes = 32'000'000;

/// gitformat: an object's id is the digest of "<type> <size>\0" and its bytes.
ObjectId digestOf(bool usesSha256, std::string_view type, std::string_view bytes)
{
    std::string header(type);
    header.append(" ").append(std::to_string(bytes.size())).append(1, '\0');
    QCryptographicHash hash(usesSha256 ? QCryptographicHash::Sha256 : QCryptographicHash::Sha1);
    hash.addData(QByteArrayView(header.data(), static_cast<qsizetype>(header.size())));
    hash.addData(QByteArrayView(bytes.data(), static_cast<qsizetype>(bytes.size())));
    const auto id = ObjectId::fromRaw(hash.result().toStdString());
    ROPE_ASSERT(id.has_value(), "a digest has the length of an id");
    return *id;
}

std::string joinedIds(std::span<const ObjectId> ids)
{
    std::string lines;
    for (const ObjectId& id : ids) {
        lines.append(id.hex()).append(1, '\n');
    }
    return lines;
}
}  // namespace

ObjectId GitPlace::idOfBlob(std::string_view bytes) const
{
    return digestOf(m_usesSha256, "blob", bytes);
}

ObjectId GitPlace::idOfTree(std::span<const TreeEntry> entries) const
{
    std::string bytes;
    for (const TreeEntry& entry : entries) {
        // Raw trees write a folder's mode without the leading zero.
        const std::string_view mode = modeOf(entry.kind);
        bytes.append(mode.substr(mode.front() == '0' ? 1 : 0));
        bytes.append(" ").append(entry.name).append(1, '\0').append(entry.id.raw());
    }
    return digestOf(m_usesSha256, "tree", bytes);
}

bool GitPlace::canCheckOut(const RepoPath& path) const
{
    return isCheckedOut(path);
}

Status GitPlace::readWithMissing(std::span<const ObjectId> ids, const std::function<Status()>& read)
{
    auto found = read();
    // A partial clone: git ends here rather than asking the remote for one object after another.
    if (found || m_programs.promisorRemote().empty()) {
        return found;
    }
    TRY_ASSIGN(const auto missing, missingOf(ids));
    if (missing.empty()) {
        return found;
    }
    if (!m_missingBytes.isFetched) {
        return Error{ErrorCode::unsupported,
                     m_programs.promisorRemote(),
                     std::to_string(missing.size()) + " objects",
                     Reason::objectsMissing};
    }
    TRY(fetchMissing(missing));
    return read();
}

Result<std::vector<ObjectId>> GitPlace::missingOf(std::span<const ObjectId> ids)
{
    TRY_ASSIGN(
        const std::string out,
        m_git.output(
            {"cat-file", "--batch-all-objects", "--unordered", "--batch-check=%(objectname)"}));
    std::unordered_set<std::string_view> present;
    for (const std::string_view line : splitLines(out)) {
        present.insert(line.substr(0, line.find('\n')));
    }
    std::vector<ObjectId> missing;
    std::copy_if(ids.begin(), ids.end(), std::back_inserter(missing), [&](const ObjectId& id) {
        return !present.contains(id.hex());
    });
    std::sort(missing.begin(), missing.end());
    missing.erase(std::unique(missing.begin(), missing.end()), missing.end());
    return missing;
}

Status GitPlace::fetchMissing(std::span<const ObjectId> ids)
{
    const std::string remote = m_programs.promisorRemote();
    const std::string wanted = joinedIds(ids);
    GitRunOptions options;
    options.input = wanted;
    options.purpose = RunFor::acting;
    options.stop = m_missingBytes.stop;
    options.onErrorText = progressLinesTo(m_missingBytes.progress);
    options.environment = environmentOf(m_asking);
    TRY_ASSIGN(const GitOutput fetched,
               m_git.run({"-c",
                          "fetch.negotiationAlgorithm=noop",
                          "fetch",
                          "--progress",
                          "--no-tags",
                          "--no-write-fetch-head",
                          "--recurse-submodules=no",
                          "--no-auto-maintenance",
                          "--filter=blob:none",
                          "--stdin",
                          "--",
                          remote},
                         options));
    if (fetched.exitCode != 0) {
        return remoteError(remote, fetched.err);
    }
    m_reader.restart();
    m_attributes.restart();
    return ok();
}

Status GitPlace::expectBlobs(std::span<const ObjectId> ids)
{
    if (m_programs.promisorRemote().empty() || !m_missingBytes.isFetched || ids.empty()) {
        return ok();
    }
    TRY_ASSIGN(const auto missing, missingOf(ids));
    return missing.empty() ? ok() : fetchMissing(missing);
}

namespace {
const TreeEntries& emptyFolder()
{
    static const TreeEntries kEmpty = std::make_shared<const std::vector<TreeEntry>>();
    return kEmpty;
}
}  // namespace

Result<TreeEntries> GitPlace::keptTree(const ObjectReader::Object& object)
{
    auto entries = object.type == "tree" ? parseTree(object.bytes, object.id.size()) : std::nullopt;
    if (!entries) {
        return Error{ErrorCode::corrupt,
                     object.id.hex(),
                     "not a folder, or one with entries that no folder may hold or out of order"};
    }
    return m_trees[object.id] = std::make_shared<const std::vector<TreeEntry>>(std::move(*entries));
}

Result<std::vector<TreeEntries>> GitPlace::readTrees(std::span<const ObjectId> ids)
{
    if (m_trees.size() > kMostKeptTrees) {
        m_trees.clear();
    }
    std::vector<ObjectId> wanted;
    std::copy_if(ids.begin(), ids.end(), std::back_inserter(wanted), [this](const ObjectId& id) {
        return !id.isNull() && !m_trees.contains(id);
    });
    const auto take = [this](ObjectReader::Object&& object, std::vector<ObjectId>&) -> Status {
        TRY(keptTree(object));
        return ok();
    };
    TRY(readWithMissing(wanted, [&] { return m_reader.eachContent(wanted, kAnySize, take); }));
    std::vector<TreeEntries> trees;
    trees.reserve(ids.size());
    for (const ObjectId& id : ids) {
        trees.push_back(id.isNull() ? emptyFolder() : m_trees.at(id));
    }
    return trees;
}

Status
GitPlace::tellKept(std::vector<ObjectId> ids, const TreeSink& take, std::vector<ObjectId>& unread)
{
    while (!ids.empty()) {
        std::vector<ObjectId> more;
        for (const ObjectId& id : ids) {
            const auto kept = m_trees.find(id);
            if (id.isNull()) {
                TRY(take(id, emptyFolder(), more));
            } else if (kept != m_trees.end()) {
                const TreeEntries entries = kept->second;
                TRY(take(id, entries, more));
            } else {
                unread.push_back(id);
            }
        }
        ids = std::move(more);
    }
    return ok();
}

Status GitPlace::eachTree(std::span<const ObjectId> ids, const TreeSink& take)
{
    if (!m_programs.promisorRemote().empty()) {
        return Snapshots::eachTree(ids, take);  // what is missing is asked for a level at a time
    }
    if (m_trees.size() > kMostKeptTrees) {
        m_trees.clear();
    }
    std::vector<ObjectId> unread;
    TRY(tellKept({ids.begin(), ids.end()}, take, unread));
    return m_reader.eachContent(
        unread,
        kAnySize,
        [&](ObjectReader::Object&& object, std::vector<ObjectId>& more) -> Status {
            TRY_ASSIGN(const TreeEntries entries, keptTree(object));
            std::vector<ObjectId> next;
            TRY(take(object.id, entries, next));
            return tellKept(std::move(next), take, more);
        });
}

namespace {
/// The bytes of a blob that was read; null for one that is too large.
Result<BlobBytes> blobOf(ObjectReader::Object&& object, std::uint64_t mostBytes)
{
    if (object.type != "blob") {
        return Error{ErrorCode::corrupt, object.id.hex(), "a file's content is a " + object.type};
    }
    return object.size > mostBytes ? nullptr
                                   : std::make_shared<const std::string>(std::move(object.bytes));
}
}  // namespace

/// Many joins in a row read the same files again and again.
void GitPlace::keepSmall(const ObjectId& id, const BlobBytes& bytes)
{
    if (bytes == nullptr || bytes->size() > kMostKeptBlob) {
        return;
    }
    if (m_keptBytes > kMostKeptBytes) {
        m_blobs.clear();
        m_keptBytes = 0;
    }
    if (m_blobs.emplace(id, bytes).second) {
        m_keptBytes += bytes->size();
    }
}

Status
GitPlace::eachBlob(std::span<const ObjectId> ids, std::uint64_t mostBytes, const BlobSink& take)
{
    if (!m_programs.promisorRemote().empty()) {
        return Snapshots::eachBlob(ids, mostBytes, take);
    }
    // What is kept already is held on to, since reading the others may let go of it.
    std::vector<std::optional<BlobBytes>> kept(ids.size());
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const auto found = m_blobs.find(ids[i]);
        if (found != m_blobs.end() && found->second->size() <= mostBytes) {
            kept[i] = found->second;
        }
    }
    const auto read = [&](std::span<const ObjectId> unread, const BlobSink& takeNext) {
        std::size_t place = 0;
        return m_reader.eachContent(
            unread,
            mostBytes,
            [&](ObjectReader::Object&& object, std::vector<ObjectId>&) -> Status {
                TRY_ASSIGN(const BlobBytes bytes, blobOf(std::move(object), mostBytes));
                keepSmall(unread[place], bytes);
                return takeNext(place++, bytes);
            });
    };
    return eachOther(std::move(kept), ids, read, take);
}

Result<std::vector<BlobBytes>> GitPlace::readBlobs(std::span<const ObjectId> ids,
                                                   std::uint64_t mostBytes)
{
    std::vector<ObjectId> wanted;
    std::copy_if(ids.begin(), ids.end(), std::back_inserter(wanted), [&](const ObjectId& id) {
        const auto kept = m_blobs.find(id);
        return kept == m_blobs.end() || kept->second->size() > mostBytes;
    });
    std::unordered_map<ObjectId, BlobBytes> fresh;
    const auto take = [&](ObjectReader::Object&& object, std::vector<ObjectId>&) -> Status {
        const ObjectId id = object.id;
        TRY_ASSIGN(fresh[id], blobOf(std::move(object), mostBytes));
        return ok();
    };
    TRY(readWithMissing(wanted, [&] { return m_reader.eachContent(wanted, mostBytes, take); }));
    std::vector<BlobBytes> blobs;
    blobs.reserve(ids.size());
    for (const ObjectId& id : ids) {
        const auto now = fresh.find(id);
        blobs.push_back(now != fresh.end() ? now->second : m_blobs.at(id));
    }
    for (const auto& [id, bytes] : fresh) {
        keepSmall(id, bytes);
    }
    return blobs;
}

Result<std::vector<std::uint64_t>> GitPlace::blobSizes(std::span<const ObjectId> ids)
{
    std::vector<std::uint64_t> sizes;
    TRY(readWithMissing(ids, [&]() -> Status {
        TRY_ASSIGN(const auto read, m_reader.headers(ids));
        sizes.clear();
        std::transform(read.begin(), read.end(), std::back_inserter(sizes), [](const auto& object) {
            return object.size;
        });
        return ok();
    }));
    return sizes;
}
}  // namespace rope
