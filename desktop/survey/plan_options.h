// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/plain_widgets.h"

#include <QWidget>

#include <vector>

class QButtonGroup;

namespace rope {
/// One way to go on, with what it means.
struct PlanOption
{
    int id = 0;
    QString label;
    QString consequence;
    bool isPossible = true;
    QString warning{};  ///< What to think about before; empty: nothing.
};

/// A few ways of which one is taken, each with its consequence below it.
class PlanOptions final : public QWidget
{
    Q_OBJECT
public:
    PlanOptions(const char* objectName, QWidget* parent);
    /// Shows these; `chosen` is taken if it is possible, else the first that is.
    void setOptions(const std::vector<PlanOption>& options, int chosen);
    /// The id of what is taken; -1 if nothing is.
    [[nodiscard]] int chosen() const;

signals:
    /// A person took another one.
    void chosenByHand(int id);

private:
    void addWords(const QString& words, TextRole role, bool isPossible);
    QButtonGroup* m_buttons;
};
}  // namespace rope
