// SPDX-License-Identifier: GPL-3.0-or-later
// A file: "CGPH", version, kind of id, number of chunks, number of files below it in the chain; then where
// each chunk begins. Of the chunks
//   OIDF   how many ids begin with a byte up to this one, for all 256
//   OIDL   the ids, rising
//   CDAT   for each its tree, two parents, level and time
//   EDGE   further parents of those that have more than two
// are read. All numbers have their highest byte first.
// Tested by tst_stored_graph.cpp.
#include "core/system/git/stored_graph.h"

#include "core/base/whole_file.h"
#include "core/text/text.h"

#include <QtEndian>

#include <algorithm>
#include <cstring>

namespace rope {
namespace {
constexpr std::size_t kHeaderSize = 8;
constexpr std::size_t kChunkEntrySize = 12;
constexpr std::size_t kFanoutSize = std::size_t{256} * 4;
constexpr std::size_t kPlaceSize = 16;  // of a commit's data, behind the id of its tree
constexpr std::uint32_t kNoParent = 0x7000'0000;
constexpr std::uint32_t kHighestBit = 0x8000'0000;
constexpr std::uint32_t kMostLevel = 0x3fff'ffff;  // at which git stops counting

std::uint32_t numberAt(const unsigned char* data)
{
    return qFromBigEndian<quint32>(data);
}

/// Where a chunk lies in its file.
struct Chunk
{
    const unsigned char* data = nullptr;
    std::size_t size = 0;
};

Chunk chunkNamed(const char* name, const unsigned char* data, std::size_t size)
{
    const std::size_t count = data[6];
    for (std::size_t i = 0; i < count; ++i) {
        const unsigned char* const entry = data + kHeaderSize + i * kChunkEntrySize;
        const auto begin = qFromBigEndian<quint64>(entry + 4);
        const auto end = qFromBigEndian<quint64>(entry + kChunkEntrySize + 4);
        if (std::memcmp(entry, name, 4) == 0 && begin <= end && end <= size) {
            return {data + begin, static_cast<std::size_t>(end - begin)};
        }
    }
    return {};
}

bool isRising(const unsigned char* fanout)
{
    for (std::size_t i = 1; i < 256; ++i) {
        if (numberAt(fanout + 4 * i) < numberAt(fanout + 4 * (i - 1))) {
            return false;
        }
    }
    return true;
}
}  // namespace

std::shared_ptr<const StoredGraph> StoredGraph::load(const std::string& objectsFolder,
                                                     bool usesSha256)
{
    constexpr std::size_t kSha1Size = 20;
    constexpr std::size_t kSha256Size = 32;
    const std::shared_ptr<StoredGraph> graph(new StoredGraph(usesSha256 ? kSha256Size : kSha1Size));
    const std::string info = objectsFolder + "/info/";
    const bool isLoaded = QFile::exists(QString::fromStdString(info + "commit-graph"))
                              ? graph->addFile(info + "commit-graph")
                              : graph->addChain(info + "commit-graphs/");
    return isLoaded && graph->count() > 0 ? graph : nullptr;
}

bool StoredGraph::addChain(const std::string& folder)
{
    const auto chain = readWholeFile(folder + "commit-graph-chain");
    if (!chain) {
        return false;
    }
    const auto lines = splitLines(*chain);
    return std::all_of(lines.begin(), lines.end(), [&](std::string_view line) {
        const auto id = ObjectId::fromHex(line.substr(0, line.find('\n')));
        return id && addFile(folder + "graph-" + id->hex() + ".graph");
    });
}

bool StoredGraph::addFile(const std::string& path)
{
    Layer layer;
    layer.file = std::make_unique<QFile>(QString::fromStdString(path));
    if (!layer.file->open(QIODevice::ReadOnly)) {
        return false;
    }
    const auto size = static_cast<std::size_t>(layer.file->size());
    const unsigned char* const data = layer.file->map(0, layer.file->size());
    if (data == nullptr || !takeChunks(layer, data, size)
        || layer.count > kNoParent - static_cast<Position>(count())) {
        return false;
    }
    layer.first = static_cast<Position>(count());
    m_layers.push_back(std::move(layer));
    return true;
}

bool StoredGraph::takeChunks(Layer& layer, const unsigned char* data, std::size_t size) const
{
    const bool isKnown = size > kHeaderSize && std::memcmp(data, "CGPH", 4) == 0 && data[4] == 1
                         && data[5] == (m_idSize == 20 ? 1 : 2) && data[7] == m_layers.size()
                         && size >= kHeaderSize + (data[6] + std::size_t{1}) * kChunkEntrySize;
    if (!isKnown) {
        return false;
    }
    const Chunk fanout = chunkNamed("OIDF", data, size);
    if (fanout.size < kFanoutSize || !isRising(fanout.data)) {
        return false;
    }
    const std::size_t count = numberAt(fanout.data + kFanoutSize - 4);
    const Chunk ids = chunkNamed("OIDL", data, size);
    const Chunk commits = chunkNamed("CDAT", data, size);
    const Chunk edges = chunkNamed("EDGE", data, size);
    if (count >= kNoParent || ids.size / m_idSize < count
        || commits.size / (m_idSize + kPlaceSize) < count) {
        return false;
    }
    layer.fanout = fanout.data;
    layer.ids = ids.data;
    layer.commits = commits.data;
    layer.edges = edges.data;
    layer.edgeCount = edges.size / 4;
    layer.count = static_cast<Position>(count);
    return true;
}

std::size_t StoredGraph::count() const
{
    return m_layers.empty() ? 0 : std::size_t{m_layers.back().first} + m_layers.back().count;
}

const StoredGraph::Layer& StoredGraph::layerOf(Position position) const
{
    return *std::find_if(m_layers.rbegin(), m_layers.rend(), [position](const Layer& layer) {
        return layer.first <= position;
    });
}

/// Two parents, level and time of a commit.
const unsigned char* StoredGraph::placeOf(const Layer& layer, Position position) const
{
    return layer.commits + (position - layer.first) * (m_idSize + kPlaceSize) + m_idSize;
}

std::optional<StoredGraph::Position> StoredGraph::find(const ObjectId& id) const
{
    if (id.size() != m_idSize) {
        return std::nullopt;
    }
    const std::string_view wanted = id.raw();
    const auto firstByte = static_cast<unsigned char>(wanted.front());
    for (const Layer& layer : m_layers) {
        Position low = firstByte == 0 ? 0 : numberAt(layer.fanout + 4 * (firstByte - 1));
        Position high = numberAt(layer.fanout + 4 * firstByte);
        while (low < high) {
            const Position middle = low + (high - low) / 2;
            const int order = std::memcmp(layer.ids + middle * m_idSize, wanted.data(), m_idSize);
            if (order == 0) {
                return layer.first + middle;
            }
            (order < 0 ? low : high) = order < 0 ? middle + 1 : middle;
        }
    }
    return std::nullopt;
}

ObjectId StoredGraph::idAt(Position position) const
{
    const Layer& layer = layerOf(position);
    const unsigned char* const id = layer.ids + (position - layer.first) * m_idSize;
    // NOLINTNEXTLINE(cppcoreguidelines-pro-type-reinterpret-cast): they are bytes either way
    return *ObjectId::fromRaw({reinterpret_cast<const char*>(id), m_idSize});
}

StoredGraph::Rank StoredGraph::rankAt(Position position) const
{
    const unsigned char* const place = placeOf(layerOf(position), position);
    const std::uint32_t levelAndTime = numberAt(place + 8);
    const std::uint32_t level = levelAndTime >> 2;
    return {level == kMostLevel ? 0 : level,
            (std::int64_t{levelAndTime & 3} << 32) | numberAt(place + 12)};
}

std::optional<StoredGraph::Link> StoredGraph::at(Position position) const
{
    const Layer& layer = layerOf(position);
    const unsigned char* const place = placeOf(layer, position);
    Link link;
    link.id = idAt(position);
    link.rank = rankAt(position);
    const std::uint32_t first = numberAt(place);
    const std::uint32_t second = numberAt(place + 4);
    const bool areParentsKnown =
        (first == kNoParent || addParent(first, link))
        && (second == kNoParent
            || ((second & kHighestBit) != 0 ? addEdges(layer, second & ~kHighestBit, link)
                                            : addParent(second, link)));
    const bool isAbove = std::all_of(link.parents.begin(), link.parents.end(), [&](Position p) {
        const std::uint32_t level = rankAt(p).level;
        return level > 0 && level < link.rank.level;
    });
    return areParentsKnown && link.rank.level > 0 && isAbove ? std::optional(std::move(link))
                                                             : std::nullopt;
}

bool StoredGraph::addParent(std::uint32_t position, Link& link) const
{
    if (position >= count()) {
        return false;
    }
    link.parents.push_back(position);
    return true;
}

/// The last of them has its highest bit set.
bool StoredGraph::addEdges(const Layer& layer, std::size_t from, Link& link) const
{
    for (std::size_t i = from; i < layer.edgeCount; ++i) {
        const std::uint32_t edge = numberAt(layer.edges + 4 * i);
        if (!addParent(edge & ~kHighestBit, link)) {
            return false;
        }
        if ((edge & kHighestBit) != 0) {
            return true;
        }
    }
    return false;
}
}  // namespace rope
