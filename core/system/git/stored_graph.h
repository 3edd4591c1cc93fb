// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/object_id.h"

#include <QFile>

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace rope {
/// What git has stored of many commits' places in history, so that none of them has to be read for it:
/// gitformat-commit-graph(5), one file or a chain of them. A commit is known with all its ancestors.
/// The files stay mapped as long as this lives. Any thread may read it.
class StoredGraph
{
public:
    /// Which commit, over all files of a chain.
    using Position = std::uint32_t;

    /// Null where there is none, or one of another version or with parts that do not fit together.
    /// `objectsFolder`: where git keeps its objects.
    [[nodiscard]] static std::shared_ptr<const StoredGraph> load(const std::string& objectsFolder,
                                                                 bool usesSha256);

    [[nodiscard]] std::size_t count() const;
    [[nodiscard]] std::optional<Position> find(const ObjectId& id) const;

    /// By it every commit comes after its parents: it is greater than theirs.
    struct Rank
    {
        std::uint32_t level =
            0;                  ///< Greater than that of every parent; 1 without any. 0: not known.
        std::int64_t time = 0;  ///< Committer's clock, seconds since 1970.
        // NOLINTNEXTLINE(modernize-use-nullptr): clang-tidy 14 sees a pointer in what <=> compares with
        friend auto operator<=>(const Rank&, const Rank&) = default;
    };
    /// REQUIRES: position < count()
    [[nodiscard]] Rank rankAt(Position position) const;

    struct Link
    {
        ObjectId id;
        Rank rank;
        std::vector<Position> parents;
    };
    /// REQUIRES: position < count()
    [[nodiscard]] ObjectId idAt(Position position) const;
    /// Nothing where the file contradicts itself. REQUIRES: position < count()
    [[nodiscard]] std::optional<Link> at(Position position) const;

private:
    /// One file; its commits stand at positions from `first` on.
    struct Layer
    {
        std::unique_ptr<QFile> file;
        const unsigned char* ids = nullptr;
        const unsigned char* fanout = nullptr;
        const unsigned char* commits = nullptr;
        const unsigned char* edges = nullptr;  ///< Null: no commit has more than two parents.
        std::size_t edgeCount = 0;
        Position first = 0;
        Position count = 0;
    };

    explicit StoredGraph(std::size_t idSize)
        : m_idSize(idSize)
    {
    }
    [[nodiscard]] bool addFile(const std::string& path);
    [[nodiscard]] bool addChain(const std::string& folder);
    [[nodiscard]] bool takeChunks(Layer& layer, const unsigned char* data, std::size_t size) const;
    [[nodiscard]] const Layer& layerOf(Position position) const;
    [[nodiscard]] const unsigned char* placeOf(const Layer& layer, Position position) const;
    [[nodiscard]] bool addEdges(const Layer& layer, std::size_t from, Link& link) const;
    [[nodiscard]] bool addParent(std::uint32_t position, Link& link) const;

    std::size_t m_idSize;
    std::vector<Layer> m_layers;  ///< The oldest first.
};
}  // namespace rope
