// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "desktop/facts/side_facts.h"
#include "desktop/wording/question_words.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace rope {
class CandidateList;

/// A question about a whole file, in words, with who did what and the answers that can be given.
class QuestionPanel final : public QWidget
{
    Q_OBJECT
public:
    explicit QuestionPanel(QWidget* parent);
    /// REQUIRES: the file has a question
    /// `remark`: what else there is to know, below the question; may be empty.
    void showQuestion(const SpliceFile& file, const SideNames& names, const QString& remark = {});
    void setFacts(const PlaceFacts& facts, const SideNames& names);
    [[nodiscard]] int lookedAt() const;
    /// The answer of this choice; -1: there is none.
    [[nodiscard]] int rowOf(FileChoice choice) const;
    /// When nothing is open any more the main button goes on to the next station.
    void setLeadsOn(bool leadsOn);
    void setLeadOnLabel(const QString& label) { m_leadOnLabel = label; }

signals:
    void answered(FileChoice choice);
    void reopenRequested();
    void leadOnRequested();
    /// What is looked at is what was answered: the person wants to go on to the next open place.
    void nextOpenRequested();

private:
    void fillList();
    void nameMainButton(int row);
    QLabel* m_path;
    QLabel* m_question;
    QLabel* m_facts;
    CandidateList* m_answers;
    QPushButton* m_take;
    QPushButton* m_reopen;
    const SpliceFile* m_file = nullptr;
    bool m_leadsOn = false;
    int m_takenRow = -1;  ///< Of the answer that was given; -1: none.
    QString m_leadOnLabel;
    SideNames m_names;
};
}  // namespace rope
