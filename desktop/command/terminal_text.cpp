// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/terminal_text.h"

#include "core/text/encoding.h"
#include "desktop/command/exit_codes.h"

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <unistd.h>

namespace rope {
namespace {
/// `\x1b`, `\u202e`: a backslash, a letter and so many hexadecimal digits.
std::string numbered(char letter, unsigned number, int digits)
{
    std::string text{'\\', letter};
    for (int shift = 4 * (digits - 1); shift >= 0; shift -= 4) {
        text += "0123456789abcdef"[(number >> static_cast<unsigned>(shift)) & 0xfU];
    }
    return text;
}

/// The length and number of the character at the front of valid UTF-8.
std::pair<std::size_t, unsigned> firstCharacter(std::string_view text)
{
    const auto byte = [&text](std::size_t i) {
        return static_cast<unsigned>(static_cast<unsigned char>(text[i]));
    };
    if (byte(0) < 0x80) {
        return {1, byte(0)};
    }
    if (byte(0) < 0xe0) {
        return {2, (byte(0) & 0x1fU) << 6U | (byte(1) & 0x3fU)};
    }
    if (byte(0) < 0xf0) {
        return {3, (byte(0) & 0xfU) << 12U | (byte(1) & 0x3fU) << 6U | (byte(2) & 0x3fU)};
    }
    return {4, 0x10000};  // beyond all that is shown otherwise
}

bool turnsDirection(unsigned character)
{
    return character == 0x61c || character == 0x200e || character == 0x200f
           || (character >= 0x202a && character <= 0x202e)
           || (character >= 0x2066 && character <= 0x2069);
}
}  // namespace

namespace {
/// How many characters from the first on are ASCII and print as they are.
std::size_t plainLength(std::string_view text)
{
    const auto end = std::find_if(text.begin(), text.end(), [](char c) {
        return (c < ' ' && c != '\n' && c != '\t') || c == '\x7f';  // beyond ASCII: below zero
    });
    return static_cast<std::size_t>(end - text.begin());
}
}  // namespace

std::string withoutControls(std::string_view text)
{
    const bool isValid = isUtf8(text);
    std::string shown;
    while (!text.empty()) {
        const std::size_t plain = plainLength(text);
        shown += text.substr(0, plain);
        text.remove_prefix(plain);
        if (text.empty()) {
            break;
        }
        const auto [length, character] =
            isValid ? firstCharacter(text)
                    : std::pair<std::size_t, unsigned>(1, static_cast<unsigned char>(text.front()));
        const bool isControl = (character < 0x20 && character != '\n' && character != '\t')
                               || (character >= 0x7f && character < 0xa0);
        if (isControl) {
            shown += numbered('x', character, 2);
        } else if (isValid && turnsDirection(character)) {
            shown += numbered('u', character, 4);
        } else {
            shown += text.substr(0, length);
        }
        text.remove_prefix(length);
    }
    return shown;
}

void printText(const std::string& text)
{
    printBytes(withoutControls(text));
}

void printBytes(const std::string& bytes)
{
    std::fwrite(bytes.data(), 1, bytes.size(), stdout);
}

void printComplaint(const std::string& text)
{
    std::fputs(withoutControls(text).c_str(), stderr);
}

int printSentence(const std::string& sentence)
{
    printComplaint("rope-splice: " + sentence + "\n");
    return kExitError;
}

int exitOf(int code)
{
    if (std::fflush(stdout) == 0 && std::ferror(stdout) == 0) {
        return code;
    }
    return printSentence(std::string("The output could not be written: ") + std::strerror(errno)
                         + ".");
}

void leave(int code)
{
    ::_exit(exitOf(code));
}

void printLeftOut(Place& place)
{
    const auto programs = place.programsLeftOut();
    if (!programs) {
        return;  // a remark and no more
    }
    for (const std::string& program : *programs) {
        printComplaint("rope-splice: this repository's own configuration names a program that was "
                       "not run: "
                       + program + "\n  With --allow-programs it is run.\n");
    }
}

void printLedFrom(const Place& place)
{
    if (!place.ledFrom().empty()) {
        printComplaint("rope-splice: the configuration of " + place.ledFrom()
                       + " says that its working tree is " + place.root() + ".\n");
    }
}
}  // namespace rope
