// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_answers.cpp and tst_splice.cpp.
#include "core/join/result_edits.h"

#include "core/snapshot/repo_paths.h"

#include <algorithm>

namespace rope {
namespace {
std::vector<FileChange>::const_iterator firstFrom(const std::vector<FileChange>& changes,
                                                  std::string_view path)
{
    return std::lower_bound(
        changes.begin(),
        changes.end(),
        path,
        [](const FileChange& change, std::string_view wanted) { return change.path < wanted; });
}
}  // namespace

ResultEdits::ResultEdits(const TreeJoin& join)
    : m_join(&join)
    , m_asked(join.folded.begin(), join.folded.end())
{
    for (const FileOutcome& file : join.files) {
        m_asked.insert({file.path, file.basePath, file.oursPath, file.theirsPath});
    }
}

Result<ResultEdits> ResultEdits::of(const TreeJoin& join)
{
    ResultEdits edits(join);
    for (const TreeEdit& edit : settledEdits(join)) {
        if (!edit.version) {
            edits.leave(edit.path);
        } else {
            TRY(edits.put(edit.path, *edit.version, nullptr));
        }
    }
    return edits;
}

void ResultEdits::leave(const RepoPath& path)
{
    m_edits.try_emplace(path, ResultEdit{path, {}, nullptr});
}

void ResultEdits::replace(const RepoPath& path,
                          const std::optional<FileVersion>& version,
                          BlobBytes bytes)
{
    m_edits[path] = {path, version, std::move(bytes)};
    m_replaced.insert(path);
}

Status ResultEdits::put(const RepoPath& path, const FileVersion& version, BlobBytes bytes)
{
    const auto aside = m_join->asides.find(path);
    const FileVersion* const standing =
        aside == m_join->asides.end() ? nullptr : oursStandingAt(path);
    ResultEdit& edit = m_edits[path];
    const bool isOther = edit.version && (*edit.version != version || edit.bytes || bytes);
    if (!isOther && (standing == nullptr || (*standing == version && !bytes))) {
        edit = {path, version, std::move(bytes)};
        return ok();
    }
    if (standing != nullptr) {
        edit = {path, *standing, nullptr};
    }
    if (aside == m_join->asides.end()) {
        return Error{ErrorCode::invalidInput, path, {}, Reason::pathTwice};
    }
    return put(aside->second, version, std::move(bytes));
}

const FileVersion* ResultEdits::oursStandingAt(const RepoPath& path) const
{
    const auto change = firstFrom(m_join->oursChanges, path);
    const bool isThere = change != m_join->oursChanges.end() && change->path == path
                         && change->after && !m_edits.contains(path);
    return isThere ? &*change->after : nullptr;
}

bool ResultEdits::holdsFilesBelow(const RepoPath& folder) const
{
    const RepoPath within = folder + "/";
    for (auto edit = m_edits.lower_bound(within);
         edit != m_edits.end() && edit->first.starts_with(within);
         ++edit) {
        if (edit->second.version) {
            return true;
        }
    }
    for (auto change = firstFrom(m_join->oursChanges, within);
         change != m_join->oursChanges.end() && change->path.starts_with(within);
         ++change) {
        if (change->after && !m_edits.contains(change->path)) {
            return true;
        }
    }
    return false;
}

Status ResultEdits::moveAside(const RepoPath& path, const RepoPath& aside)
{
    const FileVersion* const standing = oursStandingAt(path);
    const auto edit = m_edits.find(path);
    const ResultEdit file = standing != nullptr     ? ResultEdit{path, *standing, nullptr}
                            : edit != m_edits.end() ? edit->second
                                                    : ResultEdit{};
    if (!file.version || !holdsFilesBelow(path)) {
        return ok();
    }
    m_edits[path] = {path, {}, nullptr};
    return put(aside, *file.version, file.bytes);
}

Status ResultEdits::makeRoom()
{
    for (const auto& [path, aside] : m_join->asides) {
        TRY(moveAside(path, aside));
    }
    return ok();
}

bool ResultEdits::stands(const RepoPath& path, const FileVersion& version) const
{
    const auto isThere = [&](const RepoPath& at) {
        const auto edit = m_edits.find(at);
        return edit != m_edits.end() && edit->second.version == version && !edit->second.bytes;
    };
    const auto aside = m_join->asides.find(path);
    return isThere(path) || m_replaced.contains(path)
           || (aside != m_join->asides.end() && isThere(aside->second));
}

/// Whatever ours changed stays as it is, unless an outcome is about it or theirs renamed it.
Status ResultEdits::checkOurs() const
{
    for (const auto& [path, edit] : m_edits) {
        const auto change = firstFrom(m_join->oursChanges, path);
        const bool isOurs = change != m_join->oursChanges.end() && change->path == path
                            && change->after && !m_asked.contains(path);
        if (isOurs && !stands(path, *change->after)) {
            return Error{ErrorCode::invalidInput, path, {}, Reason::pathLost};
        }
    }
    return ok();
}

/// Whatever theirs changed is taken over, unless an outcome is about it.
Status ResultEdits::checkTheirs() const
{
    for (const FileChange& change : m_join->theirsChanges) {
        if (change.after && !m_asked.contains(change.path) && !stands(change.path, *change.after)) {
            return Error{ErrorCode::invalidInput, change.path, {}, Reason::pathLost};
        }
    }
    return ok();
}

Result<std::vector<ResultEdit>> ResultEdits::finish()
{
    TRY(makeRoom());
    TRY(checkOurs());
    TRY(checkTheirs());
    std::vector<ResultEdit> list;
    list.reserve(m_edits.size());
    for (auto& [path, edit] : m_edits) {
        list.push_back(std::move(edit));
    }
    m_edits.clear();
    return list;
}
}  // namespace rope
