// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A picture of the material beside the recipe: shown, counted, measured, matched, remembered; and ramps taken from pictures.
#include <QMenu>
#include <QSettings>

#include "app/document/reference.h"
#include "app/loom/tuning_desk.h"
#include "app/widgets/gradient_editor.h"
#include "app/widgets/histogram_view.h"
#include "core/files/picture.h"
#include "core/recipe/ramps.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// A made-up photograph: warm clouds, wider than high.
std::string photograph(const TemporaryFolder& folder) {
    const Bundle clouds = cloud_picture({300, 200}, 20, 9);
    const Bundle warm = applied("gradientmap", {{"stops", Stops{{0, {0.3f, 0.1f, 0.05f}, 0}, {1, {0.95f, 0.75f, 0.4f}, 0}}}},
                                &clouds, {300, 200});
    REQUIRE(write_picture(folder.path("wood.png"), warm, PictureFormat::png));
    return folder.path("wood.png");
}

void wait_for(ReferencePicture& reference) {
    REQUIRE(QTest::qWaitFor([&] { return reference.is_there(); }, patience));
}

}  // namespace

TEST_CASE("a reference lies beside the cloth, its tones behind ours and its measures next to ours", "[window][reference]") {
    const TemporaryFolder folder;
    Fixture f;
    f.session().select({"a", "s2"});
    CHECK_FALSE(f.window.action("reference-shown")->isEnabled());
    CHECK_FALSE(f.loom().desk()->histogram()->reference());
    const Recipe before = f.session().recipe();
    f.loom().reference().load(QString::fromStdString(photograph(folder)));
    wait_for(f.loom().reference());
    CHECK(f.loom().shows_reference());
    // In the tile's proportions, so that it is not drawn out of shape.
    CHECK(f.loom().cloth()->canvas()->aside().size() == QSize(200, 200));
    CHECK(f.loom().reference().measures().histogram.mean == Approx(0.5).margin(0.25));
    REQUIRE(QTest::qWaitFor([&] { return f.loom().desk()->histogram()->reference().has_value(); }, patience));
    // It is beside the recipe, not in it.
    CHECK(f.session().recipe() == before);
    f.trigger("reference-shown");
    CHECK(f.loom().cloth()->canvas()->aside().isNull());
    f.trigger("pin");
    f.trigger("reference-shown");
    CHECK(f.loom().cloth()->canvas()->aside().size() == QSize(200, 200));
    f.trigger("forget-reference");
    CHECK(f.loom().cloth()->canvas()->aside().isNull());
    CHECK_FALSE(f.loom().desk()->histogram()->reference());
    // A file that is no picture is refused with a line.
    f.loom().reference().load(QString::fromStdString(sample("carriage-oak") + "/recipe.json"));
    REQUIRE(QTest::qWaitFor([&] { return f.window.message().contains("recipe.json"); }, patience));
    CHECK_FALSE(f.loom().reference().is_there());
}

TEST_CASE("matching puts the picture into the recipe and moves the cloth's colours onto it", "[window][reference][match]") {
    const TemporaryFolder folder;
    Fixture f;
    f.session().select({"a", "s3"});
    f.loom().reference().load(QString::fromStdString(photograph(folder)));
    wait_for(f.loom().reference());
    f.trigger("match-reference");
    REQUIRE(QTest::qWaitFor([&] { return f.session().recipe().assets.size() == 1; }, patience));
    CHECK(f.order("a") == "clouds levels gradientmap match ");
    CHECK(f.session().selected_step()->kind == "match");
    f.rendered();
    CHECK(f.loom().measures()->measures().mean.red > f.loom().measures()->measures().mean.blue + 0.1f);
}

TEST_CASE("a recipe file remembers its reference", "[window][reference]") {
    const TemporaryFolder folder;
    Fixture f;
    const QString recipe = QString::fromStdString(folder.path("t.loom"));
    f.loom().reference().load(QString::fromStdString(photograph(folder)));
    wait_for(f.loom().reference());
    REQUIRE(saved(f.window, recipe));
    REQUIRE(QTest::qWaitFor([&] { return !f.session().path().isEmpty(); }, patience));
    f.session().start_new(fresh_recipe());
    CHECK_FALSE(f.loom().reference().is_there());
    open_in(f.window, recipe);
    wait_for(f.loom().reference());
    CHECK(f.loom().reference().name() == "wood.png");
    f.loom().reference().forget();
    f.session().start_new(fresh_recipe());
    open_in(f.window, recipe);
    REQUIRE(QTest::qWaitFor([&] { return f.session().path() == recipe; }, patience));
    CHECK_FALSE(f.loom().reference().is_there());
}

TEST_CASE("a ramp is turned, spaced, taken from the library and from a picture", "[window][gradient]") {
    const TemporaryFolder folder;
    Fixture f;
    f.session().select({"a", "s3"});
    f.session().set_value({"a", "s3", "stops"}, Value(Stops{{0.1, {0, 0, 0}, 12}, {0.2, {1, 0, 0}, 0}, {1, {1, 1, 1}, 0}}));
    auto* editor = qobject_cast<GradientEditor*>(f.loom().desk()->editor("stops"));
    REQUIRE(editor);
    const auto stops = [&] { return as<Stops>(*value_at(f.session().recipe(), {"a", "s3", "stops"})); };
    const auto run = [&](const QString& text) {
        emit editor->ramps_menu()->aboutToShow();
        for (QAction* each : editor->ramps_menu()->actions())
            if (each->text() == text) return each->trigger();
        FAIL("no " << text.toStdString());
    };
    run("Turn round");
    CHECK(stops().back().place == Approx(0.9));
    CHECK(stops().back().grain == 12);
    run("Space evenly");
    CHECK(stops()[1].place == Approx(0.5));
    run("Walnut");
    CHECK(stops().size() == ramp_library()[2].stops.size());
    CHECK(stops().front().grain == 12);
    f.loom().desk()->take_ramp({"a", "s3", "stops"}, QString::fromStdString(photograph(folder)), 4, false);
    REQUIRE(QTest::qWaitFor([&] { return stops().size() == 4; }, patience));
    CHECK(stops().front().place == 0);
    CHECK(stops().back().place == 1);
    CHECK(stops()[3].colour.red > stops()[0].colour.red + 0.2f);
    for (const Stop& stop : stops()) CHECK(stop.colour.red > stop.colour.blue);
    // The reference offers its colours without asking for a file.
    f.loom().reference().load(QString::fromStdString(photograph(folder)));
    wait_for(f.loom().reference());
    emit editor->ramps_menu()->aboutToShow();
    for (QAction* each : editor->ramps_menu()->actions())
        if (each->text() == "Main colours of the reference") each->menu()->actions()[1]->trigger();
    REQUIRE(QTest::qWaitFor([&] { return stops().size() == 3; }, patience));
}
