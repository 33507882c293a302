// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// keen-loom-sweep [STEP]...: every step (or those named) with each parameter at its least and greatest value, and every pair of
// them, as a picture of 256 pixels on one thread. Prints what takes longer than --slow seconds, and how long cancelling takes
// to take effect. docs/performance.md keeps the table.
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstring>
#include <string>
#include <thread>
#include <vector>

#include "core/catalogue/description.h"
#include "core/render/render.h"

using namespace loom;

namespace {

using Clock = std::chrono::steady_clock;
const Size size{256, 256};

double since(Clock::time_point start) { return std::chrono::duration<double>(Clock::now() - start).count(); }

struct End {
    const Parameter* parameter;
    Value value;
};

std::vector<End> ends_of(const StepDescription& step) {
    std::vector<End> ends;
    for (const Parameter& p : step.parameters) {
        if (p.kind == Kind::number || p.kind == Kind::count)
            ends.push_back({&p, Value(p.min)}), ends.push_back({&p, Value(p.max)});
        if (p.kind == Kind::toggle) ends.push_back({&p, Value(!as<bool>(p.fallback))});
        for (const Choice& choice : p.choices)
            if (Value(std::string(choice.id)) != p.fallback) ends.push_back({&p, Value(std::string(choice.id))});
        if (p.kind == Kind::strand) ends.push_back({&p, Value(std::string("other"))});
    }
    return ends;
}

struct Inputs256 {
    Bundle wild, other;
    Inputs256() {
        const Job job;
        wild = *apply_step(*find_step("clouds"), {{"contrast", 1000.0}, {"size-x", 40.0}, {"size-y", 40.0}}, 3, size, nullptr, {},
                           1, job);
        other = *apply_step(*find_step("clouds"), {{"size-x", 60.0}, {"size-y", 60.0}}, 4, size, nullptr, {}, 1, job);
    }
};

/// Seconds that the step takes, given up after `limit`; and how long giving up took.
struct Took {
    double seconds = 0, to_cancel = 0;
};
Took run(const StepDescription& step, const Values& values, const Inputs256& in, double limit) {
    Job job;
    std::map<std::string, const Bundle*, std::less<>> others{{"beneath", &in.other}};
    for (const Parameter& p : step.parameters)
        if (p.kind == Kind::strand || p.kind == Kind::picture || p.kind == Kind::recipe) others[std::string(p.id)] = &in.other;
    std::atomic<bool> done{false};
    Clock::time_point cancelled;
    std::thread watch([&] {
        const auto start = Clock::now();
        while (!done && since(start) < limit) std::this_thread::sleep_for(std::chrono::milliseconds(2));
        if (!done) cancelled = Clock::now(), job.cancel();
    });
    const auto start = Clock::now();
    const auto result = apply_step(step, values, 1, size, step.family == Family::make ? nullptr : &in.wild, others, 1, job,
                                   {std::string(height_plane)});
    Took took{since(start), 0};
    done = true;
    watch.join();
    if (!result) took.to_cancel = since(cancelled) - std::max(0.0, since(start) - took.seconds);
    return took;
}

}  // namespace

int main(int argc, char** argv) {
    double slow = 1;
    std::vector<std::string> wanted;
    for (int k = 1; k < argc; ++k) {
        if (std::strcmp(argv[k], "--slow") == 0 && k + 1 < argc)
            slow = std::atof(argv[++k]);
        else
            wanted.emplace_back(argv[k]);
    }
    const Inputs256 in;
    std::printf("| step | settings tried | slowest, s | with | cancelling, ms |\n|---|---|---|---|---|\n");
    for (const StepDescription& step : all_steps()) {
        if (!wanted.empty() && std::find(wanted.begin(), wanted.end(), step.id) == wanted.end()) continue;
        const std::vector<End> ends = ends_of(step);
        double slowest = 0, cancel = 0;
        std::string with;
        int tried = 0;
        auto attempt = [&](const Values& values) {
            ++tried;
            const Took took = run(step, values, in, 10);
            std::string words;
            for (const auto& [id, value] : values)
                words += (words.empty() ? "" : ", ") + id + " " + show_value(*step.parameter(id), value);
            if (took.seconds > slow)
                std::fprintf(stderr, "%.*s: %.2f s with %s\n", int(step.id.size()), step.id.data(), took.seconds, words.c_str());
            if (took.seconds > slowest) slowest = took.seconds, with = words;
            // Given up in the middle of what takes a while.
            if (took.seconds > 0.25)
                cancel = std::max(cancel, run(step, values, in, 0.4 * std::min(took.seconds, 2.0)).to_cancel);
        };
        attempt({});
        for (std::size_t a = 0; a < ends.size(); ++a) {
            attempt({{std::string(ends[a].parameter->id), ends[a].value}});
            for (std::size_t b = a + 1; b < ends.size(); ++b)
                if (ends[a].parameter != ends[b].parameter)
                    attempt({{std::string(ends[a].parameter->id), ends[a].value},
                             {std::string(ends[b].parameter->id), ends[b].value}});
        }
        std::printf("| %.*s | %d | %.2f | %s | %.0f |\n", int(step.id.size()), step.id.data(), tried, slowest, with.c_str(),
                    cancel * 1000);
        std::fflush(stdout);
    }
}
