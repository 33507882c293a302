// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// keen-loom-batch: exits 0 on success, 1 when the work failed, 2 when the call or the recipe is wrong.
#include <sys/time.h>
#include <unistd.h>

#include <csignal>
#include <cstdlib>
#include <cstdio>
#include <exception>

#include "batch/command.h"
#include "core/base/apart.h"

namespace {

loom::Job* running = nullptr;

/// So long may work take to notice that it is given up; what it was writing is cleared up by the next writing there.
constexpr int patience_us = 700'000;

extern "C" void end_now(int) {
    constexpr char words[] = "keen-loom-batch: cancelled\n";
    [[maybe_unused]] const ssize_t told = ::write(2, words, sizeof words - 1);
    ::_exit(1);
}

extern "C" void give_up(int) {
    // Setting an atomic flag and a timer is safe here; the work ends at its next range of rows.
    if (running) running->cancel();
    const itimerval timer{{0, 0}, {0, patience_us}};
    ::setitimer(ITIMER_REAL, &timer, nullptr);
}

int fail(const std::string& message, int code) {
    std::fprintf(stderr, "keen-loom-batch: %s\n", message.c_str());
    return code;
}

int exit_code(loom::Fault fault) { return fault == loom::Fault::call || fault == loom::Fault::recipe ? 2 : 1; }

}  // namespace

int main(int argc, char** argv) {
    using namespace loom::batch;
    CLI::App app("Renders, checks and measures Keen Loom recipes.", "keen-loom-batch");
    app.set_version_flag("--version", "keen-loom-batch " KEEN_LOOM_VERSION);
    app.require_subcommand(1);
    Action action;
    add_render(app, action);
    add_apply(app, action);
    add_blend(app, action);
    add_sheet(app, action);
    add_measure(app, action);
    add_steps(app, action);
    add_check(app, action);
    add_fonts(app, action);
    add_pack(app, action);
    try {
        app.parse(argc, argv);
    } catch (const CLI::Success& shown) {
        return app.exit(shown);
    } catch (const CLI::ParseError& error) {
        std::string message = error.what();
        for (char& c : message)
            if (c == '\n') c = ' ';
        return fail(message + " (see --help)", 2);
    }
    loom::keep_freed_memory();
    loom::Job job;
    running = &job;
    std::signal(SIGALRM, end_now);
    std::signal(SIGINT, give_up);
    std::signal(SIGTERM, give_up);
    try {
        const auto outcome = action({job});
        const int code = outcome ? *outcome : fail(outcome.error().message, exit_code(outcome.error().fault));
        // What a library could not be stopped in uses what goes away from here on.
        if (loom::left_running() > 0) std::fflush(nullptr), std::_Exit(code);
        return code;
    } catch (const std::exception& unexpected) {
        return fail(std::string("unexpected failure: ") + unexpected.what(), 1);
    }
}
