// SPDX-License-Identifier: GPL-3.0-or-later
// What a check command says: any bytes give text without control characters, the same however they are
// portioned.
#include "core/trial/output_text.h"
#include "tests/fuzz/three_versions.h"

#include <vector>

using namespace rope;

namespace {
std::vector<OutputLine> linesOf(std::string_view bytes, std::size_t portion)
{
    OutputText reader;
    std::vector<OutputLine> lines;
    for (std::size_t at = 0; at < bytes.size(); at += portion) {
        for (OutputLine& line : reader.add(bytes.substr(at, portion))) {
            lines.push_back(std::move(line));
        }
    }
    lines.push_back(reader.unfinished());
    return lines;
}

bool isPlain(char c)
{
    return c == '\t' || (static_cast<unsigned char>(c) >= 0x20 && c != 0x7F);
}
}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view bytes(reinterpret_cast<const char*>(data), size);
    const auto atOnce = linesOf(bytes, size + 1);
    const auto byByte = linesOf(bytes, 1);
    fuzz::require(atOnce.size() == byByte.size(), "as many lines in any portions");
    for (std::size_t i = 0; i < atOnce.size(); ++i) {
        const std::string text = atOnce[i].text();
        fuzz::require(text == byByte[i].text(), "the same text in any portions");
        fuzz::require(text.size() <= OutputText::kMostLineBytes, "no line is too long");
        for (const char c : text) {
            fuzz::require(isPlain(c), "nothing that a terminal would obey");
        }
    }
    return 0;
}
