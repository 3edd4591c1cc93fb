// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "tests/support/random_texts.h"
#include "tests/support/scratch_repository.h"

#include <QByteArray>

#include <map>
#include <string>

namespace rope::test {
struct RandomFile
{
    std::string text;
    bool isExecutable = false;
};
using RandomTree = std::map<std::string, RandomFile>;

inline std::string pick(Random& random, const RandomTree& tree)
{
    auto at = tree.begin();
    std::advance(at, below(random, static_cast<int>(tree.size())));
    return at->first;
}

/// A text that no other file is like, so that renames are not ambiguous.
inline std::string distinctText(Random& random, int lines)
{
    const std::string mark = std::to_string(below(random, 1'000'000));
    std::string text;
    for (int i = 0; i < lines; ++i) {
        text += "line " + std::to_string(i) + " of " + mark + "\n";
    }
    return text;
}

/// A path that stands neither in the tree nor in the way of it.
inline std::string freshPath(Random& random, const RandomTree& tree, const std::string& side)
{
    const char* const folders[] = {"", "src/", "src/io/", "docs/"};
    for (;;) {
        std::string path = folders[below(random, 4)] + side + std::to_string(below(random, 1000));
        if (!tree.contains(path)) {
            return path;
        }
    }
}

inline void changeTree(Random& random, RandomTree& tree, const std::string& side)
{
    const int what = tree.size() < 2 ? 0 : below(random, 10);
    if (what == 0) {
        tree[freshPath(random, tree, side)] = {distinctText(random, 8 + below(random, 10)), false};
        return;
    }
    const std::string path = pick(random, tree);
    if (what == 1) {
        tree.erase(path);
    } else if (what == 2) {
        RandomFile file = tree[path];
        tree.erase(path);
        tree[freshPath(random, tree, side)] = std::move(file);
    } else if (what == 3) {
        tree[path].isExecutable = !tree[path].isExecutable;
    } else {
        tree[path].text = edited(random, tree[path].text, 1 + below(random, 2), side + " ");
    }
}

/// One commit in the language of git fast-import.
inline QByteArray commitOf(const char* ref, int mark, int from, const RandomTree& tree)
{
    QByteArray stream = QByteArray("commit ") + ref + "\nmark :" + QByteArray::number(mark)
                        + "\ncommitter M <m@slackwater.example> "
                        + QByteArray::number(1'793'610'000 + mark) + " +0000\ndata 1\nx\n"
                        + (from > 0 ? "from :" + QByteArray::number(from) + "\n" : QByteArray())
                        + "deleteall\n";
    for (const auto& [path, file] : tree) {
        stream += QByteArray("M ") + (file.isExecutable ? "100755" : "100644") + " inline "
                  + path.c_str() + "\ndata "
                  + QByteArray::number(static_cast<qlonglong>(file.text.size())) + "\n"
                  + QByteArray::fromStdString(file.text) + "\n";
    }
    return stream;
}

/// Branches base, ours and theirs of random trees: some files, each side brought on by some changes.
inline void importRandomBranches(ScratchRepository& scratch, Random& random, int files, int changes)
{
    RandomTree base;
    for (int i = 0; i < files; ++i) {
        base[freshPath(random, base, "f")] = {distinctText(random, 10 + below(random, 10)),
                                              below(random, 4) == 0};
    }
    RandomTree ours = base;
    RandomTree theirs = base;
    for (int i = 0; i < changes; ++i) {
        changeTree(random, ours, "o");
        changeTree(random, theirs, "t");
    }
    scratch.git({QStringLiteral("fast-import"), QStringLiteral("--quiet")},
                commitOf("refs/heads/base", 1, 0, base) + commitOf("refs/heads/ours", 2, 1, ours)
                    + commitOf("refs/heads/theirs", 3, 1, theirs));
}
}  // namespace rope::test
