// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/candidate_finder.h"

namespace rope {
namespace {
/// Of base, ours and theirs together: up to here it takes a few milliseconds.
constexpr std::size_t kMostBytesAtOnce = 4'000;
}  // namespace

CandidateFinder::CandidateFinder(QObject* parent)
    : QObject(parent)
    , m_runner(1, this)
{
}

void CandidateFinder::clear()
{
    m_runner.supersede();
    m_searched.reset();
    m_found.clear();
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
    const std::shared_ptr<const TextJoin> join = file.outcome->text;
    const std::size_t region = file.text->regionOf(place.slot);
    const auto earlier = file.text->earlierText(place.slot);
    const RegionTexts texts = join->regionTexts(region);
    const std::size_t fileBytes = join->ours().bytes().size() + join->theirs().bytes().size();
    if (texts.base.size() + texts.ours.size() + texts.theirs.size() <= kMostBytesAtOnce
        && (file.text->hasRewrites() || fileBytes <= 100 * kMostBytesAtOnce)) {
        return &(m_found[key] = candidatesFor(texts, file.text->rewrites(), earlier));
    }
    m_searched = key;
    m_runner.run(
        [join, region, earlier](const std::stop_token& stop) {
            return candidatesFor(join->regionTexts(region), theirsRewrites(*join), earlier, stop);
        },
        [this, key, place](std::vector<Candidate> candidates) {
            m_searched.reset();
            m_found[key] = std::move(candidates);
            emit found(place);
        });
    return nullptr;
}
}  // namespace rope
