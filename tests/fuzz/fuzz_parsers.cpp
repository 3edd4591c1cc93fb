// SPDX-License-Identifier: GPL-3.0-or-later
// What comes from git: any bytes give a value or nothing, and a tree is never one git would refuse.
#include "core/system/git/git_parsers.h"
#include "tests/fuzz/three_versions.h"

using namespace rope;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view bytes(reinterpret_cast<const char*>(data), size);
    for (const std::size_t idBytes : {std::size_t{20}, std::size_t{32}}) {
        if (const auto entries = parseTree(bytes, idBytes)) {
            for (std::size_t i = 0; i < entries->size(); ++i) {
                const std::string& name = (*entries)[i].name;
                fuzz::require(!name.empty() && name != "." && name != ".." && name != ".git"
                                  && name.find('/') == std::string::npos,
                              "no forbidden name gets through");
                fuzz::require(i == 0 || entryOrder((*entries)[i - 1], (*entries)[i]) < 0,
                              "entries are in order");
            }
        }
    }
    (void)parseCommit({}, bytes);
    (void)parseCommitLink(bytes);
    (void)parseReflog(bytes);
    (void)parseBranches(bytes);
    (void)parseStatus(bytes);
    (void)parseSignature(bytes);
    (void)parseAttributes(bytes);
    (void)parseObjectHeader(bytes);
    return 0;
}
