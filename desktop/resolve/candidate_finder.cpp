// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/candidate_finder.h"

#include "core/findings/candidate_findings.h"

#include <algorithm>

namespace rope {
namespace {
/// Of base, ours and theirs together: up to here it takes a few milliseconds.
constexpr std::size_t kMostBytesAtOnce = 4'000;
}  // namespace

CandidateFinder::CandidateFinder(QObject* parent)
    : QObject(parent)
    , m_runner(1, this)
    , m_deeper(1, this)
{
}

void CandidateFinder::clear()
{
    m_runner.supersede();
    m_deeper.supersede();
    m_searched.reset();
    m_found.clear();
    m_contexts.clear();
}

const std::vector<Candidate>* CandidateFinder::candidatesOf(const SpliceFile& file, SlotPlace place)
{
    const Key key{place.file, place.slot};
    if (const auto known = m_found.find(key); known != m_found.end()) {
        return &known->second;
    }
    if (m_searched == key) {
        return nullptr;
    }
    m_runner.supersede();
    m_searched.reset();
    Search search{file.outcome->text,
                  file.text->regionOf(place.slot),
                  file.text->earlierText(place.slot),
                  file.text->takenOver(),
                  m_contexts[place.file]};
    const RegionTexts texts = search.join->regionTexts(search.region);
    const std::size_t fileBytes =
        search.join->ours().bytes().size() + search.join->theirs().bytes().size();
    if (texts.base.size() + texts.ours.size() + texts.theirs.size() <= kMostBytesAtOnce
        && (search.context || fileBytes <= 100 * kMostBytesAtOnce)) {
        Found found = find(std::move(search), {});
        m_contexts[place.file] = std::move(found.context);
        m_found[key] = std::move(found.candidates);
        lookDeeper(place, file.outcome->path, file.outcome->text, file.text->regionOf(place.slot));
        return &m_found[key];
    }
    m_searched = key;
    m_runner.run(
        [search](const std::stop_token& stop) { return find(search, stop); },
        [this, key, place, path = file.outcome->path, join = search.join, region = search.region](
            Found answer) {
            m_searched.reset();
            m_contexts[place.file] = std::move(answer.context);
            m_found[key] = std::move(answer.candidates);
            lookDeeper(place, path, join, region);
            emit found(place);
        });
    return nullptr;
}

/// Adds what the candidates mean in their file, once that is known.
void CandidateFinder::lookDeeper(SlotPlace place,
                                 const RepoPath& path,
                                 const std::shared_ptr<const TextJoin>& join,
                                 std::size_t region)
{
    const Key key{place.file, place.slot};
    std::vector<std::string> texts;
    for (const Candidate& candidate : m_found[key]) {
        texts.push_back(candidate.text);
    }
    using InFile = std::vector<std::vector<Consequence>>;
    m_deeper.supersede();
    m_deeper.run(
        [path, join, region, texts = std::move(texts), definitions = m_definitions](
            const std::stop_token& stop) {
            return consequencesInFile(path, *join, region, texts, *definitions, stop);
        },
        [this, key, place](const InFile& inFile) {
            bool isNews = false;
            auto& candidates = m_found[key];
            for (std::size_t i = 0; i < inFile.size() && i < candidates.size(); ++i) {
                auto& known = candidates[i].consequences;
                for (const Consequence& consequence : inFile[i]) {
                    if (std::find(known.begin(), known.end(), consequence) == known.end()) {
                        known.push_back(consequence);
                        isNews = true;
                    }
                }
            }
            if (isNews) {
                emit found(place);
            }
        });
}

std::vector<Consequence> CandidateFinder::consequencesOf(std::string_view text,
                                                         const SpliceFile& file,
                                                         SlotPlace place) const
{
    const TextJoin& join = *file.outcome->text;
    const std::size_t region = file.text->regionOf(place.slot);
    const RegionTexts texts = join.regionTexts(region);
    const auto context = m_contexts.find(place.file);
    if (text.size() + texts.ours.size() + texts.theirs.size() > kMostBytesAtOnce
        || context == m_contexts.end() || !context->second) {
        return {};
    }
    Candidate own;
    own.text = std::string(text);
    own.consequences = consequencesOfText(text, texts);
    std::vector<Candidate> candidates{std::move(own)};
    addFileConsequences(candidates, join, region, context->second->signs);
    return candidates.front().consequences;
}

CandidateFinder::Found CandidateFinder::find(Search search, const std::stop_token& stop)
{
    if (!search.context) {
        FileContext context{habitsOf(*search.join), signsOf(*search.join)};
        context.habits.takenOver = search.takenOver;
        search.context = std::make_shared<const FileContext>(std::move(context));
    }
    const RegionTexts texts = search.join->regionTexts(search.region);
    const FileHabits& habits = search.context->habits;
    Found found;
    found.candidates = candidatesFor(texts, habits, search.earlier, stop);
    addFileConsequences(found.candidates, *search.join, search.region, search.context->signs);
    putSafeFirst(found.candidates, texts, habits);  // what the file says of them may be a warning
    found.context = std::move(search.context);
    return found;
}
}  // namespace rope
