// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A dragged slider, a stroke, a sheet of tries, an export and a search: how long each takes by itself, and all of them at once.
//
//   keen-loom-together RECIPE
#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <string>
#include <thread>

#include "core/files/kept_picture.h"
#include "core/measure/toward.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/question.h"
#include "core/render/scheduler.h"

namespace {

using namespace loom;
using Clock = std::chrono::steady_clock;

double ms_since(Clock::time_point start) { return std::chrono::duration<double, std::milli>(Clock::now() - start).count(); }

constexpr int export_size = 2048, frames = 25, tries = 40;
constexpr auto frame_time = std::chrono::milliseconds(40);

class Desk {
public:
    explicit Desk(const Recipe& recipe)
        : recipe_(recipe),
          scheduler_(std::size_t{1} << 30, &picture_reader()),
          cloth_(scheduler_, "cloth"),
          beside_(scheduler_, "beside") {}

    /// Milliseconds from a move of the slider to its first picture, the median.
    double drag() {
        std::vector<double> spent(frames, -1);
        for (int k = 0; k < frames; ++k) {
            PictureRequest request;
            request.recipe = with_seed(k), request.longest = recipe_.tile.width, request.coarse = 256;
            Work of;
            of.slot = "cloth";
            const auto start = Clock::now();
            cloth_.submit(std::move(request), std::move(of), [&spent, k, start](const PictureResponse& made, const WorkContext&) {
                if (spent[static_cast<std::size_t>(k)] < 0 && made.coarse) spent[static_cast<std::size_t>(k)] = ms_since(start);
            });
            std::this_thread::sleep_for(frame_time);
        }
        wait(cloth_);
        return median(spent);
    }
    /// Milliseconds from a move of the pen to the part that it touched.
    double stroke() {
        std::vector<double> spent(frames, -1);
        for (int k = 0; k < frames; ++k) {
            PictureRequest request;
            request.recipe = recipe_, request.longest = recipe_.tile.width, request.fleeting = true;
            request.region = Region{k * 8, k * 5, 120, 120};
            const auto start = Clock::now();
            const Task task =
                cloth_.submit(std::move(request), {}, [&spent, k, start](const PictureResponse&, const WorkContext&) {
                    spent[static_cast<std::size_t>(k)] = ms_since(start);
                });
            while (task.under_way()) std::this_thread::sleep_for(std::chrono::microseconds(200));
        }
        return median(spent);
    }
    double sheet() {
        Question question;
        question.what = Question::What::seed;
        const SheetAxes axes = axes_of(recipe_, suited(recipe_, question, {recipe_.strands.back()->id, "", ""}));
        const auto start = Clock::now();
        std::vector<Task> all;
        for (std::size_t k = 0; k < axes.count(); ++k) {
            PictureRequest request;
            request.recipe = varied(recipe_, axes.variant(k)), request.longest = 192;
            Work of;
            of.urgency = Urgency::pictures;
            all.push_back(beside_.submit(std::move(request), std::move(of), [](const PictureResponse&, const WorkContext&) {}));
        }
        for (const Task& task : all) wait(task);
        return ms_since(start);
    }
    double write() {
        Work work;
        work.urgency = Urgency::lengthy;
        work.run = [this](const WorkContext& context) -> Result<Done> {
            RenderOptions options = context.options;
            options.cache = nullptr;
            const Size size = size_for(recipe_.tile, export_size);
            const auto done = render_bands(
                recipe_, size, {Wanted{}, {Wanted::What::map, "", "", Map::normal}}, options,
                [](const Wanted&, const Bundle&) -> Result<Done> { return Done{}; }, context.job);
            if (!done) return done.error();
            return Done{};
        };
        const auto start = Clock::now();
        wait(beside_.submit(std::move(work)));
        return ms_since(start);
    }
    double search() {
        Work work;
        work.urgency = Urgency::search;
        work.run = [this](const WorkContext& context) -> Result<Done> {
            RenderOptions options = context.options;
            options.threads = 1;
            const auto goal = render_cloth(recipe_, size_for(recipe_.tile, 192), options, context.job);
            if (!goal) return goal.error();
            SearchPlan plan;
            plan.tries = tries;
            for (const Dial& dial : recipe_.dials) plan.knobs.push_back({dial.name, {}, 0, 100});
            const auto found = search_toward(recipe_, plan, goal_of(*goal, 192, context.job), options, context.job,
                                             [](const std::vector<Found>&, int) {});
            if (!found) return found.error();
            return Done{};
        };
        const auto start = Clock::now();
        wait(beside_.submit(std::move(work)));
        return ms_since(start);
    }

private:
    Recipe with_seed(int k) const {
        Recipe next = recipe_;
        next.seed = recipe_.seed + 1 + static_cast<std::uint32_t>(k);
        return next;
    }
    static void wait(const Task& task) {
        while (task.under_way()) std::this_thread::sleep_for(std::chrono::milliseconds(1));
        if (task.ended()->failed()) std::fprintf(stderr, "%s\n", task.ended()->error.message.c_str());
    }
    static void wait(const Client& client) {
        while (client.busy()) std::this_thread::sleep_for(std::chrono::milliseconds(1));
    }
    static double median(std::vector<double> values) {
        std::erase_if(values, [](double value) { return value < 0; });
        if (values.empty()) return -1;
        std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2), values.end());
        return values[values.size() / 2];
    }

    Recipe recipe_;
    Scheduler scheduler_;
    Client cloth_, beside_;
};

}  // namespace

int main(int argc, char** argv) {
    if (argc != 2) {
        std::fprintf(stderr, "usage: keen-loom-together RECIPE\n");
        return 2;
    }
    const auto file = read_loom(argv[1]);
    if (!file) {
        std::fprintf(stderr, "%s\n", file.error().message.c_str());
        return 1;
    }
    const auto tell = [](const char* when, double drag, double stroke, double sheet, double write, double search) {
        std::printf("%-10s drag %6.0f ms   stroke %6.0f ms   sheet %6.0f ms   export %6.0f ms   search %6.0f ms\n", when, drag,
                    stroke, sheet, write, search);
    };
    {
        Desk desk(file->recipe);
        const double drag = desk.drag(), stroke = desk.stroke(), sheet = desk.sheet(), write = desk.write(),
                     search = desk.search();
        tell("alone", drag, stroke, sheet, write, search);
    }
    Desk desk(file->recipe);
    double sheet = 0, write = 0, search = 0;
    std::thread third([&] { sheet = desk.sheet(); }), fourth([&] { write = desk.write(); }),
        fifth([&] { search = desk.search(); });
    const double drag = desk.drag(), stroke = desk.stroke();
    third.join(), fourth.join(), fifth.join();
    tell("together", drag, stroke, sheet, write, search);
}
