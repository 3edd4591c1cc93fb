// SPDX-License-Identifier: GPL-3.0-or-later
// Going back does not trust what git status says: renames, marks such as assume-unchanged, and an
// index that a hook has removed all make it say something else than what stands on the disk. Every
// touched path is looked at by itself, and each must hold what stood there before, the result, the
// target, or what writing one of them leaves when it is cut off: nothing, or a beginning of it.
// Tested by tst_recorder.cpp.
#include "core/system/git/working_tree.h"

#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/tree_difference.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <ctime>
#include <filesystem>
#include <map>
#include <set>
#include <unistd.h>

namespace rope {
namespace {
namespace fs = std::filesystem;

/// Removes the folder and those below it, as far as they are empty.
void removeEmptyTree(const std::string& top)
{
    std::vector<std::string> folders = {top};
    std::error_code error;
    for (const auto& entry : fs::recursive_directory_iterator(top, error)) {
        if (entry.is_directory(error) && !entry.is_symlink(error)) {
            folders.push_back(entry.path().string());
        }
    }
    for (auto folder = folders.rbegin(); folder != folders.rend(); ++folder) {
        (void)::rmdir(folder->c_str());  // refused while anything is in it: that is meant
    }
}
}  // namespace

WorkingTree::WorkingTree(GitPlace& place)
    : m_place(place)
    , m_disk(place)
    , m_index(place)
{
}

Result<PathsBefore> WorkingTree::lookBefore(const std::vector<FileChange>& changes)
{
    PathsBefore before;
    std::map<RepoPath, const FileChange*> touched;
    for (const FileChange& change : changes) {
        touched[change.path] = &change;
    }
    TRY_ASSIGN(const std::string listed, m_place.git().output({"ls-files", "-v", "-z"}));
    for (std::size_t from = 0; from < listed.size();) {
        const std::size_t end = std::min(listed.find('\0', from), listed.size());
        const RepoPath path = listed.substr(from + 2, end - from - 2);
        const char tag = listed[from];
        from = end + 1;
        if (touched.contains(path)) {
            if (tag == 'S' || tag == 's') {
                before.skipped.push_back(path);
            }
            if (tag >= 'a' && tag <= 'z') {
                before.assumed.push_back(path);
            }
        }
    }
    std::set<RepoPath> unseen(before.skipped.begin(), before.skipped.end());
    unseen.insert(before.assumed.begin(), before.assumed.end());
    TouchedPaths looked;
    for (const FileChange& change : changes) {
        const bool isNew = !change.before;
        if (isNew || unseen.contains(change.path)) {
            looked.push_back({change.path,
                              change.before,
                              change.after,
                              change.before,
                              m_disk.look(change.path),
                              {},
                              {}});
        }
    }
    TRY(m_disk.identify(looked));
    std::vector<RepoPath> inTheWay;
    for (const TouchedPath& path : looked) {
        if (path.ours) {  // git was told not to look at it
            if (path.present.shape != OnDisk::Shape::missing
                && !PathsOnDisk::holds(path, path.ours)) {
                inTheWay.push_back(path.path);
            }
            continue;
        }
        for (RepoPath folder = parentOf(path.path); !folder.empty(); folder = parentOf(folder)) {
            const OnDisk present = m_disk.look(folder);
            if (present.shape != OnDisk::Shape::missing && present.shape != OnDisk::Shape::folder
                && !touched.contains(folder)) {
                inTheWay.push_back(folder);
            }
        }
        if (path.present.shape == OnDisk::Shape::missing) {
            continue;
        }
        if (path.present.shape == OnDisk::Shape::folder) {
            const bool isSubmodule = path.result && path.result->kind == EntryKind::submodule;
            TouchedPaths all;
            for (const FileChange& change : changes) {
                all.push_back({change.path, change.before, change.after, {}, {}, {}, {}});
            }
            if (!isSubmodule && m_disk.hasForeignFiles(path.path, all)) {
                inTheWay.push_back(path.path);
            }
        } else if (PathsOnDisk::holds(path, path.result)) {
            before.alreadyThere.push_back(path.path);
        } else {
            inTheWay.push_back(path.path);
        }
    }
    if (!inTheWay.empty()) {
        std::sort(inTheWay.begin(), inTheWay.end());
        inTheWay.erase(std::unique(inTheWay.begin(), inTheWay.end()), inTheWay.end());
        return Error{ErrorCode::stale, listOf(inTheWay), {}, Reason::inTheWay, inTheWay};
    }
    return before;
}

Status WorkingTree::bring(const ObjectId& from, const ObjectId& to)
{
    TRY(m_index.refresh());
    GitRunOptions options;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(const GitOutput read,
               m_place.git().runOnIndex({"read-tree", "-m", "-u", from.hex(), to.hex()}, options));
    return read.exitCode == 0 ? ok() : writingError(m_place.root(), read.err);
}

Result<TouchedPaths> WorkingTree::touchedPaths(const RecordingState& state, const ObjectId& target)
{
    std::map<RepoPath, TouchedPath> paths;
    TRY_ASSIGN(const auto changes, treeDifference(m_place, state.oursTree, state.resultTree));
    for (const FileChange& change : changes) {
        paths[change.path] = {change.path, change.before, change.after, change.before, {}, {}, {}};
    }
    TRY_ASSIGN(const auto moved, treeDifference(m_place, state.oursTree, target));
    for (const FileChange& change : moved) {
        const auto [at, isNew] = paths.try_emplace(change.path);
        if (isNew) {
            at->second = {change.path, change.before, change.before, {}, {}, {}, {}};
        }
        at->second.target = change.after;
    }
    TouchedPaths list;
    for (auto& [path, touched] : paths) {
        touched.present = m_disk.look(path);
        list.push_back(std::move(touched));
    }
    return list;
}

Result<std::vector<RepoPath>> WorkingTree::setStrangersAside(const TouchedPaths& paths)
{
    std::vector<RepoPath> kept;
    TRY_ASSIGN(const std::string folder, m_place.privateFolder());
    const std::string aside = folder + "/set-aside/" + std::to_string(std::time(nullptr));
    for (const TouchedPath& path : paths) {
        if (!path.isStranger) {
            continue;
        }
        std::error_code error;
        const fs::path to(aside + "/" + path.path);
        fs::create_directories(to.parent_path(), error);
        fs::rename(m_disk.fullPath(path.path), to, error);
        if (error) {
            return Error{ErrorCode::io, path.path, error.message()};
        }
        kept.push_back(path.path);
    }
    return kept;
}

Result<std::vector<RepoPath>>
WorkingTree::goBack(const RecordingState& state, const ObjectId& target, Strangers strangers)
{
    TRY_ASSIGN(auto paths, touchedPaths(state, target));
    TRY(m_disk.findStrangers(paths));
    std::vector<RepoPath> kept;
    const auto stranger = std::find_if(
        paths.begin(), paths.end(), [](const TouchedPath& path) { return path.isStranger; });
    if (stranger != paths.end()) {
        if (strangers == Strangers::refuse) {
            return Error{ErrorCode::stale, stranger->path, {}, Reason::changedSince};
        }
        TRY_ASSIGN(kept, setStrangersAside(paths));
        for (TouchedPath& path : paths) {
            path.present = path.isStranger ? OnDisk{} : path.present;
        }
    }
    TRY(removeLeftovers(paths, state.before));
    TRY(m_index.write(paths, target));
    TRY(writeFiles(paths, state.before));
    TRY(m_index.restoreMarks(state.before));
    TRY(m_index.refresh());
    return kept;
}

Status WorkingTree::takeOff(const ObjectId& work, const ObjectId& ours)
{
    RecordingState state;
    state.oursTree = work;
    state.resultTree = ours;
    TRY(goBack(state, ours, Strangers::refuse));
    TRY(m_index.stage(ours));
    return ok();
}

Status WorkingTree::carry(const ObjectId& committed, const ObjectId& after)
{
    RecordingState state;
    state.oursTree = committed;
    state.resultTree = after;
    TRY(goBack(state, after, Strangers::refuse));
    TRY_ASSIGN(const auto changes, treeDifference(m_place, committed, after));
    return m_index.unstage(changes);
}

Status WorkingTree::intend(const std::vector<RepoPath>& paths)
{
    std::vector<RepoPath> there;
    for (const RepoPath& path : paths) {
        const OnDisk::Shape shape = m_disk.look(path).shape;
        if (shape == OnDisk::Shape::file || shape == OnDisk::Shape::symlink) {
            there.push_back(path);
        }
    }
    return m_index.intend(there);
}

void WorkingTree::removeEmptyFolders(const RepoPath& above) const
{
    for (RepoPath folder = parentOf(above); !folder.empty(); folder = parentOf(folder)) {
        if (::rmdir(m_disk.fullPath(folder).c_str()) != 0) {
            return;
        }
    }
}

Status WorkingTree::removeLeftovers(const TouchedPaths& paths, const PathsBefore& before)
{
    const std::set<RepoPath> own(before.alreadyThere.begin(), before.alreadyThere.end());
    for (auto path = paths.rbegin(); path != paths.rend(); ++path) {  // deeper ones first
        if (path->target || own.contains(path->path)
            || path->present.shape == OnDisk::Shape::missing
            || path->present.shape == OnDisk::Shape::folder) {
            continue;
        }
        if (::unlink(m_disk.fullPath(path->path).c_str()) != 0 && errno != ENOENT) {
            return Error{ErrorCode::io, path->path, std::strerror(errno)};
        }
        removeEmptyFolders(path->path);
    }
    for (const TouchedPath& path : paths) {
        // A folder of a submodule that the target has not: gone if nothing is in it.
        const bool isLeftFolder = path.present.shape == OnDisk::Shape::folder
                                  && (!path.target || path.target->kind != EntryKind::submodule);
        if (isLeftFolder) {
            removeEmptyTree(m_disk.fullPath(path.path));
        }
    }
    return ok();
}

Status WorkingTree::writeFiles(const TouchedPaths& paths, const PathsBefore& before)
{
    // What a sparse checkout leaves out stays out.
    const std::set<RepoPath> skipped(before.skipped.begin(), before.skipped.end());
    std::vector<RepoPath> wanted;
    for (const TouchedPath& path : paths) {
        const bool isLeftOut =
            path.present.shape == OnDisk::Shape::missing && skipped.contains(path.path);
        if (!path.target || isLeftOut) {
            continue;
        }
        if (path.target->kind == EntryKind::submodule) {
            std::error_code error;
            fs::create_directories(m_disk.fullPath(path.path), error);
            continue;
        }
        const bool isExecutable = path.target->kind == EntryKind::executable;
        const bool hasMode =
            path.present.shape != OnDisk::Shape::file || path.present.isExecutable == isExecutable;
        if (!PathsOnDisk::holds(path, path.target) || !hasMode) {
            wanted.push_back(path.path);
        }
    }
    if (wanted.empty()) {
        return ok();
    }
    const std::string list = nulSeparated(wanted);
    GitRunOptions options;
    options.input = list;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(
        const GitOutput written,
        m_place.git().runOnIndex({"checkout-index", "-f", "-u", "-q", "-z", "--stdin"}, options));
    return written.exitCode == 0 ? ok() : writingError("checkout-index", written.err);
}
}  // namespace rope
