// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merge_rules.cpp.
#include "core/system/git/attribute_reader.h"

#include <algorithm>

namespace rope {
namespace {
constexpr int kAttributesMs = 60'000;
constexpr std::size_t kAttributeCount = 2;
constexpr std::size_t kFields = 3;  // path, attribute, value, each ended by NUL
}  // namespace

AttributeReader::~AttributeReader()
{
    restart();
}

void AttributeReader::restart()
{
    if (m_process) {
        m_process->closeWriteChannel();
        m_process->kill();
        m_process->waitForFinished(1000);
        m_process.reset();
    }
}

Result<std::vector<AttributeValue>> AttributeReader::valuesOf(std::span<const RepoPath> paths)
{
    if (!m_process) {
        GitRunOptions options;
        options.environment = {{"GIT_FLUSH", "1"}};  // each answer at once
        TRY_ASSIGN(
            m_process,
            m_git.start({"check-attr", "-z", "--stdin", "merge", "conflict-marker-size"}, options));
    }
    std::string input;
    for (const RepoPath& path : paths) {
        input.append(path).append(1, '\0');
    }
    m_process->write(input.data(), static_cast<qint64>(input.size()));
    std::string out;
    std::size_t ends = 0;
    while (ends < kFields * kAttributeCount * paths.size()) {
        if (m_process->bytesAvailable() == 0 && !m_process->waitForReadyRead(kAttributesMs)) {
            restart();
            return Error{ErrorCode::io, "check-attr", out.substr(0, 500)};
        }
        const QByteArray more = m_process->readAllStandardOutput();
        ends += static_cast<std::size_t>(std::count(more.begin(), more.end(), '\0'));
        out.append(more.constData(), static_cast<std::size_t>(more.size()));
    }
    auto values = parseAttributes(out);
    if (!values || values->size() != kAttributeCount * paths.size()) {
        restart();
        return Error{ErrorCode::corrupt, "check-attr", out.substr(0, 500)};
    }
    return std::move(*values);
}
}  // namespace rope
