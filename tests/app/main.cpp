// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <QSettings>
#include <QTemporaryDir>
#include <cstdio>
#include <cstdlib>

#include "app/application.h"
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
    loom::Application app(argc, argv);
    QApplication::setApplicationName("keen-loom-tests");
    QApplication::setOrganizationName("keen-loom-tests");
    // The person's own settings stay as they are.
    QTemporaryDir settings;
    QSettings::setDefaultFormat(QSettings::IniFormat);
    QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, settings.path());
    loom::install_accessibility();
    loom::theme::apply(app, loom::theme::Scheme::light);
    // Sanitizers take their own time; and where two tests run side by side, a processor's threads share what it has.
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
    constexpr double longest_ms = 0;
#else
    constexpr double longest_ms = 2 * loom::Watchdog::longest_ms;
#endif
    QStringList slow;
    loom::Watchdog watchdog(
        [&](const QString& fault) { slow << fault + " (" + QString::fromStdString(loom::test::running_test()) + ")"; },
        longest_ms);
    app.watchdog = &watchdog;
    const int failed = loom::test::run_tests(argc, argv);
    for (const QString& fault : slow) std::fprintf(stderr, "the interface kept somebody waiting: %s\n", qPrintable(fault));
    return failed != 0 ? failed : slow.isEmpty() ? 0 : 1;
}
