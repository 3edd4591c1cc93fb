// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/out_of_memory.h"

#include "desktop/command/exit_codes.h"

#include <cstdlib>
#include <exception>
#include <new>
#include <string_view>
#include <unistd.h>

namespace rope {
namespace {
/// Asks for no memory itself.
[[noreturn]] void endForWantOfMemory()
{
    constexpr std::string_view kSentence = "rope-splice: There is not enough memory for this. Free "
                                           "some memory, or leave out the largest "
                                           "files. What was begun is taken up at the next start.\n";
    const auto written = ::write(STDERR_FILENO, kSentence.data(), kSentence.size());
    (void)written;  // nobody is left to be told
    ::_exit(kExitError);
}

/// Some libraries ask with malloc and throw by themselves.
[[noreturn]] void endUncaught()
{
    if (const std::exception_ptr error = std::current_exception()) {
        try {
            std::rethrow_exception(error);
        } catch (const std::bad_alloc&) {
            endForWantOfMemory();
        } catch (...) {
        }
    }
    std::abort();
}
}  // namespace

void endWhenMemoryIsFull()
{
    std::set_new_handler(&endForWantOfMemory);
    std::set_terminate(&endUncaught);
}
}  // namespace rope
