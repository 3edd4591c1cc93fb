// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_layout.cpp.
#include "core/trial/layout.h"

#include "core/base/digest.h"
#include "core/system/tree_difference.h"
#include "core/trial/laid_out.h"

#include <algorithm>
#include <filesystem>
#include <future>
#include <set>

namespace rope {
namespace {
constexpr std::uint64_t kLargeBytes = 4'000'000;  // the system writes such a file itself
constexpr std::size_t kBatchFiles = 500;

bool isBefore(const LaidOutFile& a, const LaidOutFile& b)
{
    return a.path < b.path;
}

bool givesAttributes(const RepoPath& path)
{
    return path == ".gitattributes" || path.ends_with("/.gitattributes");
}

/// Brings one folder from what stands there to a tree.
class Layout
{
public:
    Layout(Place& place,
           std::string folder,
           std::string listFile,
           const ProgressSink& progress,
           const std::stop_token& stop)
        : m_place(place)
        , m_folder(std::move(folder))
        , m_listFile(std::move(listFile))
        , m_progress(progress)
        , m_stop(stop)
    {
    }

    Result<LayoutOutcome> run(const ObjectId& tree, const ObjectId& commit);
    [[nodiscard]] const std::vector<RepoPath>& submodules() const { return m_submodules; }
    [[nodiscard]] ObjectId namedBy(const RepoPath& submodule) const;

private:
    void readBefore();
    Status readTree(const ObjectId& tree);
    Status readFiles(const ObjectId& tree);
    Status takeOverFiles(const ObjectId& tree);
    void compare(const CopyFiles& files);
    Status noteChanging();
    Status writeFiles(CopyFiles& files);
    Status writePlain(CopyFiles& files, const std::vector<std::size_t>& plain);
    Status writeBatch(CopyFiles& files,
                      std::span<const std::size_t> places,
                      const std::vector<BlobBytes>& bytes);
    Result<std::vector<std::size_t>> writeConverted(CopyFiles& files);
    Status letSystemWrite(CopyFiles& files, const std::vector<std::size_t>& places);
    void tell(std::size_t done) const;

    Place& m_place;
    std::string m_folder;
    std::string m_listFile;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    LaidOut m_before;
    LaidOut m_now;
    std::vector<RepoPath> m_submodules;
    std::vector<std::size_t> m_toWrite;  ///< Places in m_now.
    std::vector<LaidOutFile> m_toRemove;
};

std::string changingFile(const std::string& listFile)
{
    return listFile + "-changing";
}

/// What stands there: what was put there, but for paths of which nothing is known.
void Layout::readBefore()
{
    m_before = readLaidOut(m_listFile).value_or(LaidOut{});
    const std::vector<RepoPath> unknown = readChanging(changingFile(m_listFile));
    if (unknown.empty()) {
        return;
    }
    const std::set<RepoPath> paths(unknown.begin(), unknown.end());
    std::erase_if(m_before.files, [&paths](const auto& file) { return paths.contains(file.path); });
    for (const RepoPath& path : paths) {
        m_before.files.push_back({path, {}, {}});
    }
    std::sort(m_before.files.begin(), m_before.files.end(), isBefore);
    m_before.tree = {};
}

Status Layout::readFiles(const ObjectId& tree)
{
    TRY_ASSIGN(auto all, treeDifference(m_place, ObjectId{}, tree));
    m_now.files.reserve(all.size());
    for (FileChange& file : all) {
        m_now.files.push_back({std::move(file.path), *file.after, {}});
    }
    return ok();
}

/// As readFiles(), from the files of the tree before: most trees are much like the one before.
Status Layout::takeOverFiles(const ObjectId& tree)
{
    TRY_ASSIGN(const auto changes, treeDifference(m_place, m_before.tree, tree));
    auto change = changes.begin();
    m_now.files.reserve(m_before.files.size() + changes.size());
    const auto addUpTo = [&](const RepoPath* path) {
        for (; change != changes.end() && (path == nullptr || change->path <= *path); ++change) {
            if (change->after) {
                m_now.files.push_back({change->path, *change->after, {}});
            }
            if (path != nullptr && change->path == *path) {
                ++change;
                return true;
            }
        }
        return false;
    };
    for (const LaidOutFile& file : m_before.files) {
        if (!addUpTo(&file.path)) {
            m_now.files.push_back({file.path, file.version, {}});
        }
    }
    addUpTo(nullptr);
    return ok();
}

/// All files of the tree, and what decides how they are written.
Status Layout::readTree(const ObjectId& tree)
{
    m_now.tree = tree;
    if (m_before.tree.isNull() || !takeOverFiles(tree)) {
        m_now.files.clear();
        TRY(readFiles(tree));
    }
    TRY_ASSIGN(m_now.conversions, m_place.conversionStamp());
    for (const LaidOutFile& file : m_now.files) {
        if (!m_place.canCheckOut(file.path)) {
            return Error{ErrorCode::unsupported, file.path, "no file may have that name"};
        }
        if (givesAttributes(file.path)) {
            m_now.conversions =
                digestOfParts({m_now.conversions, file.path, file.version.id.hex()});
        }
        if (file.version.kind == EntryKind::submodule) {
            m_submodules.push_back(file.path);
        }
    }
    return ok();
}

ObjectId Layout::namedBy(const RepoPath& submodule) const
{
    return std::lower_bound(
               m_now.files.begin(), m_now.files.end(), LaidOutFile{submodule, {}, {}}, isBefore)
        ->version.id;
}

/// Finds what has to be written and removed; stamps of what stays are taken over.
void Layout::compare(const CopyFiles& files)
{
    const bool isSameWay = m_before.conversions == m_now.conversions;
    auto old = m_before.files.begin();
    for (std::size_t i = 0; i < m_now.files.size(); ++i) {
        LaidOutFile& file = m_now.files[i];
        for (; old != m_before.files.end() && old->path < file.path; ++old) {
            m_toRemove.push_back({old->path, old->version, {}});
        }
        const bool wasThere = old != m_before.files.end() && old->path == file.path;
        const bool isSame = wasThere && isSameWay && old->version == file.version;
        if (isSame && file.version.kind == EntryKind::submodule) {
            // Its folder is there, and what lies in it is not looked at here.
        } else if (isSame && old->stamp != FileStamp{} && files.stampOf(file.path) == old->stamp) {
            file.stamp = old->stamp;
        } else {
            if (wasThere && old->version.kind == EntryKind::submodule) {
                m_toRemove.push_back({old->path, old->version, {}});
            }
            m_toWrite.push_back(i);
        }
        old += wasThere ? 1 : 0;
    }
    for (; old != m_before.files.end(); ++old) {
        m_toRemove.push_back({old->path, old->version, {}});
    }
}

/// Before anything is touched: what is being written or removed counts as unknown until it is done.
Status Layout::noteChanging()
{
    std::vector<RepoPath> paths = readChanging(changingFile(m_listFile));
    for (const LaidOutFile& file : m_toRemove) {
        paths.push_back(file.path);
    }
    for (const std::size_t i : m_toWrite) {
        paths.push_back(m_now.files[i].path);
    }
    return paths.empty() ? ok() : writeChanging(changingFile(m_listFile), paths);
}

void Layout::tell(std::size_t done) const
{
    if (m_progress) {
        m_progress({ProgressStep::layingOutCopy, {}, done, m_toWrite.size()});
    }
}

/// Files whose bytes the system changes on their way, and folders of submodules. Gives what is left.
Result<std::vector<std::size_t>> Layout::writeConverted(CopyFiles& files)
{
    std::vector<RepoPath> paths;
    std::vector<ObjectId> ids;
    for (const std::size_t i : m_toWrite) {
        const LaidOutFile& file = m_now.files[i];
        if (file.version.kind == EntryKind::submodule) {
            TRY(files.makeFolder(file.path));
        } else {
            paths.push_back(file.path);
            ids.push_back(file.version.id);
        }
    }
    TRY(m_place.expectBlobs(ids));
    TRY_ASSIGN(auto converted, m_place.convertedPaths(m_folder, paths));
    std::sort(converted.begin(), converted.end());
    std::vector<std::size_t> bySystem;
    std::vector<std::size_t> left;
    for (const std::size_t i : m_toWrite) {
        const LaidOutFile& file = m_now.files[i];
        if (isRegular(file.version.kind)
            && std::binary_search(converted.begin(), converted.end(), file.path)) {
            bySystem.push_back(i);
        } else if (file.version.kind != EntryKind::submodule) {
            left.push_back(i);
        }
    }
    TRY(letSystemWrite(files, bySystem));
    return left;
}

Status Layout::letSystemWrite(CopyFiles& files, const std::vector<std::size_t>& places)
{
    std::vector<RepoPath> paths;
    paths.reserve(places.size());
    for (const std::size_t i : places) {
        paths.push_back(m_now.files[i].path);
        TRY(files.makeFolderOf(paths.back()));
    }
    if (paths.empty()) {
        return ok();
    }
    TRY(m_place.writeConverted(m_folder, paths, m_stop));
    for (const std::size_t i : places) {
        m_now.files[i].stamp = files.stampOf(m_now.files[i].path);
    }
    return ok();
}

/// Writes files whose bytes have been read; those that are null are left.
Status Layout::writeBatch(CopyFiles& files,
                          std::span<const std::size_t> places,
                          const std::vector<BlobBytes>& bytes)
{
    for (std::size_t k = 0; k < places.size(); ++k) {
        LaidOutFile& file = m_now.files[places[k]];
        if (bytes[k] != nullptr) {
            TRY_ASSIGN(file.stamp, files.write(file.path, file.version.kind, *bytes[k]));
        }
    }
    return ok();
}

/// Files whose bytes are written as they are: a batch is read while the one before it is written.
Status Layout::writePlain(CopyFiles& files, const std::vector<std::size_t>& plain)
{
    std::vector<std::size_t> large;
    std::future<Status> writing;
    for (std::size_t from = 0; from < plain.size(); from += kBatchFiles) {
        tell(from);
        const auto batch =
            std::span(plain).subspan(from, std::min(kBatchFiles, plain.size() - from));
        std::vector<ObjectId> ids;
        for (const std::size_t i : batch) {
            ids.push_back(m_now.files[i].version.id);
        }
        auto blobs = m_stop.stop_requested()
                         ? Result<std::vector<BlobBytes>>(Error{ErrorCode::cancelled, m_folder, {}})
                         : m_place.readBlobs(ids, kLargeBytes);
        if (writing.valid()) {
            TRY(writing.get());
        }
        TRY_ASSIGN(auto bytes, std::move(blobs));
        for (std::size_t k = 0; k < batch.size(); ++k) {
            if (bytes[k] == nullptr) {
                large.push_back(batch[k]);
            }
        }
        writing = std::async(std::launch::async, [this, &files, batch, bytes = std::move(bytes)] {
            return writeBatch(files, batch, bytes);
        });
    }
    if (writing.valid()) {
        TRY(writing.get());
    }
    return letSystemWrite(files, large);
}

Status Layout::writeFiles(CopyFiles& files)
{
    for (const LaidOutFile& file : m_toRemove) {
        if (file.version.kind == EntryKind::submodule) {
            files.removeFolder(file.path);
        }
        files.remove(file.path);
    }
    TRY_ASSIGN(const auto left, writeConverted(files));
    return writePlain(files, left);
}

Result<LayoutOutcome> Layout::run(const ObjectId& tree, const ObjectId& commit)
{
    readBefore();
    TRY(readTree(tree));
    TRY_ASSIGN(CopyFiles files, CopyFiles::open(m_folder));
    auto comparing = std::async(std::launch::async, [this, &files] { compare(files); });
    const Status prepared = m_place.prepareCopy(m_folder, tree, commit);
    comparing.get();
    TRY(prepared);
    TRY(noteChanging());
    TRY(writeFiles(files));
    if (!m_toWrite.empty() || !m_toRemove.empty() || m_before.tree != tree) {
        TRY(writeLaidOut(m_listFile, m_now));
        TRY(writeChanging(changingFile(m_listFile), {}));
    }
    return LayoutOutcome{m_now.files.size(), m_toWrite.size(), m_toRemove.size(), {}};
}

struct InnerLayout
{
    ObjectId commit;
    std::size_t written = 0;
};
Result<InnerLayout> layOutSubmodule(Place& place,
                                    const RepoPath& path,
                                    const std::string& folder,
                                    const std::string& listFile,
                                    const ProgressSink& progress,
                                    const std::stop_token& stop);

/// Lays out a place and, in it, its submodules as they are checked out.
Result<LayoutOutcome> layOutIn(Place& place,
                               const LayoutRequest& request,
                               const std::string& folder,
                               const std::string& listFile,
                               const ProgressSink& progress,
                               const std::stop_token& stop)
{
    Layout layout(place, folder, listFile, progress, stop);
    TRY_ASSIGN(LayoutOutcome outcome, layout.run(request.tree, request.commit));
    for (const RepoPath& path : layout.submodules()) {
        const std::string inside = listFile + "-" + digestOfParts({path});
        if (!request.withSubmodules) {
            if (std::filesystem::remove(inside)) {  // it was asked for before
                TRY_ASSIGN(CopyFiles files, CopyFiles::open(folder));
                files.removeFolder(path);
                TRY(files.makeFolder(path));
            }
            continue;
        }
        TRY_ASSIGN(CopyFiles files, CopyFiles::open(folder));
        TRY(files.makeFolder(path));  // what is written into it goes nowhere else
        TRY_ASSIGN(const auto laidOut,
                   layOutSubmodule(place, path, folder, inside, progress, stop));
        outcome.submodules.push_back(
            {path, laidOut.commit, laidOut.commit == layout.namedBy(path)});
        outcome.written += laidOut.written;
    }
    return outcome;
}

/// A submodule that is not checked out here stays an empty folder, and its commit null.
Result<InnerLayout> layOutSubmodule(Place& place,
                                    const RepoPath& path,
                                    const std::string& folder,
                                    const std::string& listFile,
                                    const ProgressSink& progress,
                                    const std::stop_token& stop)
{
    const auto below = place.openSubmodule(path);
    if (!below) {
        return InnerLayout{};
    }
    TRY_ASSIGN(const Standing standing, (*below)->standing());
    if (standing.tip.isNull()) {
        return InnerLayout{};
    }
    const ObjectId tips[] = {standing.tip};
    TRY_ASSIGN(const auto commits, (*below)->readCommits(tips));
    TRY_ASSIGN(const LayoutOutcome inside,
               layOutIn(**below,
                        {commits.front().tree, standing.tip, true},
                        folder + "/" + path,
                        listFile,
                        progress,
                        stop));
    return InnerLayout{standing.tip, inside.written};
}
}  // namespace

std::string filesFolderOf(const std::string& copy)
{
    return copy + "/files";
}

Result<LayoutOutcome> layOut(Place& place,
                             const LayoutRequest& request,
                             const std::string& copy,
                             const ProgressSink& progress,
                             const std::stop_token& stop)
{
    return layOutIn(place, request, filesFolderOf(copy), copy + "/laid-out", progress, stop);
}
}  // namespace rope
