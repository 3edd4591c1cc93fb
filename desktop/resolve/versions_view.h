// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/resolve/side_facts.h"
#include "desktop/widgets/strand_pattern.h"

#include <QWidget>

class QHBoxLayout;

namespace rope {
/// A file's versions side by side, for questions about it as a whole: pictures as pictures, text as
/// text, anything else by its size.
class VersionsView final : public QWidget
{
    Q_OBJECT
public:
    explicit VersionsView(QWidget* parent);
    /// Shows what is known; before the contents arrive, only that they are on their way.
    void
    showVersions(const FileVersions* versions, const QString& oursName, const QString& theirsName);

private:
    void addVersion(const QString& title,
                    const QString& branch,
                    const std::optional<std::string>& bytes,
                    Strand strand);
    QHBoxLayout* m_row;
};
}  // namespace rope
