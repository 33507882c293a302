// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The Repeat view: how it is laid out, what is drawn over it, and remedies that are steps and can be taken back.
#include <QToolButton>

#include "app/repeat/measure_list.h"
#include "app/repeat/repeat_view.h"
#include "app/theme/theme.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

struct Repeated : Fixture {
    RepeatView& view() { return *window.repeat_view(); }
    void open() {
        window.show_page(&view());
        REQUIRE(QTest::qWaitFor([this] { return view().overlay().known(); }, patience));
    }
    QImage canvas() { return view().canvas()->grab().toImage(); }
};

/// How many pixels differ.
int changed(const QImage& a, const QImage& b) {
    int count = 0;
    for (int y = 0; y < std::min(a.height(), b.height()); ++y)
        for (int x = 0; x < std::min(a.width(), b.width()); ++x) count += a.pixel(x, y) != b.pixel(x, y);
    return count;
}

}  // namespace

TEST_CASE("the repeat has no end, is moved by half a tile, and shows what is drawn over it only when asked", "[window][repeat]") {
    Repeated f;
    f.open();
    ClothCanvas* canvas = f.view().canvas();
    for (QToolButton* toggle : f.view().findChildren<QToolButton*>())
        if (toggle->isChecked() && (toggle->text() == "Seam lines" || toggle->text() == "Standout")) toggle->click();
    for (int count : {2, 3, 6}) {
        f.view().set_count(count);
        CHECK(f.view().count() == count);
        // With half a tile over, four tiles meet in the middle.
        const QRectF tile = canvas->tile_rect();
        const QPointF middle = QRectF(canvas->rect()).center();
        const double across = (middle.x() - tile.left()) / tile.width(), down = (middle.y() - tile.top()) / tile.height();
        CHECK(std::abs(across - std::round(across)) < 0.02);
        CHECK(std::abs(down - std::round(down)) < 0.02);
        // As many repeats as asked for fit, and beyond them it goes on: nothing of the ground is seen.
        CHECK(tile.height() * count <= canvas->height());
        const QImage seen = f.canvas();
        const QColor ground = theme::colours().cloth_ground;
        int bare = 0;
        for (int x = 4; x < seen.width() - 4; ++x)
            bare += QColor(seen.pixel(x, 4)) == ground && QColor(seen.pixel(x, seen.height() - 5)) == ground;
        CHECK(bare < seen.width() / 10);
    }
    f.view().set_count(3);
    // Tab comes to the number that is on.
    for (const QToolButton* each : f.view().findChildren<QToolButton*>())
        if (each->accessibleName().endsWith("repeats")) CHECK(bool(each->focusPolicy() & Qt::TabFocus) == each->isChecked());
    const QImage half = f.canvas();
    QTest::mouseClick(f.view().half_button(), Qt::LeftButton);
    CHECK(changed(half, f.canvas()) > half.width() * half.height() / 4);
    const QImage plain = f.canvas();
    for (const char* name : {"Seam lines", "Standout", "Light and dark"})
        for (QToolButton* toggle : f.view().findChildren<QToolButton*>()) {
            if (toggle->text() != name) continue;
            INFO(name);
            QTest::mouseClick(toggle, Qt::LeftButton);
            CHECK(changed(plain, f.canvas()) > 200);
            QTest::mouseClick(toggle, Qt::LeftButton);
            CHECK(changed(plain, f.canvas()) == 0);
        }
    // Dragged far away it is still there, on the Loom too.
    const auto drag_away = [](ClothCanvas* cloth) {
        QTest::mousePress(cloth, Qt::LeftButton, {}, QPoint(60, 60));
        for (int k = 1; k <= 40; ++k) {
            QMouseEvent move(QEvent::MouseMove, QPointF(60 + 400 * k, 60 + 300 * k), cloth->mapToGlobal(QPointF(60, 60)),
                             Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(cloth, &move);
        }
        QTest::mouseRelease(cloth, Qt::LeftButton, {}, QPoint(60, 60));
    };
    drag_away(canvas);
    CHECK(std::abs(canvas->centre().x()) <= 1);
    f.window.show_page(&f.loom());
    for (bool repeated : {false, true}) {
        f.loom().cloth()->set_repeat(repeated);
        drag_away(f.loom().cloth()->canvas());
        CHECK(f.loom()
                  .cloth()
                  ->canvas()
                  ->tile_rect()
                  .adjusted(-1, -1, 1, 1)
                  .intersects(QRectF(f.loom().cloth()->canvas()->rect())));
    }
}

TEST_CASE("a seam is closed by a step right where it opens, in one undo step", "[window][repeat]") {
    Repeated f;
    // A ramp that does not come back to where it began.
    Recipe recipe = recipe_of({strand_of("a", {{"gradient", {}}, {"grain", {}, 3}})}, 256);
    f.session().start_new(recipe);
    f.rendered();
    f.open();
    MeasureList& list = *f.view().list();
    REQUIRE(QTest::qWaitFor(
        [&] {
            return list.button(MeasureKind::across, Remedy::close_seams) || list.button(MeasureKind::down, Remedy::close_seams);
        },
        patience));
    QPushButton* button = list.button(MeasureKind::across, Remedy::close_seams);
    if (!button) button = list.button(MeasureKind::down, Remedy::close_seams);
    QTest::mouseClick(button, Qt::LeftButton);
    CHECK(f.view().searching());
    CHECK_FALSE(button->isEnabled());
    REQUIRE(QTest::qWaitFor([&] { return !f.view().searching(); }, patience));
    INFO(f.view().message().toStdString());
    CHECK(f.view().message().contains("done"));
    // The ramp itself is let close, rather than covered.
    CHECK(f.order("a") == "gradient grain ");
    CHECK(f.number("a", "s1", "turns") == 2);
    f.rendered();
    REQUIRE(QTest::qWaitFor([&] { return !list.button(MeasureKind::across, Remedy::close_seams); }, patience));
    CHECK(f.loom().measures()->measures().across.ratio <= seam_visible);
    f.trigger("undo");
    CHECK(f.session().recipe() == recipe);
}

TEST_CASE("a remedy is given up when asked, and does not overwrite what was changed meanwhile", "[window][repeat]") {
    Repeated f;
    f.open();
    const Recipe before = f.session().recipe();
    f.view().apply(Remedy::other_seed);
    QTest::mouseClick(f.view().stop_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !f.view().searching(); }, patience));
    CHECK(f.session().recipe() == before);
    CHECK(f.view().message().contains("given up"));
    f.view().apply(Remedy::even_out);
    f.session().set_value({"a", "s1", "octaves"}, Value(2.0));
    const Recipe changed = f.session().recipe();
    REQUIRE(QTest::qWaitFor([&] { return !f.view().searching(); }, patience));
    CHECK(f.session().recipe() == changed);
}

TEST_CASE("the repeat is shown in its light when asked, and follows the lamp", "[window][repeat][lit]") {
    Repeated f;
    f.open();
    ClothCanvas* canvas = f.view().canvas();
    const QImage colour = f.canvas();
    f.view().lit_button()->click();
    REQUIRE(QTest::qWaitFor([&] { return changed(colour, f.canvas()) > 1000; }, patience));
    const QImage lit = f.canvas();
    f.session().set_value({"", "", "lamp.exposure"}, Value(-2.0));
    CHECK(QTest::qWaitFor([&] { return changed(lit, f.canvas()) > 1000; }, patience));
    f.view().lit_button()->click();
    CHECK(QTest::qWaitFor([&] { return changed(colour, f.canvas()) < 1000; }, patience));
    CHECK(canvas->isVisible());
}
