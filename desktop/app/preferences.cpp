// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_preferences.cpp.
#include "desktop/app/preferences.h"

#include "desktop/widgets/measures.h"
#include "desktop/widgets/plain_widgets.h"

#include <QCheckBox>
#include <QCoreApplication>
#include <QDialog>
#include <QHBoxLayout>
#include <QSettings>
#include <QVBoxLayout>

#include <algorithm>
#include <array>

namespace rope {
namespace {
struct Choice
{
    const char* key;
    bool Preferences::*value;
    const char* label;
    const char* meaning;
};

constexpr std::array kChoices{
    Choice{"fetchesAtOpening",
           &Preferences::fetchesAtOpening,
           QT_TRANSLATE_NOOP("Preferences", "Fetch when a repository is opened"),
           QT_TRANSLATE_NOOP("Preferences", "Off: no remote is contacted until you fetch.")},
    Choice{"looksBeforeRecording",
           &Preferences::looksBeforeRecording,
           QT_TRANSLATE_NOOP("Preferences", "Look at every result before it is recorded"),
           QT_TRANSLATE_NOOP("Preferences",
                             "Off: a clean merge is recorded as soon as it is started. You can "
                             "still look at it before you push.")},
    Choice{
        "signsOff",
        &Preferences::signsOff,
        QT_TRANSLATE_NOOP("Preferences", "Add Signed-off-by to proposed messages"),
        QT_TRANSLATE_NOOP("Preferences", "With your name and address from git's configuration.")},
    Choice{
        "leavesNotes",
        &Preferences::leavesNotes,
        QT_TRANSLATE_NOOP("Preferences", "Save decisions as git notes on commits"),
        QT_TRANSLATE_NOOP("Preferences",
                          "You are asked at Record each time. Notes are pushed with the commits.")},
    Choice{"scrollsEvidenceSideways",
           &Preferences::scrollsEvidenceSideways,
           QT_TRANSLATE_NOOP("Preferences", "Scroll long lines sideways instead of wrapping them"),
           QT_TRANSLATE_NOOP("Preferences",
                             "In the result and in the sides; the three sides scroll together.")},
};

/// In points; what stands in the settings is one of them, or between.
constexpr std::array kCodeSizes{7, 8, 9, 10, 11, 12, 13, 14, 16, 18, 20, 24, 28};

QString keyOf(const Choice& choice)
{
    return QStringLiteral("preferences/") + QLatin1String(choice.key);
}
}  // namespace

Preferences Preferences::read()
{
    const QSettings settings;
    Preferences preferences;
    for (const Choice& choice : kChoices) {
        preferences.*choice.value =
            settings.value(keyOf(choice), preferences.*choice.value).toBool();
    }
    preferences.look = settings.value(QStringLiteral("preferences/look")).toString();
    const double size = settings.value(QStringLiteral("preferences/codeSize")).toDouble();
    preferences.codeSize = size < kCodeSizes.front() || size > kCodeSizes.back() ? 0 : size;
    return preferences;
}

void Preferences::store() const
{
    QSettings settings;
    settings.setValue(QStringLiteral("preferences/look"), look);
    settings.setValue(QStringLiteral("preferences/codeSize"), codeSize);
    for (const Choice& choice : kChoices) {
        settings.setValue(keyOf(choice), this->*choice.value);
    }
}

namespace {
/// A preference with several values: its name, and a field that shows the one that holds.
ChoiceBox* addChoiceBox(QVBoxLayout& column, const QString& name, const char* objectName)
{
    QWidget* const dialog = column.parentWidget();
    auto* const box = new ChoiceBox(dialog);
    box->setObjectName(QLatin1String(objectName));
    box->setAccessibleName(name);
    auto* const row = new QHBoxLayout;
    QLabel* const label = makeLabel(name, TextRole::normal, dialog);
    label->setWordWrap(false);
    row->addWidget(label);
    row->addWidget(box);
    row->addStretch();
    column.addLayout(row);
    return box;
}

void addLookChoice(QVBoxLayout& column, const std::function<void()>& changed)
{
    const auto tr = [](const char* text) {
        return QCoreApplication::translate("Preferences", text);
    };
    ChoiceBox* const box = addChoiceBox(column, tr("Colours of the window"), "look");
    box->addItem(tr("As the desktop"), QString());
    box->addItem(tr("Light"), QStringLiteral("light"));
    box->addItem(tr("Dark"), QStringLiteral("dark"));
    box->addItem(tr("High contrast"), QStringLiteral("contrast"));
    box->setCurrentIndex(std::max(0, box->findData(Preferences::read().look)));
    QObject::connect(box, &QComboBox::activated, box, [box, changed] {
        Preferences preferences = Preferences::read();
        preferences.look = box->currentData().toString();
        preferences.store();
        changed();
    });
}

void addCodeSizeChoice(QVBoxLayout& column, const std::function<void()>& changed)
{
    const auto tr = [](const char* text) {
        return QCoreApplication::translate("Preferences", text);
    };
    ChoiceBox* const box = addChoiceBox(column, tr("Text size of code"), "codeSize");
    box->addItem(tr("As the desktop"), 0.0);
    for (const int points : kCodeSizes) {
        box->addItem(tr("%1 pt").arg(points), static_cast<double>(points));
    }
    box->setCurrentIndex(std::max(0, box->findData(Preferences::read().codeSize)));
    QObject::connect(box, &QComboBox::activated, box, [box, changed] {
        Preferences preferences = Preferences::read();
        preferences.codeSize = box->currentData().toDouble();
        preferences.store();
        changed();
    });
}
}  // namespace

void showPreferences(QWidget* parent, const std::function<void()>& changed)
{
    const auto tr = [](const char* text) {
        return QCoreApplication::translate("Preferences", text);
    };
    auto* dialog = new QDialog(parent);
    dialog->setObjectName(QStringLiteral("preferencesDialog"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Preferences"));
    auto* column = new QVBoxLayout(dialog);
    column->setContentsMargins(24, 20, 24, 20);
    column->setSpacing(4);
    const Preferences now = Preferences::read();
    for (const Choice& choice : kChoices) {
        auto* box = new QCheckBox(tr(choice.label), dialog);
        box->setObjectName(QLatin1String(choice.key));
        box->setAccessibleDescription(tr(choice.meaning));
        box->setChecked(now.*choice.value);
        QObject::connect(box, &QCheckBox::toggled, dialog, [choice, changed](bool isOn) {
            Preferences preferences = Preferences::read();
            preferences.*choice.value = isOn;
            preferences.store();
            changed();
        });
        column->addWidget(box);
        QLabel* meaning = makeLabel(tr(choice.meaning), TextRole::muted, dialog);
        meaning->setContentsMargins(26, 0, 0, 8);
        column->addWidget(meaning);
    }
    addLookChoice(*column, changed);
    addCodeSizeChoice(*column, changed);
    column->addStretch();
    auto* close = makeButton(tr("Close"), "closePreferences", ButtonRole::plain, dialog);
    QObject::connect(close, &QPushButton::clicked, dialog, &QDialog::accept);
    column->addWidget(close, 0, Qt::AlignRight);
    const int width = std::min(atFont(*dialog, 520), std::max(parent->width(), 320));
    dialog->setMinimumWidth(width);
    // Layouts of wrapped text ask for too little of themselves.
    dialog->resize(width, column->totalHeightForWidth(width));
    dialog->open();
}
}  // namespace rope
