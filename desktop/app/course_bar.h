// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QAbstractButton>
#include <QWidget>

#include <optional>
#include <string_view>
#include <vector>

class QHBoxLayout;

namespace rope {
class ElidedLabel;

enum class Station { survey, resolve, check, record, push };
/// What a station is called: for people; and in journals and by tests.
[[nodiscard]] QString titleOf(Station station);
[[nodiscard]] const char* keyOf(Station station);
[[nodiscard]] std::optional<Station> stationOf(std::string_view key);

enum class KnotState { ahead, current, done };

/// One knot of the course: a station that can be gone to.
class KnotButton final : public QAbstractButton
{
    Q_OBJECT
public:
    KnotButton(const QString& name, const char* objectName, QWidget* parent);
    void setState(KnotState state);
    /// A few words after the name: "4 of 7".
    void setNote(const QString& note);
    /// Whether the note is shown; it is told in any case.
    void setNoteShown(bool isShown);
    /// What it takes beside the name; 0: there is none.
    [[nodiscard]] int noteWidth() const;
    [[nodiscard]] KnotState state() const { return m_state; }
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    KnotState m_state = KnotState::ahead;
    QString m_note;
    bool m_isNoteShown = true;
};

/// The rope across the top of the window: where the work is, what is done and what is left; beside it
/// the facts of what is being joined.
class CourseBar final : public QWidget
{
    Q_OBJECT
public:
    explicit CourseBar(QWidget* parent);
    void setCurrent(Station station);
    /// Stations before this one count as done.
    void setReached(Station station);
    /// One before it whose work nobody has looked at: it is not done. Nothing: there is none.
    void setPassedOver(std::optional<Station> station);
    void setNote(Station station, const QString& note);
    void setFacts(const QString& first, const QString& second, const QString& secondToolTip = {});
    [[nodiscard]] QString facts() const;
    /// Where a station may put a button of its own, right of the facts.
    void setSideButton(QWidget* button);

signals:
    void stationRequested(Station station);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void applyStates();
    void fitNotes();
    std::vector<KnotButton*> m_knots;
    ElidedLabel* m_first;
    ElidedLabel* m_second;
    QHBoxLayout* m_row;
    Station m_current = Station::survey;
    Station m_reached = Station::survey;
    std::optional<Station> m_passedOver;
};
}  // namespace rope
