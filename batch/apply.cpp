// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// apply: one step on one picture. blend: one picture over another.
#include <algorithm>
#include <memory>

#include "batch/command.h"
#include "batch/options.h"
#include "core/catalogue/description.h"
#include "core/files/kept_picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/edits.h"
#include "core/render/render.h"
#include "core/structures/join.h"

namespace loom::batch {

namespace {

struct ApplyOptions {
    std::string step, in, aux, out, size = "1024";
    std::vector<std::string> set;
    std::uint32_t seed = 0;
    int threads = 0;
};

/// The cloth of a recipe as the step `recipe` wants it, for a picture of `size`.
Result<Bundle> cloth_for(const StepDescription& step, const Values& values, const std::string& path, Size size, const Job& job) {
    Strand strand;
    strand.id = "s";
    Step made;
    made.id = "s1", made.kind = std::string(step.id), made.set = values;
    std::string name;
    auto asset = recipe_asset(path, name);
    if (!asset) return asset.error();
    // Rendered by way of a recipe around it, so that scale, colourway and dials mean the same as there.
    Recipe around;
    around.tile.width = size.width, around.tile.height = size.height;
    made.set[std::string(step.parameter_of(Kind::recipe)->id)] = name;
    strand.steps.push_back(std::move(made));
    around.strands.push_back(std::make_shared<const Strand>(std::move(strand)));
    RenderOptions options;
    options.pictures = &picture_reader();
    return render_cloth(with_asset(std::move(around), name, *asset), size, options, job);
}

Outcome apply(const ApplyOptions& o, const Surroundings& around) {
    const StepDescription* step = find_step(o.step);
    if (!step) return call_error("there is no step '" + o.step + "'; 'keen-loom-batch steps' lists them all");
    Values values;
    std::map<std::string, std::string> paths;
    // Choices first: what suits them may be set otherwise by what else is given.
    std::vector<std::string> sets = o.set;
    std::stable_partition(sets.begin(), sets.end(), [&](const std::string& text) {
        const Parameter* parameter = step->parameter(text.substr(0, text.find('=')));
        return parameter && parameter->kind == Kind::choice;
    });
    for (const std::string& text : sets) {
        const auto parts = split_assignment(text, "--set");
        if (!parts) return parts.error();
        const Parameter* parameter = step->parameter(parts->first);
        if (!parameter) return call_error("step '" + o.step + "' has no parameter '" + parts->first + "'");
        if (names_kept(parameter->kind)) {
            paths[parts->first] = parts->second;
            continue;
        }
        std::optional<Value> value = parse_value(*parameter, parts->second);
        if (const auto draft = draft_of_file(*parameter, parts->second)) {
            if (!*draft) return draft->error();
            value = **draft;
        }
        const Value wrong = parameter->kind == Kind::toggle ? Value(0.0) : Value(false);
        if (const auto why = refuses(*parameter, value ? *value : wrong))
            return call_error("--set " + text + ": " + parts->first + " " + *why);
        set_parameter(*step, values, *parameter, *value);
    }
    const auto format = format_for(o.out);
    if (!format) return format.error();
    if (needs_input(*step, values) && o.in.empty())
        return call_error("step '" + o.step + "' needs a picture to work on: give --in FILE");
    Size size;
    std::optional<Bundle> input, aux;
    if (!o.in.empty()) {
        auto read = read_picture(o.in, around.job);
        if (!read) return read.error();
        size = read->size();
        input = std::move(*read);
    } else {
        const auto wanted = parse_size(o.size, Tile{});
        if (!wanted) return wanted.error();
        size = *wanted;
    }
    std::map<std::string, const Bundle*, std::less<>> others;
    // Files that a step would keep in a recipe are read here and now.
    std::map<std::string, Bundle> files;
    Drawings drawings{{}, &picture_reader()};
    for (const Parameter& p : step->parameters) {
        const std::string id(p.id);
        if (!names_kept(p.kind) || !paths.contains(id)) continue;
        if (p.kind == Kind::drawing) {
            auto svg = read_kept_drawing(paths[id]);
            if (!svg) return svg.error();
            drawings.files[id] = std::make_shared<const std::string>(std::move(*svg));
            values[id] = Value("assets/" + id);
            continue;
        }
        auto read =
            p.kind == Kind::picture ? read_picture(paths[id], around.job) : cloth_for(*step, values, paths[id], size, around.job);
        if (!read) return read.error();
        others[id] = &(files[id] = std::move(*read));
    }
    if (!o.aux.empty()) {
        auto read = read_picture(o.aux, around.job);
        if (!read) return read.error();
        aux = read->size() == size ? std::move(*read) : resized(*read, size);
        for (const Parameter& p : step->parameters)
            if (p.kind == Kind::strand) others[std::string(p.id)] = &*aux;
        if (step->reads_beneath(values)) others["beneath"] = &*aux;
    }
    auto result = apply_step(*step, values, o.seed, size, input ? &*input : nullptr, others, o.threads, around.job, {}, drawings);
    if (!result) return Error{result.error().fault, o.step + ": " + result.error().message};
    auto written = write_picture(o.out, *result, *format);
    if (!written) return written.error();
    return 0;
}

struct BlendOptions {
    std::string mode, under, over, out;
    double amount = 100;
    bool linear = false;
};

Outcome blend(const BlendOptions& o, const Surroundings& around) {
    const auto mode = find_blend(o.mode);
    if (!mode) {
        std::string names;
        for (const BlendName& name : blend_names()) names += (names.empty() ? "" : ", ") + std::string(name.id);
        return call_error("there is no blend '" + o.mode + "'; there are " + names);
    }
    const auto format = format_for(o.out);
    if (!format) return format.error();
    auto under = read_picture(o.under, around.job);
    if (!under) return under.error();
    auto over = read_picture(o.over, around.job);
    if (!over) return over.error();
    if (over->size() != under->size())
        return call_error("'" + o.over + "' and '" + o.under + "' must have the same size in pixels");
    BlendSettings settings;
    settings.blend = *mode, settings.amount = static_cast<float>(o.amount / 100), settings.linear = o.linear;
    auto written = write_picture(o.out, joined(*under, *over, {settings, under->size(), 0}, nullptr, around.job), *format);
    if (!written) return written.error();
    return 0;
}

}  // namespace

void add_apply(CLI::App& app, Action& action) {
    auto o = std::make_shared<ApplyOptions>();
    CLI::App* command = app.add_subcommand("apply", "Runs one step on one picture.");
    command->add_option("STEP", o->step, "The step's word")->required();
    command->add_option("--in", o->in, "The picture to work on; Make steps need none");
    command->add_option("--aux", o->aux, "The picture that stands for another strand");
    command->add_option("--set", o->set, "PARAM=VALUE; may be given often")->expected(1)->take_all();
    command->add_option("-o", o->out, "The file to write")->required();
    command->add_option("--size", o->size, "Pixels of what a Make step makes without --in");
    command->add_option("--seed", o->seed, "Seed of the step");
    command->add_option("--threads", o->threads, "At most so many threads")->check(CLI::Range(1, 1024));
    command->callback([o, &action] { action = [o](const Surroundings& around) { return apply(*o, around); }; });
}

void add_blend(CLI::App& app, Action& action) {
    auto o = std::make_shared<BlendOptions>();
    CLI::App* command = app.add_subcommand("blend", "Lays one picture over another.");
    command->add_option("MODE", o->mode, "The blend's word")->required();
    command->add_option("--under", o->under, "The picture below")->required();
    command->add_option("--over", o->over, "The picture above")->required();
    command->add_option("--amount", o->amount, "How much of the picture above counts, in %")->check(CLI::Range(0.0, 100.0));
    command->add_flag("--linear", o->linear, "Blends in linear light");
    command->add_option("-o", o->out, "The file to write")->required();
    command->callback([o, &action] { action = [o](const Surroundings& around) { return blend(*o, around); }; });
}

}  // namespace loom::batch
