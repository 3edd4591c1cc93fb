// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/tree_checker.h"

#include "core/base/assert.h"
#include "core/base/digest.h"
#include "core/findings/balance.h"
#include "core/findings/decided_texts.h"
#include "core/findings/doubles.h"
#include "core/findings/gone_files.h"
#include "core/findings/imports.h"
#include "core/findings/includes.h"
#include "core/findings/names.h"
#include "core/findings/nearness.h"
#include "core/findings/signatures.h"
#include "core/findings/structured_text.h"
#include "core/text/text.h"

#include <algorithm>
#include <map>
#include <optional>
#include <set>
#include <tuple>

namespace rope {
namespace {
/// Why a text is not looked at; nothing if it is.
std::optional<NotChecked::Why> whyNot(const SharedText& text)
{
    if (!text) {
        return std::nullopt;
    }
    if (text->size() > kMostCheckedBytes) {
        return NotChecked::Why::tooLarge;
    }
    std::size_t begin = 0;
    while (begin < text->size()) {
        const std::size_t end = std::min(text->find('\n', begin), text->size());
        if (end - begin > kMostLineBytes) {
            return NotChecked::Why::tooLarge;
        }
        begin = end + 1;
    }
    return std::nullopt;
}
}  // namespace

struct TreeChecker::State
{
    struct Known
    {
        std::shared_ptr<const CheckedResult> result;
        VersionView joined;
        std::vector<Finding> findings;
        std::optional<NotChecked::Why> whyNot;
    };

    std::vector<CheckedFile> files;
    std::vector<std::optional<NotChecked::Why>> whyNot;
    std::vector<SideViews> sides;
    std::vector<std::optional<ReplacedNames>> replaced;
    std::vector<GoneName> goneNames;
    std::vector<ChangedSignature> signatures;
    std::optional<GoneFileIndex> goneFiles;
    std::vector<Known> known;
    DefinitionReader definitions;
    bool areSidesRead = false;
    Told told = Told::byDefault;

    void readSides();
    void checkFile(std::size_t index);
    [[nodiscard]] FileView viewOf(std::size_t file) const
    {
        return {files[file], sides[file], *known[file].result, known[file].joined};
    }
    [[nodiscard]] bool isChecked(std::size_t file) const
    {
        return known[file].joined.exists() && !known[file].whyNot;
    }
    void checkTree(std::vector<Finding>& found, const std::stop_token& stop);
};

TreeChecker::TreeChecker(std::vector<CheckedFile> files, Told told)
    : m_state(std::make_unique<State>())
{
    m_state->told = told;
    m_state->files = std::move(files);
}

TreeChecker::~TreeChecker() = default;

const std::vector<CheckedFile>& TreeChecker::files() const
{
    return m_state->files;
}

/// What the sides did, which no decision changes.
void TreeChecker::State::readSides()
{
    sides.reserve(files.size());
    for (const CheckedFile& file : files) {
        std::optional<NotChecked::Why> why;
        for (const SharedText& text : {file.base, file.ours, file.theirs}) {
            why = why ? why : rope::whyNot(text);
        }
        whyNot.push_back(why);
        const CheckedFile nothing{file.path, {}, {}, {}, nullptr, nullptr, nullptr};
        sides.emplace_back(why ? nothing : file, languageOf(file.path));
    }
    std::vector<CheckedSides> all;
    for (std::size_t i = 0; i < files.size(); ++i) {
        all.push_back({&files[i], &sides[i]});
    }
    goneNames = rope::goneNames(all, definitions);
    signatures = changedSignatures(all, definitions);
    goneFiles.emplace(rope::goneFiles(files));
    known.resize(files.size());
    replaced.resize(files.size());
    areSidesRead = true;
}

/// What can be told from one file alone.
void TreeChecker::State::checkFile(std::size_t index)
{
    Known& now = known[index];
    now.findings.clear();
    now.whyNot = whyNot[index] ? whyNot[index] : rope::whyNot(now.result->text);
    now.joined = {};
    if (!now.result->text || now.whyNot) {
        return;
    }
    now.joined = VersionView(now.result->text, languageOf(files[index].path));
    if (now.joined.scan().isTooDeep) {
        now.whyNot = NotChecked::Why::tooDeep;
        return;
    }
    const FileView file = viewOf(index);
    const bool isOneSides = now.joined.text() == sides[index].ours.text()
                            || now.joined.text() == sides[index].theirs.text();
    if (isOneSides || !sides[index].ours.exists() || !sides[index].theirs.exists()) {
        findDroppedChange(file, now.findings);
        return;
    }
    findUnbalanced(file, now.findings);
    findBrokenStructure(file, now.findings);
    findImportsTwice(file, now.findings);
    findRepeatedLines(file, now.findings);
    findAddedTwice(file, now.findings);
    findDefinedTwice(file, definitions, now.findings);
    findImportsGone(file, now.findings);
    if (!replaced[index]) {
        replaced[index] = replacedNames(sides[index]);
    }
    findRewritesLeft(file, *replaced[index], now.findings);
    findNearEdits(file, now.findings);
    if (told == Told::all) {
        findSameFunctions(file, definitions, now.findings);
    }
    findMovedBlocks(file, now.findings);
    findMarkersLeft(file, now.findings);
    findForeignText(file, now.findings);
}

/// What one side did somewhere and the other needs elsewhere.
void TreeChecker::State::checkTree(std::vector<Finding>& found, const std::stop_token& stop)
{
    std::unordered_map<RepoPath, bool> present;
    for (std::size_t i = 0; i < files.size(); ++i) {
        if (known[i].result->text || known[i].result->isOpen) {
            present[files[i].path] = true;
        }
    }
    std::vector<GoneName> gone;
    for (const GoneName& name : goneNames) {
        // A decision may have kept the definition.
        const std::size_t file = name.file;
        if (!known[file].result->isOpen
            && !isDefinedIn(files[file].path,
                            known[file].joined,
                            sides[file].language,
                            name.name,
                            definitions)) {
            gone.push_back(name);
        }
    }
    std::vector<KnownHeader> headers;
    for (std::size_t i = 0; i < files.size(); ++i) {
        if (isChecked(i) && isHeader(files[i].path)) {
            headers.push_back(knownHeader(files[i].path, known[i].joined, definitions));
        }
    }
    for (std::size_t i = 0; i < files.size() && !stop.stop_requested(); ++i) {
        if (isChecked(i)) {
            findIncludesGone(viewOf(i), headers, found);
            findGoneNames(viewOf(i), gone, definitions, found);
            findOldCalls(viewOf(i), signatures, found);
            findGoneFiles(viewOf(i), *goneFiles, present, found);
        }
    }
}

namespace {
void giveKey(Finding& finding, const VersionView& joined)
{
    const std::string_view line = finding.lines.begin < joined.lines().size()
                                      ? trimmed(joined.lines()[finding.lines.begin])
                                      : std::string_view();
    finding.key =
        digestOfParts({nameOf(finding.kind), finding.path, finding.name, finding.other, line});
}

/// Of what is said of one name in one line only the most telling is said: it comes first.
void dropEchoes(std::vector<Finding>& findings)
{
    std::set<std::tuple<RepoPath, LineNumber, std::string>> told;
    std::erase_if(findings, [&](const Finding& finding) {
        const bool isOfName = finding.kind == FindingKind::nameGone
                              || finding.kind == FindingKind::importGone
                              || finding.kind == FindingKind::rewriteLeft;
        return isOfName && !told.emplace(finding.path, finding.lines.begin, finding.name).second;
    });
}
}  // namespace

CheckReport TreeChecker::check(const std::vector<std::shared_ptr<const CheckedResult>>& results,
                               const std::stop_token& stop)
{
    State& state = *m_state;
    ROPE_ASSERT(results.size() == state.files.size(), "one result for each file");
    if (!state.areSidesRead) {
        state.readSides();
    }
    CheckReport report;
    for (std::size_t i = 0; i < results.size() && !stop.stop_requested(); ++i) {
        if (state.known[i].result != results[i]) {
            state.known[i].result = results[i];
            state.checkFile(i);
        }
    }
    if (stop.stop_requested()) {
        return report;
    }
    state.checkTree(report.findings, stop);
    for (std::size_t i = 0; i < results.size(); ++i) {
        const State::Known& known = state.known[i];
        report.findings.insert(report.findings.end(), known.findings.begin(), known.findings.end());
        report.checkedFiles += state.isChecked(i) ? 1U : 0U;
        if (known.whyNot) {
            report.notChecked.push_back({state.files[i].path, *known.whyNot});
        }
    }
    std::stable_sort(
        report.findings.begin(), report.findings.end(), [](const Finding& a, const Finding& b) {
            return std::tie(a.path, a.lines.begin, a.kind)
                   < std::tie(b.path, b.lines.begin, b.kind);
        });
    dropEchoes(report.findings);
    if (state.told == Told::byDefault) {
        std::erase_if(report.findings,
                      [](const Finding& finding) { return !isToldByDefault(finding.kind); });
    }
    std::map<RepoPath, const VersionView*> views;
    for (std::size_t i = 0; i < results.size(); ++i) {
        views[state.files[i].path] = &state.known[i].joined;
    }
    for (Finding& finding : report.findings) {
        giveKey(finding, *views[finding.path]);
    }
    report.hasDefinitions = state.definitions.isAvailable();
    return report;
}
}  // namespace rope
