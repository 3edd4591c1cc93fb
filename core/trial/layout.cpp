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
constexpr std::uint64_t kLargeBytes = 64'000'000;  // the system writes such a file itself
constexpr std::uint64_t kBatchBytes = 16'000'000;
constexpr std::size_t kBatchFiles = 2'000;

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
    Status readTree(const ObjectId& tree);
    void compareWith(const LaidOut& before, CopyFiles& files);
    Status writeFiles(CopyFiles& files);
    Status writePlain(CopyFiles& files, std::span<const std::size_t> plain);
    Result<std::vector<std::size_t>> writeConverted(CopyFiles& files);
    Status letSystemWrite(CopyFiles& files, const std::vector<std::size_t>& places);
    void tell(std::size_t done) const;

    Place& m_place;
    std::string m_folder;
    std::string m_listFile;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    LaidOut m_now;
    std::vector<RepoPath> m_submodules;
    std::vector<std::size_t> m_toWrite;  ///< Places in m_now.
    std::vector<LaidOutFile> m_toRemove;
};

/// All files of the tree, and what decides how they are written.
Status Layout::readTree(const ObjectId& tree)
{
    TRY_ASSIGN(auto all, treeDifference(m_place, ObjectId{}, tree));
    std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.path < b.path; });
    TRY_ASSIGN(m_now.conversions, m_place.conversionStamp());
    m_now.files.reserve(all.size());
    for (FileChange& file : all) {
        if (!m_place.canCheckOut(file.path)) {
            return Error{ErrorCode::unsupported, file.path, "no file may have that name"};
        }
        if (file.path == ".gitattributes" || file.path.ends_with("/.gitattributes")) {
            m_now.conversions = digestOfParts({m_now.conversions, file.path, file.after->id.hex()});
        }
        if (file.after->kind == EntryKind::submodule) {
            m_submodules.push_back(file.path);
        }
        m_now.files.push_back({std::move(file.path), *file.after, {}});
    }
    return ok();
}

ObjectId Layout::namedBy(const RepoPath& submodule) const
{
    const auto found = std::lower_bound(
        m_now.files.begin(), m_now.files.end(), submodule, [](const auto& file, const auto& path) {
            return file.path < path;
        });
    return found->version.id;
}

/// Finds what has to be written and removed; stamps of what stays are taken over.
void Layout::compareWith(const LaidOut& before, CopyFiles& files)
{
    const bool isSameWay = before.conversions == m_now.conversions;
    auto old = before.files.begin();
    for (std::size_t i = 0; i < m_now.files.size(); ++i) {
        LaidOutFile& file = m_now.files[i];
        for (; old != before.files.end() && old->path < file.path; ++old) {
            m_toRemove.push_back({old->path, old->version, {}});
        }
        const bool wasThere = old != before.files.end() && old->path == file.path;
        if (wasThere && isSameWay && old->version == file.version && old->stamp != FileStamp{}
            && files.stampOf(file.path) == old->stamp) {
            file.stamp = old->stamp;
        } else {
            if (wasThere && old->version.kind == EntryKind::submodule
                && file.version.kind != EntryKind::submodule) {
                files.removeFolder(file.path);
            }
            m_toWrite.push_back(i);
        }
        old += wasThere ? 1 : 0;
    }
    for (; old != before.files.end(); ++old) {
        m_toRemove.push_back({old->path, old->version, {}});
    }
}

void Layout::tell(std::size_t done) const
{
    if (m_progress) {
        m_progress({"laying out the scratch copy", done, m_toWrite.size()});
    }
}

/// Files that the system has to write, because it changes their bytes or they are large, and folders of
/// submodules. Gives those that are left.
Result<std::vector<std::size_t>> Layout::writeConverted(CopyFiles& files)
{
    std::vector<RepoPath> paths;
    std::vector<ObjectId> ids;
    std::vector<std::size_t> regular;
    std::vector<std::size_t> left;
    for (const std::size_t i : m_toWrite) {
        const LaidOutFile& file = m_now.files[i];
        if (file.version.kind == EntryKind::submodule) {
            TRY(files.makeFolder(file.path));
        } else if (isRegular(file.version.kind)) {
            paths.push_back(file.path);
            ids.push_back(file.version.id);
            regular.push_back(i);
        } else {
            left.push_back(i);
        }
    }
    TRY_ASSIGN(const auto converted, m_place.convertedPaths(m_folder, paths));
    TRY(m_place.expectBlobs(ids));
    TRY_ASSIGN(const auto sizes, m_place.blobSizes(ids));
    const std::set<RepoPath> changed(converted.begin(), converted.end());
    std::vector<std::size_t> bySystem;
    for (std::size_t k = 0; k < regular.size(); ++k) {
        const bool isLeft = sizes[k] <= kLargeBytes && !changed.contains(paths[k]);
        (isLeft ? left : bySystem).push_back(regular[k]);
    }
    TRY(letSystemWrite(files, bySystem));
    std::sort(left.begin(), left.end());
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

/// Files whose bytes are written as they are: a batch is read while the one before it is written.
Status Layout::writePlain(CopyFiles& files, std::span<const std::size_t> plain)
{
    std::future<Status> writing;
    const auto finish = [&writing]() -> Status {
        return writing.valid() ? writing.get() : ok();
    };
    for (std::size_t from = 0; from < plain.size();) {
        if (m_stop.stop_requested()) {
            TRY(finish());
            return Error{ErrorCode::cancelled, m_folder, {}};
        }
        tell(from);
        std::vector<ObjectId> ids;
        for (std::size_t i = from; i < plain.size() && i < from + kBatchFiles; ++i) {
            ids.push_back(m_now.files[plain[i]].version.id);
        }
        const auto sizes = m_place.blobSizes(ids);
        std::size_t count = 0;
        for (std::uint64_t bytes = 0; sizes && count < ids.size() && bytes < kBatchBytes; ++count) {
            bytes += (*sizes)[count];
        }
        ids.resize(count);
        auto blobs = sizes ? m_place.readBlobs(ids, kAnySize)
                           : Result<std::vector<BlobBytes>>(sizes.error());
        TRY(finish());
        TRY_ASSIGN(auto bytes, std::move(blobs));
        writing = std::async(
            std::launch::async,
            [this, &files, places = plain.subspan(from, count), bytes = std::move(bytes)]()
                -> Status {
                for (std::size_t i = 0; i < places.size(); ++i) {
                    LaidOutFile& file = m_now.files[places[i]];
                    TRY_ASSIGN(file.stamp, files.write(file.path, file.version.kind, *bytes[i]));
                }
                return ok();
            });
        from += count;
    }
    return finish();
}

Status Layout::writeFiles(CopyFiles& files)
{
    TRY_ASSIGN(const auto left, writeConverted(files));
    return writePlain(files, left);
}

Result<LayoutOutcome> Layout::run(const ObjectId& tree, const ObjectId& commit)
{
    TRY(readTree(tree));
    TRY_ASSIGN(CopyFiles files, CopyFiles::open(m_folder));
    const LaidOut before = readLaidOut(m_listFile).value_or(LaidOut{});
    compareWith(before, files);
    // Kept before anything is touched: what is being written counts as unknown until it is done.
    LaidOut meanwhile = m_now;
    meanwhile.files.insert(meanwhile.files.end(), m_toRemove.begin(), m_toRemove.end());
    std::sort(meanwhile.files.begin(), meanwhile.files.end(), [](const auto& a, const auto& b) {
        return a.path < b.path;
    });
    TRY(writeLaidOut(m_listFile, meanwhile));
    for (const LaidOutFile& file : m_toRemove) {
        if (file.version.kind == EntryKind::submodule) {
            files.removeFolder(file.path);
        }
        files.remove(file.path);
    }
    TRY(m_place.prepareCopy(m_folder, tree, commit));
    const Status written = writeFiles(files);
    // What was written is known even where the rest was not.
    if (!written) {
        meanwhile.files = m_now.files;
        TRY(writeLaidOut(m_listFile, meanwhile));
        return written.error();
    }
    TRY(writeLaidOut(m_listFile, m_now));
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
