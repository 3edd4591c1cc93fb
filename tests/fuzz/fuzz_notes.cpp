// SPDX-License-Identifier: GPL-3.0-or-later
// Notes that came from a remote: any bytes give decisions or an error, and what was read is written and read
// as the same again.
#include "core/plan/note_format.h"
#include "tests/fuzz/three_versions.h"

using namespace rope;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view bytes(reinterpret_cast<const char*>(data), size);
    if (const auto note = parseNote(bytes)) {
        const auto again = parseNote(noteText(*note));
        fuzz::require(again.hasValue(), "what was written can be read");
        fuzz::require(again->size() == note->size(), "no decision gets lost");
    }
    // Random bytes are hardly ever a note: as the reason in one, they come back as they are.
    const std::vector<NotedDecision> told{
        {std::string(bytes), 1, "key", "ours", "digest", std::string(bytes)}};
    const auto read = parseNote(noteText(told));
    fuzz::require(read && *read == told, "any path and reason come back");
    return 0;
}
