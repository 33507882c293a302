// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The program's settings, which anybody may edit: how views looked, what was opened last, which picture belongs to a recipe.
#include <QApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSettings>
#include <QTemporaryDir>

#include "app/document/recent_files.h"
#include "app/main_window.h"
#include "tests/fuzz/targets.h"

namespace loom::fuzz {

namespace {

/// A program with a window, made for the first bytes that come.
struct Program {
    int count = 1;
    char name[9] = "settings";
    char* words[2] = {name, nullptr};
    QTemporaryDir folder;
    std::unique_ptr<QApplication> app;
    std::unique_ptr<MainWindow> window;

    Program() {
        qputenv("QT_QPA_PLATFORM", "offscreen");
        qputenv("XDG_CACHE_HOME", folder.path().toUtf8());
        app = std::make_unique<QApplication>(count, words);
        QApplication::setApplicationName("keen-loom-fuzz");
        QApplication::setOrganizationName("keen-loom-fuzz");
        QSettings::setDefaultFormat(QSettings::IniFormat);
        QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, folder.path());
        window = std::make_unique<MainWindow>();
    }
};

}  // namespace

void try_settings(std::string_view bytes) {
    // Never destroyed: what still works in the background may use it when the fuzzer ends.
    static auto* program = new Program;
    QSettings settings;
    QDir().mkpath(QFileInfo(settings.fileName()).path());
    QFile file(settings.fileName());
    must(file.open(QIODevice::WriteOnly), "the settings can be written");
    file.write(bytes.data(), static_cast<qint64>(bytes.size()));
    file.close();
    settings.sync();
    program->window->remember_pages();
    for (const QString& path : RecentFiles().paths()) must(path.size() < 1 << 24, "paths are bounded by the file");
    for (Page* page : program->window->pages()) (void)page->state();
    QCoreApplication::processEvents();
}

}  // namespace loom::fuzz
