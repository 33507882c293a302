// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/shots.h"

#include <QCoreApplication>
#include <QTimer>
#include <cstdio>
#include <map>

#include "app/help/help_sheet.h"
#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/loom/measures_bar.h"
#include "app/loom/step_finder.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "app/tries/seed_strip.h"

namespace loom {

/// What a view shows: which sample, what is selected, whether it is repeated, whether the finder or help is open.
struct Shots::Scene {
    const char* sample = nullptr;
    Selection selection;
    bool repeat = false, finder = false;
    bool help = false;
    const char* step = nullptr;  ///< instead of a sample: a fresh recipe that begins with this step
};

namespace {

const std::map<QString, Shots::Scene>& scenes() {
    static const std::map<QString, Shots::Scene> all = {
        {"samples", {}},
        {"loom", {"carriage-oak.loom", {"long-grain", "tight"}, false, false}},
        {"gradient", {"carriage-oak.loom", {"ground", "colour"}, true, false}},
        {"dials", {"carriage-oak.loom", {}, true, false}},
        {"steel", {"rail-steel.loom", {"bands", "ramp"}, true, false}},
        {"suede", {"glove-suede.loom", {"nap", "light"}, false, false}},
        {"help", {"carriage-oak.loom", {"long-grain", "tight"}, false, false, true}},
        {"finder", {"glove-suede.loom", {"nap", "light"}, false, true}},
        {"formula", {nullptr, {"strand", "s1"}, false, false, false, "formula"}},
        {"kept", {nullptr, {"strand", "s1"}, true, false, false, "recipe"}},
        {"weave", {nullptr, {"strand", "s1"}, false, false, false, "weave"}},
        {"cells", {nullptr, {"strand", "s1"}, true, false, false, "cells"}},
        {"handles", {nullptr, {"strand", "s1"}, false, false, false, "gradient"}},
    };
    return all;
}

}  // namespace

QStringList Shots::views() {
    QStringList names;
    for (const auto& [name, scene] : scenes()) names << name;
    return names;
}

Shots::Shots(MainWindow& window, QStringList orders) : window_(window), orders_(std::move(orders)) {}

void Shots::when(std::function<bool()> ready, std::function<void()> then) {
    if (ready()) return QTimer::singleShot(60, this, then);
    QTimer::singleShot(40, this, [this, ready, then] { when(ready, then); });
}

void Shots::begin() {
    for (const QString& order : orders_)
        if (const QString view = order.section('=', 0, 0); !scenes().contains(view) || order.section('=', 1).isEmpty()) {
            std::fprintf(stderr, "keen-loom: --shot '%s' must be VIEW=FILE with VIEW one of %s\n", qPrintable(order),
                         qPrintable(views().join(", ")));
            return QCoreApplication::exit(2);
        }
    next();
}

void Shots::next() {
    if (orders_.isEmpty()) return QCoreApplication::quit();
    const QString order = orders_.takeFirst();
    const Scene& scene = scenes().at(order.section('=', 0, 0));
    const QString file = order.section('=', 1);
    auto take = [this, file] {
        QPixmap picture = window_.grab();
        // Popups are windows of their own; they are drawn where they stand.
        for (QWidget* finder : window_.findChildren<StepFinder*>()) {
            finder->render(&picture, window_.mapFromGlobal(finder->pos()));
            finder->close();
        }
        if (!picture.save(file)) {
            std::fprintf(stderr, "keen-loom: cannot write '%s'\n", qPrintable(file));
            return QCoreApplication::exit(1);
        }
        next();
    };
    if (!scene.sample && !scene.step) {
        window_.show_page(window_.samples_view());
        return when([this] { return window_.samples_view()->complete(); }, take);
    }
    window_.session().undo_stack().setClean();
    if (scene.sample) {
        window_.open_sample(samples_folder() + "/" + scene.sample);
    } else {
        Recipe recipe = fresh_recipe();
        recipe.name = "New cloth";
        Strand strand = *recipe.strands.front();
        Step& front = strand.steps.change(0);
        front.kind = scene.step;
        if (std::string_view(scene.step) == "gradient")
            front.set = {{"form", Value(std::string("radial"))},
                         {"from-x", Value(35.0)},
                         {"from-y", Value(40.0)},
                         {"to-x", Value(80.0)},
                         {"to-y", Value(62.0)}};
        if (std::string_view(scene.step) == "weave")
            front.set = {{"draft", Value(std::string("grid"))}, {"warp", Value(48.0)}, {"weft", Value(40.0)}};
        recipe.strands.front() = std::make_shared<const Strand>(std::move(strand));
        window_.session().start_new(std::move(recipe));
        window_.show_page(window_.loom_view());
    }
    window_.session().select(scene.selection);
    if (scene.step && std::string_view(scene.step) == "recipe") {
        window_.loom_view()->desk()->keep_recipe({"strand", "s1", "file"}, samples_folder() + "/rail-steel.loom");
        return when([this] { return !window_.session().recipe().assets.empty(); }, [this, scene, take] { show(scene, take); });
    }
    show(scene, take);
}

void Shots::show(const Scene& scene, const std::function<void()>& take) {
    LoomView* loom = window_.loom_view();
    loom->cloth()->set_repeat(scene.repeat);
    // A picture of the recipe before must not pass for this one's: measures come last of all.
    when([loom] { return !loom->measures()->stale(); },
         [loom, scene, take, this] {
             loom->strands()->focus_selected();
             StepFinder* finder = nullptr;
             if (scene.help != loom->shows_help()) loom->show_step_help();
             if (scene.finder) {
                 loom->add_step();
                 finder = loom->findChild<StepFinder*>();
             }
             const SeedStrip* seeds = loom->desk()->seeds();
             when(
                 [seeds, finder, loom] {
                     return (seeds->isHidden() || seeds->complete()) && (!finder || finder->complete()) &&
                            loom->help()->complete();
                 },
                 [this, take] { QTimer::singleShot(100, this, take); });
         });
}

}  // namespace loom
