// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_object_reader.cpp.
#include "core/system/git/object_reader.h"

#include "core/system/git/git_parsers.h"

#include <algorithm>
#include <map>
#include <utility>

namespace rope {
namespace {
constexpr int kObjectMs = 120'000;  // git that is silent for longer is taken for dead
constexpr std::size_t kBufferBytes = 1 << 17;
constexpr std::size_t kChunk = 64;       // objects asked for in one go
constexpr std::size_t kMostAhead = 256;  // asked of one process before the first is answered
constexpr std::size_t kFewAhead = 32;    // so few that a process should be asked for whatever waits
constexpr std::size_t kManyObjects = 1024;  // from here on a second process is worth its start
/// What may lie here before it is its turn, apart from what one read brings.
constexpr std::size_t kMostEarlyBytes = 16'000'000;
}  // namespace

ObjectReader::~ObjectReader()
{
    letGo();
}

void ObjectReader::letGo()
{
    m_lanes = {};
}

namespace {
/// git fills megabytes with what it unpacks on the way to an object: a sixth of its time goes into pages
/// that are new to it, unless they are large (glibc's manual, "Memory Allocation Tunables").
Environment largePages()
{
    const std::string given = qgetenv("GLIBC_TUNABLES").toStdString();
    return {{"GLIBC_TUNABLES", given + (given.empty() ? "" : ":") + "glibc.malloc.hugetlb=1"}};
}
}  // namespace

Status ObjectReader::ensureStarted(Lane& lane)
{
    // One that ended while nobody asked anything has left no question open.
    if (lane.process && lane.asked.empty() && !lane.process->isRunning()) {
        lane = {};
    }
    if (!lane.process) {
        GitRunOptions options;
        options.environment = largePages();
        TRY_ASSIGN(lane.process,
                   m_git.startPiped({"cat-file", "--batch-command", "--buffer"}, options));
        lane.buffer.resize(kBufferBytes);
    }
    return ok();
}

/// More behind what is there, which may move to the front.
Status ObjectReader::Lane::fill()
{
    std::copy(buffer.begin() + static_cast<std::ptrdiff_t>(consumed),
              buffer.begin() + static_cast<std::ptrdiff_t>(filled),
              buffer.begin());
    filled -= std::exchange(consumed, 0);
    TRY_ASSIGN(const std::size_t got, process->read(std::span(buffer).subspan(filled), kObjectMs));
    filled += got;
    return got > 0 ? ok() : Error{ErrorCode::io, {}, {}};
}

std::optional<std::string_view> ObjectReader::Lane::takeLine()
{
    const auto unread = std::string_view(buffer.data(), filled).substr(consumed);
    const std::size_t end = unread.find('\n');
    if (end == std::string_view::npos) {
        return std::nullopt;
    }
    consumed += end + 1;
    return unread.substr(0, end);
}

void ObjectReader::Lane::takeBytes(bool isKept)
{
    const std::size_t take = std::min<std::size_t>(toCome, filled - consumed);
    if (isKept) {
        begun->bytes.append(buffer.data() + consumed, take);
    }
    consumed += take;
    toCome -= take;
}

Result<std::optional<ObjectReader::Object>> ObjectReader::Lane::nextWhole(const Question& question,
                                                                          const std::string& name)
{
    if (!begun) {
        const auto line = takeLine();
        if (!line) {
            return filled - consumed < buffer.size()
                       ? Result<std::optional<Object>>(std::nullopt)
                       : Error{ErrorCode::corrupt, name, "a header without end"};
        }
        const auto header = parseObjectHeader(*line);
        if (!header) {
            const bool isMissing = line->ends_with(" missing") || line->ends_with(" ambiguous");
            return Error{
                isMissing ? ErrorCode::notFound : ErrorCode::corrupt, name, std::string(*line)};
        }
        begun = Object{header->id, header->type, header->size, {}};
        toCome = question.hasBytes ? header->size + 1 : 0;
        if (question.hasBytes && header->size <= question.mostBytes) {
            begun->bytes.reserve(toCome);
        }
    }
    const bool isKept = begun->size <= question.mostBytes;
    takeBytes(isKept);
    if (toCome > 0) {
        return std::optional<Object>{};
    }
    if (question.hasBytes && isKept) {
        begun->bytes.pop_back();  // the line end behind them
    }
    return std::exchange(begun, std::nullopt);
}

/// One list of objects that is asked for and read: what waits is shared between the processes, a chunk
/// at a time, what comes too early is put by.
class ObjectReader::Reading
{
public:
    Reading(ObjectReader& reader,
            const Question& question,
            std::vector<std::string> names,
            const Sink& take)
        : m_reader(reader)
        , m_question(question)
        , m_names(std::move(names))
        , m_take(take)
    {
    }

    Status run()
    {
        while (m_taken < m_names.size()) {
            TRY(handOut());
            TRY(readSome());
        }
        return ok();
    }

private:
    /// Gives the processes as much to do as they may have waiting.
    Status handOut()
    {
        while (m_asked < m_names.size()) {
            const std::size_t waiting = m_names.size() - m_asked;
            Lane& lane = leastBusy(waiting);
            const std::size_t ahead = lane.asked.size();
            // Small requests cost more; but none may stand idle.
            if (ahead + kChunk > kMostAhead || (waiting < kChunk && ahead >= kFewAhead)) {
                break;
            }
            TRY(m_reader.ensureStarted(lane));
            TRY(request(lane, std::min(kChunk, waiting)));
        }
        return ok();
    }

    Lane& leastBusy(std::size_t waiting)
    {
        Lane& first = m_reader.m_lanes.front();
        Lane& second = m_reader.m_lanes.back();
        const bool isShared = waiting >= (second.process ? kChunk : kManyObjects);
        return isShared && second.asked.size() < first.asked.size() ? second : first;
    }

    Status request(Lane& lane, std::size_t count)
    {
        std::string request;
        for (std::size_t i = 0; i < count; ++i) {
            request.append(m_question.command).append(" ").append(m_names[m_asked]).append("\n");
            lane.asked.push_back(m_asked++);
        }
        request += "flush\n";
        if (const auto written = lane.process->write(request); !written) {
            return brokenOff(lane);
        }
        return ok();
    }

    /// It says why before it closes its output, unless it was killed.
    [[nodiscard]] Error brokenOff(const Lane& lane) const
    {
        const std::string& name = m_names[lane.asked.front()];
        if (lane.process->wasKilled()) {
            return {ErrorCode::systemFailed, name, {}, Reason::readerKilled};
        }
        return {ErrorCode::corrupt, name, lane.process->errorText()};
    }

    Status readSome()
    {
        std::vector<Lane*> lanes;
        std::vector<PipedProcess*> processes;
        for (Lane& lane : m_reader.m_lanes) {
            const bool isNext = !lane.asked.empty() && lane.asked.front() == m_taken;
            if (isNext || (!lane.asked.empty() && m_earlyBytes < kMostEarlyBytes)) {
                lanes.push_back(&lane);
                processes.push_back(lane.process.get());
            }
        }
        auto having = processes.size() == 1 ? Result(std::vector<std::size_t>{0})
                                            : PipedProcess::waitForAny(processes, kObjectMs);
        if (!having) {
            return brokenOff(*lanes.front());
        }
        for (const std::size_t i : *having) {
            if (!lanes[i]->fill()) {
                return brokenOff(*lanes[i]);
            }
            TRY(takeWhole(*lanes[i]));
        }
        return ok();
    }

    /// What one process has answered in full: told if it is its turn, else put by.
    Status takeWhole(Lane& lane)
    {
        while (!lane.asked.empty()) {
            const std::size_t place = lane.asked.front();
            TRY_ASSIGN(auto object, lane.nextWhole(m_question, m_names[place]));
            if (!object) {
                break;
            }
            lane.asked.pop_front();
            if (place == m_taken) {
                TRY(tell(std::move(*object)));
                TRY(tellThoseInTurn());
            } else {
                m_earlyBytes += object->bytes.size();
                m_early.emplace(place, std::move(*object));
            }
        }
        return ok();
    }

    Status tellThoseInTurn()
    {
        for (auto next = m_early.begin(); next != m_early.end() && next->first == m_taken;
             next = m_early.erase(next)) {
            m_earlyBytes -= next->second.bytes.size();
            TRY(tell(std::move(next->second)));
        }
        return ok();
    }

    Status tell(Object&& object)
    {
        ++m_taken;
        m_more.clear();
        TRY(m_take(std::move(object), m_more));
        for (const ObjectId& id : m_more) {
            m_names.push_back(id.hex());
        }
        return ok();
    }

    ObjectReader& m_reader;
    const Question& m_question;
    std::vector<std::string> m_names;
    const Sink& m_take;
    std::size_t m_asked = 0;  ///< Of m_names.
    std::size_t m_taken = 0;
    std::map<std::size_t, Object> m_early;  ///< By place in m_names.
    std::size_t m_earlyBytes = 0;
    std::vector<ObjectId> m_more;
};

Status ObjectReader::ask(const Question& question, std::vector<std::string> names, const Sink& take)
{
    auto asked = Reading(*this, question, std::move(names), take).run();
    if (!asked) {
        letGo();  // answers to the rest would be taken for others
    }
    return asked;
}

Result<std::vector<ObjectReader::Object>> ObjectReader::askAll(const Question& question,
                                                               std::vector<std::string> names)
{
    std::vector<Object> objects;
    objects.reserve(names.size());
    TRY(ask(question, std::move(names), [&objects](Object&& object, std::vector<ObjectId>&) {
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
    return askAll({"contents", true, mostBytes}, hexNames(ids));
}

Status
ObjectReader::eachContent(std::span<const ObjectId> ids, std::uint64_t mostBytes, const Sink& take)
{
    return ask({"contents", true, mostBytes}, hexNames(ids), take);
}

Result<std::vector<ObjectReader::Object>> ObjectReader::headers(std::span<const ObjectId> ids)
{
    return askAll({"info"}, hexNames(ids));
}

Result<ObjectReader::Object> ObjectReader::lookUp(std::string_view name)
{
    if (name.empty()
        || name.find_first_of(std::string_view("\n\r\0", 3)) != std::string_view::npos) {
        return Error{ErrorCode::invalidInput, std::string(name), {}};
    }
    TRY_ASSIGN(auto objects, askAll({"info"}, {std::string(name)}));
    return std::move(objects.front());
}
}  // namespace rope
