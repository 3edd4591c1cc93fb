// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <QString>

#include <string>
#include <vector>

namespace rope {
/// Branches that are to be joined one after the other, each as a splice of its own. Kept with the
/// person, by repository. Interface thread.
class JoinQueue final : public QObject
{
    Q_OBJECT
public:
    using QObject::QObject;

    /// Takes up the queue of a repository.
    void open(const QString& folder);
    /// Full names of branches, next first.
    [[nodiscard]] const std::vector<std::string>& refs() const { return m_refs; }
    /// Puts a branch at the end, or takes it out.
    void toggle(const std::string& ref);
    /// Nothing where it is not in it.
    void remove(const std::string& ref);

signals:
    /// refs() is another list now.
    void changed();

private:
    void store();
    QString m_folder;
    std::vector<std::string> m_refs;
};
}  // namespace rope
