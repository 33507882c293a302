// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <QApplication>
#include <QCommandLineParser>
#include <QSettings>
#include <QTimer>

#include "app/main_window.h"
#include "app/shots.h"
#include "app/theme/theme.h"
#include "core/base/job.h"

int main(int argc, char** argv) {
    loom::keep_freed_memory();
    QApplication app(argc, argv);
    QApplication::setApplicationName("keen-loom");
    QApplication::setOrganizationName("keen-loom");
    QApplication::setApplicationVersion(KEEN_LOOM_VERSION);
    QCommandLineParser parser;
    parser.setApplicationDescription("Keen Loom weaves seamless textures.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addOption({"demo", "Open on the sample book."});
    parser.addOption({"shot",
                      "Open VIEW on the demo, write a picture of the window to FILE and quit; may be given several times.",
                      "VIEW=FILE"});
    parser.addPositionalArgument("recipes", "Recipe files to open.", "[recipes...]");
    parser.process(app);

    const QStringList shots = parser.values("shot");
    const bool dark = shots.isEmpty() && QSettings().value("dark").toBool();
    loom::theme::apply(app, dark ? loom::theme::Scheme::dark : loom::theme::Scheme::light);
    loom::MainWindow window;
    window.show();
    if (!shots.isEmpty()) {
        loom::Shots maker(window, shots);
        QTimer::singleShot(0, &maker, &loom::Shots::begin);
        return QApplication::exec();
    }
    // One window shows one recipe; of several files the last stays open.
    if (!parser.isSet("demo"))
        for (const QString& path : parser.positionalArguments()) window.open(path);
    return QApplication::exec();
}
