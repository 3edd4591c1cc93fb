// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/logbook_view.h"

#include <QListView>

namespace rope {
/// The decisions of a splice; the current one stands open: its text with rail, and what had been offered.
class DecisionList final : public QListView
{
    Q_OBJECT
public:
    explicit DecisionList(QWidget* parent);
    void show(std::vector<LoggedDecision> decisions);
    /// To the next decision, or with -1 the previous.
    void go(int direction);

private:
    class Model;
    Model* m_model;
};
}  // namespace rope
