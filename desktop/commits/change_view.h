// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/read_changes.h"
#include "desktop/widgets/strand_pattern.h"

#include <QScrollArea>

class QVBoxLayout;

namespace rope {
/// What was made of one file, stretch by stretch: the new text with its marks, and what is gone. The
/// text is the file's own, see SideText.
class ChangeView final : public QScrollArea
{
    Q_OBJECT
public:
    /// REQUIRES: strand is ours or theirs: whose change it is
    ChangeView(Strand strand, const char* objectName, QWidget* parent);
    void showFile(const FileReading& file);
    void clear();

private:
    Strand m_strand;
    QWidget* m_page = nullptr;
};
}  // namespace rope
