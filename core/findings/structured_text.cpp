// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_structured_text.cpp.
#include "core/findings/structured_text.h"

#include "core/text/text.h"

#include <QXmlStreamReader>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>
#include <toml++/toml.h>
#include <yaml-cpp/eventhandler.h>
#include <yaml-cpp/yaml.h>

namespace rope {
namespace {
LineNumber lineAt(std::string_view text, std::size_t position)
{
    return static_cast<LineNumber>(
        std::count(text.begin(),
                   text.begin() + static_cast<std::ptrdiff_t>(std::min(position, text.size())),
                   '\n'));
}

LineNumber fromOne(std::size_t line)
{
    return static_cast<LineNumber>(line == 0 ? 0 : line - 1);
}

/// Where we are in nested maps, and which keys each has had.
class KeyTracker
{
public:
    explicit KeyTracker(KeysTwice& twice)
        : m_twice(twice)
    {
    }
    void begin() { m_levels.emplace_back(); }
    void end() { m_levels.pop_back(); }
    void key(std::string_view name, LineNumber line)
    {
        Level& level = m_levels.back();
        level.current = name;
        if (!level.seen.insert(level.current).second) {
            m_twice.try_emplace(path(), line);
        }
    }

private:
    struct Level
    {
        std::set<std::string> seen;
        std::string current;
    };
    [[nodiscard]] std::string path() const
    {
        std::string joined;
        for (const Level& level : m_levels) {
            joined += (joined.empty() || level.current.empty() ? "" : ".") + level.current;
        }
        return joined;
    }
    KeysTwice& m_twice;
    std::vector<Level> m_levels;
};

class JsonReader : public nlohmann::json_sax<nlohmann::json>
{
public:
    JsonReader(std::string_view text, StructuredReading& reading)
        : m_text(text)
        , m_reading(reading)
        , m_keys(reading.twice)
    {
    }
    bool null() override { return true; }
    bool boolean(bool /*value*/) override { return true; }
    bool number_integer(number_integer_t /*value*/) override { return true; }
    bool number_unsigned(number_unsigned_t /*value*/) override { return true; }
    bool number_float(number_float_t /*value*/, const string_t& /*text*/) override { return true; }
    bool string(string_t& /*value*/) override { return true; }
    bool binary(binary_t& /*value*/) override { return true; }
    bool start_object(std::size_t /*elements*/) override
    {
        m_keys.begin();
        return true;
    }
    bool key(string_t& name) override
    {
        // The reader does not tell where it is: keys are met in order.
        const std::size_t at = m_text.find('"' + name + '"', m_at);
        m_at = at == std::string_view::npos ? m_at : at + name.size() + 2;
        m_keys.key(name, lineAt(m_text, m_at));
        return true;
    }
    bool end_object() override
    {
        m_keys.end();
        return true;
    }
    bool start_array(std::size_t /*elements*/) override
    {
        m_keys.begin();
        return true;
    }
    bool end_array() override
    {
        m_keys.end();
        return true;
    }
    bool parse_error(std::size_t position,
                     const std::string& /*token*/,
                     const nlohmann::json::exception& error) override
    {
        const std::string words = error.what();
        const std::size_t begin = words.rfind(": ");
        m_reading.fault = {lineAt(m_text, position == 0 ? 0 : position - 1),
                           begin == std::string::npos ? words : words.substr(begin + 2)};
        return false;
    }

private:
    std::string_view m_text;
    StructuredReading& m_reading;
    KeyTracker m_keys;
    std::size_t m_at = 0;
};

void readJson(std::string_view text, StructuredReading& reading)
{
    JsonReader reader(text, reading);
    (void)nlohmann::json::sax_parse(text, &reader);
}

void readToml(std::string_view text, StructuredReading& reading)
{
    try {
        (void)toml::parse(text);
    } catch (const toml::parse_error& error) {
        reading.fault = {fromOne(error.source().begin.line), std::string(error.description())};
    }
}

/// Keys of maps as the parser meets them; values of maps are told by turns.
class YamlKeys : public YAML::EventHandler
{
public:
    explicit YamlKeys(KeysTwice& twice)
        : m_keys(twice)
    {
    }
    void OnDocumentStart(const YAML::Mark& mark) override { m_begins = mark; }
    /// Where the document begins that was read last.
    [[nodiscard]] const YAML::Mark& begins() const { return m_begins; }
    void OnDocumentEnd() override {}
    void OnNull(const YAML::Mark& /*mark*/, YAML::anchor_t /*anchor*/) override { value(); }
    void OnAlias(const YAML::Mark& /*mark*/, YAML::anchor_t /*anchor*/) override { value(); }
    void OnScalar(const YAML::Mark& mark,
                  const std::string& /*tag*/,
                  YAML::anchor_t /*anchor*/,
                  const std::string& text) override
    {
        if (!m_levels.empty() && m_levels.back() == Next::key && text != "<<") {
            m_keys.key(text, static_cast<LineNumber>(std::max(mark.line, 0)));
        }
        value();
    }
    void OnSequenceStart(const YAML::Mark& /*mark*/,
                         const std::string& /*tag*/,
                         YAML::anchor_t /*anchor*/,
                         YAML::EmitterStyle::value /*style*/) override
    {
        begin(Next::item);
    }
    void OnSequenceEnd() override { end(); }
    void OnMapStart(const YAML::Mark& /*mark*/,
                    const std::string& /*tag*/,
                    YAML::anchor_t /*anchor*/,
                    YAML::EmitterStyle::value /*style*/) override
    {
        begin(Next::key);
    }
    void OnMapEnd() override { end(); }

private:
    enum class Next { key, value, item };
    void begin(Next next)
    {
        m_levels.push_back(next);
        m_keys.begin();
    }
    void end()
    {
        m_levels.pop_back();
        m_keys.end();
        value();
    }
    void value()
    {
        if (!m_levels.empty() && m_levels.back() != Next::item) {
            m_levels.back() = m_levels.back() == Next::key ? Next::value : Next::key;
        }
    }
    KeyTracker m_keys;
    std::vector<Next> m_levels;
    YAML::Mark m_begins;
};

void readYaml(std::string_view text, StructuredReading& reading)
{
    try {
        std::istringstream stream{std::string(text)};
        YAML::Parser parser(stream);
        YamlKeys keys(reading.twice);
        for (int before = -1; parser.HandleNextDocument(keys); before = keys.begins().pos) {
            if (keys.begins().pos == before) {
                // The parser stays before what can begin no document, such as a comma.
                reading.fault = {static_cast<LineNumber>(std::max(keys.begins().line, 0)),
                                 "no document can begin so"};
                break;
            }
        }
    } catch (const YAML::Exception& error) {
        reading.fault = {static_cast<LineNumber>(std::max(error.mark.line, 0)), error.msg};
    }
}

void readXml(std::string_view text, StructuredReading& reading)
{
    QXmlStreamReader reader(
        QByteArray::fromRawData(text.data(), static_cast<qsizetype>(text.size())));
    while (!reader.atEnd()) {
        reader.readNext();
    }
    if (reader.hasError()) {
        reading.fault = {fromOne(static_cast<std::size_t>(reader.lineNumber())),
                         reader.errorString().toStdString()};
    }
}

/// Keys of each section; a text of this kind has no faults.
void readIni(std::string_view text, StructuredReading& reading)
{
    std::set<std::string> seen;
    std::string section;
    LineNumber number = 0;
    for (std::size_t at = 0; at < text.size(); ++number) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        const std::string_view line = text.substr(at, end - at);
        const std::string_view content = trimmed(line);
        at = end + 1;
        const bool goesOn = !line.empty() && (line.front() == ' ' || line.front() == '\t');
        if (content.empty() || content.front() == '#' || content.front() == ';' || goesOn) {
            continue;
        }
        if (content.front() == '[' && content.back() == ']') {
            section = content.substr(1, content.size() - 2);
            continue;
        }
        const std::size_t sign = content.find_first_of("=:");
        if (sign == std::string_view::npos) {
            continue;
        }
        const std::string key = section + "." + std::string(trimmed(content.substr(0, sign)));
        if (!seen.insert(key).second) {
            reading.twice.try_emplace(section.empty() ? key.substr(1) : key, number);
        }
    }
}
}  // namespace

std::optional<StructuredReading> readStructured(std::string_view text, Language language)
{
    StructuredReading reading;
    switch (language) {
    case Language::json:
        readJson(text, reading);
        return reading;
    case Language::toml:
        readToml(text, reading);
        return reading;
    case Language::yaml:
        readYaml(text, reading);
        return reading;
    case Language::markup:
        readXml(text, reading);
        return reading;
    case Language::ini:
        readIni(text, reading);
        return reading;
    default:
        return std::nullopt;
    }
}

void findBrokenStructure(const FileView& file, std::vector<Finding>& found)
{
    const auto joined = readStructured(file.joined.text(), file.sides.language);
    if (!joined || (!joined->fault && joined->twice.empty())) {
        return;
    }
    const auto ours = readStructured(file.sides.ours.text(), file.sides.language);
    const auto theirs = readStructured(file.sides.theirs.text(), file.sides.language);
    Finding finding;
    finding.path = file.file.path;
    finding.side = FindingSide::both;
    const auto lines = static_cast<LineNumber>(file.joined.lines().size());
    const auto tell = [&](FindingKind kind, LineNumber line, const std::string& name) {
        finding.kind = kind;
        finding.lines.begin = std::min(line, lines == 0 ? 0 : lines - 1);
        finding.lines.end = finding.lines.begin + 1;
        finding.name = name;
        found.push_back(finding);
    };
    if (joined->fault && !ours->fault && !theirs->fault) {
        finding.other = joined->fault->words;
        tell(file.sides.language == Language::markup ? FindingKind::tagsUnbalanced
                                                     : FindingKind::doesNotParse,
             joined->fault->line,
             {});
        finding.other.clear();
    }
    for (const auto& [key, line] : joined->twice) {
        if (!ours->twice.contains(key) && !theirs->twice.contains(key)) {
            tell(FindingKind::keyTwice, line, key);
        }
    }
}
}  // namespace rope
