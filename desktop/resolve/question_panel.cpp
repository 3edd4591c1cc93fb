// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/question_panel.h"

#include "desktop/resolve/candidate_list.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
QuestionPanel::QuestionPanel(QWidget* parent)
    : QWidget(parent)
    , m_path(makeLabel({}, TextRole::code, this))
    , m_question(makeLabel({}, TextRole::strong, this))
    , m_facts(makeLabel({}, TextRole::muted, this))
    , m_answers(new CandidateList(this))
    , m_take(makeButton({}, "giveAnswerButton", ButtonRole::primary, this))
    , m_reopen(makeButton(tr("Reopen"), "reopenQuestionButton", ButtonRole::plain, this))
{
    m_answers->setObjectName(QStringLiteral("answerList"));
    m_answers->setAccessibleName(tr("Answers"));
    m_question->setObjectName(QStringLiteral("questionText"));
    m_facts->setObjectName(QStringLiteral("questionFacts"));
    auto* body = layPanel(this, makeLabel(tr("Question"), TextRole::heading, this));
    body->addWidget(m_path);
    body->addWidget(m_question);
    body->addWidget(m_facts);
    body->addSpacing(6);
    body->addWidget(makeLabel(tr("Answers"), TextRole::heading, this));
    body->addWidget(m_answers);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_take);
    buttons->addStretch();
    buttons->addWidget(m_reopen);
    body->addLayout(buttons);
    body->addStretch();

    setFocusProxy(m_answers);
    const auto give = [this](int row) {
        emit answered(m_file->outcome->question->answers[static_cast<std::size_t>(row)].choice);
    };
    connect(m_answers, &CandidateList::taken, this, give);
    connect(m_take, &QPushButton::clicked, this, [this, give] {
        if (m_leadsOn) {
            emit leadOnRequested();
        } else if (m_takenRow >= 0 && m_answers->lookedAt() == m_takenRow) {
            emit nextOpenRequested();
        } else {
            give(m_answers->lookedAt());
        }
    });
    connect(m_answers, &CandidateList::lookedAtChanged, this, &QuestionPanel::nameMainButton);
    connect(m_reopen, &QPushButton::clicked, this, &QuestionPanel::reopenRequested);
}

void QuestionPanel::showQuestion(const SpliceFile& file,
                                 const SideNames& names,
                                 const QString& remark)
{
    m_file = &file;
    m_names = names;
    m_path->setText(shownPath(file.outcome->path));
    const QString question = questionInWords(*file.outcome, names);
    m_question->setText(remark.isEmpty() ? question : question + QLatin1Char('\n') + remark);
    m_facts->clear();
    fillList();
}

void QuestionPanel::setFacts(const PlaceFacts& facts, const SideNames& names)
{
    QStringList lines;
    const auto add = [&lines](const QString& side, const SideFacts& own) {
        if (!own.who.isEmpty()) {
            lines << QStringLiteral("%1: %2\n%3").arg(side, own.who, own.commit);
        }
    };
    add(names.theirs, facts.theirs);
    add(names.ours, facts.ours);
    m_facts->setText(lines.join(QLatin1Char('\n')));
}

int QuestionPanel::lookedAt() const
{
    return m_answers->lookedAt();
}

int QuestionPanel::rowOf(FileChoice choice) const
{
    const auto& answers = m_file->outcome->question->answers;
    const auto found = std::find_if(
        answers.begin(), answers.end(), [choice](const Answer& a) { return a.choice == choice; });
    return found == answers.end() ? -1 : static_cast<int>(found - answers.begin());
}

void QuestionPanel::setLeadsOn(bool leadsOn)
{
    m_leadsOn = leadsOn;
    nameMainButton(m_answers->lookedAt());
}

void QuestionPanel::nameMainButton(int row)
{
    m_take->setText(m_leadsOn                              ? m_leadOnLabel
                    : m_takenRow >= 0 && row == m_takenRow ? tr("Next open")
                                                           : tr("Use answer %1").arg(row + 1));
}

void QuestionPanel::fillList()
{
    std::vector<ChoiceRow> rows;
    int taken = -1;
    for (const Answer& answer : m_file->outcome->question->answers) {
        const FileChoice choice = answer.choice;
        const bool isTaken = m_file->answer.isDecided && m_file->answer.choice == nameOf(choice);
        if (isTaken) {
            taken = static_cast<int>(rows.size());
        }
        rows.push_back({answerInWords(*m_file->outcome, choice, m_names), {}, false, isTaken});
    }
    m_takenRow = taken;
    m_answers->setRows(std::move(rows));
    m_answers->lookAt(std::max(taken, 0));
    nameMainButton(std::max(taken, 0));
    m_reopen->setVisible(m_file->answer.isDecided);
}
}  // namespace rope
