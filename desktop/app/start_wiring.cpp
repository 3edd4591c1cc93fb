// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/start_wiring.h"

#include "desktop/app/navigator.h"
#include "desktop/course/clone_session.h"
#include "desktop/course/demo_session.h"
#include "desktop/course/recent_places.h"
#include "desktop/start/clone_panel.h"
#include "desktop/start/start_page.h"
#include "desktop/widgets/notice_bar.h"

namespace rope {
StartWiring::StartWiring(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_parts(parts)
{
    RecentPlaces* const recent = m_parts.recent;
    StartPage* const page = m_parts.start;
    connect(recent, &RecentPlaces::listed, page, &StartPage::setRecent);
    connect(recent, &RecentPlaces::placeRead, page, &StartPage::showPlace);
    connect(recent, &RecentPlaces::goneSeen, page, &StartPage::showGone);
    connect(recent, &RecentPlaces::askingAll, page, &StartPage::setAsking);
    connect(recent, &RecentPlaces::asked, page, &StartPage::showAsking);
    connect(page, &StartPage::lookAgainRequested, recent, &RecentPlaces::look);
    connect(page, &StartPage::forgetRequested, recent, &RecentPlaces::forget);
    connect(page, &StartPage::foundElsewhere, recent, &RecentPlaces::replace);
    connect(page, &StartPage::askAllRequested, recent, &RecentPlaces::askAll);
    connect(page, &StartPage::statusChanged, m_parts.to, &Navigator::showStatus);
    connect(page, &StartPage::folderChosen, this, &StartWiring::openRequested);
    connect(page, &StartPage::chooserRequested, this, &StartWiring::chooserRequested);

    auto* const demo = new DemoSession(this);
    connect(page, &StartPage::demoRequested, demo, [page, demo] {
        page->setMakingDemo(true);
        demo->make();
    });
    connect(demo, &DemoSession::made, this, [this, page](const QString& folder) {
        page->setMakingDemo(false);
        emit demoMade(folder);
    });
    connect(demo, &DemoSession::failed, this, [this, page](const Error& error) {
        page->setMakingDemo(false);
        m_parts.noticeBar->showError(error);
    });

    CloneSession* const cloning = m_parts.cloning;
    ClonePanel* const panel = &page->clonePanel();
    connect(panel, &ClonePanel::addressEntered, cloning, &CloneSession::ask);
    connect(panel, &ClonePanel::cloneRequested, cloning, &CloneSession::copy);
    connect(panel, &ClonePanel::stopRequested, cloning, &CloneSession::stop);
    connect(cloning, &CloneSession::addressAnswered, panel, &ClonePanel::showLines);
    connect(cloning, &CloneSession::addressFailed, panel, &ClonePanel::showAddressFailure);
    connect(cloning, &CloneSession::progressed, panel, &ClonePanel::setBusy);
    connect(cloning, &CloneSession::failed, panel, &ClonePanel::showFailure);
    connect(cloning, &CloneSession::cloned, panel, &ClonePanel::clear);
    connect(cloning, &CloneSession::cloned, this, &StartWiring::openRequested);
}
}  // namespace rope
