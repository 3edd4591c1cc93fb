// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_parsers.cpp.
#include "core/system/git/git_parsers.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <set>

namespace rope {
namespace {
template <typename Number>
std::optional<Number> parseNumber(std::string_view text)
{
    Number number{};
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    if (error != std::errc{} || end != text.data() + text.size()) {
        return std::nullopt;
    }
    return number;
}

/// Takes what stands before the next `separator`, and that with it; nothing if there is none.
std::optional<std::string_view> takeUntil(std::string_view& text, char separator)
{
    const std::size_t end = text.find(separator);
    if (end == std::string_view::npos) {
        return std::nullopt;
    }
    const std::string_view taken = text.substr(0, end);
    text.remove_prefix(end + 1);
    return taken;
}

bool isAllowedName(std::string_view name)
{
    if (name.empty() || name.find('/') != std::string_view::npos) {
        return false;
    }
    if (name.front() != '.') {
        return true;
    }
    if (name == "." || name == "..") {
        return false;
    }
    static constexpr std::string_view kGit = ".git";
    return name.size() != kGit.size()
           || !std::equal(name.begin(), name.end(), kGit.begin(), [](char a, char b) {
                  return (a >= 'A' && a <= 'Z' ? a - 'A' + 'a' : a) == b;
              });
}

std::optional<EntryKind> kindOfMode(std::string_view mode)
{
    if (mode == "40000" || mode == "040000") {
        return EntryKind::folder;
    }
    if (mode == "120000") {
        return EntryKind::symlink;
    }
    if (mode == "160000") {
        return EntryKind::submodule;
    }
    if (mode.size() == 6 && mode.starts_with("100")) {
        const int ownerBits = mode[3] - '0';
        return (ownerBits & 1) != 0 ? EntryKind::executable : EntryKind::file;
    }
    return std::nullopt;
}

/// Takes the mode at the beginning of a tree's entry, and the blank behind it.
std::optional<EntryKind> takeMode(std::string_view& bytes)
{
    constexpr std::string_view kUsual = "100644 ";  // of nearly all entries
    if (bytes.starts_with(kUsual)) {
        bytes.remove_prefix(kUsual.size());
        return EntryKind::file;
    }
    const auto mode = takeUntil(bytes, ' ');
    return mode ? kindOfMode(*mode) : std::nullopt;
}

std::string_view shortName(std::string_view ref)
{
    for (const std::string_view prefix : {"refs/heads/", "refs/remotes/", "refs/"}) {
        if (ref.starts_with(prefix)) {
            return ref.substr(prefix.size());
        }
    }
    return ref;
}
}  // namespace

std::optional<ObjectHeader> parseObjectHeader(std::string_view line)
{
    const auto id = takeUntil(line, ' ');
    const auto type = id ? takeUntil(line, ' ') : std::nullopt;
    const auto size = type ? parseNumber<std::uint64_t>(line) : std::nullopt;
    const auto parsed = size ? ObjectId::fromHex(*id) : std::nullopt;
    if (!parsed) {
        return std::nullopt;
    }
    return ObjectHeader{*parsed, std::string(*type), *size};
}

std::optional<std::vector<TreeEntry>> parseTree(std::string_view bytes, std::size_t idBytes)
{
    constexpr std::size_t kUsualModeAndName = 20;
    std::vector<TreeEntry> entries;
    entries.reserve(bytes.size() / (idBytes + kUsualModeAndName) + 1);
    while (!bytes.empty()) {
        const auto kind = takeMode(bytes);
        const auto name = kind ? takeUntil(bytes, '\0') : std::nullopt;
        if (!name || bytes.size() < idBytes || !isAllowedName(*name)) {
            return std::nullopt;
        }
        const auto id = ObjectId::fromRaw(bytes.substr(0, idBytes));
        if (!id) {
            return std::nullopt;
        }
        bytes.remove_prefix(idBytes);
        TreeEntry& entry = entries.emplace_back();
        entry.name.assign(*name);
        entry.kind = *kind;
        entry.id = *id;
        if (entries.size() > 1 && entryOrder(entries[entries.size() - 2], entries.back()) >= 0) {
            return std::nullopt;
        }
    }
    return entries;
}

std::vector<RepoPath> parseIntended(std::string_view bytes)
{
    // "1 .A <sub> <mH> <mI> <mW> <hH> <hI> <path>"
    constexpr int kFieldsBefore = 8;
    std::vector<RepoPath> paths;
    while (!bytes.empty()) {
        const std::string_view entry = bytes.substr(0, bytes.find('\0'));
        bytes.remove_prefix(std::min(entry.size() + 1, bytes.size()));
        if (!entry.starts_with("1 .A ")) {
            continue;
        }
        std::size_t at = 0;
        for (int field = 0; field < kFieldsBefore && at != std::string_view::npos; ++field) {
            at = entry.find(' ', at == 0 ? 0 : at + 1);
        }
        if (at != std::string_view::npos) {
            paths.emplace_back(entry.substr(at + 1));
        }
    }
    return paths;
}

std::optional<bool> boolOf(std::string_view value)
{
    std::string text(value);
    std::transform(text.begin(), text.end(), text.begin(), [](char c) {
        return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    });
    if (text == "true" || text == "yes" || text == "on" || text == "1") {
        return true;
    }
    if (text.empty() || text == "false" || text == "no" || text == "off" || text == "0") {
        return false;
    }
    return std::nullopt;
}

std::optional<Signature> parseSignature(std::string_view text)
{
    const std::size_t open = text.find('<');
    const std::size_t close = text.find('>', open == std::string_view::npos ? 0 : open);
    if (open == std::string_view::npos || close == std::string_view::npos) {
        return std::nullopt;
    }
    Signature signature;
    signature.name = std::string(text.substr(0, open));
    while (signature.name.ends_with(' ')) {
        signature.name.pop_back();
    }
    signature.email = std::string(text.substr(open + 1, close - open - 1));
    std::string_view rest = text.substr(close + 1);
    while (rest.starts_with(' ')) {
        rest.remove_prefix(1);
    }
    const std::size_t blank = rest.find(' ');
    signature.time = parseNumber<std::int64_t>(rest.substr(0, blank)).value_or(0);
    if (blank != std::string_view::npos) {
        rest.remove_prefix(blank + 1);
        signature.zone = std::string(rest.substr(0, rest.find('\n')));
    }
    return signature;
}

std::optional<Commit> parseCommit(const ObjectId& id, std::string_view bytes)
{
    Commit commit;
    commit.id = id;
    bool hasTree = false;
    for (;;) {
        const auto line = takeUntil(bytes, '\n');
        if (!line) {
            return std::nullopt;
        }
        if (line->empty()) {
            break;
        }
        std::string_view value = *line;
        const auto key = takeUntil(value, ' ');
        if (!key || key->empty()) {
            continue;  // the further lines of a signature begin with a blank
        }
        if (*key == "tree" || *key == "parent") {
            const auto object = ObjectId::fromHex(value);
            if (!object) {
                return std::nullopt;
            }
            if (*key == "tree") {
                commit.tree = *object;
                hasTree = true;
            } else {
                commit.parents.push_back(*object);
            }
        } else if (*key == "author" || *key == "committer") {
            auto signature = parseSignature(value);
            (*key == "author" ? commit.author : commit.committer) =
                signature ? *signature : Signature{};
        } else if (*key == "encoding") {
            commit.encoding = std::string(value);
        }
    }
    commit.message = std::string(bytes);
    return hasTree ? std::optional(std::move(commit)) : std::nullopt;
}

std::vector<LineMove> parseReflog(std::string_view bytes)
{
    std::vector<LineMove> moves;
    while (!bytes.empty()) {
        const std::string_view line = bytes.substr(0, bytes.find('\n'));
        bytes.remove_prefix(std::min(line.size() + 1, bytes.size()));
        const std::size_t open = line.rfind("@{");
        const auto id = ObjectId::fromHex(line.substr(0, line.find(' ')));
        if (id && open != std::string_view::npos && line.ends_with('}')) {
            const auto at =
                parseNumber<std::int64_t>(line.substr(open + 2, line.size() - open - 3));
            if (at) {
                moves.push_back({*id, *at});
            }
        }
    }
    std::reverse(moves.begin(), moves.end());
    return moves;
}

std::optional<CommitLink> parseCommitLink(std::string_view line)
{
    CommitLink link;
    const auto time = takeUntil(line, ' ');
    const auto seconds = time ? parseNumber<std::int64_t>(*time) : std::nullopt;
    if (!seconds) {
        return std::nullopt;
    }
    link.time = *seconds;
    for (bool isFirst = true; !line.empty(); isFirst = false) {
        const std::size_t end = std::min(line.find(' '), line.size());
        const auto id = ObjectId::fromHex(line.substr(0, end));
        if (!id) {
            return std::nullopt;
        }
        if (isFirst) {
            link.id = *id;
        } else {
            link.parents.push_back(*id);
        }
        line.remove_prefix(std::min(end + 1, line.size()));
    }
    return link.id.isNull() ? std::nullopt : std::optional(std::move(link));
}

std::optional<std::vector<Branch>> parseBranches(std::string_view bytes)
{
    std::vector<Branch> branches;
    std::set<std::string_view> first;
    while (!bytes.empty()) {
        std::array<std::string_view, 5> fields;
        for (std::string_view& field : fields) {
            const auto taken = takeUntil(bytes, '\0');
            if (!taken) {
                return std::nullopt;
            }
            field = *taken;
        }
        if (bytes.starts_with('\n')) {
            bytes.remove_prefix(1);
        }
        const auto [ref, object, upstream, symref, type] = fields;
        const auto tip = ObjectId::fromHex(object);
        if (!tip) {
            return std::nullopt;
        }
        if (!symref.empty() && ref.starts_with("refs/remotes/") && ref.ends_with("/HEAD")) {
            first.insert(symref);
        }
        if (!symref.empty() || type != "commit") {
            continue;  // origin/HEAD repeats another branch
        }
        branches.push_back({std::string(ref),
                            std::string(shortName(ref)),
                            *tip,
                            std::string(upstream),
                            ref.starts_with("refs/remotes/")});
    }
    for (Branch& branch : branches) {
        branch.isFirst = first.contains(branch.ref);
    }
    return branches;
}

std::optional<std::vector<UncommittedFile>> parseStatus(std::string_view bytes)
{
    std::vector<UncommittedFile> files;
    while (!bytes.empty()) {
        auto record = takeUntil(bytes, '\0');
        if (!record || record->empty()) {
            return std::nullopt;
        }
        const char kind = record->front();
        if (kind == '#') {
            continue;  // a remark: the branch, what is stashed
        }
        if (kind == '?') {
            files.push_back(
                {std::string(record->substr(std::min<std::size_t>(2, record->size()))), true});
            continue;
        }
        // "1 XY sub mH mI mW hH hI path", "2 … Rscore path NUL origPath", "u XY sub m1 m2 m3 mW h1 h2 h3 path"
        const int fieldsBeforePath = kind == '1' ? 8 : kind == '2' ? 9 : kind == 'u' ? 10 : 0;
        if (fieldsBeforePath == 0) {
            return std::nullopt;
        }
        const bool isStaged = kind != '1' || record->size() < 3 || (*record)[2] != '.';
        for (int i = 0; i < fieldsBeforePath; ++i) {
            if (!takeUntil(*record, ' ')) {
                return std::nullopt;
            }
        }
        files.push_back({std::string(*record), false, isStaged});
        if (kind == '2' && !takeUntil(bytes, '\0')) {
            return std::nullopt;
        }
    }
    return files;
}

std::string_view modeOf(EntryKind kind)
{
    switch (kind) {
    case EntryKind::file:
        return "100644";
    case EntryKind::executable:
        return "100755";
    case EntryKind::symlink:
        return "120000";
    case EntryKind::folder:
        return "040000";
    case EntryKind::submodule:
        return "160000";
    }
    return "";
}

std::optional<std::vector<AttributeValue>> parseAttributes(std::string_view bytes)
{
    std::vector<AttributeValue> values;
    while (!bytes.empty()) {
        const auto path = takeUntil(bytes, '\0');
        const auto attribute = path ? takeUntil(bytes, '\0') : std::nullopt;
        const auto value = attribute ? takeUntil(bytes, '\0') : std::nullopt;
        if (!value) {
            return std::nullopt;
        }
        values.push_back({std::string(*path), std::string(*attribute), std::string(*value)});
    }
    return values;
}

namespace {
/// What NTFS takes for ".git": with blanks, dots or a stream's name behind it, or its short name.
bool isGitFolder(std::string_view part)
{
    constexpr std::string_view kNames[] = {".git", "git~1"};
    const auto isSame = [](char a, char b) {
        return (a >= 'A' && a <= 'Z' ? a - 'A' + 'a' : a) == b;
    };
    for (const std::string_view name : kNames) {
        if (part.size() < name.size()
            || !std::equal(name.begin(), name.end(), part.begin(), [&](char b, char a) {
                   return isSame(a, b);
               })) {
            continue;
        }
        const std::string_view rest = part.substr(name.size());
        const std::size_t end = rest.find_first_not_of(" .");
        if (end == std::string_view::npos || rest[end] == ':' || rest[end] == '\\') {
            return true;
        }
    }
    return false;
}
}  // namespace

bool isCheckedOut(std::string_view path)
{
    constexpr std::size_t kLongestName = 255;
    constexpr std::size_t kLongestPath = 4'095;
    if (path.size() > kLongestPath) {
        return false;
    }
    while (!path.empty()) {
        const std::size_t end = std::min(path.find('/'), path.size());
        const std::string_view part = path.substr(0, end);
        if (part.size() > kLongestName || isGitFolder(part)) {
            return false;
        }
        path.remove_prefix(std::min(end + 1, path.size()));
    }
    return true;
}
}  // namespace rope
