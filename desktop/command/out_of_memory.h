// SPDX-License-Identifier: GPL-3.0-or-later
// What happens when no memory is left in a command: there is nothing sensible to go on with, so the
// program ends as if it had been killed, but with a sentence and the exit code of an error. What was begun
// is taken up at the next start, as after any kill.
#pragma once

namespace rope {
/// From here on, whoever asks for memory in vain ends this process with a sentence on standard error and
/// exit code 2. For commands; call it once, before any thread is started.
void endWhenMemoryIsFull();
}  // namespace rope
