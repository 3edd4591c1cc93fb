// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merges_round.cpp, tst_command_line.cpp.
#include "desktop/wording/odd_words.h"

#include "desktop/wording/tr.h"

namespace rope {
namespace {
QString nameOfSide(OddSide side)
{
    return side == OddSide::ours ? tr("ours") : tr("theirs");
}
}  // namespace

QString oddInWords(const OddPlace& place)
{
    switch (place.kind) {
    case OddKind::neitherSide:
        return place.line > 0 ? tr("a line that comes from neither side")
                              : tr("a file as neither side has it");
    case OddKind::changeDropped:
        return place.side == OddSide::none
                   ? tr("a change without a conflict is gone")
                   : tr("the change of %1 is gone").arg(nameOfSide(place.side));
    case OddKind::takenWhole:
        return tr("taken whole from %1, though both changed it").arg(nameOfSide(place.side));
    case OddKind::markersLeft:
        return tr("a conflict marker was left");
    }
    return {};
}
}  // namespace rope
