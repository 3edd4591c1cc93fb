// SPDX-License-Identifier: GPL-3.0-or-later
// Notes are written through fast-import, which keeps git's own layout of them and takes any number at once.
// Tested by tst_git_notes.cpp.
#include "core/system/git/git_notes.h"

#include "core/system/git/git_errors.h"
#include "core/system/git/git_place.h"
#include "core/system/git/remote_answers.h"
#include "core/text/text.h"

#include <algorithm>
#include <map>
#include <set>

namespace rope {
namespace {
/// Somebody else may send notes at the same time: then it is read what they sent, and tried again.
constexpr int kMostTries = 3;
/// Of notes on many commits git parts the names by their first digits, into folders.
constexpr std::size_t kMostFolders = 3;

/// A name as it may stand in a commit's header.
std::string plainName(std::string name)
{
    std::erase_if(name, [](char c) { return c == '<' || c == '>' || c == '\n' || c == '\0'; });
    return name;
}

std::string dataOf(const std::string& bytes)
{
    return "data " + std::to_string(bytes.size()) + "\n" + bytes + "\n";
}
}  // namespace

std::string notesRefOf(const std::string& remote)
{
    return "refs/notes/rope-splice-of/" + remote + "/decisions";
}

std::string notesRefspec(const std::string& remote)
{
    // With a pattern nothing is amiss where the remote has none.
    return "+refs/notes/rope-splice/*:refs/notes/rope-splice-of/" + remote + "/*";
}

std::string refOfWritten(const std::string& name)
{
    return "refs/rope-splice/" + name;
}

Result<ObjectId> tipOfRef(const GitProcess& git, const std::string& ref)
{
    TRY_ASSIGN(const GitOutput asked, git.run({"rev-parse", "--verify", "--quiet", ref}));
    return ObjectId::fromHex(withoutNewline(asked.out)).value_or(ObjectId{});
}

Result<ObjectId> writeNotes(const GitProcess& git,
                            const ObjectId& tip,
                            const std::vector<CommitNote>& notes,
                            const Signature& writer,
                            const std::string& name)
{
    const std::string ref = refOfWritten(name);
    std::string stream = "commit " + ref + "\ncommitter " + plainName(writer.name) + " <"
                         + plainName(writer.email) + "> now\n" + dataOf("Decisions of a splice\n");
    if (!tip.isNull()) {
        stream += "from " + tip.hex() + "\n";
    }
    for (const CommitNote& note : notes) {
        stream += "N inline " + note.commit.hex() + "\n" + dataOf(note.text);
    }
    stream += "done\n";
    GitRunOptions options;
    options.input = stream;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(
        const GitOutput written,
        git.run({"fast-import", "--quiet", "--done", "--force", "--date-format=now"}, options));
    if (written.exitCode != 0) {
        return writingError("fast-import", written.err);
    }
    return tipOfRef(git, ref);
}

namespace {
/// The note on a commit below a reference; nothing: there is none.
Result<std::optional<std::string>>
noteBelow(ObjectReader& reader, const std::string& ref, const ObjectId& commit)
{
    std::string path = commit.hex();
    for (std::size_t folders = 0; folders < kMostFolders; ++folders) {
        const auto note = reader.lookUp(std::string(ref).append(":").append(path));
        if (note) {
            TRY_ASSIGN(auto blobs, reader.contents({&note->id, 1}));
            return std::optional(std::move(blobs.front().bytes));
        }
        if (note.error().code != ErrorCode::notFound) {
            return note.error();
        }
        path.insert(2 + 3 * folders, 1, '/');
    }
    return std::optional<std::string>{};
}
}  // namespace

Result<std::vector<std::vector<FoundNote>>> GitPlace::notesOn(std::span<const ObjectId> commits)
{
    std::vector<std::pair<std::string, std::string>> places{{kOwnNotes, std::string()}};
    TRY_ASSIGN(const auto names, remotes());
    for (const std::string& remote : names) {
        places.emplace_back(notesRefOf(remote), remote);
    }
    std::vector<std::vector<FoundNote>> found(commits.size());
    for (const auto& [ref, from] : places) {
        if (const auto tip = m_reader.lookUp(ref); !tip) {
            if (tip.error().code != ErrorCode::notFound) {
                return tip.error();
            }
            continue;
        }
        for (std::size_t i = 0; i < commits.size(); ++i) {
            TRY_ASSIGN(auto note, noteBelow(m_reader, ref, commits[i]));
            if (note) {
                found[i].push_back({std::move(*note), from});
            }
        }
    }
    return found;
}

namespace {
/// The blob of each note below a reference, by commit.
Result<std::map<ObjectId, ObjectId>> notesBelow(const GitProcess& git, const ObjectId& tip)
{
    std::map<ObjectId, ObjectId> notes;
    if (tip.isNull()) {
        return notes;
    }
    TRY_ASSIGN(const std::string listed, git.output({"ls-tree", "-r", tip.hex()}));
    for (const std::string_view line : splitLines(listed)) {
        // "100644 blob <id>\t<path>"
        const std::size_t tab = line.find('\t');
        const std::size_t space = tab == std::string_view::npos ? tab : line.rfind(' ', tab);
        if (space == std::string_view::npos) {
            continue;
        }
        std::string path = withoutNewline(std::string(line.substr(tab + 1)));
        std::erase(path, '/');
        const auto commit = ObjectId::fromHex(path);
        const auto blob = ObjectId::fromHex(std::string(line.substr(space + 1, tab - space - 1)));
        if (commit && blob) {
            notes[*commit] = *blob;
        }
    }
    return notes;
}

/// Those of these commits that a remote has, as far as is known here.
Result<std::vector<ObjectId>>
commitsOn(const GitProcess& git, const std::string& remote, const std::vector<ObjectId>& commits)
{
    std::string request;
    for (const ObjectId& commit : commits) {
        request += commit.hex() + "\n";
    }
    GitRunOptions options;
    options.input = request;
    TRY_ASSIGN(
        const std::string listed,
        git.output({"rev-list", "--ignore-missing", "--stdin", "--not", "--remotes=" + remote},
                   options));
    std::set<std::string> lacking;
    for (const std::string_view line : splitLines(listed)) {
        lacking.insert(withoutNewline(std::string(line)));
    }
    std::vector<ObjectId> there;
    std::copy_if(commits.begin(),
                 commits.end(),
                 std::back_inserter(there),
                 [&](const auto& commit) { return !lacking.contains(commit.hex()); });
    return there;
}
}  // namespace

Result<std::size_t> GitPlace::sendNotes(const std::string& remote, const std::stop_token& stop)
{
    TRY_ASSIGN(const ObjectId ownTip, tipOfRef(m_git, kOwnNotes));
    TRY_ASSIGN(const auto own, notesBelow(m_git, ownTip));
    if (own.empty()) {
        return std::size_t{0};
    }
    const std::string known = notesRefOf(remote);
    for (int tries = 1;; ++tries) {
        TRY_ASSIGN(const GitOutput fetched,
                   m_git.run({"fetch",
                              "--no-tags",
                              "--no-write-fetch-head",
                              "--no-auto-maintenance",
                              "--",
                              remote,
                              notesRefspec(remote)},
                             askingOptions({}, stop)));
        if (fetched.exitCode != 0) {
            return remoteError(remote, fetched.err);
        }
        TRY_ASSIGN(const ObjectId tip, tipOfRef(m_git, known));
        TRY_ASSIGN(const auto theirs, notesBelow(m_git, tip));
        std::vector<ObjectId> lacking;
        for (const auto& [commit, blob] : own) {
            if (!theirs.contains(commit)) {
                lacking.push_back(commit);
            }
        }
        TRY_ASSIGN(const auto there, commitsOn(m_git, remote, lacking));
        if (there.empty()) {
            return std::size_t{0};
        }
        std::vector<CommitNote> notes;
        for (const ObjectId& commit : there) {
            TRY_ASSIGN(auto blobs, m_reader.contents({&own.at(commit), 1}));
            notes.push_back({commit, std::move(blobs.front().bytes)});
        }
        TRY_ASSIGN(const auto writer, identity());
        TRY_ASSIGN(const ObjectId joined,
                   writeNotes(m_git,
                              tip,
                              notes,
                              writer.value_or(Signature{"rope-splice", "rope-splice", 0, {}}),
                              "notes-to-send"));
        // The person's own hook has agreed to the commits; it is not asked about what is said of them.
        TRY_ASSIGN(const GitOutput pushed,
                   m_git.run({"push",
                              "--porcelain",
                              "--no-verify",
                              "--",
                              remote,
                              joined.hex() + ":" + kOwnNotes},
                             askingOptions({}, stop)));
        TRY(keepAlive("notes-to-send", {}));
        if (pushed.exitCode == 0) {
            (void)m_git.run({"update-ref", known, joined.hex()});  // the next fetch tells it, too
            return there.size();
        }
        Error error = pushError(remote, pushed.out, pushed.err);
        if (error.reason != Reason::remoteMovedOn || tries == kMostTries) {
            return error;
        }
    }
}
}  // namespace rope
