// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a recipe would run on a machine of many cores: the plan runs once on one core, every loop's ranges timed; then its graph is
// replayed on so many workers, nodes side by side and ranges shared out, as the executor does. Memory bandwidth is not simulated.
//
//   keen-loom-replay [--workers N] [--size N] RECIPE...
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <deque>
#include <queue>
#include <string>
#include <vector>

#include "core/base/memory.h"
#include "core/files/kept_picture.h"
#include "core/recipe/container.h"
#include "core/render/plan.h"

namespace {

using namespace loom;
using Clock = std::chrono::steady_clock;

double milliseconds_since(Clock::time_point start) {
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

/// Tasks that may run at the same time; segments of a node follow each other.
using Segment = std::vector<double>;

struct Measured {
    std::vector<Segment> segments;
    double serial = 0, all = 0;
};

class Recorder final : public RangeObserver {
public:
    void begin() { measured_ = {}, last_ = Clock::now(); }
    void ranges(const std::vector<double>& milliseconds) override {
        double sum = 0;
        for (double each : milliseconds) sum += each;
        alone(milliseconds_since(last_) - sum);
        measured_.segments.push_back(milliseconds);
        measured_.all += sum;
        last_ = Clock::now();
    }
    Measured end() {
        alone(milliseconds_since(last_));
        return std::move(measured_);
    }

private:
    void alone(double milliseconds) {
        milliseconds = std::max(0.0, milliseconds);
        measured_.segments.push_back({milliseconds});
        measured_.serial += milliseconds, measured_.all += milliseconds;
    }
    Measured measured_;
    Clock::time_point last_;
};

std::vector<Measured> measured(const Plan& plan) {
    std::vector<Measured> all;
    std::vector<Bundle> results(plan.nodes.size());
    const auto last = plan.last_uses();
    Recorder recorder;
    Job job;
    job.observe(&recorder);
    Shared shared;
    for (std::size_t k = 0; k < plan.nodes.size(); ++k) {
        const Node& node = plan.nodes[k];
        NodeInputs inputs;
        for (int input : node.inputs) inputs.push_back(&results[static_cast<std::size_t>(input)]);
        recorder.begin();
        results[k] = node.run(inputs, {{0, node.size.height}, nullptr, &shared, job});
        all.push_back(recorder.end());
        for (std::size_t j = 0; j <= k; ++j)
            if (last[j] == k) results[j] = {};
    }
    return all;
}

/// When everything is done, if free workers always take the next task of the first node in the plan's order that has one.
double replayed(const Plan& plan, const std::vector<Measured>& measured, int workers) {
    const std::size_t count = plan.nodes.size();
    std::vector<std::size_t> segment(count, 0), next(count, 0), open(count, 0), waits(count, 0);
    std::vector<std::vector<std::size_t>> followers(count);
    std::vector<bool> ready(count, false);
    for (std::size_t k = 0; k < count; ++k) {
        std::vector<int> inputs = plan.nodes[k].inputs;
        std::sort(inputs.begin(), inputs.end());
        inputs.erase(std::unique(inputs.begin(), inputs.end()), inputs.end());
        waits[k] = inputs.size();
        for (int input : inputs) followers[static_cast<std::size_t>(input)].push_back(k);
        ready[k] = waits[k] == 0;
    }
    struct Running {
        double end;
        std::size_t node;
        bool operator<(const Running& other) const { return end > other.end; }
    };
    std::priority_queue<Running> running;
    double now = 0;
    auto start_tasks = [&] {
        for (std::size_t k = 0; k < count && static_cast<int>(running.size()) < workers; ++k) {
            if (!ready[k] || segment[k] >= measured[k].segments.size()) continue;
            const Segment& tasks = measured[k].segments[segment[k]];
            while (next[k] < tasks.size() && static_cast<int>(running.size()) < workers) {
                running.push({now + tasks[next[k]++], k});
                ++open[k];
            }
        }
    };
    start_tasks();
    while (!running.empty()) {
        const Running done = running.top();
        running.pop();
        now = done.end;
        const std::size_t k = done.node;
        if (--open[k] == 0 && next[k] == measured[k].segments[segment[k]].size()) {
            next[k] = 0;
            if (++segment[k] == measured[k].segments.size())
                for (std::size_t follower : followers[k])
                    if (--waits[follower] == 0) ready[follower] = true;
        }
        start_tasks();
    }
    return now;
}

}  // namespace

int main(int argc, char** argv) {
    int workers = 16, size = 1024;
    std::vector<std::string> paths;
    for (int k = 1; k < argc; ++k) {
        const std::string word = argv[k];
        if (word == "--workers" && k + 1 < argc)
            workers = std::max(1, std::atoi(argv[++k]));
        else if (word == "--size" && k + 1 < argc)
            size = std::max(16, std::atoi(argv[++k]));
        else
            paths.push_back(word);
    }
    if (paths.empty()) {
        std::fprintf(stderr, "keen-loom-replay: name recipes to replay\n");
        return 2;
    }
    keep_freed_memory();
    int code = 0;
    std::printf("%-28s %10s %10s %8s   %s\n", "recipe", "one, ms", "many, ms", "times", "most of what no loop shares out");
    for (const std::string& path : paths) {
        const auto file = read_loom(path);
        if (!file) {
            std::fprintf(stderr, "keen-loom-replay: %s\n", file.error().message.c_str());
            code = 1;
            continue;
        }
        std::vector<Wanted> wanted;
        for (const MapInfo& info : map_table) wanted.push_back({Wanted::What::map, "", "", info.map});
        const Plan plan = make_plan(file->recipe, size_for(file->recipe.tile, size), wanted, &picture_reader());
        (void)measured(plan);  // warm
        const auto times = measured(plan);
        double all = 0;
        std::vector<std::pair<double, std::string>> serial;
        for (std::size_t k = 0; k < times.size(); ++k)
            all += times[k].all, serial.emplace_back(times[k].serial, plan.nodes[k].label);
        std::sort(serial.rbegin(), serial.rend());
        const double many = replayed(plan, times, workers);
        std::printf("%-28s %10.1f %10.1f %8.1f  ", file->recipe.name.c_str(), all, many, all / many);
        for (std::size_t k = 0; k < std::min<std::size_t>(3, serial.size()); ++k)
            std::printf(" %s %.1f ms", serial[k].second.c_str(), serial[k].first);
        std::printf("\n");
    }
    return code;
}
