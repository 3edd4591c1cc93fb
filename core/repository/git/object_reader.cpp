// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_repository.cpp.
#include "core/repository/git/object_reader.h"

#include "core/repository/git/git_parsers.h"

#include <algorithm>

namespace rope {
namespace {
constexpr int kAnswerMs = 120'000;     // git that is silent for longer is taken for dead
constexpr std::size_t kBatch = 2'000;  // requests written ahead of the answers
}  // namespace

ObjectReader::~ObjectReader()
{
    if (m_process) {
        m_process->closeWriteChannel();
        m_process->kill();
        m_process->waitForFinished(1000);
    }
}

Status ObjectReader::ensureStarted()
{
    if (m_process) {
        return ok();
    }
    TRY_ASSIGN(m_process, m_git.start({"cat-file", "--batch-command", "--buffer"}));
    m_buffer.clear();
    m_consumed = 0;
    return ok();
}

bool ObjectReader::fill()
{
    if (m_process->bytesAvailable() == 0 && !m_process->waitForReadyRead(kAnswerMs)) {
        return false;
    }
    m_buffer.erase(0, m_consumed);
    m_consumed = 0;
    const QByteArray more = m_process->readAllStandardOutput();
    m_buffer.append(more.constData(), static_cast<std::size_t>(more.size()));
    return true;
}

Error ObjectReader::brokenOff(const std::string& subject)
{
    m_process->closeWriteChannel();
    m_process->waitForFinished(1000);
    Error error{ErrorCode::corrupt, subject, m_process->readAllStandardError().toStdString()};
    m_process.reset();
    return error;
}

Result<std::string> ObjectReader::readLine()
{
    std::size_t from = m_consumed;
    for (;;) {
        const std::size_t end = m_buffer.find('\n', from);
        if (end != std::string::npos) {
            std::string line = m_buffer.substr(m_consumed, end - m_consumed);
            m_consumed = end + 1;
            return line;
        }
        const std::size_t seen = m_buffer.size() - m_consumed;
        if (!fill()) {
            return Error{ErrorCode::io, {}, {}};
        }
        from = m_consumed + seen;
    }
}

Result<std::string> ObjectReader::readBytes(std::uint64_t size)
{
    std::string bytes;
    bytes.reserve(size);
    while (bytes.size() < size) {
        if (m_consumed == m_buffer.size() && !fill()) {
            return Error{ErrorCode::io, {}, {}};
        }
        const std::size_t take =
            std::min<std::size_t>(size - bytes.size(), m_buffer.size() - m_consumed);
        bytes.append(m_buffer, m_consumed, take);
        m_consumed += take;
    }
    return bytes;
}

Result<std::vector<ObjectReader::Object>>
ObjectReader::ask(std::string_view command, std::span<const std::string> names, bool hasBytes)
{
    std::vector<Object> objects;
    objects.reserve(names.size());
    TRY(ensureStarted());
    for (std::size_t from = 0; from < names.size(); from += kBatch) {
        const auto batch = names.subspan(from, std::min(kBatch, names.size() - from));
        std::string request;
        for (const std::string& name : batch) {
            request.append(command).append(" ").append(name).append("\n");
        }
        request += "flush\n";
        m_process->write(request.data(), static_cast<qint64>(request.size()));
        for (const std::string& name : batch) {
            auto line = readLine();
            if (!line) {
                return brokenOff(name);
            }
            auto header = parseObjectHeader(*line);
            if (!header) {
                m_process->kill();  // answers to the rest of the batch would be taken for others
                m_process->waitForFinished(1000);
                m_process.reset();
                const bool isMissing = line->ends_with(" missing") || line->ends_with(" ambiguous");
                return Error{isMissing ? ErrorCode::notFound : ErrorCode::corrupt, name, *line};
            }
            Object object{header->id, header->type, header->size, {}};
            if (hasBytes) {
                auto bytes = readBytes(header->size + 1);  // and the line end that follows them
                if (!bytes) {
                    return brokenOff(name);
                }
                bytes->pop_back();
                object.bytes = std::move(*bytes);
            }
            objects.push_back(std::move(object));
        }
    }
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

Result<std::vector<ObjectReader::Object>> ObjectReader::contents(std::span<const ObjectId> ids)
{
    return ask("contents", hexNames(ids), true);
}

Result<std::vector<ObjectReader::Object>> ObjectReader::headers(std::span<const ObjectId> ids)
{
    return ask("info", hexNames(ids), false);
}

Result<ObjectReader::Object> ObjectReader::lookUp(std::string_view name)
{
    if (name.empty()
        || name.find_first_of(std::string_view("\n\r\0", 3)) != std::string_view::npos) {
        return Error{ErrorCode::invalidInput, std::string(name), {}};
    }
    const std::string names[] = {std::string(name)};
    TRY_ASSIGN(auto objects, ask("info", names, false));
    return std::move(objects.front());
}
}  // namespace rope
