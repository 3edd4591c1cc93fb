// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "tests/support/random_trees.h"

#include <utility>
#include <vector>

namespace rope::test {
/// Branches main, theirs and ours, in the language of git fast-import, as people make them: commits that
/// change nothing, changes of theirs picked over, short branches merged in, folders moved. Each commit has
/// a time of its own, by which it can be told after it was written anew.
class RandomLinesOfWork
{
public:
    explicit RandomLinesOfWork(unsigned seed)
        : m_random(seed)
    {
        RandomTree tree;
        for (int i = 0; i < 6; ++i) {
            tree[freshPath(m_random, tree, "f")] = {
                distinctText(m_random, 10 + below(m_random, 10)), false};
        }
        m_stream = commitOf("refs/heads/main", 1, 0, tree);
        makeTheirs(tree);
        makeOurs(tree);
    }

    [[nodiscard]] const QByteArray& stream() const { return m_stream; }
    /// How many commits of ours are no merges.
    [[nodiscard]] int ownCount() const { return m_ownCount; }

private:
    void makeTheirs(const RandomTree& base)
    {
        RandomTree tree = base;
        for (int i = 0, last = 1; i < 3; ++i) {
            const RandomTree before = tree;
            if (below(m_random, 6) == 0) {
                moveFolder(tree);
            } else {
                changeTree(m_random, tree, "t");
            }
            m_stream += commitOf("refs/heads/theirs", ++m_mark, last, tree);
            last = m_mark;
            m_theirs.emplace_back(before, tree);
        }
    }

    void makeOurs(const RandomTree& base)
    {
        RandomTree tree = base;
        for (int i = 0, last = 1; i < 4; ++i) {
            switch (below(m_random, 8)) {
            case 0:
                break;  // it changes nothing
            case 1:
                takeOver(tree, m_theirs[static_cast<std::size_t>(below(m_random, 3))]);
                break;
            case 2:
                tree = m_theirs.back().second;  // much of it is there already
                break;
            case 3:
                moveFolder(tree);
                break;
            case 4:
                last = mergeABranch(tree, last);
                continue;
            default:
                changeTree(m_random, tree, "o");
            }
            m_stream += commitOf("refs/heads/ours", ++m_mark, last, tree);
            last = m_mark;
            ++m_ownCount;
        }
        m_stream += "reset refs/heads/ours\nfrom :" + QByteArray::number(m_mark) + "\n\n";
    }

    /// What a commit changed, where this tree has what stood there before.
    static void takeOver(RandomTree& tree, const std::pair<RandomTree, RandomTree>& change)
    {
        const auto& [before, after] = change;
        const auto same = [](const RandomTree& one, const RandomTree& other, const auto& path) {
            const auto a = one.find(path);
            const auto b = other.find(path);
            return a == one.end() ? b == other.end()
                                  : b != other.end() && a->second.text == b->second.text
                                        && a->second.isExecutable == b->second.isExecutable;
        };
        for (const RandomTree* side : {&before, &after}) {
            for (const auto& [path, file] : *side) {
                if (same(before, after, path) || !same(tree, before, path)) {
                    continue;
                }
                if (const auto now = after.find(path); now != after.end()) {
                    tree[path] = now->second;
                } else {
                    tree.erase(path);
                }
            }
        }
    }

    void moveFolder(RandomTree& tree)
    {
        const std::string from = "src/";
        const std::string to = "moved" + std::to_string(below(m_random, 3)) + "/";
        RandomTree moved;
        for (auto& [path, file] : tree) {
            moved[path.starts_with(from) ? to + path.substr(from.size()) : path] = file;
        }
        tree = std::move(moved);
    }

    /// One commit on a branch of its own, one here, and both joined. Returns the merge's mark.
    int mergeABranch(RandomTree& tree, int from)
    {
        RandomTree apart = tree;
        const std::string added = freshPath(m_random, tree, "side");
        apart[added] = {distinctText(m_random, 8), false};
        m_stream += commitOf("refs/heads/side", ++m_mark, from, apart);
        const int side = m_mark;
        tree[freshPath(m_random, apart, "own")] = {distinctText(m_random, 8), false};
        m_stream += commitOf("refs/heads/ours", ++m_mark, from, tree);
        const int own = m_mark;
        tree[added] = apart[added];
        QByteArray merge = commitOf("refs/heads/ours", ++m_mark, own, tree);
        merge.replace("deleteall\n", "merge :" + QByteArray::number(side) + "\ndeleteall\n");
        m_stream += merge;
        m_ownCount += 2;
        return m_mark;
    }

    Random m_random;
    QByteArray m_stream;
    std::vector<std::pair<RandomTree, RandomTree>> m_theirs;  ///< Before and after each commit.
    int m_mark = 1;
    int m_ownCount = 0;
};
}  // namespace rope::test
