// SPDX-License-Identifier: GPL-3.0-or-later
// A repository's shared check commands: any bytes give commands or an error, and a command gives words or an
// error.
#include "core/trial/check_commands.h"
#include "tests/fuzz/three_versions.h"

using namespace rope;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string bytes(reinterpret_cast<const char*>(data), size);
    if (const auto commands = sharedCommands(bytes)) {
        for (const std::string& command : *commands) {
            (void)wordsOf(command);
        }
    }
    if (const auto words = wordsOf(bytes)) {
        fuzz::require(!words->empty(), "a command has a program");
        std::size_t length = 0;
        for (const std::string& word : *words) {
            length += word.size();
        }
        fuzz::require(length <= bytes.size(), "no word is made up");
    }
    return 0;
}
