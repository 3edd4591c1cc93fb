// SPDX-License-Identifier: GPL-3.0-or-later
// rope-splice-lay-commits REPOSITORY OURS THEIRS: forecasts a rebase of OURS onto THEIRS, as a whole process,
// so that compare_with_git.py can time it beside git's own.
#include "core/plan/laid_commits.h"
#include "core/system/factory/open_place.h"

#include <cstdio>

using namespace rope;

namespace {
Result<RebaseForecast> forecast(const char* repository, const char* ours, const char* theirs)
{
    TRY_ASSIGN(const auto place, openPlace(repository));
    TRY_ASSIGN(const ObjectId own, place->resolveCommit(ours));
    TRY_ASSIGN(const ObjectId onto, place->resolveCommit(theirs));
    TRY_ASSIGN(const Divergence apart, findDivergence(*place, own, onto));
    return forecastRebase(*place, apart, onto);
}
}  // namespace

int main(int argc, char** argv)
{
    if (argc != 4) {
        std::fputs("usage: rope-splice-lay-commits REPOSITORY OURS THEIRS\n", stderr);
        return 2;
    }
    const auto laid = forecast(argv[1], argv[2], argv[3]);
    if (!laid) {
        std::fprintf(stderr, "%s: %s\n", laid.error().subject.c_str(), laid.error().detail.c_str());
        return 1;
    }
    std::printf("%zu commits, %zu to decide, tree %s\n",
                laid->laid.size(),
                laid->openCount(),
                laid->tree.hex().c_str());
    return 0;
}
