// SPDX-License-Identifier: GPL-3.0-or-later
// Going back does not trust what git status says: renames, marks such as assume-unchanged, and an
// index that a hook has removed all make it say something else than what stands on the disk. Every
// touched path is looked at by itself, and each must hold what stood there before, the result, the
// target, or what writing one of them leaves when it is cut off: nothing, or a beginning of it.
// Tested by tst_recorder.cpp.
#include "core/system/git/working_tree.h"

#include "core/base/whole_file.h"
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_writers.h"
#include "core/system/tree_difference.h"
#include "core/text/text.h"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <ctime>
#include <fcntl.h>
#include <filesystem>
#include <fstream>
#include <map>
#include <set>
#include <sys/stat.h>
#include <thread>
#include <unistd.h>

namespace rope {
namespace {
namespace fs = std::filesystem;

/// A path as git's line-based commands take it, whatever bytes are in it (git-config "core.quotePath").
std::string quotedPath(const RepoPath& path)
{
    std::string quoted = "\"";
    for (const char c : path) {
        const auto byte = static_cast<unsigned char>(c);
        if (c == '"' || c == '\\') {
            quoted.append(1, '\\').append(1, c);
        } else if (byte < ' ' || byte >= 0x7f) {
            constexpr std::string_view kDigits = "01234567";
            quoted.append(1, '\\')
                .append(1, kDigits[byte >> 6U])
                .append(1, kDigits[(byte >> 3U) & 7U])
                .append(1, kDigits[byte & 7U]);
        } else {
            quoted.append(1, c);
        }
    }
    return quoted + "\"";
}

std::string nulSeparated(const std::vector<RepoPath>& paths)
{
    std::string list;
    for (const RepoPath& path : paths) {
        list.append(path).append(1, '\0');
    }
    return list;
}

std::string parentOf(const RepoPath& path)
{
    const std::size_t slash = path.rfind('/');
    return slash == RepoPath::npos ? RepoPath() : path.substr(0, slash);
}
}  // namespace

WorkingTree::WorkingTree(GitPlace& place)
    : m_place(place)
{
}

std::string WorkingTree::fullPath(const RepoPath& path) const
{
    return m_place.root() + "/" + path;
}

/// Links on the way are not followed: what lies behind one is not in this working tree.
WorkingTree::Present WorkingTree::look(const RepoPath& path) const
{
    struct stat info
    {
    };
    for (std::size_t slash = path.find('/'); slash != RepoPath::npos;
         slash = path.find('/', slash + 1)) {
        if (::lstat(fullPath(path.substr(0, slash)).c_str(), &info) != 0
            || !S_ISDIR(info.st_mode)) {
            return {};
        }
    }
    if (::lstat(fullPath(path).c_str(), &info) != 0) {
        return {};
    }
    Present present;
    present.shape = S_ISREG(info.st_mode)   ? Shape::file
                    : S_ISLNK(info.st_mode) ? Shape::symlink
                    : S_ISDIR(info.st_mode) ? Shape::folder
                                            : Shape::other;
    present.isExecutable = (info.st_mode & S_IXUSR) != 0;
    present.size = static_cast<std::uint64_t>(info.st_size);
    return present;
}

std::string WorkingTree::bytesAt(const RepoPath& path, const Present& present) const
{
    if (present.shape == Shape::symlink) {
        std::error_code error;
        return fs::read_symlink(fullPath(path), error).string();
    }
    std::ifstream file(fullPath(path), std::ios::binary);
    return {std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()};
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
                              look(change.path),
                              {},
                              {}});
        }
    }
    TRY(identify(looked));
    std::vector<RepoPath> inTheWay;
    for (const Touched& path : looked) {
        if (path.ours) {  // git was told not to look at it
            if (path.present.shape != Shape::missing && !holds(path, path.ours)) {
                inTheWay.push_back(path.path);
            }
            continue;
        }
        for (RepoPath folder = parentOf(path.path); !folder.empty(); folder = parentOf(folder)) {
            const Present present = look(folder);
            if (present.shape != Shape::missing && present.shape != Shape::folder
                && !touched.contains(folder)) {
                inTheWay.push_back(folder);
            }
        }
        if (path.present.shape == Shape::missing) {
            continue;
        }
        if (path.present.shape == Shape::folder) {
            const bool isSubmodule = path.result && path.result->kind == EntryKind::submodule;
            TouchedPaths all;
            for (const FileChange& change : changes) {
                all.push_back({change.path, change.before, change.after, {}, {}, {}, {}});
            }
            if (!isSubmodule && hasForeignFiles(path.path, all)) {
                inTheWay.push_back(path.path);
            }
        } else if (holds(path, path.result)) {
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
    TRY(refreshIndex());
    GitRunOptions options;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(const GitOutput read,
               m_place.git().runOnIndex({"read-tree", "-m", "-u", from.hex(), to.hex()}, options));
    return read.exitCode == 0 ? ok() : writingError(m_place.root(), read.err);
}

Result<ObjectId> WorkingTree::stagedTree()
{
    TRY_ASSIGN(const GitOutput written, m_place.git().run({"write-tree"}));
    const auto id = ObjectId::fromHex(withoutLineEnd(written.out));
    if (written.exitCode != 0 || !id) {
        return writingError("write-tree", written.err);
    }
    return *id;
}

Result<WorkingTree::TouchedPaths> WorkingTree::touchedPaths(const RecordingState& state,
                                                            const ObjectId& target)
{
    std::map<RepoPath, Touched> paths;
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
        touched.present = look(path);
        list.push_back(std::move(touched));
    }
    return list;
}

/// Reads what stands there. Bytes that are none of the known ones as they are may still be so once
/// git's own conversions have been taken off them.
Status WorkingTree::identify(TouchedPaths& paths)
{
    std::string names;
    std::vector<Touched*> converted;
    for (Touched& path : paths) {
        if (path.present.shape != Shape::file && path.present.shape != Shape::symlink) {
            continue;
        }
        path.raw = m_place.idOfBlob(bytesAt(path.path, path.present));
        const auto isRaw = [&path](const std::optional<FileVersion>& version) {
            return version && version->id == path.raw;
        };
        if (path.present.shape == Shape::file && !isRaw(path.ours) && !isRaw(path.result)
            && !isRaw(path.target)) {
            names.append(quotedPath(path.path)).append(1, '\n');
            converted.push_back(&path);
        }
    }
    if (converted.empty()) {
        return ok();
    }
    GitRunOptions options;
    options.input = names;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(const GitOutput hashed,
               m_place.git().run({"hash-object", "--stdin-paths"}, options));
    // Where a filter fails, the files after it stay unknown, and unknown is somebody's work.
    const auto lines = splitLines(hashed.out);
    for (std::size_t i = 0; i < std::min(lines.size(), converted.size()); ++i) {
        converted[i]->cleaned =
            ObjectId::fromHex(withoutLineEnd(std::string(lines[i]))).value_or(ObjectId{});
    }
    return ok();
}

bool WorkingTree::holds(const Touched& path, const std::optional<FileVersion>& version) const
{
    if (!version) {
        return path.present.shape == Shape::missing;
    }
    switch (version->kind) {
    case EntryKind::submodule:
        return path.present.shape
               == Shape::folder;  // what is checked out in it is not ours to judge
    case EntryKind::symlink:
        return path.present.shape == Shape::symlink && path.raw == version->id;
    default:
        return path.present.shape == Shape::file
               && (path.raw == version->id
                   || (!path.cleaned.isNull() && path.cleaned == version->id));
    }
}

/// Whether the file is what is left of writing a version: nothing yet, or a beginning.
bool WorkingTree::isCutOff(const Touched& path, const std::optional<FileVersion>& version)
{
    if (path.present.shape != Shape::file || !version || !isRegular(version->kind)) {
        return false;
    }
    if (path.present.size == 0) {
        return true;
    }
    const std::string present = bytesAt(path.path, path.present);
    const ObjectId ids[] = {version->id};
    const auto stored = m_place.readBlobs(ids, kAnySize);
    if (stored && stored->front()->starts_with(present)) {
        return true;
    }
    GitRunOptions options;
    options.purpose = RunFor::acting;
    const auto converted = m_place.git().output(
        {"cat-file", "--filters", "--path=" + path.path, version->id.hex()}, options);
    return converted && converted->starts_with(present);
}

/// Whether a folder holds files that none of the touched paths accounts for.
bool WorkingTree::hasForeignFiles(const RepoPath& folder, const TouchedPaths& paths) const
{
    std::set<RepoPath> known;
    for (const Touched& path : paths) {
        if (path.ours || path.result) {
            known.insert(path.path);
        }
    }
    std::error_code error;
    const std::string root = fullPath(folder);
    for (const auto& entry : fs::recursive_directory_iterator(root, error)) {
        const bool isFolder = entry.is_directory(error) && !entry.is_symlink(error);
        const RepoPath path = folder + entry.path().string().substr(root.size());
        if (!isFolder && !known.contains(path)) {
            return true;
        }
    }
    return static_cast<bool>(error);
}

Status WorkingTree::findStrangers(TouchedPaths& paths)
{
    TRY(identify(paths));
    for (Touched& path : paths) {
        const bool isKnown = path.present.shape == Shape::missing || holds(path, path.ours)
                             || holds(path, path.result) || holds(path, path.target);
        if (isKnown) {
            continue;
        }
        if (path.present.shape == Shape::folder) {
            path.isStranger = hasForeignFiles(path.path, paths);
        } else {
            path.isStranger = !isCutOff(path, path.ours) && !isCutOff(path, path.result)
                              && !isCutOff(path, path.target);
        }
    }
    return ok();
}

Result<std::vector<RepoPath>> WorkingTree::setStrangersAside(const TouchedPaths& paths)
{
    std::vector<RepoPath> kept;
    TRY_ASSIGN(const std::string folder, m_place.privateFolder());
    const std::string aside = folder + "/set-aside/" + std::to_string(std::time(nullptr));
    for (const Touched& path : paths) {
        if (!path.isStranger) {
            continue;
        }
        std::error_code error;
        const fs::path to(aside + "/" + path.path);
        fs::create_directories(to.parent_path(), error);
        fs::rename(fullPath(path.path), to, error);
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
    TRY(findStrangers(paths));
    std::vector<RepoPath> kept;
    const auto stranger = std::find_if(
        paths.begin(), paths.end(), [](const Touched& path) { return path.isStranger; });
    if (stranger != paths.end()) {
        if (strangers == Strangers::refuse) {
            return Error{ErrorCode::stale, stranger->path, {}, Reason::changedSince};
        }
        TRY_ASSIGN(kept, setStrangersAside(paths));
        for (Touched& path : paths) {
            path.present = path.isStranger ? Present{} : path.present;
        }
    }
    TRY(removeLeftovers(paths, state.before));
    TRY(writeIndex(paths, target));
    TRY(writeFiles(paths, state.before));
    TRY(restoreMarks(state.before));
    TRY(refreshIndex());
    return kept;
}

Status WorkingTree::takeOff(const ObjectId& work, const ObjectId& ours)
{
    RecordingState state;
    state.oursTree = work;
    state.resultTree = ours;
    TRY(goBack(state, ours, Strangers::refuse));
    TRY(stage(ours));
    return ok();
}

Status WorkingTree::carry(const ObjectId& committed, const ObjectId& after)
{
    RecordingState state;
    state.oursTree = committed;
    state.resultTree = after;
    TRY(goBack(state, after, Strangers::refuse));
    TRY_ASSIGN(const auto changes, treeDifference(m_place, committed, after));
    std::string request;
    for (const FileChange& change : changes) {
        if (change.before) {
            request += std::string(modeOf(change.before->kind)) + " " + change.before->id.hex();
            request.append(1, '\t').append(change.path).append(1, '\0');
        }
    }
    if (!request.empty()) {
        TRY(updateIndex(request));
        TRY(refreshIndex());
    }
    return ok();
}

Result<std::vector<RepoPath>> WorkingTree::stage(const ObjectId& tree)
{
    std::vector<RepoPath> paths;
    const auto staged = stagedTree();
    if (!staged) {
        return paths;  // something else is half-done in the index, and not by us
    }
    TRY_ASSIGN(const auto others, treeDifference(m_place, tree, *staged));
    const std::string nobody(tree.hex().size(), '0');
    std::string request;
    for (const FileChange& change : others) {
        paths.push_back(change.path);
        request += change.before
                       ? std::string(modeOf(change.before->kind)) + " " + change.before->id.hex()
                       : "0 " + nobody;
        request.append(1, '\t').append(change.path).append(1, '\0');
    }
    if (!request.empty()) {
        TRY(updateIndex(request));
        TRY(refreshIndex());
    }
    return paths;
}

Status WorkingTree::intend(const std::vector<RepoPath>& paths)
{
    std::vector<RepoPath> there;
    for (const RepoPath& path : paths) {
        const Shape shape = look(path).shape;
        if (shape == Shape::file || shape == Shape::symlink) {
            there.push_back(path);
        }
    }
    if (there.empty()) {
        return ok();
    }
    GitRunOptions options;
    options.purpose = RunFor::acting;
    const std::string list = nulSeparated(there);
    options.input = list;
    TRY_ASSIGN(
        const GitOutput taken,
        m_place.git().runOnIndex({"update-index", "--force-remove", "-z", "--stdin"}, options));
    if (taken.exitCode != 0) {
        return writingError("update-index", taken.err);
    }
    options.environment = {{"GIT_LITERAL_PATHSPECS", "1"}};
    TRY_ASSIGN(
        const GitOutput added,
        m_place.git().runOnIndex(
            {"add", "--force", "--intent-to-add", "--pathspec-from-file=-", "--pathspec-file-nul"},
            options));
    return added.exitCode == 0 ? ok() : writingError("add", added.err);
}

void WorkingTree::removeEmptyFolders(const RepoPath& above) const
{
    for (RepoPath folder = parentOf(above); !folder.empty(); folder = parentOf(folder)) {
        if (::rmdir(fullPath(folder).c_str()) != 0) {
            return;
        }
    }
}

namespace {

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

Status WorkingTree::removeLeftovers(const TouchedPaths& paths, const PathsBefore& before)
{
    const std::set<RepoPath> own(before.alreadyThere.begin(), before.alreadyThere.end());
    for (auto path = paths.rbegin(); path != paths.rend(); ++path) {  // deeper ones first
        if (path->target || own.contains(path->path) || path->present.shape == Shape::missing
            || path->present.shape == Shape::folder) {
            continue;
        }
        if (::unlink(fullPath(path->path).c_str()) != 0 && errno != ENOENT) {
            return Error{ErrorCode::io, path->path, std::strerror(errno)};
        }
        removeEmptyFolders(path->path);
    }
    for (const Touched& path : paths) {
        // A folder of a submodule that the target has not: gone if nothing is in it.
        const bool isLeftFolder = path.present.shape == Shape::folder
                                  && (!path.target || path.target->kind != EntryKind::submodule);
        if (isLeftFolder) {
            removeEmptyTree(fullPath(path.path));
        }
    }
    return ok();
}

/// The entries of the index as git lists them, "mode id stage" by path. Empty: there is no index.
Result<std::map<RepoPath, std::string>> WorkingTree::indexEntries() const
{
    std::map<RepoPath, std::string> entries;
    TRY_ASSIGN(const std::string listed, m_place.git().output({"ls-files", "-s", "-z"}));
    for (std::size_t from = 0; from < listed.size();) {
        const std::size_t end = std::min(listed.find('\0', from), listed.size());
        const std::size_t tab = listed.find('\t', from);
        entries[listed.substr(tab + 1, end - tab - 1)] = listed.substr(from, tab - from);
        from = end + 1;
    }
    return entries;
}

/// Sets the touched entries that differ and leaves all others with their marks as they are.
Status WorkingTree::writeIndex(const TouchedPaths& paths, const ObjectId& target)
{
    GitRunOptions options;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(auto entries, indexEntries());
    if (entries.empty() && target != m_place.idOfTree({})) {  // gone: with all entries
        TRY_ASSIGN(const GitOutput read,
                   m_place.git().runOnIndex({"read-tree", target.hex()}, options));
        if (read.exitCode != 0) {
            return writingError("read-tree", read.err);
        }
        return ok();
    }
    const std::string removal = "0 " + std::string(target.hex().size(), '0');
    std::string gone;
    std::string there;
    for (const Touched& path : paths) {
        const auto present = entries.find(path.path);
        const std::string wanted =
            path.target ? std::string(modeOf(path.target->kind)) + " " + path.target->id.hex()
                        : std::string();
        if (present == entries.end() ? wanted.empty() : present->second == wanted + " 0") {
            continue;
        }
        std::string& lines = path.target ? there : gone;
        lines.append(path.target ? wanted : removal).append("\t").append(path.path).push_back('\0');
    }
    const std::string request = gone + there;  // what is gone makes room for what is there
    if (request.empty()) {
        return ok();
    }
    return updateIndex(request);
}

Status WorkingTree::updateIndex(const std::string& request)
{
    GitRunOptions options;
    options.input = request;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(
        const GitOutput updated,
        m_place.git().runOnIndex(
            {"update-index", "--add", "--remove", "--replace", "-z", "--index-info"}, options));
    return updated.exitCode == 0 ? ok() : writingError("update-index", updated.err);
}

/// Lets git look at the files again. It only says which ones differ, which is no failure.
Status WorkingTree::refreshIndex()
{
    GitRunOptions options;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(const GitOutput refreshed,
               m_place.git().runOnIndex({"update-index", "-q", "--refresh"}, options));
    (void)refreshed;
    return ok();
}

Status WorkingTree::writeFiles(const TouchedPaths& paths, const PathsBefore& before)
{
    // What a sparse checkout leaves out stays out.
    const std::set<RepoPath> skipped(before.skipped.begin(), before.skipped.end());
    std::vector<RepoPath> wanted;
    for (const Touched& path : paths) {
        const bool isLeftOut = path.present.shape == Shape::missing && skipped.contains(path.path);
        if (!path.target || isLeftOut) {
            continue;
        }
        if (path.target->kind == EntryKind::submodule) {
            std::error_code error;
            fs::create_directories(fullPath(path.path), error);
            continue;
        }
        const bool isExecutable = path.target->kind == EntryKind::executable;
        const bool hasMode =
            path.present.shape != Shape::file || path.present.isExecutable == isExecutable;
        if (!holds(path, path.target) || !hasMode) {
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

Status WorkingTree::restoreMarks(const PathsBefore& before)
{
    const std::pair<const char*, const std::vector<RepoPath>*> marks[] = {
        {"--skip-worktree", &before.skipped}, {"--assume-unchanged", &before.assumed}};
    for (const auto& [mark, paths] : marks) {
        if (paths->empty()) {
            continue;
        }
        const std::string list = nulSeparated(*paths);
        GitRunOptions options;
        options.input = list;
        TRY_ASSIGN(const GitOutput marked,
                   m_place.git().runOnIndex({"update-index", mark, "-z", "--stdin"}, options));
        if (marked.exitCode != 0) {
            return writingError("update-index", marked.err);
        }
    }
    return ok();
}

std::string WorkingTree::keptIndex() const
{
    return m_place.gitFolder() + "/rope-splice/begun-index";
}

Status WorkingTree::keepIndex()
{
    TRY(m_place.privateFolder());
    TRY_ASSIGN(const std::string bytes, readWholeFile(m_place.gitFolder() + "/index"));
    return writeWholeFile(keptIndex(), bytes);
}

/// As git itself writes an index: a new file with the lock's name, which then takes the index's place
/// (git's api-lockfile).
Status WorkingTree::putIndexBack()
{
    constexpr int kMostTries = 20;
    constexpr auto kPause = std::chrono::milliseconds(50);
    TRY_ASSIGN(const std::string bytes, readWholeFile(keptIndex()));
    const std::string lock = m_place.gitFolder() + "/index.lock";
    int file = -1;
    for (int i = 0; i < kMostTries && file < 0; ++i) {
        file = ::open(lock.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
        if (file < 0 && errno != EEXIST) {
            return Error{ErrorCode::io, lock, std::strerror(errno)};
        }
        if (file < 0) {
            std::this_thread::sleep_for(kPause);
        }
    }
    if (file < 0) {
        return Error{ErrorCode::busy, lock, {}};
    }
    const bool isWritten =
        ::write(file, bytes.data(), bytes.size()) == static_cast<ssize_t>(bytes.size())
        && ::fsync(file) == 0;
    const int problem = errno;
    ::close(file);
    if (!isWritten || ::rename(lock.c_str(), (m_place.gitFolder() + "/index").c_str()) != 0) {
        ::unlink(lock.c_str());
        return Error{ErrorCode::io, lock, std::strerror(isWritten ? errno : problem)};
    }
    return refreshIndex();
}

void WorkingTree::forgetKeptIndex()
{
    ::unlink(keptIndex().c_str());
}

Status WorkingTree::settle(const std::vector<RepoPath>& paths, const ObjectId& tree)
{
    TRY_ASSIGN(const auto held, treeDifference(m_place, {}, tree));
    std::map<RepoPath, FileVersion> versions;
    for (const FileChange& file : held) {
        versions[file.path] = *file.after;
    }
    const std::string nobody(tree.hex().size(), '0');
    std::string request;
    for (const RepoPath& path : paths) {
        const auto version = versions.find(path);
        request += version == versions.end()
                       ? "0 " + nobody
                       : std::string(modeOf(version->second.kind)) + " " + version->second.id.hex();
        request.append(1, '\t').append(path).append(1, '\0');
    }
    return request.empty() ? ok() : updateIndex(request);
}

void WorkingTree::removeLeftLock(std::int64_t since)
{
    const std::string lock = m_place.gitFolder() + "/index.lock";
    struct stat info
    {
    };
    if (::lstat(lock.c_str(), &info) != 0 || info.st_mtime + 1 < since) {
        return;
    }
    std::error_code error;
    const std::string root = fs::canonical(m_place.root(), error).string();
    const std::string gitFolder = fs::canonical(m_place.gitFolder(), error).string();
    if (!error && !gitWritesIn(root, gitFolder)) {
        ::unlink(lock.c_str());
    }
}
}  // namespace rope
