// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/balance.h"

namespace rope {
namespace {
Finding unbalancedAt(const FileView& file, FindingKind kind, LineNumber line)
{
    return file.findingAt(kind, {line, line + 1}, FindingSide::both);
}
}  // namespace

std::optional<LineNumber> firstBrokenIndent(const std::vector<IndentedLine>& lines)
{
    std::vector<std::size_t> blocks{0};
    bool opens = false;
    for (const IndentedLine& line : lines) {
        if (opens != (line.indent > blocks.back())) {
            return line.line;
        }
        if (opens) {
            blocks.push_back(line.indent);
        }
        while (line.indent < blocks.back()) {
            blocks.pop_back();
        }
        if (line.indent != blocks.back()) {
            return line.line;
        }
        opens = line.opensBlock;
    }
    return std::nullopt;
}

void findUnbalanced(const FileView& file, std::vector<Finding>& found)
{
    const CodeScan& ours = file.sides.ours.scan();
    const CodeScan& theirs = file.sides.theirs.scan();
    const CodeScan& joined = file.joined.scan();
    if (joined.isTooDeep || ours.isTooDeep || theirs.isTooDeep) {
        return;
    }
    if (ours.looseBrackets.empty() && theirs.looseBrackets.empty()
        && !joined.looseBrackets.empty()) {
        const LooseBracket& first = joined.looseBrackets.front();
        Finding finding = unbalancedAt(file, FindingKind::bracketsOpen, first.line);
        finding.name = std::string(1, first.sign);
        finding.count = static_cast<int>(joined.looseBrackets.size());
        found.push_back(std::move(finding));
    }
    if (!ours.openQuote && !theirs.openQuote && joined.openQuote) {
        found.push_back(unbalancedAt(file, FindingKind::quoteOpen, *joined.openQuote));
    }
    if (!firstBrokenIndent(ours.lines) && !firstBrokenIndent(theirs.lines)) {
        if (const auto broken = firstBrokenIndent(joined.lines)) {
            found.push_back(unbalancedAt(file, FindingKind::indentBroken, *broken));
        }
    }
}
}  // namespace rope
