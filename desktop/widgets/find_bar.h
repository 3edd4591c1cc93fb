// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>

#include <functional>
#include <string>

class QLabel;
class QLineEdit;
class QPushButton;

namespace rope {
class CodeView;

/// Looks for words in a text and replaces them, in a bar below it. What is replaced counts as typed.
/// Capital letters are told apart only where the words have some.
class FindBar final : public QWidget
{
    Q_OBJECT
public:
    /// `view` must outlive it.
    FindBar(CodeView& view, QWidget* parent);

    /// Opens it, with the field for replacing or without; what is selected in the text is looked for.
    void open(bool replaces);
    void findNext(int direction);
    /// Selects the first place in the text, or, with -1, the last.
    void findFromEdge(int direction);
    void setReadOnly(bool isReadOnly);
    [[nodiscard]] std::string words() const;
    [[nodiscard]] bool matchesCase() const;
    /// Says how often the words stand in all files; with it the bar offers to look through all of them.
    using Elsewhere = std::function<QString(const std::string& words, bool matchesCase)>;
    void setElsewhere(Elsewhere elsewhere);

signals:
    /// Behind the last place in this text (or before the first) the next file is wanted.
    void otherFileRequested(int direction);
    void replaceEverywhereRequested(const QString& by);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void onWordsChanged();
    void replaceOne();
    void replaceAll();
    void close();
    [[nodiscard]] bool isEverywhere() const;

    CodeView& m_view;
    Elsewhere m_elsewhere;
    QPushButton* m_everywhere;
    QLineEdit* m_words;
    QLineEdit* m_other;
    QWidget* m_replaceRow;
    QLabel* m_told;
};
}  // namespace rope
