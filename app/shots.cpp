// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/shots.h"

#include <QCoreApplication>
#include <QDir>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <cstdio>
#include <map>

#include "app/help/first_cloth.h"
#include "app/help/help_sheet.h"
#include "app/loom/cloth_view.h"
#include "app/loom/lit_view.h"
#include "app/loom/loom_view.h"
#include "app/loom/measures_bar.h"
#include "app/loom/blend_chooser.h"
#include "app/loom/step_finder.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "app/export/export_view.h"
#include "app/repeat/repeat_view.h"
#include "app/loom/front_panel.h"
#include "app/loom/history_sheet.h"
#include "app/tries/seed_strip.h"
#include "app/document/recipe_files.h"
#include "app/document/reference.h"
#include "app/document/render_service.h"
#include "app/tries/toward_panel.h"
#include "app/tries/try_sheet.h"
#include "app/tries/try_view.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/colour_panel.h"
#include "core/catalogue/description.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/groups.h"
#include "core/render/render.h"

namespace loom {

/// What a view shows: which sample, what is selected, whether it is repeated, and what is open besides.
struct Shots::Scene {
    enum class Open {
        nothing,
        finder,
        help,
        blends,     ///< of the selected strand's join
        first,      ///< the remarks for a first cloth
        tries,      ///< two values of the selected step on a sheet
        curves,     ///< the selected step is exchanged for curves
        front,      ///< dials and colourways alone
        reference,  ///< a picture of another sample stands in for a photograph
        toward,     ///< and a search toward it
        colour,     ///< the panel of the first colour at the desk
        history,    ///< every state, one of them pinned
        groups,     ///< strands are grouped and folded, several cards selected
        strokes,    ///< the second stroke of the selected step is shown
        drawing,
        lit,       ///< the cloth under a lamp, on a sphere
        scene,     ///< and in the corner of the halt
        repeated,  ///< the Repeat view
        exported,  ///< the Export view, with a packed picture and a material
        small,     ///< the smallest window that is worked in
    };
    const char* sample = nullptr;
    Selection selection = {};
    bool repeat = false;
    Open open = Open::nothing;
    const char* step = nullptr;  ///< instead of a sample: a fresh recipe that begins with this step
};

namespace {

const std::map<QString, Shots::Scene>& scenes() {
    using Open = Shots::Scene::Open;
    const char *oak = "carriage-oak.loom", *steel = "rail-steel.loom", *suede = "glove-suede.loom";
    const Selection tight{"long-grain", "tight"}, light{"nap", "light"}, only{"strand", "s1"};
    const auto of_step = [&](const char* step, bool repeat = false) {
        return Shots::Scene{nullptr, only, repeat, Open::nothing, step};
    };
    static const std::map<QString, Shots::Scene> all = {
        {"samples", {}},
        {"loom", {oak, tight}},
        {"gradient", {oak, {"ground", "colour"}, true}},
        {"dials", {oak, {}, true}},
        {"steel", {steel, {"bands", "ramp"}, true}},
        {"suede", {suede, light}},
        {"help", {oak, tight, false, Open::help}},
        {"finder", {suede, light, false, Open::finder}},
        {"blends", {oak, {"long-grain", ""}, false, Open::blends}},
        {"first", {oak, tight, false, Open::first}},
        {"groups", {oak, tight, true, Open::groups}},
        {"try", {oak, tight, false, Open::tries}},
        {"curves", {oak, tight, false, Open::curves}},
        {"front", {oak, {}, true, Open::front}},
        {"history", {oak, tight, false, Open::history}},
        {"reference", {suede, light, false, Open::reference}},
        {"toward", {oak, {}, false, Open::toward}},
        {"colour", {oak, {"ground", "colour"}, false, Open::colour}},
        {"strokes", {"reeded-glass.loom", {"glass", "wiped"}, false, Open::strokes}},
        {"drawing", {"reeded-glass.loom", {"glass", "wiped"}, false, Open::drawing}},
        {"form", {"gilded-sign.loom", {"gold", "m1"}}},
        {"outline", {"luggage-tag.loom", {"tag", "m1"}}},
        {"letters", {"gauge-dial.loom", {"word", "s1"}}},
        {"moves", {"poster-dusk.loom", {"sky", "curls"}}},
        {"bevel", {"signal-lamps.loom", {"red", "e1"}}},
        {"rim", {"luggage-tag.loom", {"tag", "e3"}}},
        {"small", {oak, tight, false, Open::small}},
        {"strand", {oak, {"long-grain", ""}}},
        {"lit", {"gilded-sign.loom", {"gold", "m1"}, false, Open::lit}},
        {"lit-oak", {oak, tight, false, Open::lit}},
        {"lit-steel", {steel, {"bands", "ramp"}, false, Open::lit}},
        {"scene", {oak, tight, false, Open::scene}},
        {"repeat", {oak, tight, false, Open::repeated}},
        {"export", {oak, tight, false, Open::exported}},
        {"formula", of_step("formula")},
        {"kept", of_step("recipe", true)},
        {"weave", of_step("weave")},
        {"cells", of_step("cells", true)},
        {"handles", of_step("gradient")},
    };
    return all;
}

/// The two first strands in a group, the one after the next folded, and all steps of one chosen.
void group_some(Session& session, const std::string& chosen) {
    Recipe recipe = grouped_with_next(session.recipe(), session.recipe().strands.front()->id, "Figure");
    const std::string folded = recipe.strands[3]->id;
    recipe = strand_folded(std::move(recipe), folded, true);
    session.apply(std::move(recipe), "Group");
    session.undo_stack().setClean();
    const Chain& steps = session.recipe().strand(chosen)->steps;
    session.select_several(between(session.recipe(), {chosen, steps.front().id}, {chosen, steps.back().id}),
                           {chosen, steps.back().id});
}

void exchange_for_curves(Session& session) {
    const Selection at = session.selection();
    session.apply(step_exchanged(session.recipe(), at.strand, at.step, *find_step("curves")), "Exchange");
    session.set_value({at.strand, at.step, "all"}, Value(CurvePoints{{0, 0}, {0.3, 0.16}, {0.62, 0.8}, {1, 1}}));
    session.undo_stack().setClean();
}

/// A few edits, the first state pinned and half of the cloth shown from it.
void some_history(Session& session, LoomView& loom) {
    loom.pin_present();
    const Selection at = session.selection();
    session.set_value({at.strand, at.step, "in-black"}, Value(0.4));
    session.set_value({at.strand, "", "amount"}, Value(100.0));
    session.set_value({at.strand, "", "blend"}, Value(std::string("multiply")));
    session.undo_stack().setClean();
}

/// A picture as somebody may have taken it: the oldest colourway of another sample.
QString made_up_photograph() {
    const auto file = read_loom((samples_folder() + "/glove-suede.loom").toStdString());
    const QString path = QDir::temp().filePath("keen-loom-photograph.png");
    if (!file) return path;
    const auto picture = render_cloth(with_colourway(file->recipe, "Slate"), {512, 512}, {}, Job());
    if (picture) to_image(*picture).save(path);
    return path;
}

/// Five pictures for a game, and a material of them.
ExportPreset shown_preset() {
    ExportPreset preset;
    preset.pictures = {{Map::colour, "", {}, PictureFormat::png16},
                       {Map::normal, "", {}, PictureFormat::png16},
                       {Map::height, "", {}, PictureFormat::exr}};
    ExportPicture packed;
    packed.pack = "orm";
    for (const char* word : {"occlusion", "roughness", "metalness"}) packed.channels.push_back(*find_channel(word));
    preset.pictures.push_back(packed);
    preset.sizes = {4096}, preset.material = Material::glb;
    return preset;
}

Question shown_question() {
    Question question;
    question.what = Question::What::two;
    question.across = {"long-grain", "tight", "in-black"}, question.down = {"long-grain", "", "amount"};
    return question;
}

/// A new recipe that begins with a step, set so that there is something to see.
Recipe fresh_with(std::string_view step) {
    Recipe recipe = fresh_recipe();
    recipe.name = "New cloth";
    Strand strand = *recipe.strands.front();
    Step& front = strand.steps.change(0);
    front.kind = step;
    if (step == "gradient")
        front.set = {{"form", Value(std::string("radial"))},
                     {"from-x", Value(35.0)},
                     {"from-y", Value(40.0)},
                     {"to-x", Value(80.0)},
                     {"to-y", Value(62.0)}};
    if (step == "weave") front.set = {{"draft", Value(std::string("grid"))}, {"warp", Value(48.0)}, {"weft", Value(40.0)}};
    recipe.strands.front() = std::make_shared<const Strand>(std::move(strand));
    return recipe;
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
    // Whatever the screen is.
    window_.resize(1280, 800);
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
        for (QWidget* panel : window_.findChildren<ColourPanel*>()) {
            panel->render(&picture, QPoint(300, 300));
            panel->close();
        }
        for (QWidget* chooser : window_.findChildren<PictureChooser*>()) {
            chooser->render(&picture, window_.mapFromGlobal(chooser->pos()));
            chooser->close();
        }
        if (FirstCloth* remarks = window_.first_cloth()) {
            // Whoever starts the program later has not followed them.
            remarks->disconnect(&window_);
            remarks->end_button()->click();
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
        return when([this] { return !window_.files()->busy(); }, [this, scene, take] { prepare(scene, take); });
    }
    window_.session().start_new(fresh_with(scene.step));
    window_.show_page(window_.loom_view());
    prepare(scene, take);
}

void Shots::prepare(const Scene& scene, const std::function<void()>& take) {
    if (scene.open == Scene::Open::groups) group_some(window_.session(), scene.selection.strand);
    if (scene.open != Scene::Open::groups) window_.session().select(scene.selection);
    if (scene.step && std::string_view(scene.step) == "recipe") {
        window_.loom_view()->desk()->keep_recipe({"strand", "s1", "file"}, samples_folder() + "/rail-steel.loom");
        return when([this] { return !window_.session().recipe().assets.empty(); }, [this, scene, take] { show(scene, take); });
    }
    show(scene, take);
}

/// A stroke under way, a move every 40 ms, never ended.
void Shots::draw(int moves, const std::function<void()>& take) {
    QWidget* canvas = window_.loom_view()->cloth()->canvas();
    const auto send = [canvas](QEvent::Type type, int k) {
        const QPointF at(canvas->width() * (0.2 + 0.012 * k), canvas->height() * (0.25 + 0.004 * k));
        QMouseEvent event(type, at, canvas->mapToGlobal(at), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton,
                          Qt::LeftButton, {});
        QApplication::sendEvent(canvas, &event);
    };
    if (moves == 1) send(QEvent::MouseButtonPress, 0);
    send(QEvent::MouseMove, moves);
    if (moves == 40) return QTimer::singleShot(60, this, take);
    QTimer::singleShot(40, this, [this, moves, take] { draw(moves + 1, take); });
}

void Shots::show(const Scene& scene, const std::function<void()>& take) {
    LoomView* loom = window_.loom_view();
    loom->cloth()->set_repeat(scene.repeat);
    if (scene.open == Scene::Open::small) window_.resize(900, 600);
    // A picture of the recipe before must not pass for this one's: measures come last of all.
    when([loom] { return !loom->measures()->stale(); },
         [loom, scene, take, this] {
             loom->strands()->focus_selected();
             PictureChooser* finder = nullptr;
             if ((scene.open == Scene::Open::help) != loom->shows_help()) loom->show_step_help();
             if (scene.open == Scene::Open::finder) {
                 loom->add_step();
                 finder = loom->findChild<StepFinder*>();
             }
             if (scene.open == Scene::Open::first) {
                 window_.show_first_cloth();
                 window_.first_cloth()->pass_button()->click();
             }
             if (scene.open == Scene::Open::curves) exchange_for_curves(window_.session());
             if (scene.open == Scene::Open::strokes) loom->brush().show_stroke(1);
             loom->show_front(scene.open == Scene::Open::front);
             // A made-up picture: another sample's own.
             const bool beside = scene.open == Scene::Open::reference || scene.open == Scene::Open::toward;
             if (beside) loom->reference().load(made_up_photograph());
             if (scene.open == Scene::Open::colour) loom->desk()->findChild<ColourButton*>()->click();
             if (scene.open == Scene::Open::toward) {
                 window_.show_page(window_.try_view());
                 Question question;
                 question.what = Question::What::toward;
                 window_.try_view()->ask(question);
                 return when([loom] { return loom->reference().is_there(); },
                             [this, take] {
                                 window_.try_view()->toward()->follow();
                                 window_.try_view()->toward()->search();
                                 when([this] { return window_.try_view()->complete(); },
                                      [this, take] { QTimer::singleShot(800, this, take); });
                             });
             }
             if ((scene.open == Scene::Open::history) != loom->history()->isVisible())
                 loom->show_history(scene.open == Scene::Open::history);
             if (scene.open == Scene::Open::history) some_history(window_.session(), *loom);
             if (scene.open == Scene::Open::tries) {
                 window_.show_page(window_.try_view());
                 window_.try_view()->ask(shown_question());
             }
             const bool in_scene = scene.open == Scene::Open::scene, lit = scene.open == Scene::Open::lit || in_scene;
             const bool flat = scene.sample == std::string_view("gilded-sign.loom");
             loom->cloth()->set_lit(lit);
             if (lit)
                 loom->cloth()->lit()->shape_button(in_scene ? LitShape::scene : flat ? LitShape::tile : LitShape::ball)->click();
             if (scene.open == Scene::Open::repeated) {
                 window_.show_page(window_.repeat_view());
                 return when([this] { return window_.repeat_view()->overlay().known(); },
                             [this, take] { QTimer::singleShot(100, this, take); });
             }
             if (scene.open == Scene::Open::exported) {
                 window_.show_page(window_.export_view());
                 window_.export_view()->set_preset(shown_preset());
                 window_.export_view()->folder_field()->setText("Textures/ostrel-halt");
                 return when([this] { return window_.export_view()->settled(); },
                             [this, take] { QTimer::singleShot(100, this, take); });
             }
             if (scene.open == Scene::Open::blends) finder = loom->choose_blend(scene.selection.strand);
             const SeedStrip* seeds = loom->desk()->seeds();
             when(
                 [seeds, finder, loom, scene, this] {
                     const TryView* tries = window_.try_view();
                     if (tries->isVisible()) return tries->complete() && !tries->compare()->pictures().front().note.isEmpty();
                     if (loom->measures()->stale() || !loom->front()->complete() || !loom->history()->complete()) return false;
                     if (loom->cloth()->shows_lit() && !loom->cloth()->lit()->settled()) return false;
                     if (scene.open == Scene::Open::reference && loom->cloth()->canvas()->aside().isNull()) return false;
                     return (seeds->isHidden() || seeds->complete()) && (!finder || finder->complete()) &&
                            (!loom->shows_help() || loom->help()->complete());
                 },
                 [this, take, scene] {
                     if (scene.open == Scene::Open::tries) window_.try_view()->sheet()->choose(8);
                     const auto measured = [this, scene] {
                         const auto& shown = window_.try_view()->compare()->pictures();
                         return scene.open != Scene::Open::tries ||
                                std::all_of(shown.begin(), shown.end(), [](const auto& each) { return !each.note.isEmpty(); });
                     };
                     when(measured, [this, take, scene] {
                         if (scene.open != Scene::Open::drawing) return QTimer::singleShot(100, this, take);
                         draw(1, take);
                     });
                 });
         });
}

}  // namespace loom
