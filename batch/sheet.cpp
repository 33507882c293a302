// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <memory>

#include "batch/command.h"
#include "batch/options.h"
#include "core/catalogue/value_kind.h"
#include "core/files/kept_picture.h"
#include "core/files/sheet.h"
#include "core/recipe/container.h"
#include "core/recipe/question.h"
#include "core/render/cache.h"
#include "core/render/render.h"

namespace loom::batch {

namespace {

constexpr std::size_t most_pictures = 1024;

struct SheetOptions {
    std::string recipe, out;
    std::vector<std::string> vary;
    int size = 192, columns = 0, threads = 0;
};

/// A whole number of pictures from 1 on, as text.
std::optional<int> count_in(std::string_view text) {
    Parameter range;
    range.kind = Kind::count, range.fallback = 1.0, range.min = 1, range.max = most_pictures;
    const auto value = parse_value(range, text);
    if (!value || refuses(range, *value)) return std::nullopt;
    return static_cast<int>(as<double>(*value));
}

Error refused(const std::string& text, const std::string& why) { return call_error("--vary '" + text + "' " + why); }

/// STRAND/STEP.PARAM=A..B:N
Result<Axis> span_axis(const Recipe& recipe, const Address& at, const std::string& text, std::string_view ends) {
    constexpr const char* form = "must be written STRAND/STEP.PARAM=FROM..TO:COUNT";
    const auto dots = ends.find(".."), colon = ends.rfind(':');
    if (dots == std::string_view::npos || colon == std::string_view::npos || colon < dots) return refused(text, form);
    const auto count = count_in(ends.substr(colon + 1));
    if (!count) return refused(text, "must end with how many pictures, 1 to 1024");
    const auto place = place_at(recipe, at);
    const auto end_of = [&](std::string_view words) -> Result<double> {
        const auto value = parse_value(place->parameter, words);
        if (!value) return refused(text, form);
        if (const auto why = refuses(recipe, at, *value)) return refused(text, ": " + at.parameter + " " + *why);
        return as<double>(*value);
    };
    const auto from = end_of(ends.substr(0, dots));
    if (!from) return from.error();
    const auto to = end_of(ends.substr(dots + 2, colon - dots - 2));
    if (!to) return to.error();
    return value_axis(recipe, at, {*from, *to}, *count, false);
}

Result<Axis> axis_of(const Recipe& recipe, const std::string& text) {
    constexpr std::string_view blend = "blend@", without = "steps@";
    if (text == "colourways") return colourway_axis(recipe);
    if (text.starts_with(blend) || text.starts_with(without)) {
        const std::string strand = text.substr(blend.size());
        if (!recipe.strand(strand)) return refused(text, ": there is no strand '" + strand + "'");
        return text.starts_with(blend) ? choice_axis(recipe, {strand, "", "blend"}) : presence_axis(recipe, strand);
    }
    const auto equals = text.find('=');
    const auto colon = equals == std::string::npos ? text.rfind(':') : std::string::npos;
    const auto at = Address::parse(text.substr(0, std::min(equals, colon)));
    if (!at)
        return refused(
            text,
            "must be STRAND/STEP.PARAM=FROM..TO:COUNT, STRAND/STEP.PARAM, seed:COUNT, blend@STRAND, steps@STRAND or colourways");
    const auto place = place_at(recipe, *at);
    if (!place) return refused(text, ": " + no_place(recipe, *at));
    if (colon != std::string::npos) {
        const auto count = count_in(text.substr(colon + 1));
        if (!count) return refused(text, "must end with how many pictures, 1 to 1024");
        if (place->parameter.id != "seed") return refused(text, "needs FROM..TO: only seeds follow each other");
        return seed_axis(recipe, *at, *count);
    }
    if (equals != std::string::npos) {
        if (!is_number(recipe, *at)) return refused(text, ": only numbers have a range; leave it out to see every choice");
        return span_axis(recipe, *at, text, std::string_view(text).substr(equals + 1));
    }
    if (is_number(recipe, *at)) return value_axis(recipe, *at, usual_span(recipe, *at), 9, true);
    if (is_choice(recipe, *at)) return choice_axis(recipe, *at);
    if (place->parameter.kind == Kind::stops) return ramp_axis(recipe, *at);
    return refused(text, ": nothing of this kind can be varied");
}

Outcome make_sheet(const SheetOptions& o, const Surroundings& around) {
    const auto file = read_loom(o.recipe);
    if (!file) return file.error();
    const Recipe& recipe = file->recipe;
    const auto format = format_for(o.out);
    if (!format) return format.error();
    if (o.vary.size() > 2) return call_error("--vary may be given once, or twice for columns and rows");
    SheetAxes axes;
    for (const std::string& text : o.vary) {
        auto axis = axis_of(recipe, text);
        if (!axis) return axis.error();
        if (axis->variants.empty()) return refused(text, "has nothing to show");
        if (&text == &o.vary.front())
            axes.across = std::move(*axis);
        else
            axes.down = std::move(*axis);
    }
    if (axes.count() > most_pictures)
        return call_error("a sheet of " + std::to_string(axes.count()) + " pictures is too large; at most 1024 can be made");
    Sheet sheet = sheet_of(recipe, axes);
    if (!axes.down && o.columns > 0) sheet.columns = o.columns;
    Cache cache(std::size_t{512} << 20);
    RenderOptions options;
    options.threads = o.threads, options.pictures = &picture_reader(), options.cache = &cache;
    for (std::size_t k = 0; k < axes.count(); ++k) {
        auto picture = render_picture(varied(recipe, axes.variant(k)), size_for(recipe.tile, o.size), options, around.job);
        if (!picture) return picture.error();
        sheet.pictures.push_back(std::move(*picture));
    }
    auto whole = sheet_picture(sheet);
    if (!whole) return whole.error();
    if (auto written = write_picture(o.out, *whole, *format); !written) return written.error();
    return 0;
}

}  // namespace

void add_sheet(CLI::App& app, Action& action) {
    auto o = std::make_shared<SheetOptions>();
    CLI::App* command = app.add_subcommand("sheet", "Shows a recipe with one thing varied, or two, on one picture.");
    command->add_option("RECIPE", o->recipe, "A .loom file, a recipe folder or a recipe.json")->required();
    command
        ->add_option(
            "--vary", o->vary,
            "STRAND/STEP.PARAM=FROM..TO:COUNT, STRAND/STEP.PARAM, seed:COUNT, blend@STRAND, steps@STRAND or colourways; a "
            "second one makes rows")
        ->required()
        ->expected(1)
        ->take_all();
    command->add_option("-o", o->out, "The picture to write")->required();
    command->add_option("--size", o->size, "Longer side of each picture in pixels")->check(CLI::Range(16, 4096));
    command->add_option("--columns", o->columns, "Pictures in a row, where one thing is varied")->check(CLI::Range(1, 1024));
    command->add_option("--threads", o->threads, "At most so many threads")->check(CLI::Range(1, 1024));
    command->callback([o, &action] { action = [o](const Surroundings& around) { return make_sheet(*o, around); }; });
}

}  // namespace loom::batch
