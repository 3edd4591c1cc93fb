// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/repository/repository.h"

namespace rope {
std::string Commit::subject() const
{
    return message.substr(0, message.find('\n'));
}
}  // namespace rope
