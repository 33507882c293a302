// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Before and after: a pinned state under a wipe, the history, the front of a recipe; and the editors of curves and levels.
#include <QListWidget>
#include <QPushButton>
#include <QMenu>
#include <QToolButton>

#include "app/loom/dial_dialog.h"
#include "app/loom/front_panel.h"
#include "app/loom/history_sheet.h"
#include "app/loom/tuning_desk.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/histogram_view.h"
#include "app/widgets/levels_edit.h"
#include "app/widgets/number_field.h"
#include "app/widgets/number_field.h"
#include "app/widgets/tone_counts.h"
#include "core/recipe/question.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("a pinned state lies beside the present one under a line that is dragged, and can be gone back to", "[window][pin]") {
    Fixture f;
    ClothCanvas* canvas = f.loom().cloth()->canvas();
    CHECK_FALSE(f.window.action("unpin")->isEnabled());
    f.trigger("pin");
    CHECK_FALSE(canvas->aside().isNull());
    const Recipe pinned = f.session().recipe();
    f.session().set_value({"a", "s2", "in-black"}, Value(0.8));
    f.rendered();
    CHECK(canvas->aside() != canvas->image());
    const auto row = [&](double share) {
        const QImage shot = canvas->grab().toImage();
        return shot.copy(QRect(static_cast<int>(share * canvas->width()), canvas->height() / 3, 30, 30));
    };
    const QImage right = row(0.7);
    const int middle = canvas->width() / 2, down = canvas->height() / 4;
    QTest::mousePress(canvas, Qt::LeftButton, {}, QPoint(middle, down));
    QTest::mouseMove(canvas, QPoint(canvas->width() * 9 / 10, down));
    QTest::mouseRelease(canvas, Qt::LeftButton, {}, QPoint(canvas->width() * 9 / 10, down));
    CHECK(canvas->wipe() == Approx(0.9).margin(0.01));
    CHECK(row(0.7) != right);
    canvas->setFocus();
    QTest::keyClick(canvas, Qt::Key_Left, Qt::ControlModifier);
    CHECK(canvas->wipe() == Approx(0.85).margin(0.01));
    f.trigger("return-to-pinned");
    CHECK(f.session().recipe() == pinned);
    f.trigger("unpin");
    CHECK(canvas->aside().isNull());
    // A pin does not outlive its recipe.
    f.trigger("pin");
    f.session().start_new(fresh_recipe());
    CHECK(QTest::qWaitFor([&] { return canvas->aside().isNull(); }, patience));
}

TEST_CASE("the history shows every state as a picture and goes to it", "[window][history]") {
    Fixture f;
    for (double black : {0.1, 0.5, 0.7}) f.session().set_value({"a", "s2", "in-black"}, Value(black));
    f.trigger("history");
    QListWidget* list = f.loom().history()->list();
    REQUIRE(f.loom().history()->isVisible());
    REQUIRE(list->count() == 4);
    REQUIRE(QTest::qWaitFor([&] { return f.loom().history()->complete(); }, patience));
    CHECK(list->currentRow() == 0);
    CHECK(list->item(3)->text() == "As it was");
    // By mouse to the second state, by keyboard to the first.
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(2)).center());
    CHECK(f.number("a", "s2", "in-black") == 0.1);
    CHECK(list->count() == 4);
    list->setCurrentRow(3);
    QTest::keyClick(list, Qt::Key_Return);
    CHECK(f.number("a", "s2", "in-black") == 0.3);
    CHECK(list->currentRow() == 3);
    QTest::keyClick(list, Qt::Key_P);
    REQUIRE(QTest::qWaitFor([&] { return !f.loom().cloth()->canvas()->aside().isNull(); }, patience));
    QTest::keyClick(list, Qt::Key_Escape);
    CHECK_FALSE(f.loom().history()->isVisible());
}

TEST_CASE("the front panel shows dials and colourways and nothing of the strands", "[window][front]") {
    Fixture f;
    Recipe recipe = f.session().recipe();
    recipe.dials.push_back({"Depth", 50, {{{"a", "s2", "in-black"}, 0, 1}}});
    recipe = colourway_of(recipe, "Night", {"", {{{"a", "s2", "in-black"}, Value(0.7)}}});
    f.session().start_new(recipe);
    f.trigger("front-panel");
    REQUIRE(f.loom().front()->isVisible());
    CHECK_FALSE(f.loom().strands()->isVisible());
    CHECK_FALSE(f.loom().desk()->isVisible());
    REQUIRE(QTest::qWaitFor([&] { return f.loom().front()->complete(); }, patience));
    NumberEdit* dial = f.loom().front()->dial("Depth");
    REQUIRE(dial);
    dial->field()->setValue(80);
    CHECK(f.number("a", "s2", "in-black") == Approx(0.8));
    QToolButton* night = f.loom().front()->colourway("Night");
    REQUIRE(night);
    CHECK_FALSE(night->icon().isNull());
    QTest::mouseClick(night, Qt::LeftButton);
    CHECK(f.number("a", "s2", "in-black") == Approx(0.7));
    CHECK(night->isChecked());
    const auto seed = f.session().recipe().seed;
    QTest::mouseClick(f.loom().front()->seed_button(), Qt::LeftButton);
    CHECK(f.session().recipe().seed == seed + 1);
    f.trigger("front-panel");
    CHECK(f.loom().strands()->isVisible());
}

TEST_CASE("curves are drawn by dragging points over the histogram, and every point has numbers", "[window][curves]") {
    Fixture f;
    Strand strand = *f.session().recipe().strand("a");
    strand.steps.change(1).kind = "curves", strand.steps.change(1).set.clear();
    Recipe recipe = f.session().recipe();
    recipe.strands[0] = std::make_shared<const Strand>(strand);
    f.session().start_new(recipe);
    f.session().select({"a", "s2"});
    f.rendered();
    CurveEdit* edit = f.loom().desk()->curves();
    REQUIRE(edit);
    CurveArea* area = edit->area();
    const auto points = [&](const char* id) { return as<CurvePoints>(*value_at(f.session().recipe(), {"a", "s2", id})); };
    const QPoint middle(area->width() / 2, area->height() / 2);
    const int steps = f.session().undo_stack().count();
    QTest::mousePress(area, Qt::LeftButton, {}, middle);
    QTest::mouseMove(area, middle - QPoint(0, 20));
    QTest::mouseMove(area, middle - QPoint(0, 40));
    QTest::mouseRelease(area, Qt::LeftButton, {}, middle - QPoint(0, 40));
    REQUIRE(points("all").size() == 3);
    CHECK(points("all")[1].out > 0.6);
    CHECK(f.session().undo_stack().count() == steps + 1);
    // By numbers and by keys.
    edit->out()->setValue(128);
    CHECK(points("all")[1].out == Approx(128.0 / 255));
    area->setFocus();
    QTest::keyClick(area, Qt::Key_Up, Qt::ShiftModifier);
    CHECK(points("all")[1].out == Approx(138.0 / 255));
    // A point cannot pass its neighbour.
    area->move_chosen({2, 0.5}, {});
    CHECK(points("all")[1].in < 1);
    // Another channel has its own curve; with the last two points the curve cannot be removed.
    edit->show_curve(1);
    CHECK(area->points() == straight_curve());
    QTest::keyClick(area, Qt::Key_Insert);
    CHECK(points("red").size() == 3);
    QTest::keyClick(area, Qt::Key_Delete);
    QTest::keyClick(area, Qt::Key_Delete);
    CHECK(points("red").size() == 2);
    edit->show_curve(0);
    QTest::mouseClick(edit->straighten_button(), Qt::LeftButton);
    CHECK(points("all") == straight_curve());
    while (f.session().undo_stack().canUndo()) f.session().undo_stack().undo();
    CHECK(f.session().recipe() == recipe);
    CHECK(area->points() == straight_curve());
}

TEST_CASE("levels find black and white by themselves, and their line is dragged both ways", "[window][levels]") {
    Fixture f;
    f.session().select({"a", "s2"});
    f.rendered();
    LevelsEdit* edit = f.loom().desk()->levels();
    REQUIRE(edit->isVisible());
    LevelsField* view = edit->field();
    const int steps = f.session().undo_stack().count();
    CHECK(edit->share_field()->value() == Approx(0.1));
    QTest::mouseClick(edit->automatic_button(), Qt::LeftButton);
    CHECK(f.session().undo_stack().count() == steps + 1);
    const double black = f.number("a", "s2", "in-black"), white = f.number("a", "s2", "in-white");
    const ToneEnds ends = tone_ends(view->histogram(), 0.001);
    CHECK(black == ends.dark);
    CHECK(white == ends.light);
    CHECK(black < white);
    // Little is lost, and a larger share loses more; what is lost is counted.
    CHECK(view->lost().first < 0.01);
    edit->share_field()->setValue(10);
    QTest::mouseClick(edit->automatic_button(), Qt::LeftButton);
    CHECK(f.number("a", "s2", "in-black") > black);
    CHECK(view->lost().first > 0.05);
    edit->share_field()->setValue(0.1);
    f.trigger("undo");
    // An end is dragged both ways at once, as one edit.
    const int before = f.session().undo_stack().index();
    const QPoint from = view->handle_place(LevelsField::light_end), to = from + QPoint(-20, view->height() / 4);
    QTest::mousePress(view, Qt::LeftButton, {}, from);
    QTest::mouseMove(view, (from + to) / 2);
    QTest::mouseMove(view, to);
    QTest::mouseRelease(view, Qt::LeftButton, {}, to);
    CHECK(f.number("a", "s2", "out-white") == Approx(0.75).margin(0.08));
    CHECK(f.number("a", "s2", "in-white") < white);
    CHECK(f.session().undo_stack().index() == before + 1);
    f.trigger("undo");
    CHECK(f.number("a", "s2", "in-white") == white);
}

TEST_CASE("tones are counted by channel, as far as the picture covers", "[widgets][levels]") {
    QImage picture(4, 1, QImage::Format_ARGB32);
    picture.setPixel(0, 0, qRgba(255, 0, 0, 255));
    picture.setPixel(1, 0, qRgba(0, 128, 0, 255));
    picture.setPixel(2, 0, qRgba(0, 0, 64, 255));
    picture.setPixel(3, 0, qRgba(9, 9, 9, 0));
    CHECK(tone_counts(picture, ToneOf::red).share[255] == Approx(1.0 / 3));
    CHECK(tone_counts(picture, ToneOf::green).share[128] == Approx(1.0 / 3));
    CHECK(tone_counts(picture, ToneOf::blue).share[64] == Approx(1.0 / 3));
    CHECK(tone_counts(picture, ToneOf::all).share[77] == Approx(1.0 / 3));
    double sum = 0;
    for (double share : tone_counts(picture, ToneOf::lightness).share) sum += share;
    CHECK(sum == Approx(1));
    Histogram even;
    even.share[10] = 0.01, even.share[40] = 0.5, even.share[200] = 0.48, even.share[250] = 0.01;
    CHECK(tone_ends(even, 0.005).dark == Approx(10 / 255.0));
    CHECK(tone_ends(even, 0.02).dark == Approx(40 / 255.0));
    CHECK(tone_ends(even, 0.02).light == Approx(200 / 255.0));
    CHECK(tone_ends({}, 0.02).light == 1);
}

TEST_CASE("a dial's menu opens what it drives, with a number for either end", "[window][dials]") {
    Fixture f;
    Recipe recipe = f.session().recipe();
    recipe.dials.push_back({"Depth", 100, {{{"a", "s2", "in-black"}, 0, 0.3}}});
    f.session().start_new(recipe);
    f.session().select({});
    const auto menu = f.loom().desk()->row_menu("Depth");
    REQUIRE(menu->actions().size() == 3);
    menu->actions()[0]->trigger();
    auto* shown = dialog<DialDialog>(f.window);
    // Tones count to 255 here too.
    CHECK(shown->end(0, true)->value() == Approx(std::round(0.3 * 255)));
    shown->end(0, true)->setValue(102);
    CHECK(f.number("a", "s2", "in-black") == Approx(0.4));
    f.trigger("undo");
    CHECK(shown->end(0, true)->value() == Approx(std::round(0.3 * 255)));
    const auto again = f.loom().desk()->row_menu("Depth");
    again->actions()[2]->trigger();
    CHECK(f.session().recipe().dials.empty());
    REQUIRE(QTest::qWaitFor([&] { return !f.window.findChild<DialDialog*>(); }, patience));
}

TEST_CASE("W, held, shows in white which colours a step means", "[window][colour]") {
    Fixture f;
    Strand strand = strand_of("c", {{"gradient",
                                     {{"stops", Stops{{0, {0.8f, 0.2f, 0.1f}, 0},
                                                      {0.49, {0.8f, 0.2f, 0.1f}, 0},
                                                      {0.51, {0.1f, 0.3f, 0.8f}, 0},
                                                      {1, {0.1f, 0.3f, 0.8f}, 0}}}}},
                                    {"huesat", {{"like", Colour{0.8f, 0.2f, 0.1f}}}}});
    f.session().start_new(recipe_of({strand}, 320));
    f.session().select({"c", "s2"});
    f.rendered();
    ClothCanvas* canvas = f.loom().cloth()->canvas();
    canvas->setFocus();
    QTest::keyPress(canvas, Qt::Key_W);
    REQUIRE(QTest::qWaitFor([&] { return canvas->shows_before(); }, patience));
    const auto share_of_white = [&] {
        const QImage shot = canvas->grab().toImage();
        int white = 0;
        for (int x = 0; x < shot.width(); x += 4)
            for (int y = 40; y < shot.height(); y += 4) white += shot.pixelColor(x, y).lightness() > 245;
        return white / (shot.width() / 4.0 * (shot.height() / 4.0));
    };
    CHECK(share_of_white() > 0.1);
    QTest::keyRelease(canvas, Qt::Key_W);
    CHECK_FALSE(canvas->shows_before());
    CHECK(share_of_white() < 0.05);
    // Steps that mean no colours show nothing.
    f.session().select({"c", "s1"});
    QTest::keyPress(canvas, Qt::Key_W);
    QTest::qWait(100);
    CHECK_FALSE(canvas->shows_before());
    QTest::keyRelease(canvas, Qt::Key_W);
}
