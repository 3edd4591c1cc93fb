// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_start_page.cpp.
#include "desktop/course/demo_session.h"

#include "core/system/factory/lay_out_demo.h"
#include "desktop/course/log.h"

namespace rope {
DemoSession::DemoSession(QObject* parent)
    : QObject(parent)
    , m_work(1, this)
{
}

void DemoSession::make()
{
    if (m_isMaking) {
        return;
    }
    m_isMaking = true;
    const std::string folder = freshDemoFolder();
    m_work.run([folder](const std::stop_token&) { return layOutDemo(folder, demoMaterials()); },
               [this, folder](const Status& made) {
                   m_isMaking = false;
                   if (made) {
                       emit this->made(QString::fromStdString(folder));
                       return;
                   }
                   logError(made.error());
                   emit failed(made.error());
               });
}
}  // namespace rope
