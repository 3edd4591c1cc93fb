// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>

#include <string>

class QLabel;
class QLineEdit;

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
    void setReadOnly(bool isReadOnly);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void onWordsChanged();
    void replaceOne();
    void replaceAll();
    void close();
    [[nodiscard]] std::string words() const;
    [[nodiscard]] bool matchesCase() const;

    CodeView& m_view;
    QLineEdit* m_words;
    QLineEdit* m_other;
    QWidget* m_replaceRow;
    QLabel* m_told;
};
}  // namespace rope
