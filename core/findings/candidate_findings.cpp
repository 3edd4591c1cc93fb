// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidate_findings.cpp.
#include "core/findings/candidate_findings.h"

#include "core/findings/balance.h"
#include "core/findings/doubles.h"
#include "core/findings/imports.h"
#include "core/findings/names.h"
#include "core/findings/structured_text.h"

#include <algorithm>
#include <set>

namespace rope {
namespace {
/// Each text means reading the whole file: of larger ones the Check station tells.
constexpr std::size_t kMostFileBytes = 500'000;

/// The file with one text in a region's place, as it is checked.
CheckedResult resultWith(const TextJoin& join, std::size_t region, const std::string& text)
{
    CheckedResult result;
    std::string whole;
    for (std::size_t i = 0; i < join.chunks().size(); ++i) {
        const Chunk& chunk = join.chunks()[i];
        std::vector<LineOrigin> origins;
        if (chunk.kind != ChunkKind::region) {
            whole += join.joinedText(chunk);
            origins = originsOfChunk(chunk);
        } else {
            const RegionTexts texts = join.chunkTexts(i);
            const bool isIt = join.chunkOfRegion(region) == i;
            const std::string_view own = isIt ? std::string_view(text) : texts.ours;
            whole += own;
            origins = originsOfLines(own, texts, LineOrigin::hand);
        }
        result.origins.insert(result.origins.end(), origins.begin(), origins.end());
    }
    result.text = std::make_shared<const std::string>(std::move(whole));
    return result;
}

std::vector<Finding> findIn(const CheckedFile& file,
                            const SideViews& sides,
                            const CheckedResult& result,
                            const ReplacedNames& replaced,
                            DefinitionReader& definitions)
{
    std::vector<Finding> found;
    const VersionView joined(result.text, sides.language);
    if (joined.scan().isTooDeep) {
        return found;
    }
    const FileView view{file, sides, result, joined};
    findUnbalanced(view, found);
    findBrokenStructure(view, found);
    findImportsTwice(view, found);
    findDefinedTwice(view, definitions, found);
    findImportsGone(view, found);
    findRewritesLeft(view, replaced, found);
    return found;
}

/// What makes two findings the same in different texts.
using FindingName = std::pair<FindingKind, std::string>;

std::set<FindingName> namesOf(const std::vector<Finding>& findings)
{
    std::set<FindingName> names;
    for (const Finding& finding : findings) {
        names.emplace(finding.kind, finding.name);
    }
    return names;
}

std::optional<Consequence> asConsequence(const Finding& finding)
{
    const bool isOurs = finding.side == FindingSide::ours;
    switch (finding.kind) {
    case FindingKind::definedTwice:
        return Consequence{ConsequenceKind::definesTwice, 0, finding.name};
    case FindingKind::importedTwice:
        return Consequence{ConsequenceKind::importsTwice, 0, finding.name};
    case FindingKind::keyTwice:
        return Consequence{ConsequenceKind::keyTwice, 0, finding.name};
    case FindingKind::doesNotParse:
    case FindingKind::tagsUnbalanced:
        return Consequence{ConsequenceKind::unreadable, 0, finding.other};
    case FindingKind::indentBroken:
        return Consequence{ConsequenceKind::indentBroken, 0, {}};
    case FindingKind::importGone:
    case FindingKind::rewriteLeft:
        return Consequence{isOurs ? ConsequenceKind::usesNameOursRemoved
                                  : ConsequenceKind::usesNameTheirsRemoved,
                           0,
                           finding.name};
    default:
        return std::nullopt;  // brackets and quotes are told of already
    }
}
}  // namespace

std::vector<std::vector<Consequence>> consequencesInFile(const RepoPath& path,
                                                         const TextJoin& join,
                                                         std::size_t region,
                                                         const std::vector<std::string>& texts,
                                                         DefinitionReader& definitions,
                                                         const std::stop_token& stop)
{
    std::vector<std::vector<Consequence>> consequences(texts.size());
    if (std::max(join.ours().bytes().size(), join.theirs().bytes().size()) > kMostFileBytes) {
        return consequences;
    }
    const auto shared = [&join](const Text& text) {
        return SharedText(std::make_shared<const TextJoin>(join), &text.bytes());
    };
    const CheckedFile file{
        path, path, path, path, shared(join.base()), shared(join.ours()), shared(join.theirs())};
    const SideViews sides(file, languageOf(path));
    const ReplacedNames replaced = replacedNames(sides);
    const auto find = [&](const std::string& text) {
        return findIn(file, sides, resultWith(join, region, text), replaced, definitions);
    };
    const RegionTexts own = join.regionTexts(region);
    const auto withOurs = namesOf(find(std::string(own.ours)));
    const auto withTheirs = namesOf(find(std::string(own.theirs)));
    for (std::size_t i = 0; i < texts.size() && !stop.stop_requested(); ++i) {
        for (const Finding& finding : find(texts[i])) {
            const FindingName name(finding.kind, finding.name);
            const auto consequence = asConsequence(finding);
            if (consequence && !(withOurs.contains(name) && withTheirs.contains(name))
                && std::find(consequences[i].begin(), consequences[i].end(), *consequence)
                       == consequences[i].end()) {
                consequences[i].push_back(*consequence);
            }
        }
    }
    return consequences;
}
}  // namespace rope
