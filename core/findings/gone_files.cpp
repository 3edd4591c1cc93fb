// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/gone_files.h"

#include "core/findings/imports.h"
#include "core/text/text.h"
#include "core/text/words.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
constexpr std::size_t kLeastName = 5;  // letters of a file's name: shorter ones mean something else

std::string_view lastPart(std::string_view path)
{
    return path.substr(path.rfind('/') + 1);
}

/// Names that stand in many folders, so that they say little without one.
bool isCommonName(std::string_view name)
{
    constexpr std::array<std::string_view, 12> kCommon{"README.md",
                                                       "index.js",
                                                       "index.ts",
                                                       "index.html",
                                                       "__init__.py",
                                                       "__main__.py",
                                                       "mod.rs",
                                                       "lib.rs",
                                                       "main.rs",
                                                       "CMakeLists.txt",
                                                       "package.json",
                                                       "Makefile.am"};
    return std::find(kCommon.begin(), kCommon.end(), name) != kCommon.end();
}

bool isPathByte(char c)
{
    return c == '/' || c == '.' || c == '-' || isName(std::string_view(&c, 1));
}

/// How a text names a file at a place: how many bytes before the name belong to its path; nothing if
/// what stands there is not that file.
std::optional<std::size_t>
folderLength(std::string_view text, std::size_t at, std::string_view name, const RepoPath& path)
{
    const std::size_t end = at + name.size();
    if (text.substr(at, name.size()) != name
        || (end < text.size() && (isName(text.substr(end, 1)) || text[end] == '-'))
        || (end + 1 < text.size() && text[end] == '.' && isName(text.substr(end + 1, 1)))) {
        return std::nullopt;
    }
    std::size_t begin = at;
    while (begin > 0 && at - begin < 400 && isPathByte(text[begin - 1])) {
        --begin;
    }
    std::string_view folder = text.substr(begin, at - begin);
    if (!folder.empty() && folder.back() != '/') {
        return std::nullopt;
    }
    std::string_view rest = folder;
    while (rest.starts_with("../") || rest.starts_with("./") || rest.starts_with('/')) {
        rest.remove_prefix(rest.find('/') + 1);
    }
    const std::string wanted = std::string(rest) + std::string(name);
    const bool isEnd =
        path.size() >= wanted.size()
        && path.compare(path.size() - wanted.size(), wanted.size(), wanted) == 0
        && (path.size() == wanted.size() || path[path.size() - wanted.size() - 1] == '/');
    if (!isEnd || (rest.empty() && isCommonName(name))) {
        return std::nullopt;
    }
    return rest.size();
}

/// "locks.passage" of "locks/passage.py"; empty for any other.
std::string moduleOf(const RepoPath& path)
{
    if (!path.ends_with(".py")) {
        return {};
    }
    std::string module = path.substr(0, path.size() - 3);
    std::replace(module.begin(), module.end(), '/', '.');
    return module;
}

/// Where a line imports a module: the module's place in the line.
std::optional<std::size_t> importOf(std::string_view line, const std::string& module)
{
    if (module.empty() || !isImport(trimmed(line), Language::python)) {
        return std::nullopt;
    }
    const std::size_t at = line.find(module);
    const std::size_t end = at + module.size();
    const bool isWhole = at != std::string_view::npos && at > 0 && line[at - 1] == ' '
                         && (end == line.size() || !isName(line.substr(end, 1)));
    return isWhole && (end == line.size() || line[end] != '.') ? std::optional(at) : std::nullopt;
}

/// Of "a/b/c.h" the last parts, as many as the place names.
std::string_view lastParts(std::string_view path, std::size_t slashes)
{
    std::size_t at = path.size();
    for (std::size_t i = 0; i <= slashes; ++i) {
        at = at == 0 ? std::string_view::npos : path.rfind('/', at - 1);
        if (at == std::string_view::npos) {
            return path;
        }
    }
    return path.substr(at + 1);
}
}  // namespace

std::vector<GoneFile> goneFiles(std::span<const CheckedFile> files)
{
    std::vector<GoneFile> gone;
    for (const FindingSide side : kBothSides) {
        std::unordered_map<std::string_view, const CheckedFile*> added;
        for (const CheckedFile& file : files) {
            const SharedText& text = side == FindingSide::ours ? file.ours : file.theirs;
            if (file.basePath.empty() && text) {
                added[*text] = &file;
            }
        }
        for (const CheckedFile& file : files) {
            const RepoPath& own = side == FindingSide::ours ? file.oursPath : file.theirsPath;
            if (file.basePath.empty() || own == file.basePath) {
                continue;
            }
            GoneFile one{file.basePath, own, side};
            if (own.empty() && file.base && !file.base->empty()) {
                if (const auto moved = added.find(*file.base); moved != added.end()) {
                    one.newPath = moved->second->path;
                }
            }
            gone.push_back(std::move(one));
        }
    }
    return gone;
}

GoneFileIndex::GoneFileIndex(std::vector<GoneFile> files)
    : m_files(std::move(files))
{
    for (std::size_t i = 0; i < m_files.size(); ++i) {
        const std::string_view name = lastPart(m_files[i].path);
        if (name.size() < kLeastName || name.find('.') == std::string_view::npos) {
            continue;
        }
        for (const std::string_view word : splitWords(name)) {
            if (isName(word)) {
                m_byWord[word].push_back(i);
                break;
            }
        }
    }
}

std::span<const std::size_t> GoneFileIndex::beginningWith(std::string_view word) const
{
    const auto found = m_byWord.find(word);
    return found == m_byWord.end() ? std::span<const std::size_t>() : found->second;
}

namespace {
/// A module that is imported from its package: "from locks import notice". Its new name, where it is in the
/// same package still.
std::optional<Mend> importedFrom(const FileView& file, const CodeWord& word, const GoneFile& gone)
{
    const std::string module = moduleOf(gone.path);
    const std::size_t dot = module.rfind('.');
    if (file.sides.language != Language::python || dot == std::string::npos
        || word.text != std::string_view(module).substr(dot + 1)) {
        return std::nullopt;
    }
    const std::string beginning = "from " + module.substr(0, dot) + " import ";
    const std::string_view line = file.line(word.line);
    const std::size_t column = word.position - file.positionOf(word.line);
    const std::size_t indent = std::min(line.find_first_not_of(" \t"), line.size());
    if (!line.substr(indent).starts_with(beginning) || column < indent + beginning.size()
        || line.substr(0, column).ends_with(" as ")) {
        return std::nullopt;
    }
    const std::string now = moduleOf(gone.newPath);
    const bool isInSamePackage = now.size() > dot
                                 && now.compare(0, dot + 1, module, 0, dot + 1) == 0
                                 && now.find('.', dot + 1) == std::string::npos;
    return Mend{word.position, word.text.size(), isInSamePackage ? now.substr(dot + 1) : ""};
}

/// Where a text names a gone file, and what stands there once it has its new name.
std::optional<Mend> namedAt(const FileView& file, const CodeWord& word, const GoneFile& gone)
{
    const std::string_view text = file.joined.text();
    const std::string_view name = lastPart(gone.path);
    const std::size_t before = name.find(word.text);
    if (word.position < before) {
        return std::nullopt;
    }
    const std::size_t at = word.position - before;
    if (const auto folder = folderLength(text, at, name, gone.path)) {
        const std::string_view named = text.substr(at - *folder, *folder + name.size());
        const auto slashes = std::count(named.begin(), named.end(), '/');
        return Mend{at - *folder,
                    named.size(),
                    std::string(lastParts(gone.newPath, static_cast<std::size_t>(slashes)))};
    }
    if (auto mend = importedFrom(file, word, gone)) {
        return mend;
    }
    const std::string module = moduleOf(gone.path);
    const auto column = file.sides.language == Language::python
                            ? importOf(file.line(word.line), module)
                            : std::nullopt;
    return column ? std::optional(
               Mend{file.positionOf(word.line) + *column, module.size(), moduleOf(gone.newPath)})
                  : std::nullopt;
}
}  // namespace

void findGoneFiles(const FileView& file,
                   const GoneFileIndex& gone,
                   const std::unordered_map<RepoPath, bool>& present,
                   std::vector<Finding>& found)
{
    if (gone.isEmpty()) {
        return;
    }
    std::vector<bool> isTold(gone.files().size(), false);
    for (const CodeWord& word : file.joined.scan().words) {
        for (const std::size_t i : gone.beginningWith(word.text)) {
            const GoneFile& one = gone.files()[i];
            const FindingSide user = otherSide(one.side);
            if (isTold[i] || present.contains(one.path) || !file.mayBeOf(word.line, user)
                || !file.sides.isChangedBy(user)) {
                continue;
            }
            const auto named = namedAt(file, word, one);
            if (!named) {
                continue;
            }
            Finding finding =
                file.findingAt(FindingKind::fileGone, {word.line, word.line + 1}, one.side);
            finding.name = one.path;
            finding.other = one.newPath;
            if (!named->text.empty()) {
                finding.mend = named;
            }
            found.push_back(std::move(finding));
            isTold[i] = true;
        }
    }
}
}  // namespace rope
