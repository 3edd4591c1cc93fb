// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/region_reading.h"
#include "desktop/facts/side_facts.h"
#include "desktop/wording/question_words.h"

#include <QScrollArea>

namespace rope {
class EvidenceCard;

/// What the three sides have in one place, each as what it did to the base or to the other, with who and
/// why. The cards share the height, so that all three are in view.
class SideCards final : public QScrollArea
{
    Q_OBJECT
public:
    enum class Against { base, eachOther };

    /// The cards' object names: "theirsCard", or "joinedTheirsCard" with `joined` as the prefix.
    explicit SideCards(QWidget* parent, const QString& prefix = {});

    struct Place
    {
        RegionTexts texts;  ///< Valid until the next call.
        LinesAround around{};  ///< Of all three sides; valid as long as the texts.
        LineNumber firstBaseLine = 0;
        SideNames names;
        QString baseName;
        bool hasBase = true;  ///< Whether the file existed before both.
        /// What each side did to the file besides its text: a sentence, or empty.
        QString oursRemark;
        QString theirsRemark;
    };
    void showPlace(const Place& place);
    /// Lets go of the texts.
    void clear();
    void setFacts(const PlaceFacts& facts);
    /// Puts a widget below the cards, which goes out of view with them.
    void addBelow(QWidget* widget);
    enum class When { now, next };  ///< At once, or with the next showPlace().
    void setAgainst(Against against, When when = When::now);
    void setBlanksShown(bool areShown);
    /// Whether long lines scroll sideways, all cards together, instead of wrapping.
    void setSideways(bool isSideways);

protected:
    /// What stands around the place is shown only where all three cards stay in view.
    void resizeEvent(QResizeEvent* event) override;

private:
    void showSides();
    void laySides(const LinesAround& around);
    [[nodiscard]] bool fits() const;
    void hideIndent(const LinesAround& around);
    void showBase();

    EvidenceCard* m_theirs;
    EvidenceCard* m_base;
    EvidenceCard* m_ours;
    RegionTexts m_texts;
    LinesAround m_around;
    bool m_isAroundShown = false;
    RegionReading m_reading;
    Against m_against = Against::base;
    QString m_basePlace;
    bool m_isBaseUnfolded = false;
    bool m_areBlanksShown = false;
};
}  // namespace rope
