// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/recent_place.h"
#include "desktop/widgets/station_page.h"

#include <QStringList>

#include <map>
#include <vector>

class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QScrollArea;

namespace rope {
class ClonePanel;
class RepositoryCard;

/// What stands in the window before a repository is open: a folder chooser, and a card for each recent
/// repository with what is known of it here. Nothing is asked of any remote by showing it.
class StartPage final : public StationPage
{
    Q_OBJECT
public:
    explicit StartPage(QWidget* parent);
    /// Newest first. Until more is said of a folder its card says that it is being looked at.
    void setRecent(const QStringList& folders);
    void showPlace(const QString& folder, const RecentPlace& place);
    void showGone(const QString& folder, const QString& why, const QString& lastKnown);
    void showAsking(const QString& folder, const QString& progress);
    /// Whether the made-up repositories are being made.
    void setMakingDemo(bool isMaking);
    /// Whether remotes are being asked: then the button stops that.
    void setAsking(bool isAsking);
    [[nodiscard]] ClonePanel& clonePanel() { return *m_clone; }
    /// "1 splice is open, 1 is put away"
    [[nodiscard]] QString status() const override;
    [[nodiscard]] std::vector<KeyHint> hints() const override;
    [[nodiscard]] std::vector<KeyHint> keys() const override;

signals:
    void folderChosen(const QString& folder);
    void chooserRequested();
    /// Made-up repositories are to be made, to try the program with.
    void demoRequested();
    void lookAgainRequested(const QString& folder);
    /// A repository that is gone has been found elsewhere by the person.
    void foundElsewhere(const QString& folder, const QString& by);
    void forgetRequested(const QString& folder);
    void askAllRequested();
    void statusChanged();

protected:
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    /// Down or Enter in the filter goes to the cards, Escape empties it; arrows and letters on a card
    /// are the page's.
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    [[nodiscard]] QWidget* makeLeft();
    [[nodiscard]] QWidget* makeRight();
    [[nodiscard]] RepositoryCard* card(const QString& folder) const;
    [[nodiscard]] int columns() const;
    void find(const QString& folder);
    void layCards();
    void moveFocus(int step);
    /// Nothing where there is no such card.
    void focusCard(std::ptrdiff_t at);

    ClonePanel* m_clone;
    QWidget* m_left = nullptr;  ///< What is there to begin with.
    QPushButton* m_demo = nullptr;
    QLabel* m_asOf = nullptr;
    QLineEdit* m_filter;
    QPushButton* m_askAll;
    QLabel* m_count;
    QLabel* m_empty;
    QScrollArea* m_scroll = nullptr;
    QGridLayout* m_grid = nullptr;
    std::vector<RepositoryCard*> m_cards;   ///< In their order.
    std::vector<RepositoryCard*> m_inView;  ///< Those that the filter leaves.
    std::map<QString, RecentPlace> m_places;
};
}  // namespace rope
