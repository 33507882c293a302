// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>

#include "app/theme/theme.h"
#include "app/widgets/accessible.h"
#include "core/base/job.h"
#include "tests/support/run.h"

int main(int argc, char** argv) {
    // Without a display Qt would abort and the run would pass for an empty one.
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    loom::keep_freed_memory();
    QTemporaryDir cache;
    qputenv("XDG_CACHE_HOME", cache.path().toUtf8());
    QApplication app(argc, argv);
    QApplication::setApplicationName("keen-loom-tests");
    QApplication::setOrganizationName("keen-loom-tests");
    // The person's own settings stay as they are.
    QTemporaryDir settings;
    QSettings::setDefaultFormat(QSettings::IniFormat);
    QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, settings.path());
    loom::install_accessibility();
    loom::theme::apply(app, loom::theme::Scheme::light);
    return loom::test::run_tests(argc, argv);
}
