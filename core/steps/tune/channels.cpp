// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Filter primitive feColorMatrix of SVG (Filter Effects Module Level 1, section 9.6) on encoded values.
#include <algorithm>
#include <array>

#include "core/catalogue/describe.h"
#include "core/steps/channel_choice.h"

namespace loom {

namespace channels_step {
namespace {

/// What one channel is made of.
struct Mix {
    double red = 0, green = 0, blue = 0, coverage = 0, plus = 0;
    bool operator==(const Mix&) const = default;
};

struct Settings {
    double red_red = 100, red_green = 0, red_blue = 0, red_coverage = 0, red_plus = 0;
    double green_red = 0, green_green = 100, green_blue = 0, green_coverage = 0, green_plus = 0;
    double blue_red = 0, blue_green = 0, blue_blue = 100, blue_coverage = 0, blue_plus = 0;
    double coverage_red = 0, coverage_green = 0, coverage_blue = 0, coverage_coverage = 100, coverage_plus = 0;
};

std::array<Mix, 4> mixes_of(const Settings& s) {
    return {Mix{s.red_red, s.red_green, s.red_blue, s.red_coverage, s.red_plus},
            Mix{s.green_red, s.green_green, s.green_blue, s.green_coverage, s.green_plus},
            Mix{s.blue_red, s.blue_green, s.blue_blue, s.blue_coverage, s.blue_plus},
            Mix{s.coverage_red, s.coverage_green, s.coverage_blue, s.coverage_coverage, s.coverage_plus}};
}

bool keeps_coverage(const Settings& s) { return mixes_of(s)[3] == Mix{0, 0, 0, 100, 0}; }

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const bool cuts = !keeps_coverage(s), covered = cuts || in.coverage;
    const std::array<Mix, 4> mixes = mixes_of(s);
    std::vector<Plane> out;
    for (int c = 0; c < 3; ++c) out.push_back(context.plane());
    Plane cover = cuts ? context.plane() : Plane();
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* from = in.coverage ? in.coverage->row(y) : nullptr;
            for (int x = 0; x < context.size.width; ++x) {
                const float before = from ? from[x] : 1.0f;
                float part[3];
                for (int c = 0; c < 3; ++c) part[c] = before > 0 ? in.channel(c).row(y)[x] / before : 0.0f;
                const auto mixed = [&](const Mix& mix) {
                    return static_cast<float>(
                        (mix.red * part[0] + mix.green * part[1] + mix.blue * part[2] + mix.coverage * before + mix.plus) / 100);
                };
                const float after = cuts ? std::clamp(mixed(mixes[3]), 0.0f, 1.0f) : before;
                for (std::size_t c = 0; c < 3; ++c) out[c].row(y)[x] = covered ? mixed(mixes[c]) * after : mixed(mixes[c]);
                if (cuts) cover.row(y)[x] = after;
            }
        }
    });
    Bundle result;
    for (Plane& plane : out) result.colour.push_back(share(std::move(plane)));
    result.coverage = cuts ? share(std::move(cover)) : part_of(in.coverage, context.wanted_rows());
    result.named = part_of(in.named, context.wanted_rows());
    return result;
}

}  // namespace
}  // namespace channels_step

StepDescription describe_channels() {
    using namespace channels_step;
    StepDescription base;
    base.id = "channels", base.title = "Channel matrix", base.family = Family::tune;
    base.summary = "Makes each channel from shares of all of them, so that red can become blue, or how much is covered.";
    base.words = "red green blue mix swap monochrome";
    const Range share{-1000, 1000, Unit::percent, 200};
    constexpr std::string_view of_red = "How much of red goes into it.", of_green = "How much of green goes into it.",
                               of_blue = "How much of blue goes into it.", of_coverage = "How much of the coverage goes into it.",
                               added = "What is added everywhere; 100 % is white.";
    Describe<Settings> d(std::move(base));
    struct Row {
        std::string_view title;
        std::array<std::string_view, 5> ids;
        std::array<double Settings::*, 5> members;
    };
    const Row rows[] = {
        {"Red from",
         {"red-red", "red-green", "red-blue", "red-coverage", "red-plus"},
         {&Settings::red_red, &Settings::red_green, &Settings::red_blue, &Settings::red_coverage, &Settings::red_plus}},
        {"Green from",
         {"green-red", "green-green", "green-blue", "green-coverage", "green-plus"},
         {&Settings::green_red, &Settings::green_green, &Settings::green_blue, &Settings::green_coverage, &Settings::green_plus}},
        {"Blue from",
         {"blue-red", "blue-green", "blue-blue", "blue-coverage", "blue-plus"},
         {&Settings::blue_red, &Settings::blue_green, &Settings::blue_blue, &Settings::blue_coverage, &Settings::blue_plus}},
        {"Coverage from",
         {"coverage-red", "coverage-green", "coverage-blue", "coverage-coverage", "coverage-plus"},
         {&Settings::coverage_red, &Settings::coverage_green, &Settings::coverage_blue, &Settings::coverage_coverage,
          &Settings::coverage_plus}}};
    for (const Row& row : rows) {
        d.section(row.title);
        d.number(row.ids[0], "Red", row.members[0], share, of_red);
        d.number(row.ids[1], "Green", row.members[1], share, of_green);
        d.number(row.ids[2], "Blue", row.members[2], share, of_blue);
        d.number(row.ids[3], "Coverage", row.members[3], share, of_coverage);
        d.number(row.ids[4], "Plus", row.members[4], share, added);
    }
    return d.shape([](const Settings& s, Shape in) {
                return Shape{3, in.coverage || !keeps_coverage(s)};
            })
        .notice([](const Settings& s) {
            return std::string(keeps_coverage(s) || !(mixes_of(s)[3] == Mix{}) ? "" : "Nothing is left of the coverage.");
        })
        .pixelwise()
        .run(run);
}

}  // namespace loom
