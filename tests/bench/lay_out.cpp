// SPDX-License-Identifier: GPL-3.0-or-later
// rope-splice-lay-out REPOSITORY COMMIT COPY: lays a commit's tree out in a scratch copy, as a whole process,
// so that compare_with_git.py can time it beside git's own.
#include "core/system/factory/open_place.h"
#include "core/trial/layout.h"

#include <cstdio>

using namespace rope;

namespace {
Result<LayoutOutcome> layOutCommit(const char* repository, const char* name, const char* copy)
{
    TRY_ASSIGN(const auto place, openPlace(repository));
    TRY_ASSIGN(const ObjectId id, place->resolveCommit(name));
    const ObjectId ids[] = {id};
    TRY_ASSIGN(const auto commits, place->readCommits(ids));
    return layOut(*place, {commits.front().tree, id, false}, copy);
}
}  // namespace

int main(int argc, char** argv)
{
    if (argc != 4) {
        std::fputs("usage: rope-splice-lay-out REPOSITORY COMMIT COPY\n", stderr);
        return 2;
    }
    const auto outcome = layOutCommit(argv[1], argv[2], argv[3]);
    if (!outcome) {
        std::fprintf(
            stderr, "%s: %s\n", outcome.error().subject.c_str(), outcome.error().detail.c_str());
        return 1;
    }
    std::printf("%zu files, %zu written, %zu removed\n",
                outcome->files,
                outcome->written,
                outcome->removed);
    return 0;
}
