// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/place.h"

#include <string>
#include <string_view>

namespace rope {
/// The text as a terminal may get it: control characters, those of C1 too, and characters that turn
/// the direction of writing are shown as `\x1b` or `\u202e`. Line ends and tabs stay.
[[nodiscard]] std::string withoutControls(std::string_view text);

/// Print to standard output or error; what cannot be written is noted, see exitOf().
void printText(const std::string& text);
void printComplaint(const std::string& text);
/// Bytes as they are, for other programs.
void printBytes(const std::string& bytes);
/// "rope-splice: " and a sentence, to standard error. Gives the exit code of an error.
int printSentence(const std::string& sentence);

/// The exit code to end with: `code`, or that of an error where the output could not be written.
[[nodiscard]] int exitOf(int code);
/// Ends the process, once all is printed, without taking apart what it holds: the system is faster at that,
/// and programs that were started end when nobody writes to them any more.
[[noreturn]] void leave(int code);

/// Says which programs of the repository's own configuration were not run, and how to allow them.
void printLeftOut(Place& place);
/// Says where the repository's own configuration leads to.
void printLedFrom(const Place& place);
}  // namespace rope
