// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// measure, steps, check, pack and unpack.
#include <cstdio>
#include <filesystem>
#include <memory>

#include "batch/command.h"
#include "batch/options.h"
#include "batch/format_reference.h"
#include "batch/step_reference.h"
#include "core/base/files.h"
#include "core/files/kept_picture.h"
#include "core/recipe/container.h"
#include "core/recipe/idle_steps.h"
#include "core/render/render.h"
#include "core/structures/letters.h"

namespace loom::batch {

namespace {

/// A .loom file or folder is rendered, anything else is read as a picture.
Result<Bundle> picture_of(const std::string& path, const std::string& size_text, const Job& job) {
    if (!path.ends_with(".loom") && !path.ends_with(".json") && !std::filesystem::is_directory(path))
        return read_picture(path, job);
    auto file = read_loom(path);
    if (!file) return file.error();
    const auto size = parse_size(size_text, file->recipe.tile);
    if (!size) return size.error();
    RenderOptions options;
    options.pictures = &picture_reader();
    return render_picture(file->recipe, *size, options, job);
}

Outcome run_measure(const std::string& path, const std::string& size, bool json, const Surroundings& around) {
    auto picture = picture_of(path, size, around.job);
    if (!picture) return picture.error();
    Measures m;
    try {
        m = measure(*picture, around.job);
    } catch (const Cancelled&) {
        return Error{Fault::cancelled, "cancelled"};
    }
    if (json) {
        print_json(measures_json(m));
        return 0;
    }
    for (const auto& [name, seam] : {std::pair{"across", m.across}, {"down", m.down}})
        std::printf("seam %-7s %.3f (rank %.2f, worst at %.2f; band %.2f)\n", name, seam.ratio, seam.rank, seam.worst_place,
                    seam.band);
    std::printf("standout     %.2f at %.2f, %.2f\n", m.standout.score, m.standout.x, m.standout.y);
    std::printf("evenness     %.3f\n", m.evenness);
    std::printf("spark        %.2f   (real surfaces %.1f to %.1f)\n", m.life.spark, real_spark.low, real_spark.high);
    std::printf("kinship      %.2f   (real surfaces %.2f to %.2f)\n", m.life.kinship, real_kinship.low, real_kinship.high);
    std::printf("play         %.2f   (real surfaces %.2f to %.1f)\n", m.life.play, real_play.low, real_play.high);
    std::printf("black        %.2f %%\nwhite        %.2f %%\n", m.histogram.black * 100, m.histogram.white * 100);
    std::printf("mean         %s, tone %.3f\n", write_colour(m.mean).c_str(), m.histogram.mean);
    return 0;
}

Outcome run_check(const std::vector<std::string>& paths, bool json) {
    nlohmann::ordered_json list = nlohmann::ordered_json::array();
    bool any = false;
    for (const std::string& path : paths) {
        auto file = inspect_loom(path);
        std::vector<Finding> findings;
        std::vector<IdleStep> idle;
        if (file)
            findings = file->findings, idle = idle_steps(file->recipe);
        else
            findings.push_back({Finding::Weight::fault, "", file.error().message});
        any = any || !findings.empty();
        for (const Finding& finding : findings) {
            const bool fault = finding.weight == Finding::Weight::fault;
            if (json)
                list.push_back({{"file", path},
                                {"pointer", finding.pointer},
                                {"kind", fault ? "fault" : "warning"},
                                {"message", finding.message}});
            else
                std::fprintf(stderr, "%s: %s%s\n", path.c_str(), fault ? "" : "warning: ", finding.text().c_str());
        }
        // What has no effect is no fault.
        for (const IdleStep& step : idle) {
            const Finding note{Finding::Weight::warning, step.pointer, step.message};
            if (json)
                list.push_back({{"file", path}, {"pointer", step.pointer}, {"kind", "note"}, {"message", step.message}});
            else
                std::fprintf(stderr, "%s: note: %s\n", path.c_str(), note.text().c_str());
        }
    }
    if (json) print_json({{"findings", list}});
    return any ? 2 : 0;
}

/// Copies a recipe between its two forms; what is wrong in it is kept out.
Outcome convert(const std::string& from, const std::string& to, bool as_folder) {
    auto file = read_loom(from);
    if (!file) return file.error();
    std::error_code error;
    if (as_folder) std::filesystem::create_directories(to, error);
    if (error) return file_error("cannot write", to, error.value());
    auto written = write_loom(to, *file);
    if (!written) return written.error();
    return 0;
}

}  // namespace

void add_measure(CLI::App& app, Action& action) {
    struct Options {
        std::string path, size;
        bool json = false;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("measure", "Measures how a recipe or a picture tiles.");
    command->add_option("FILE", o->path, "A .loom file or a picture")->required();
    command->add_option("--size", o->size, "Pixels of the longer side, or WxH, for recipes");
    command->add_flag("--json", o->json, "Prints one JSON document");
    command->callback(
        [o, &action] { action = [o](const Surroundings& around) { return run_measure(o->path, o->size, o->json, around); }; });
}

void add_steps(CLI::App& app, Action& action) {
    struct Options {
        bool json = false, markdown = false, tables = false;
        std::string pages;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("steps", "Lists all steps and their parameters.");
    auto* json = command->add_flag("--json", o->json, "As one JSON document");
    auto* markdown = command->add_flag("--markdown", o->markdown, "As one page of Markdown")->excludes(json);
    command->add_option("--pages", o->pages, "As pages with pictures, a page for each family, into this folder")
        ->excludes(json)
        ->excludes(markdown);
    command->add_flag("--tables", o->tables, "The tables of docs/recipe-format.md")->excludes(json)->excludes(markdown);
    command->callback([o, &action] {
        action = [o](const Surroundings& around) -> Outcome {
            if (!o->pages.empty()) return write_step_pages(o->pages, around.job);
            if (o->tables)
                std::printf("%s", format_tables().c_str());
            else if (o->json)
                print_json(steps_json());
            else
                std::printf("%s", (o->markdown ? steps_markdown() : steps_text()).c_str());
            return 0;
        };
    });
}

void add_fonts(CLI::App& app, Action& action) {
    struct Options {
        bool json = false;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command =
        app.add_subcommand("fonts", "Lists the fonts that lettering can be set in, as their parameter names them.");
    command->add_flag("--json", o->json, "Prints one JSON document");
    command->callback([o, &action] {
        action = [o](const Surroundings&) -> Outcome {
            if (o->json)
                print_json({{"fonts", font_faces()}});
            else
                for (const std::string& face : font_faces()) std::printf("%s\n", face.c_str());
            return 0;
        };
    });
}

void add_check(CLI::App& app, Action& action) {
    struct Options {
        std::vector<std::string> paths;
        bool json = false;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("check", "Names every fault of recipes with its JSON pointer.");
    command->add_option("FILE", o->paths, "Recipes")->required();
    command->add_flag("--json", o->json, "Prints one JSON document");
    command->callback([o, &action] { action = [o](const Surroundings&) { return run_check(o->paths, o->json); }; });
}

void add_pack(CLI::App& app, Action& action) {
    struct Options {
        std::string from, to;
    };
    auto pack = std::make_shared<Options>(), unpack = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("pack", "Makes a .loom file of a recipe folder.");
    command->add_option("DIR", pack->from, "The folder")->required();
    command->add_option("FILE,-o", pack->to, "The .loom file to write")->required();
    command->callback([pack, &action] { action = [pack](const Surroundings&) { return convert(pack->from, pack->to, false); }; });
    command = app.add_subcommand("unpack", "Makes a recipe folder of a .loom file.");
    command->add_option("FILE", unpack->from, "The .loom file")->required();
    command->add_option("DIR,-o", unpack->to, "The folder to write")->required();
    command->callback(
        [unpack, &action] { action = [unpack](const Surroundings&) { return convert(unpack->from, unpack->to, true); }; });
}

}  // namespace loom::batch
