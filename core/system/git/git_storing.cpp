// SPDX-License-Identifier: GPL-3.0-or-later
// Contents and folders of a result, stored as objects.
// Tested by tst_git_place.cpp.
#include "core/system/edited_tree.h"
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"
#include "core/system/git/scratch_folder.h"
#include "core/text/text.h"

#include <QFile>
#include <QTemporaryDir>

#include <algorithm>
#include <fcntl.h>
#include <sys/stat.h>
#include <unordered_set>

namespace rope {
namespace {
/// Has one git process store objects; it prints the id of each. Errors: those of writing, `corrupt` where
/// these are not the expected ones.
Status store(const GitProcess& git,
             const std::vector<std::string>& arguments,
             const std::string& input,
             std::span<const ObjectId> expected)
{
    GitRunOptions options;
    options.input = input;
    TRY_ASSIGN(const GitOutput written, git.run(arguments, options));
    if (written.exitCode != 0) {
        return writingError(arguments.front(), written.err);
    }
    const auto lines = splitLines(written.out);
    const bool isExpected = std::equal(
        lines.begin(),
        lines.end(),
        expected.begin(),
        expected.end(),
        [](auto line, const auto& id) { return withoutNewline(std::string(line)) == id.hex(); });
    return isExpected
               ? ok()
               : Status(Error{ErrorCode::corrupt, arguments.front(), written.out.substr(0, 500)});
}

/// A folder as `mktree -z` reads it.
void appendFolder(std::string& request, std::span<const TreeEntry> entries)
{
    for (const TreeEntry& entry : entries) {
        const std::string_view type = entry.kind == EntryKind::folder      ? "tree"
                                      : entry.kind == EntryKind::submodule ? "commit"
                                                                           : "blob";
        request.append(modeOf(entry.kind)).append(" ").append(type).append(" ");
        request.append(entry.id.hex()).append("\t").append(entry.name).append(1, '\0');
    }
    request.append(1, '\0');
}
}  // namespace

/// gitrepository-layout(5): objects/xx/rest. Like git, which would do the same instead of writing the
/// object again, this makes it young, so that no `git gc` takes it for old. What lies in a pack, in
/// another repository or belongs to another user is left to git.
bool GitPlace::isStoredByItself(const ObjectId& id) const
{
    const std::string name = id.hex();
    const std::string path =
        m_commonFolder + "/objects/" + name.substr(0, 2) + "/" + name.substr(2);
    struct stat there
    {
    };
    // A link may lead to nothing, and an empty file is what a power failure leaves.
    return ::lstat(path.c_str(), &there) == 0 && S_ISREG(there.st_mode) && there.st_size > 0
           && ::utimensat(AT_FDCWD, path.c_str(), nullptr, AT_SYMLINK_NOFOLLOW) == 0;
}

/// Lays the contents in files beside each other and has one git process store them all.
Status GitPlace::storeBlobs(std::span<const ObjectId> ids, std::span<const BlobBytes> contents)
{
    std::vector<ObjectId> missing;
    std::unordered_set<ObjectId> known;
    std::string paths;
    std::optional<QTemporaryDir> scratch;
    for (std::size_t i = 0; i < contents.size(); ++i) {
        if (!known.insert(ids[i]).second || isStoredByItself(ids[i])) {
            continue;
        }
        if (!scratch) {
            TRY_ASSIGN(const std::string folder, privateFolder());
            scratch.emplace(scratchTemplate(folder, "blobs"));
        }
        QFile file(scratch->filePath(QString::number(i)));
        const auto size = static_cast<qint64>(contents[i]->size());
        if (!file.open(QIODevice::WriteOnly) || file.write(contents[i]->data(), size) != size
            || !file.flush()) {
            return Error{
                ErrorCode::io, file.fileName().toStdString(), file.errorString().toStdString()};
        }
        paths += file.fileName().toStdString() + "\n";
        missing.push_back(ids[i]);
    }
    if (missing.empty()) {
        return ok();
    }
    return store(m_git, {"hash-object", "-w", "--no-filters", "--stdin-paths"}, paths, missing);
}

/// One git process stores all folders; those in others come first.
Status GitPlace::storeFolders(std::span<const KeptFolder> folders)
{
    std::vector<ObjectId> missing;
    std::unordered_set<ObjectId> known;
    std::string request;
    for (const auto& [id, entries] : folders) {
        if (known.insert(id).second && !isStoredByItself(id)) {
            missing.push_back(id);
            appendFolder(request, entries);
        }
    }
    if (missing.empty()) {
        return ok();
    }
    return store(m_git, {"mktree", "-z", "--missing", "--batch"}, request, missing);
}

Result<ObjectId> GitPlace::storeTree(const ResultSnapshot& result)
{
    std::vector<TreeEdit> edits;
    std::vector<ObjectId> ids;
    std::vector<BlobBytes> contents;
    edits.reserve(result.edits.size());
    for (const ResultEdit& edit : result.edits) {
        edits.push_back({edit.path, edit.version});
        if (edit.bytes) {
            ids.push_back(idOfBlob(*edit.bytes));
            contents.push_back(edit.bytes);
            edits.back().version->id = ids.back();
        }
    }
    TRY(storeBlobs(ids, contents));
    std::vector<KeptFolder> folders;
    TRY_ASSIGN(const ObjectId tree,
               editedTree(*this, result.from, edits, [&](std::vector<TreeEntry> entries) {
                   const ObjectId id = idOfTree(entries);
                   folders.push_back({id, std::move(entries)});
                   return Result<ObjectId>(id);
               }));
    TRY(storeFolders(folders));
    return tree;
}
}  // namespace rope
