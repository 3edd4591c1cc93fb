// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/finding.h"

#include <array>

namespace rope {
namespace {
struct KindFacts
{
    std::string_view name;
    bool isTold = true;
    bool isRemark = false;
};

/// In the order of FindingKind.
constexpr std::array<KindFacts, static_cast<std::size_t>(kLastFindingKind) + 1> kKinds{{
    {"name-gone"},
    {"defined-twice"},
    {"imported-twice"},
    {"key-twice"},
    {"signature-changed"},
    {"import-gone"},
    {"file-gone"},
    {"brackets-open"},
    {"quote-open"},
    {"indent-broken"},
    {"tags-unbalanced"},
    {"does-not-parse"},
    {"near-edits", true, true},
    {"same-function", false, true},
    {"moved-block"},
    {"rewrite-left"},
    {"added-twice"},
    {"markers-left"},
    {"line-repeated"},
    {"foreign-text", false, true},
    {"change-dropped", false, true},
}};

const KindFacts& factsOf(FindingKind kind)
{
    return kKinds[static_cast<std::size_t>(kind)];
}
}  // namespace

std::string_view nameOf(FindingKind kind)
{
    return factsOf(kind).name;
}

bool isToldByDefault(FindingKind kind)
{
    return factsOf(kind).isTold;
}

bool isRemark(FindingKind kind)
{
    return factsOf(kind).isRemark;
}
}  // namespace rope
