// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_definitions.cpp.
#include "core/findings/definitions.h"

#include "core/base/digest.h"
#include "core/findings/helper_process.h"

#include <QString>

#include <algorithm>
#include <nlohmann/json.hpp>

namespace rope {
namespace {
constexpr int kStartMs = 5'000;
constexpr int kAnswerMs = 10'000;
constexpr std::size_t kMostKnown = 20'000;  // texts

/// A name that tells the language and cannot trouble the helper: letters, digits and a few signs.
std::string plainName(std::string_view path)
{
    const std::string_view name = path.substr(path.rfind('/') + 1);
    std::string plain;
    for (const char c : name) {
        const bool isPlain = (c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z')
                             || (c >= 'a' && c <= 'z') || c == '.' || c == '_' || c == '-';
        plain += isPlain ? c : '_';
    }
    return plain.empty() || plain.front() == '-' ? "_" + plain : plain;
}

/// Bytes that are no UTF-8 hide what stands on their line: each is given as a letter of its own.
QByteArray asUtf8(std::string_view text)
{
    auto bytes = QByteArray::fromRawData(text.data(), static_cast<qsizetype>(text.size()));
    if (bytes.isValidUtf8()) {
        return bytes;
    }
    return QString::fromLatin1(bytes).toUtf8();
}

std::string textOf(const nlohmann::json& tag, const char* key)
{
    const auto found = tag.find(key);
    return found != tag.end() && found->is_string() ? found->get<std::string>() : std::string();
}

std::optional<LineNumber> lineOf(const nlohmann::json& tag, const char* key)
{
    const auto found = tag.find(key);
    if (found == tag.end() || !found->is_number_integer() || found->get<std::int64_t>() < 1) {
        return std::nullopt;
    }
    return static_cast<LineNumber>(found->get<std::int64_t>() - 1);
}
}  // namespace

DefinitionReader::DefinitionReader() = default;

DefinitionReader::~DefinitionReader() = default;

bool DefinitionReader::isAvailable()
{
    return m_helper != nullptr || start();
}

bool DefinitionReader::start()
{
    if (m_cannotStart) {
        return false;
    }
    m_helper = HelperProcess::start(
        {"ctags", "--quiet", "--options=NONE", "--_interactive=sandbox", "--fields=+neKS-P"});
    const auto greeting = m_helper ? m_helper->readLine(kStartMs) : std::nullopt;
    if (!greeting || greeting->find("\"program\"") == std::string::npos) {
        m_cannotStart = true;
        m_helper.reset();
    }
    return !m_cannotStart;
}

Definitions DefinitionReader::ask(const std::string& name, std::string_view text)
{
    const QByteArray bytes = asUtf8(text);
    const nlohmann::json question{
        {"command", "generate-tags"}, {"filename", name}, {"size", bytes.size()}};
    const std::string head = question.dump() + "\n";
    if (!m_helper->write(head, kAnswerMs)
        || !m_helper->write({bytes.data(), static_cast<std::size_t>(bytes.size())}, kAnswerMs)) {
        return nullptr;
    }
    std::vector<Definition> found;
    while (true) {
        const auto line = m_helper->readLine(kAnswerMs);
        if (!line) {
            return nullptr;
        }
        const auto answer = nlohmann::json::parse(*line, nullptr, false);
        if (answer.is_discarded() || !answer.is_object()) {
            continue;  // a name that is no UTF-8
        }
        const std::string type = textOf(answer, "_type");
        if (type == "completed") {
            break;
        }
        if (type == "error") {
            return nullptr;
        }
        if (type == "tag") {
            found.push_back({textOf(answer, "name"),
                             textOf(answer, "kind"),
                             textOf(answer, "scope"),
                             textOf(answer, "signature"),
                             lineOf(answer, "line").value_or(0),
                             lineOf(answer, "end")});
        }
    }
    std::stable_sort(
        found.begin(), found.end(), [](const auto& a, const auto& b) { return a.line < b.line; });
    return std::make_shared<const std::vector<Definition>>(std::move(found));
}

Definitions DefinitionReader::read(std::string_view path, std::string_view text)
{
    if (text.empty()) {
        return std::make_shared<const std::vector<Definition>>();  // no answer comes for nothing
    }
    if (text.size() > kMostDefinitionBytes || !isAvailable()) {
        return nullptr;
    }
    const std::string name = plainName(path);
    const std::string key = digestOfParts({name, text});
    if (const auto known = m_known.find(key); known != m_known.end()) {
        return known->second;
    }
    Definitions found = ask(name, text);
    if (!found) {
        m_helper.reset();
    }
    if (m_known.size() >= kMostKnown) {
        m_known.clear();
    }
    m_known[key] = found;
    return found;
}
}  // namespace rope
