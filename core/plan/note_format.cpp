// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_decision_note.cpp.
#include "core/plan/note_format.h"

#include "core/base/hex.h"
#include "core/text/encoding.h"

#include <nlohmann/json.hpp>
#include <optional>
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
        json[name + "Bytes"] = hexDigits(text);
    }
}

std::string textOf(const Json& json, const std::string& name)
{
    const auto bytes = json.find(name + "Bytes");
    const auto exact = bytes != json.end() && bytes->is_string()
                           ? bytesOfHex(bytes->get_ref<const std::string&>())
                           : std::nullopt;
    const auto found = json.find(name);
    return exact                                       ? *exact
           : found != json.end() && found->is_string() ? found->get<std::string>()
                                                       : std::string();
}
}  // namespace

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
}  // namespace rope
