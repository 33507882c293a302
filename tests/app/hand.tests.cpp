// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The hand on the cloth, driven as hands do it: strokes with mouse and pen, their list, forms, outlines, points and letters.
#include <QCheckBox>
#include <QComboBox>
#include <QPlainTextEdit>
#include <QPointingDevice>
#include <QTabletEvent>
#include <QToolButton>

#include "app/hand/strokes_edit.h"
#include "app/loom/join_card.h"
#include "app/loom/tuning_desk.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// A window whose selected step is one of a kind, at the end of strand a, or in its mask.
struct Hand : Fixture {
    explicit Hand(const char* kind, Values set = {}, ChainKind chain = ChainKind::steps) {
        Recipe recipe = session().recipe();
        Step step;
        step.id = "hand", step.kind = kind, step.set = std::move(set);
        const int at = chain == ChainKind::steps ? 3 : 0;
        const bool makes = find_step(kind)->family == Family::make && chain == ChainKind::steps;
        if (makes) {
            Strand strand = strand_of("form", {});
            strand.steps.push_back(step);
            recipe.strands.push_back(std::make_shared<const Strand>(strand));
            session().start_new(recipe);
            session().select({"form", "hand"});
        } else {
            session().start_new(step_added(recipe, {"a", chain, at}, step));
            session().select({"a", "hand"});
        }
        rendered();
    }
    ClothCanvas* canvas() { return loom().cloth()->canvas(); }
    /// Design px of the tile on the screen.
    QPoint at(double x, double y) {
        const QRectF tile = canvas()->tile_rect();
        const Tile& design = session().recipe().tile;
        return QPointF(tile.left() + x / design.width * tile.width(), tile.top() + y / design.height * tile.height()).toPoint();
    }
    Strokes strokes() { return loom().brush().strokes(); }
    void drag(std::vector<std::pair<double, double>> places, Qt::KeyboardModifiers keys = {}) {
        QTest::mousePress(canvas(), Qt::LeftButton, keys, at(places.front().first, places.front().second));
        for (const auto& [x, y] : places) {
            QMouseEvent move(QEvent::MouseMove, at(x, y), canvas()->mapToGlobal(at(x, y)), Qt::NoButton, Qt::LeftButton, keys);
            QApplication::sendEvent(canvas(), &move);
        }
        QTest::mouseRelease(canvas(), Qt::LeftButton, keys, at(places.back().first, places.back().second));
    }
    StrokesEdit* list() { return loom().desk()->findChild<StrokesEdit*>(); }
};

QImage picture(Hand& f) {
    f.rendered();
    return f.canvas()->image().copy();
}

}  // namespace

TEST_CASE("a stroke is drawn with the mouse, is one edit, and undo takes it back to the same bytes", "[window][hand]") {
    Hand f("handwarp");
    const QImage before = picture(f);
    const int edits = f.session().undo_stack().count();
    f.drag({{80, 80}, {110, 90}, {140, 120}, {170, 130}});
    CHECK(f.strokes().size() == 1);
    CHECK(f.session().undo_stack().count() == edits + 1);
    CHECK(f.strokes()[0].tool == "push");
    CHECK(f.strokes()[0].points.size() >= 3);
    // Where the pointer was, in design px.
    CHECK(std::abs(f.strokes()[0].points[0].x / 8.0 - 80) < 2);
    const QImage after = picture(f);
    CHECK(after != before);
    f.trigger("undo");
    CHECK(picture(f) == before);
    f.trigger("redo");
    CHECK(picture(f) == after);
}

TEST_CASE("while a stroke is drawn the cloth follows, and the recipe waits for its end", "[window][hand]") {
    Hand f("handtone");
    f.loom().brush().set_size(90);
    f.loom().brush().set_strength(100);
    const QImage before = picture(f);
    QTest::mousePress(f.canvas(), Qt::LeftButton, {}, f.at(100, 100));
    QMouseEvent move(QEvent::MouseMove, f.at(160, 110), f.canvas()->mapToGlobal(f.at(160, 110)), Qt::NoButton, Qt::LeftButton,
                     {});
    QApplication::sendEvent(f.canvas(), &move);
    CHECK(f.strokes().empty());
    REQUIRE(QTest::qWaitFor([&] { return f.canvas()->image() != before; }, patience));
    // Far from the stroke nothing has changed.
    CHECK(f.canvas()->image().copy(240, 240, 60, 60) == before.copy(240, 240, 60, 60));
    // Nor has what was made again beside it.
    CHECK(f.canvas()->image().copy(236, 60, 40, 100) == before.copy(236, 60, 40, 100));
    // Escape leaves it; the cloth is as it was.
    QTest::keyClick(f.canvas(), Qt::Key_Escape);
    QTest::mouseRelease(f.canvas(), Qt::LeftButton, {}, f.at(160, 110));
    CHECK(f.strokes().empty());
    REQUIRE(QTest::qWaitFor([&] { return f.canvas()->image() == before; }, patience));
}

TEST_CASE("drawing goes on over the tile's edge, in a tile and repeated alike", "[window][hand]") {
    Hand f("paint", {{"begins", Value(std::string("shown"))}}, ChainKind::mask);
    f.drag({{300, 160}, {318, 160}, {340, 160}, {350, 162}});
    REQUIRE(f.strokes().size() == 1);
    CHECK(f.strokes()[0].points.back().x > 320 * StrokePoint::per_px);
    // On another repeat it means the same place.
    f.loom().cloth()->set_repeat(true);
    f.drag({{300 + 320, 160}, {318 + 320, 160}, {340 + 320, 160}});
    REQUIRE(f.strokes().size() == 2);
    CHECK(std::abs(f.strokes()[1].points.front().x - f.strokes()[0].points.front().x) < 2 * StrokePoint::per_px);
}

TEST_CASE("a pen's pressure and tilt are kept", "[window][hand]") {
    Hand f("paint", {}, ChainKind::mask);
    QPointingDevice pen("pen", 7, QInputDevice::DeviceType::Stylus, QPointingDevice::PointerType::Pen,
                        QInputDevice::Capability::Position | QInputDevice::Capability::Pressure | QInputDevice::Capability::XTilt,
                        1, 3);
    const auto send = [&](QEvent::Type type, double x, double y, double pressure, float tilt) {
        const QPointF at = f.at(x, y);
        QTabletEvent event(type, &pen, at, f.canvas()->mapToGlobal(at), pressure, tilt, -10, 0, 0, 0, {},
                           type == QEvent::TabletMove ? Qt::NoButton : Qt::LeftButton,
                           type == QEvent::TabletRelease ? Qt::NoButton : Qt::LeftButton);
        QApplication::sendEvent(f.canvas(), &event);
        return event.isAccepted();
    };
    CHECK(send(QEvent::TabletPress, 60, 60, 0.2, 20));
    CHECK(send(QEvent::TabletMove, 90, 70, 0.6, 40));
    CHECK(send(QEvent::TabletMove, 120, 90, 1.0, 80));
    CHECK(send(QEvent::TabletRelease, 120, 90, 0, 0));
    REQUIRE(f.strokes().size() == 1);
    const auto& points = f.strokes()[0].points;
    REQUIRE(points.size() == 3);
    CHECK(points[0].pressure == 51);
    CHECK(points[1].pressure == 153);
    CHECK(points[2].pressure == 255);
    CHECK(points[0].tilt_x == 20);
    CHECK(points[2].tilt_x == 60);
    CHECK(points[0].tilt_y == -10);
}

TEST_CASE("the brush is changed by keys and by dragging", "[window][hand]") {
    Hand f("handwarp");
    Brush& brush = f.loom().brush();
    brush.set_size(80);
    brush.set_strength(50);
    f.canvas()->setFocus();
    QTest::keyClick(f.canvas(), Qt::Key_Period);
    CHECK(brush.size() > 80);
    QTest::keyClick(f.canvas(), Qt::Key_Comma);
    CHECK(brush.size() == Approx(80));
    QTest::keyClick(f.canvas(), Qt::Key_Greater, Qt::ShiftModifier);
    CHECK(brush.strength() == 55);
    QTest::mouseMove(f.canvas(), f.at(100, 100));
    QTest::keyPress(f.canvas(), Qt::Key_B);
    for (int x = 100; x <= 140; x += 10) {
        QMouseEvent move(QEvent::MouseMove, f.at(x, 100), f.canvas()->mapToGlobal(f.at(x, 100)), Qt::NoButton, Qt::NoButton, {});
        QApplication::sendEvent(f.canvas(), &move);
    }
    QTest::keyRelease(f.canvas(), Qt::Key_B);
    CHECK(brush.size() > 120);
    CHECK(f.list()->size_edit()->value() == Approx(brush.size()));
    CHECK(f.strokes().empty());
    // Each kind of step has its own tool.
    QTest::mouseClick(f.list()->tool_button("swell"), Qt::LeftButton);
    CHECK(brush.tool() == "swell");
    brush.set_size(1e9);
    CHECK(brush.size() == greatest_brush);
}

TEST_CASE("strokes in the list are shown, drawn anew, muted, moved and taken away", "[window][hand]") {
    Hand f("handwarp");
    for (double y : {80.0, 140.0, 200.0}) f.drag({{80, y}, {120, y + 4}, {160, y}});
    REQUIRE(f.strokes().size() == 3);
    StrokesEdit* edit = f.list();
    REQUIRE(edit);
    const Strokes drawn = f.strokes();
    const auto choose = [&](int row) {
        edit->list()->selectionModel()->select(edit->list()->model()->index(row, 0), QItemSelectionModel::ClearAndSelect);
    };
    choose(1);
    CHECK(f.loom().brush().shown() == 1);
    edit->size_edit()->field()->setValue(30);
    CHECK(f.strokes()[1].size == 30);
    CHECK(f.strokes()[0] == drawn[0]);
    CHECK(f.strokes()[1].points == drawn[1].points);
    QTest::mouseClick(edit->mute_button(), Qt::LeftButton);
    CHECK(f.strokes()[1].muted);
    QTest::mouseClick(edit->up_button(), Qt::LeftButton);
    CHECK(f.strokes()[0].muted);
    CHECK(f.strokes()[1] == drawn[0]);
    QTest::mouseClick(edit->up_button(), Qt::LeftButton);  // no farther
    CHECK(f.strokes()[0].muted);
    edit->list()->setFocus();
    QTest::keyClick(edit->list(), Qt::Key_Delete);
    // The stroke goes, not the step.
    REQUIRE(f.session().selected_step());
    REQUIRE(f.strokes().size() == 2);
    CHECK(f.strokes()[0] == drawn[0]);
    CHECK(f.strokes()[1] == drawn[2]);
    for (int k = 0; k < 4; ++k) f.trigger("undo");
    CHECK(f.strokes() == drawn);
    f.rendered();
}

TEST_CASE("undo and redo of 200 strokes come back to the same bytes", "[window][hand][long]") {
    Hand f("handtone");
    const QImage first = picture(f);
    const Recipe begun = f.session().recipe();
    f.loom().brush().set_size(24);
    for (int k = 0; k < 200; ++k) {
        const double x = 20 + (k * 41) % 270, y = 20 + (k * 67) % 270;
        f.loom().brush().set_tool(k % 3 ? "lighten" : "smudge");
        f.drag({{x, y}, {x + 14, y + 6}, {x + 24, y - 4}});
    }
    REQUIRE(f.strokes().size() == 200);
    const QImage last = picture(f);
    const Recipe ended = f.session().recipe();
    CHECK(last != first);
    for (int k = 0; k < 200; ++k) f.session().undo_stack().undo();
    CHECK(f.session().recipe() == begun);
    CHECK(picture(f) == first);
    for (int k = 0; k < 200; ++k) f.session().undo_stack().redo();
    CHECK(f.session().recipe() == ended);
    CHECK(picture(f) == last);
}

TEST_CASE("a form is moved, sized and turned on the cloth, and snaps to middle, thirds and edges", "[window][hand][shape]") {
    Hand f("shape", {{"width", 100.0}, {"height", 80.0}});
    const auto value = [&](const char* id) { return f.number("form", "hand", id); };
    f.drag({{160, 160}, {200, 190}, {230, 214}});
    // Two thirds of 320 are 213.3.
    CHECK(value("y") == Approx(200.0 / 3).margin(0.02));
    f.drag({{230, 213}, {162, 158}});
    CHECK(value("x") == 50);
    CHECK(value("y") == 50);
    f.drag({{160, 160}, {167, 163}}, Qt::ControlModifier);
    CHECK(value("x") == Approx(52.2).margin(0.4));
    f.drag({{166, 163}, {160, 160}});
    BoxHand& box = f.loom().box_hand();
    const QPointF corner = box.corners(f.canvas()->tile_rect())[2];
    QTest::mousePress(f.canvas(), Qt::LeftButton, {}, corner.toPoint());
    const QPoint to = f.at(160 + 70, 160 + 60);
    QMouseEvent move(QEvent::MouseMove, to, f.canvas()->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, {});
    QApplication::sendEvent(f.canvas(), &move);
    QTest::mouseRelease(f.canvas(), Qt::LeftButton, {}, to);
    CHECK(value("width") == Approx(140).margin(3));
    CHECK(value("height") == Approx(120).margin(3));
    const QPoint knob = box.knob(f.canvas()->tile_rect()).toPoint();
    QTest::mousePress(f.canvas(), Qt::LeftButton, {}, knob);
    const QPoint left = f.at(20, 160);
    QMouseEvent turn(QEvent::MouseMove, left, f.canvas()->mapToGlobal(left), Qt::NoButton, Qt::LeftButton, {});
    QApplication::sendEvent(f.canvas(), &turn);
    QTest::mouseRelease(f.canvas(), Qt::LeftButton, {}, left);
    CHECK(value("turn") == Approx(90).margin(2));
    // On a form as high as the tile the knob stays in sight.
    f.session().set_value({"form", "hand", "height"}, Value(316.0));
    CHECK(f.canvas()->tile_rect().contains(box.knob(f.canvas()->tile_rect())));
    f.rendered();
}

TEST_CASE("an outline is drawn anew point by point, bent, and its points taken away", "[window][hand][shape]") {
    Hand f("shape", {{"form", Value(std::string("drawn"))}});
    const auto outline = [&] { return as<Outline>(*value_at(f.session().recipe(), {"form", "hand", "outline"})); };
    CHECK(outline().front().nodes.size() == 4);
    f.session().set_value({"form", "hand", "outline"}, Value(SharedValue<Outline>(Outline())));
    for (const auto& [x, y] : {std::pair{60.0, 60.0}, {260.0, 70.0}, {240.0, 250.0}, {70.0, 240.0}})
        QTest::mouseClick(f.canvas(), Qt::LeftButton, {}, f.at(x, y));
    REQUIRE(outline().size() == 1);
    CHECK(outline()[0].nodes.size() == 4);
    CHECK_FALSE(outline()[0].closed);
    QTest::mouseClick(f.canvas(), Qt::LeftButton, {}, f.at(60, 60));
    CHECK(outline()[0].closed);
    // Places are about the shape's own, in the middle of the tile.
    CHECK(outline()[0].nodes[0].at.x == Approx(-100).margin(2));
    // A press on a side adds a point there, which the same drag moves.
    f.drag({{160, 65}, {160, 40}, {160, 20}});
    REQUIRE(outline()[0].nodes.size() == 5);
    CHECK(outline()[0].nodes[1].at.y == Approx(-140).margin(3));
    // Two presses make it round.
    QTest::mouseDClick(f.canvas(), Qt::LeftButton, {}, f.at(160, 20));
    CHECK(outline()[0].nodes[1].out != outline()[0].nodes[1].at);
    f.canvas()->setFocus();
    QTest::keyClick(f.canvas(), Qt::Key_Delete);
    REQUIRE(f.session().selected_step());
    CHECK(outline()[0].nodes.size() == 4);
    f.rendered();
}

TEST_CASE("points are set by clicks, dragged to where they go, and taken away", "[window][hand][handles]") {
    Hand f("handles");
    const auto moves = [&] { return as<Moves>(*value_at(f.session().recipe(), {"a", "hand", "moves"})); };
    const QImage before = picture(f);
    QTest::mouseClick(f.canvas(), Qt::LeftButton, {}, f.at(80, 160));
    QTest::mouseClick(f.canvas(), Qt::LeftButton, {}, f.at(240, 160));
    REQUIRE(moves().size() == 2);
    CHECK(moves()[0].x == Approx(25).margin(0.5));
    CHECK(moves()[0] == Move{moves()[0].x, moves()[0].y, moves()[0].x, moves()[0].y});
    CHECK(picture(f) == before);
    f.drag({{240, 160}, {250, 120}, {250, 100}});
    CHECK(moves()[1].to_y == Approx(31.2).margin(0.6));
    CHECK(moves()[1].y == Approx(50).margin(0.6));
    CHECK(picture(f) != before);
    f.canvas()->setFocus();
    QTest::keyClick(f.canvas(), Qt::Key_Delete);
    REQUIRE(f.session().selected_step());
    CHECK(moves().size() == 1);
}

TEST_CASE("letters are typed on the cloth, and at the desk", "[window][hand][lettering]") {
    Hand f("lettering", {{"text", Value(std::string("Halt"))}, {"size", 60.0}});
    const auto text = [&] { return as<std::string>(*value_at(f.session().recipe(), {"form", "hand", "text"})); };
    f.canvas()->setFocus();
    // Single letters are commands until typing begins.
    QTest::keyClick(f.canvas(), Qt::Key_Return);
    QTest::keyClicks(f.canvas(), " 4c");
    CHECK(text() == "Halt 4c");
    QTest::keyClick(f.canvas(), Qt::Key_Backspace);
    QTest::keyClick(f.canvas(), Qt::Key_Return);
    QTest::keyClicks(f.canvas(), "up");
    CHECK(text() == "Halt 4\nup");
    REQUIRE(f.session().selected_step());
    CHECK(f.session().selected_step()->set.contains("outlines"));
    QTest::keyClick(f.canvas(), Qt::Key_Escape);
    f.session().undo_stack().undo();
    // What was typed in one go is one edit.
    CHECK(text() == "Halt");
    auto* lines = f.loom().desk()->findChild<QPlainTextEdit*>();
    REQUIRE(lines);
    lines->setFocus();
    lines->selectAll();
    QTest::keyClicks(lines, "No 7");
    CHECK(text() == "No 7");
    f.rendered();
}

TEST_CASE("what a step keeps for itself has no row at the desk", "[window][hand][lettering]") {
    Hand f("lettering");
    CHECK_FALSE(f.loom().desk()->editor("outlines"));
    CHECK_FALSE(f.loom().desk()->editor("outlines-of"));
    auto* font = qobject_cast<QComboBox*>(f.loom().desk()->editor("font"));
    REQUIRE(font);
    CHECK(font->findText("Inter") >= 0);
}

TEST_CASE("the height beneath is lifted through a join by one switch", "[window][strands]") {
    Fixture f;
    JoinCard* join = f.loom().strands()->join("b");
    QTest::mouseClick(join->lift_box(), Qt::LeftButton, {}, QPoint(8, join->lift_box()->height() / 2));
    CHECK(f.session().recipe().strand("b")->join.lift);
    f.rendered();
    CHECK_FALSE(f.loom().strands()->join("a")->lift_box()->isVisible());
}
