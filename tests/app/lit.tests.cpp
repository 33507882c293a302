// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The cloth under a lamp and its maps: what is dragged is followed, and what is shown is the recipe as it is.
#include <QComboBox>
#include <QClipboard>
#include <QGuiApplication>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <QWheelEvent>

#include "app/document/sample_book.h"
#include "app/loom/lit_view.h"
#include "app/loom/scene_places.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

struct Lit : Fixture {
    LitView& lit() { return *loom().cloth()->lit(); }
    LitCanvas& canvas() { return *lit().canvas(); }
    void settled() {
        REQUIRE(QTest::qWaitFor([this] { return lit().settled(); }, patience));
    }
    QImage picture() { return canvas().picture(); }
    void open() {
        QTest::mouseClick(loom().cloth()->lit_button(), Qt::LeftButton);
        settled();
    }
};

double mean_lightness(const QImage& image) {
    double sum = 0;
    for (int y = 0; y < image.height(); y += 3)
        for (int x = 0; x < image.width(); x += 3) sum += QColor(image.pixel(x, y)).lightnessF();
    return sum * 9 / (image.width() * image.height());
}

}  // namespace

TEST_CASE("the lamp is dragged over the cloth and turned by keys, and the picture follows", "[window][lit]") {
    Lit f;
    f.open();
    const QImage first = f.picture();
    REQUIRE_FALSE(first.isNull());
    // Until somebody takes hold of it the lamp is the recipe's.
    CHECK(f.canvas().light().direction == f.session().recipe().lamp.direction);
    const QPoint middle = f.canvas().rect().center();
    const int reach = std::min(f.canvas().width(), f.canvas().height()) / 4;
    QTest::mousePress(&f.canvas(), Qt::LeftButton, {}, middle + QPoint(reach, 0));
    CHECK(std::abs(f.canvas().light().direction) < 2);
    f.settled();
    const QImage right = f.picture();
    CHECK(right != first);
    for (int k = 1; k <= 20; ++k) {
        QMouseEvent move(QEvent::MouseMove, QPointF(middle) + QPointF(reach - 4 * k, 5 * k), QPointF(), Qt::NoButton,
                         Qt::LeftButton, {});
        QApplication::sendEvent(&f.canvas(), &move);
    }
    QTest::mouseRelease(&f.canvas(), Qt::LeftButton, {}, middle);
    f.settled();
    CHECK(f.picture() != right);
    // In the middle it faces the cloth.
    QTest::mouseClick(&f.canvas(), Qt::LeftButton, {}, middle);
    CHECK(f.canvas().light().elevation > 88);
    const double before = f.canvas().light().elevation;
    f.canvas().setFocus();
    for (int k = 0; k < 4; ++k) QTest::keyClick(&f.canvas(), Qt::Key_Down);
    CHECK(f.canvas().light().elevation == Approx(before - 20));
    const double direction = f.canvas().light().direction;
    QTest::keyClick(&f.canvas(), Qt::Key_Left);
    CHECK(std::remainder(f.canvas().light().direction - direction - 10, 360) == Approx(0).margin(1e-6));
    for (int k = 0; k < 40; ++k) QTest::keyClick(&f.canvas(), Qt::Key_Down);
    CHECK(f.canvas().light().elevation > 0);
    f.settled();
}

TEST_CASE("shapes, exposure and the recipe change the lit picture, and it comes back as it was", "[window][lit]") {
    Lit f;
    f.open();
    std::vector<QImage> seen{f.picture()};
    for (LitShape shape : {LitShape::ball, LitShape::sheet, LitShape::block}) {
        QTest::mouseClick(f.lit().shape_button(shape), Qt::LeftButton);
        CHECK(f.lit().shape() == shape);
        f.settled();
        for (const QImage& each : seen) CHECK(each != f.picture());
        seen.push_back(f.picture());
    }
    f.lit().exposure()->setValue(15);
    f.settled();
    CHECK(mean_lightness(f.picture()) > mean_lightness(seen.back()) + 0.05);
    f.lit().exposure()->setValue(0);
    f.settled();
    CHECK(f.picture() == seen.back());
    // Rough where it was smooth, and back again.
    f.session().apply(with_route(f.session().recipe(), "a", Map::metalness, Route{}), "Route");
    f.rendered();
    f.settled();
    CHECK(f.picture() != seen.back());
    f.trigger("undo");
    f.rendered();
    f.settled();
    CHECK(f.picture() == seen.back());
    // The wheel shows more of it.
    const double repeats = f.lit().repeats();
    QWheelEvent wheel(QPointF(20, 20), f.canvas().mapToGlobal(QPointF(20, 20)), {}, {0, -240}, Qt::NoButton, {},
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&f.canvas(), &wheel);
    CHECK(f.lit().repeats() > repeats);
    // What it looks like is found again.
    const QVariantMap state = f.loom().state();
    f.loom().cloth()->set_lit(false);
    CHECK(f.loom().cloth()->canvas()->isVisible());
    f.loom().set_state(state);
    CHECK(f.loom().cloth()->shows_lit());
    CHECK(f.lit().shape() == LitShape::block);
}

TEST_CASE("every map is shown in the cloth's place, and follows the recipe", "[window][lit][cloth]") {
    Lit f;
    f.session().apply(with_route(f.session().recipe(), "a", Map::height, Route{}), "Route");
    f.rendered();
    ClothView& cloth = *f.loom().cloth();
    std::vector<QImage> seen{cloth.canvas()->grab().toImage()};
    for (const MapInfo& info : map_table) {
        if (info.map == Map::colour) continue;
        INFO(info.id);
        cloth.map_field()->setCurrentIndex(cloth.map_field()->findData(static_cast<int>(info.map)));
        CHECK(cloth.map() == info.map);
        REQUIRE(QTest::qWaitFor([&] { return cloth.canvas()->grab().toImage() != seen.back(); }, patience));
        seen.push_back(cloth.canvas()->grab().toImage());
    }
    cloth.set_map(Map::height);
    REQUIRE(QTest::qWaitFor([&] { return cloth.canvas()->grab().toImage() == seen[1]; }, patience));
    f.session().set_value({"a", "s1", "octaves"}, Value(1.0));
    REQUIRE(QTest::qWaitFor([&] { return cloth.canvas()->grab().toImage() != seen[1]; }, patience));
    cloth.set_map(Map::colour);
    f.rendered();
}

TEST_CASE("recipes lie in the corner of the halt, each where it was chosen, and the wheel goes nearer", "[window][lit][scene]") {
    Lit f;
    f.open();
    QTest::mouseClick(f.lit().shape_button(LitShape::scene), Qt::LeftButton);
    f.settled();
    ScenePlaces& places = *f.lit().places();
    REQUIRE(places.isVisible());
    // The crate is the open cloth's; what else lies there comes from the book, as soon as that is read.
    REQUIRE(QTest::qWaitFor([&] { return places.recipe(ScenePlace::floor) != nullptr; }, patience));
    CHECK_FALSE(places.recipe(ScenePlace::crate));
    f.settled();
    const QImage first = f.picture();
    const QString name = QString::fromStdString(f.window.book().samples().back().recipe.name);
    places.choose(ScenePlace::wall, name);
    f.settled();
    CHECK(f.picture() != first);
    CHECK(places.button(ScenePlace::wall)->text().contains(name));
    // What was chosen is there again in another window.
    const QVariantMap state = f.lit().state();
    Lit other;
    other.open();
    other.lit().set_state(state);
    CHECK(other.lit().shape() == LitShape::scene);
    CHECK(other.lit().places()->button(ScenePlace::wall)->text().contains(name));
    const QImage far = f.picture();
    QWheelEvent nearer(QPointF(f.canvas().rect().center()), f.canvas().mapToGlobal(f.canvas().rect().center()), {}, {0, 120},
                       Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&f.canvas(), &nearer);
    f.settled();
    CHECK(f.picture() != far);
    // Back on the flat tile the row is gone.
    QTest::mouseClick(f.lit().shape_button(LitShape::tile), Qt::LeftButton);
    CHECK_FALSE(places.isVisible());
}

TEST_CASE("what the cloth shows is copied as a picture: the cloth, a map, or the lit shape", "[window][lit]") {
    Lit f;
    const auto copied = [&] {
        f.trigger("copy-picture");
        return QGuiApplication::clipboard()->image();
    };
    CHECK(copied().size() == f.loom().cloth()->canvas()->image().size());
    f.loom().cloth()->set_map(Map::lit);
    REQUIRE(QTest::qWaitFor([&] { return f.loom().cloth()->seen().cacheKey() != f.loom().cloth()->canvas()->image().cacheKey(); },
                            patience));
    const QImage lit = copied();
    CHECK(lit.convertToFormat(QImage::Format_RGB32) == f.loom().cloth()->seen().convertToFormat(QImage::Format_RGB32));
    f.open();
    CHECK(copied().size() == f.picture().size());
}

TEST_CASE("light is taken out of a recipe and put back by one command each, each undone in one", "[window][lit]") {
    Lit f;
    Step relief;
    relief.kind = "relief";
    Recipe recipe = f.session().recipe();
    recipe = step_added(recipe, {recipe.strands.front()->id, ChainKind::steps, 1}, relief);
    f.session().apply(recipe, "Add a relief");
    f.trigger("light-out");
    const Recipe out = f.session().recipe();
    CHECK(out != recipe);
    CHECK(out.strands.front()->routes.contains(Map::height));
    CHECK_FALSE(f.window.action("light-out")->isEnabled());
    f.trigger("light-back");
    CHECK(f.session().recipe() == recipe);
    f.trigger("undo");
    CHECK(f.session().recipe() == out);
    f.trigger("undo");
    CHECK(f.session().recipe() == recipe);
}
