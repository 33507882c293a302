// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>
#include <cstdio>
#include <cstdlib>

#include "app/theme/theme.h"
#include "app/widgets/accessible.h"
#include "core/base/job.h"
#include "tests/support/run.h"

namespace {

/// What a platform cannot do is nothing to a test, and would hide what failed.
void tell(QtMsgType type, const QMessageLogContext&, const QString& text) {
    if (text.startsWith("This plugin does not support") || text.startsWith("QStandardPaths: XDG_RUNTIME_DIR")) return;
    std::fprintf(stderr, "%s\n", qPrintable(text));
    if (type == QtFatalMsg) std::abort();
}

}  // namespace

int main(int argc, char** argv) {
    // Without a display Qt would abort and the run would pass for an empty one.
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    qInstallMessageHandler(tell);
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
