// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How long a try sheet takes, asked as the window asks: 25 pictures of 192 pixels with nothing kept, the same question again, and
// how soon the machine is free once another question is asked.
//
//   keen-loom-tries RECIPE...
#include <atomic>
#include <chrono>
#include <cstdio>
#include <thread>

#include "core/files/kept_picture.h"
#include "core/recipe/container.h"
#include "core/recipe/question.h"
#include "core/render/scheduler.h"

namespace {

using namespace loom;
using Clock = std::chrono::steady_clock;

double since(Clock::time_point start) { return std::chrono::duration<double>(Clock::now() - start).count(); }

class Asker {
public:
    Asker() : scheduler_(std::size_t{1} << 30, &picture_reader()), client_(scheduler_, "tries") {}
    /// Asks for the whole sheet and gives up after so many pictures; 0: not at all. Seconds until nothing runs any more, and from
    /// giving up until then.
    std::pair<double, double> ask(const Recipe& recipe, const SheetAxes& axes, int give_up_after) {
        std::atomic<int> made = 0;
        const auto start = Clock::now();
        for (std::size_t k = 0; k < axes.count(); ++k) {
            PictureRequest order;
            order.recipe = varied(recipe, axes.variant(k)), order.longest = 192;
            Work request;
            request.urgency = Urgency::pictures;
            client_.submit(std::move(order), std::move(request), [&](const PictureResponse&, const WorkContext&) { ++made; });
        }
        const int wanted = give_up_after > 0 ? give_up_after : static_cast<int>(axes.count());
        while (made < wanted) std::this_thread::sleep_for(std::chrono::microseconds(200));
        const auto given_up = Clock::now();
        if (give_up_after > 0) client_.cancel_all();
        while (client_.busy()) std::this_thread::sleep_for(std::chrono::microseconds(200));
        return {since(start), since(given_up)};
    }

private:
    Scheduler scheduler_;
    Client client_;
};

}  // namespace

int main(int argc, char** argv) {
    std::printf("%-20s %-14s %8s %8s %8s\n", "recipe", "question", "cold s", "again s", "free s");
    for (int k = 1; k < argc; ++k) {
        const auto file = read_loom(argv[k]);
        if (!file) {
            std::fprintf(stderr, "%s\n", file.error().message.c_str());
            return 1;
        }
        const Recipe& recipe = file->recipe;
        for (const auto what : {Question::What::seed, Question::What::two, Question::What::blend}) {
            Question question;
            question.what = what;
            const SheetAxes axes = axes_of(recipe, suited(recipe, question, {recipe.strands.back()->id, "", ""}));
            if (axes.count() == 0) continue;
            Asker asker, other;
            const double cold = asker.ask(recipe, axes, 0).first, again = asker.ask(recipe, axes, 0).first;
            const double free = other.ask(recipe, axes, 1).second;
            std::printf("%-20s %-3zu %-10s %8.2f %8.2f %8.3f\n", recipe.name.c_str(), axes.count(),
                        what == Question::What::seed  ? "seeds"
                        : what == Question::What::two ? "two values"
                                                      : "blends",
                        cold, again, free);
        }
    }
}
