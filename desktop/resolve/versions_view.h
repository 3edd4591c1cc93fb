// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/file_outcome.h"
#include "desktop/facts/side_facts.h"
#include "desktop/resolve/picture_difference.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/wording/question_words.h"

#include <QWidget>

#include <vector>

class QVBoxLayout;

namespace rope {
/// A file's versions, for questions about it as a whole: texts as what each side did, pictures side by
/// side with where they differ, anything else by its size.
class VersionsView final : public QWidget
{
    Q_OBJECT
public:
    explicit VersionsView(QWidget* parent);
    /// Shows what is known; before the contents arrive, only that they are on their way.
    void
    showVersions(const FileVersions* versions, const FileOutcome& outcome, const SideNames& names);

private:
    struct Side
    {
        QString title;
        QString branch;
        std::optional<std::string> bytes;
        Strand strand = Strand::base;
        QString commit;  ///< Of a submodule, in words.
        ReadPicture picture;
    };
    void clear();
    [[nodiscard]] QWidget* makeHead(const Side& side);
    void showText(const Side& side, const std::optional<std::string>& before, Strand beforeStrand);
    void showTexts(const std::vector<Side>& sides, const std::optional<std::string>& base);
    void showOthers(const std::vector<Side>& sides, const QString& name);
    void showPictures(const std::vector<Side>& sides);
    void addCompare(const std::vector<Side>& sides, const QImage& differenceMap);
    void showFound(std::vector<Side> sides, const FileOutcome& outcome);
    void showBytes(const Side& ours, const Side& theirs);
    void showHeads(const std::vector<Side>& sides);
    void addSentence(const QString& sentence);

    QVBoxLayout* m_column;
};
}  // namespace rope
