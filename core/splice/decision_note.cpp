// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_decision_note.cpp.
#include "core/splice/decision_note.h"

#include "core/base/digest.h"
#include "core/text/encoding.h"
#include "core/text/text.h"

#include <QByteArray>

#include <nlohmann/json.hpp>
#include <sstream>

namespace rope {
namespace {
using Json = nlohmann::ordered_json;
constexpr const char* kFormat = "rope-splice decisions";
constexpr int kVersion = 1;

/// JSON holds no bytes: where a text is none, its bytes stand beside it.
void putText(Json& json, const std::string& name, const std::string& text)
{
    json[name] = text;
    if (!isUtf8(text)) {
        json[name + "Bytes"] = QByteArray::fromStdString(text).toHex().toStdString();
    }
}

std::string textOf(const Json& json, const std::string& name)
{
    const auto bytes = json.find(name + "Bytes");
    if (bytes != json.end() && bytes->is_string()) {
        return QByteArray::fromHex(QByteArray::fromStdString(bytes->get<std::string>()))
            .toStdString();
    }
    const auto found = json.find(name);
    return found != json.end() && found->is_string() ? found->get<std::string>() : std::string();
}

int lineCount(std::string_view text)
{
    return static_cast<int>(splitLines(text).size());
}

void addRegions(const Splice& splice, std::size_t file, std::vector<NotedDecision>& decisions)
{
    const SplicedText& text = *splice.files()[file].text;
    int line = 1;
    for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
        if (text.isRegion(slot)) {
            decisions.push_back({splice.files()[file].outcome->path,
                                 line,
                                 text.join().regionKey(text.regionOf(slot)),
                                 text.state(slot).choice,
                                 digestOfDecided(text.text(slot)),
                                 splice.reason({file, slot})});
        }
        line += lineCount(text.text(slot));
    }
}
}  // namespace

std::vector<NotedDecision> notedDecisions(const Splice& splice, std::size_t leg)
{
    std::vector<NotedDecision> decisions;
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const SpliceFile& file = splice.files()[i];
        if (file.leg != leg) {
            continue;
        }
        if (file.outcome->question) {
            decisions.push_back({file.outcome->path,
                                 0,
                                 {},
                                 file.answer.choice,
                                 {},
                                 splice.reason({i, SlotPlace::kQuestion})});
        }
        if (file.text) {
            addRegions(splice, i, decisions);
        }
    }
    return decisions;
}

std::string digestOfDecided(std::string_view text)
{
    return digestOfParts({text});
}

std::string noteText(const std::vector<NotedDecision>& decisions)
{
    Json list = Json::array();
    for (const NotedDecision& decision : decisions) {
        Json one;
        putText(one, "path", decision.path);
        if (decision.line > 0) {
            one["line"] = decision.line;
            one["region"] = decision.region;
        }
        one["choice"] = decision.choice;
        if (!decision.reason.empty()) {
            putText(one, "reason", decision.reason);
        }
        if (decision.line > 0) {
            one["digest"] = decision.digest;
        }
        list.push_back(std::move(one));
    }
    const Json note{{"format", kFormat}, {"version", kVersion}, {"decisions", list}};
    return note.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<std::vector<NotedDecision>> parseNote(std::string_view text)
{
    const Error unreadable{ErrorCode::corrupt, "note", std::string(text.substr(0, 500))};
    // The first value alone is read: git may have put the note of another commit behind it.
    std::istringstream stream{std::string(text)};
    Json note;
    try {
        stream >> note;
    } catch (const Json::exception&) {
        return unreadable;
    }
    const auto version = note.is_object() ? note.find("version") : note.end();
    if (!note.is_object() || textOf(note, "format") != kFormat || version == note.end()
        || !version->is_number_integer()) {
        return unreadable;
    }
    if (version->get<int>() > kVersion) {
        return Error{ErrorCode::unsupported, "note", {}};
    }
    const auto list = note.find("decisions");
    if (list == note.end() || !list->is_array()) {
        return unreadable;
    }
    std::vector<NotedDecision> decisions;
    for (const Json& one : *list) {
        if (!one.is_object()) {
            return unreadable;
        }
        const auto line = one.find("line");
        decisions.push_back({textOf(one, "path"),
                             line != one.end() && line->is_number_integer() ? line->get<int>() : 0,
                             textOf(one, "region"),
                             textOf(one, "choice"),
                             textOf(one, "digest"),
                             textOf(one, "reason")});
    }
    return decisions;
}

namespace {
/// Whether both tell of one place. Equal regions of a file follow each other in the same order.
bool isSamePlace(const NotedDecision& noted, const ReadDecision& read)
{
    return noted.path == read.path && (noted.line == 0) == (read.line == 0)
           && noted.region == read.key;
}

NoteRemark remarkOn(const NotedDecision& noted, const ReadDecision& read)
{
    const bool isAsNoted =
        read.line == 0 ? noted.choice == read.choice : noted.digest == digestOfDecided(read.text);
    return {noted.reason, isAsNoted ? std::nullopt : std::optional(noted.choice)};
}
}  // namespace

NoteComparison compareNote(const std::vector<NotedDecision>& note,
                           const std::vector<ReadDecision>& read)
{
    NoteComparison comparison;
    comparison.remarks.resize(read.size());
    std::size_t next = 0;  // most come in the same order
    for (const NotedDecision& noted : note) {
        std::size_t tried = 0;
        const auto at = [&] {
            return (next + tried) % read.size();
        };
        while (tried < read.size()
               && (comparison.remarks[at()] || !isSamePlace(noted, read[at()]))) {
            ++tried;
        }
        if (tried == read.size()) {
            comparison.gone.push_back(noted);
            continue;
        }
        comparison.remarks[at()] = remarkOn(noted, read[at()]);
        next = at() + 1;
    }
    return comparison;
}
}  // namespace rope
