// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_place.cpp.
#include "core/system/git/object_reader.h"

#include "core/system/git/git_parsers.h"

#include <algorithm>
#include <utility>

namespace rope {
namespace {
constexpr int kAnswerMs = 120'000;  // git that is silent for longer is taken for dead
constexpr std::size_t kBufferBytes = 1 << 17;
constexpr std::size_t kChunk = 64;         // objects asked for in one go
constexpr std::size_t kChunksAhead = 4;    // chunks asked for before the first is answered
constexpr std::size_t kManyObjects = 256;  // from here on two processes share the work
}  // namespace

ObjectReader::~ObjectReader()
{
    letGo();
}

void ObjectReader::letGo()
{
    for (Lane& lane : m_lanes) {
        lane.process.reset();
    }
}

Status ObjectReader::ensureStarted(Lane& lane)
{
    if (lane.process) {
        return ok();
    }
    TRY_ASSIGN(lane.process, m_git.startPiped({"cat-file", "--batch-command", "--buffer"}));
    lane.buffer.resize(kBufferBytes);
    lane.consumed = lane.filled = 0;
    return ok();
}

/// More behind what is there, which may move to the front.
bool ObjectReader::Lane::fill()
{
    std::copy(buffer.begin() + static_cast<std::ptrdiff_t>(consumed),
              buffer.begin() + static_cast<std::ptrdiff_t>(filled),
              buffer.begin());
    filled -= std::exchange(consumed, 0);
    const auto got = process->read(std::span(buffer).subspan(filled), kAnswerMs);
    filled += got ? *got : 0;
    return got && *got > 0;
}

Result<std::string> ObjectReader::Lane::readLine()
{
    for (std::size_t seen = 0;;) {
        const auto unread = std::string_view(buffer.data(), filled).substr(consumed);
        if (const std::size_t end = unread.find('\n', seen); end != std::string_view::npos) {
            consumed += end + 1;
            return std::string(unread.substr(0, end));
        }
        seen = unread.size();
        if (seen == buffer.size() || !fill()) {
            return Error{ErrorCode::io, {}, {}};
        }
    }
}

Result<std::string> ObjectReader::Lane::readBytes(std::uint64_t size)
{
    std::string bytes;
    bytes.reserve(size);
    while (bytes.size() < size) {
        if (consumed == filled && !fill()) {
            return Error{ErrorCode::io, {}, {}};
        }
        const std::size_t take = std::min<std::size_t>(size - bytes.size(), filled - consumed);
        bytes.append(buffer.data() + consumed, take);
        consumed += take;
    }
    return bytes;
}

Status ObjectReader::Lane::skipBytes(std::uint64_t size)
{
    while (size > 0) {
        if (consumed == filled && !fill()) {
            return Error{ErrorCode::io, {}, {}};
        }
        const std::uint64_t take = std::min<std::uint64_t>(size, filled - consumed);
        consumed += take;
        size -= take;
    }
    return ok();
}

Result<ObjectReader::Object>
ObjectReader::readObject(Lane& lane, const std::string& name, Keep keep)
{
    const auto brokenOff = [&] {
        // It says why before it closes its output.
        return Error{ErrorCode::corrupt, name, lane.process->errorText()};
    };
    const auto line = lane.readLine();
    if (!line) {
        return brokenOff();
    }
    const auto header = parseObjectHeader(*line);
    if (!header) {
        const bool isMissing = line->ends_with(" missing") || line->ends_with(" ambiguous");
        return Error{isMissing ? ErrorCode::notFound : ErrorCode::corrupt, name, *line};
    }
    Object object{header->id, header->type, header->size, {}};
    if (keep.hasBytes && header->size > keep.mostBytes) {
        if (const auto skipped = lane.skipBytes(header->size + 1); !skipped) {
            return brokenOff();
        }
    } else if (keep.hasBytes) {
        auto bytes = lane.readBytes(header->size + 1);  // and the line end that follows them
        if (!bytes) {
            return brokenOff();
        }
        bytes->pop_back();
        object.bytes = std::move(*bytes);
    }
    return object;
}

Status ObjectReader::ask(std::string_view command,
                         std::span<const std::string> names,
                         Keep keep,
                         const Sink& take)
{
    const std::size_t laneCount = names.size() >= kManyObjects ? m_lanes.size() : 1;
    const std::size_t chunks = (names.size() + kChunk - 1) / kChunk;
    const auto namesOf = [&](std::size_t chunk) {
        return names.subspan(chunk * kChunk, std::min(kChunk, names.size() - chunk * kChunk));
    };
    for (std::size_t lane = 0; lane < laneCount && chunks > 0; ++lane) {
        TRY(ensureStarted(m_lanes[lane]));
    }
    std::size_t asked = 0;
    for (std::size_t chunk = 0; chunk < chunks; ++chunk) {
        for (; asked < chunks && asked <= chunk + kChunksAhead; ++asked) {
            std::string request;
            for (const std::string& name : namesOf(asked)) {
                request.append(command).append(" ").append(name).append("\n");
            }
            request += "flush\n";
            PipedProcess& process = *m_lanes[asked % laneCount].process;
            if (const auto written = process.write(request); !written) {
                // It broke off at something that it was asked before, and has said why.
                Error error{ErrorCode::corrupt, namesOf(chunk).front(), process.errorText()};
                letGo();
                return error;
            }
        }
        for (const std::string& name : namesOf(chunk)) {
            auto object = readObject(m_lanes[chunk % laneCount], name, keep);
            auto taken = object ? take(std::move(*object)) : Status(std::move(object).error());
            if (!taken) {
                letGo();  // answers to the rest would be taken for others
                return taken;
            }
        }
    }
    return ok();
}

Result<std::vector<ObjectReader::Object>>
ObjectReader::askAll(std::string_view command, std::span<const std::string> names, Keep keep)
{
    std::vector<Object> objects;
    objects.reserve(names.size());
    TRY(ask(command, names, keep, [&objects](Object&& object) {
        objects.push_back(std::move(object));
        return ok();
    }));
    return objects;
}

namespace {
std::vector<std::string> hexNames(std::span<const ObjectId> ids)
{
    std::vector<std::string> names;
    names.reserve(ids.size());
    std::transform(ids.begin(), ids.end(), std::back_inserter(names), [](const ObjectId& id) {
        return id.hex();
    });
    return names;
}
}  // namespace

Result<std::vector<ObjectReader::Object>> ObjectReader::contents(std::span<const ObjectId> ids,
                                                                 std::uint64_t mostBytes)
{
    return askAll("contents", hexNames(ids), {true, mostBytes});
}

Status
ObjectReader::eachContent(std::span<const ObjectId> ids, std::uint64_t mostBytes, const Sink& take)
{
    return ask("contents", hexNames(ids), {true, mostBytes}, take);
}

Result<std::vector<ObjectReader::Object>> ObjectReader::headers(std::span<const ObjectId> ids)
{
    return askAll("info", hexNames(ids), {});
}

Result<ObjectReader::Object> ObjectReader::lookUp(std::string_view name)
{
    if (name.empty()
        || name.find_first_of(std::string_view("\n\r\0", 3)) != std::string_view::npos) {
        return Error{ErrorCode::invalidInput, std::string(name), {}};
    }
    const std::string names[] = {std::string(name)};
    TRY_ASSIGN(auto objects, askAll("info", names, {}));
    return std::move(objects.front());
}
}  // namespace rope
