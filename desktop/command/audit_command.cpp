// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merge_reading.cpp and tst_command_line.cpp.
#include "desktop/command/audit_command.h"

#include "core/plan/decision_note.h"
#include "core/system/factory/open_place.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/json_bytes.h"
#include "desktop/command/print_error.h"
#include "desktop/command/terminal_text.h"
#include "desktop/wording/odd_words.h"

#include <nlohmann/json.hpp>

namespace rope {
namespace {
using Json = nlohmann::ordered_json;

std::string nameOf(OddSide side)
{
    return side == OddSide::ours ? "ours" : side == OddSide::theirs ? "theirs" : "";
}

/// The note on a merge, as far as one can be read.
std::vector<NotedDecision> noteOn(const std::vector<FoundNote>& found)
{
    const auto note = found.empty()
                          ? Result<std::vector<NotedDecision>>(std::vector<NotedDecision>{})
                          : parseNote(found.front().text);
    return note ? *note : std::vector<NotedDecision>{};
}

Json jsonOf(const MergeReading& reading, const std::vector<NotedDecision>& note)
{
    const NoteComparison compared = compareNote(note, reading.decisions);
    Json decisions = Json::array();
    for (std::size_t i = 0; i < reading.decisions.size(); ++i) {
        const ReadDecision& decision = reading.decisions[i];
        Json one{{"path", decision.path}, {"line", decision.line}, {"choice", decision.choice}};
        if (const auto& remark = compared.remarks[i]; remark && !remark->reason.empty()) {
            one["reason"] = remark->reason;
        }
        if (const auto& remark = compared.remarks[i]; remark && remark->otherwise) {
            one["noteSays"] = *remark->otherwise;
        }
        decisions.push_back(std::move(one));
    }
    Json odd = Json::array();
    for (const OddPlace& place : reading.odd) {
        odd.push_back({{"kind", nameOf(place.kind)},
                       {"path", place.path},
                       {"line", place.line},
                       {"side", nameOf(place.side)},
                       {"text", place.text}});
    }
    return {{"merge", reading.merge.id.hex()},
            {"subject", reading.merge.subject()},
            {"author", reading.merge.author.name},
            {"time", reading.merge.author.time},
            {"read", !reading.isUnreadable},
            {"decisions", std::move(decisions)},
            {"odd", std::move(odd)}};
}

std::string inWords(const OddPlace& place)
{
    const std::string where =
        place.path + (place.line > 0 ? ":" + std::to_string(place.line) : std::string());
    const std::string quoted = place.text.empty() ? std::string() : ": " + place.text;
    return where + ": " + oddInWords(place).toStdString() + quoted;
}

std::string inWords(const MergeReading& reading)
{
    std::string words;
    for (const OddPlace& place : reading.odd) {
        words += "  " + inWords(place) + "\n";
    }
    if (reading.isUnreadable) {
        words += "  not read: it has more than two parents\n";
    }
    return words.empty() ? words
                         : reading.merge.id.brief() + " " + reading.merge.subject() + "\n" + words;
}

/// The merges of a range, newest first.
Result<std::vector<ObjectId>> mergesOf(Place& place, const std::string& range)
{
    const std::size_t dots = range.find("..");
    const std::string from = dots == std::string::npos ? std::string() : range.substr(0, dots);
    std::string to = dots == std::string::npos ? range : range.substr(dots + 2);
    to = to.empty() ? "HEAD" : to;
    TRY_ASSIGN(const ObjectId tip, place.resolveCommit(to));
    std::vector<ObjectId> merges;
    const auto add = [&merges](const CommitLink& link) {
        if (link.parents.size() > 1) {
            merges.push_back(link.id);
        }
    };
    if (!from.empty()) {
        TRY_ASSIGN(const ObjectId base, place.resolveCommit(from));
        TRY_ASSIGN(const Divergence apart, findDivergence(place, tip, base));
        std::for_each(apart.oursOnly.begin(), apart.oursOnly.end(), add);
        return merges;
    }
    TRY_ASSIGN(const auto stream, place.commitsFrom({&tip, 1}));
    for (;;) {
        TRY_ASSIGN(const auto link, stream->next());
        if (!link) {
            return merges;
        }
        add(*link);
    }
}

/// Whether anything is odd. Errors are those of the first merge that cannot be read.
Result<bool> auditAll(Place& place, const AuditRequest& request)
{
    TRY_ASSIGN(const auto merges, mergesOf(place, request.range));
    std::optional<CommitGraph> history;
    if (!merges.empty()) {
        TRY_ASSIGN(auto stream, place.commitsFrom(merges));
        history.emplace(std::move(stream));
    }
    bool isOdd = false;
    Json all = Json::array();
    TRY_ASSIGN(const auto notes, place.notesOn(merges));
    for (std::size_t i = 0; i < merges.size(); ++i) {
        TRY_ASSIGN(const MergeReading reading, readMerge(place, merges[i], &*history));
        isOdd = isOdd || !reading.odd.empty();
        if (request.asJson) {
            all.push_back(jsonOf(reading, noteOn(notes[i])));
        } else {
            printText(inWords(reading));
        }
    }
    if (request.asJson) {
        printText(jsonText({{"merges", std::move(all)}}));
    } else if (!isOdd) {
        printText("Nothing odd in " + std::to_string(merges.size())
                  + (merges.size() == 1 ? " merge.\n" : " merges.\n"));
    }
    return isOdd;
}
}  // namespace

int runAudit(const AuditRequest& request)
{
    const auto place = openPlace(request.folder, {false, {}, true});
    if (!place) {
        return printError(place.error());
    }
    const auto isOdd = auditAll(**place, request);
    if (!isOdd) {
        return printError(isOdd.error());
    }
    return exitOf(*isOdd ? kExitMustDecide : kExitClean);
}
}  // namespace rope
