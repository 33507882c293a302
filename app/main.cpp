// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <QCommandLineParser>
#include <QFileInfo>
#include <QSettings>
#include <QTimer>
#include <algorithm>
#include <clocale>
#include <cstdio>
#include <cstdlib>
#include <optional>
#include <string_view>

#include "app/application.h"
#include "app/document/preferences.h"
#include "app/document/scheduler.h"
#include "app/main_window.h"
#include "app/shots.h"
#include "app/theme/theme.h"
#include "app/widgets/accessible.h"
#include "core/base/apart.h"
#include "core/base/job.h"

namespace {

void describe(QCommandLineParser& parser) {
    parser.setApplicationDescription("Keen Loom weaves seamless textures.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addOption({"demo", "Open on the sample book."});
    parser.addOption({"dark", "Begin with the dark window."});
    parser.addOption({"shot",
                      "Open VIEW on the demo, write a picture of the window to FILE and quit; may be given several times.",
                      "VIEW=FILE"});
    parser.addPositionalArgument("recipes", "Recipe files to open.", "[recipes...]");
}

/// Help, version and faults of the call are answered without a display. An exit code, or nothing if the window is wanted.
std::optional<int> answered(int argc, char** argv) {
    QStringList words;
    for (int k = 0; k < argc; ++k) words << QString::fromLocal8Bit(argv[k]);
    if (!words.contains("--help") && !words.contains("-h") && !words.contains("--version") && !words.contains("-v"))
        return std::nullopt;
    QCoreApplication app(argc, argv);
    QCommandLineParser parser;
    describe(parser);
    parser.process(app);
    return 0;
}

/// What is given up ends within 100 ms; a disk may take longer.
constexpr int longest_rest_ms = 2000;

}  // namespace

int main(int argc, char** argv) {
    QCoreApplication::setApplicationName("keen-loom");
    QCoreApplication::setOrganizationName("keen-loom");
    QCoreApplication::setApplicationVersion(KEEN_LOOM_VERSION);
    if (const auto code = answered(argc, argv)) return *code;
    if (const bool told = std::any_of(argv, argv + argc, [](const char* word) { return std::string_view(word) == "-platform"; });
        !told && qEnvironmentVariableIsEmpty("DISPLAY") && qEnvironmentVariableIsEmpty("WAYLAND_DISPLAY") &&
        qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) {
        std::fprintf(stderr,
                     "keen-loom: there is no display to open a window on; start it from a desktop, or use keen-loom-batch\n");
        return 1;
    }
    loom::keep_freed_memory();
    loom::Application app(argc, argv);
    // Numbers in texts that are read back are written with a point, whatever the system's language.
    std::setlocale(LC_NUMERIC, "C");
    QCommandLineParser parser;
    describe(parser);
    parser.process(app);
    loom::install_accessibility();

    const QStringList shots = parser.values("shot");
    const loom::Preferences::Theme theme = shots.isEmpty() ? loom::preferences().theme : loom::Preferences::Theme::light;
    loom::theme::apply(app, loom::theme::wanted(parser.isSet("dark") || theme == loom::Preferences::Theme::dark,
                                                !parser.isSet("dark") && theme == loom::Preferences::Theme::system));
    // The window closes at once; what still runs then ends before what it uses goes away.
    const struct Rest {
        ~Rest() {
            const bool rested = loom::scheduler().rest(longest_rest_ms);
            // What does not come to rest, as what a library cannot be stopped in, uses what would go away from here on.
            if (!rested || loom::left_running() > 0) QSettings().sync(), std::_Exit(0);
        }
    } rest;
    loom::MainWindow window;
    app.show = [&window](const QString& words) { window.show_message(words); };
#ifndef NDEBUG
    loom::Watchdog watchdog([](const QString& fault) { std::fprintf(stderr, "keen-loom: slow: %s\n", qPrintable(fault)); });
    app.watchdog = &watchdog;
#endif
    window.show();
    if (!shots.isEmpty()) {
        loom::Shots maker(window, shots);
        QTimer::singleShot(0, &maker, &loom::Shots::begin);
        return QApplication::exec();
    }
    window.remember_pages();
    window.keep_safe(QFileInfo(QSettings().fileName()).absolutePath());
    window.greet();
    // One window shows one recipe; of several files the last stays open.
    if (!parser.isSet("demo"))
        for (const QString& path : parser.positionalArguments()) window.open(path);
    return QApplication::exec();
}
