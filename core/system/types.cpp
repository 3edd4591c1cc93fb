// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/system/types.h"

#include "core/system/remotes.h"

#include <algorithm>
#include <cstring>

namespace rope {
std::string Commit::subject() const
{
    return message.substr(0, message.find('\n'));
}

ObjectId RemoteLines::tipOf(const std::string& name) const
{
    const auto found = std::find_if(
        lines.begin(), lines.end(), [&name](const RemoteLine& line) { return line.name == name; });
    return found == lines.end() ? ObjectId{} : found->tip;
}

int entryOrder(const TreeEntry& a, const TreeEntry& b)
{
    const std::size_t common = std::min(a.name.size(), b.name.size());
    if (const int order = std::memcmp(a.name.data(), b.name.data(), common); order != 0) {
        return order;
    }
    const auto next = [common](const TreeEntry& entry) -> int {
        if (common < entry.name.size()) {
            return static_cast<unsigned char>(entry.name[common]);
        }
        return entry.kind == EntryKind::folder ? '/' : 0;
    };
    return next(a) - next(b);
}
}  // namespace rope
