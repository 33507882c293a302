// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <QLineEdit>
#include <QListWidget>
#include <QSignalSpy>
#include <QTest>

#include "app/document/session.h"
#include "app/loom/cloth_view.h"
#include "app/loom/step_finder.h"
#include "app/widgets/gradient_editor.h"
#include "app/widgets/levels_edit.h"
#include "app/widgets/number_edit.h"
#include "tests/app/fixture.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Stops three{{0, {0, 0, 0}, 0}, {0.5, {1, 0, 0}, 40}, {1, {1, 1, 1}, 0}};

struct Editor {
    GradientEditor widget{"Stops"};
    Stops stops = three;
    int gestures = 0;
    QString last;
    Editor() {
        widget.resize(360, 140);
        widget.set_stops(three, Interpolation::oklab);
        QObject::connect(&widget, &GradientEditor::changed, [this](const Stops& changed, const QString& gesture) {
            stops = changed;
            if (gesture != last) ++gestures, last = gesture;
        });
        widget.show();
        REQUIRE(QTest::qWaitForWindowExposed(&widget));
    }
    GradientStrip* strip() { return widget.strip(); }
};

}  // namespace

TEST_CASE("a number is moved by the slider, typed, and kept exactly when it is set", "[widgets]") {
    const Parameter& p = *find_step("directional")->parameter("length");
    NumberEdit edit(p, "Length");
    QSignalSpy changed(&edit, &NumberEdit::changed);
    edit.set_value(421.37);
    CHECK(edit.value() == 421.37);
    CHECK(changed.isEmpty());
    edit.show();
    REQUIRE(QTest::qWaitForWindowExposed(&edit));
    edit.slider()->setFocus();
    QTest::keyClick(edit.slider(), Qt::Key_Right);
    REQUIRE(changed.count() == 1);
    CHECK(changed[0][0].toDouble() > 421.37);
    // Typing goes beyond the slider, up to the hard range.
    edit.field()->setFocus();
    edit.field()->selectAll();
    QTest::keyClicks(edit.field(), "3000");
    QTest::keyClick(edit.field(), Qt::Key_Return);
    CHECK(edit.value() == 3000);
    edit.field()->selectAll();
    QTest::keyClicks(edit.field(), "99999999");
    QTest::keyClick(edit.field(), Qt::Key_Return);
    CHECK(edit.value() <= p.max);
}

TEST_CASE("a drag of a slider is one gesture, the next drag another", "[widgets]") {
    NumberEdit edit(*find_step("levels")->parameter("in-black"), "Black");
    edit.resize(300, 24);
    edit.show();
    REQUIRE(QTest::qWaitForWindowExposed(&edit));
    QSignalSpy changed(&edit, &NumberEdit::changed);
    auto drag = [&](int from, int to) {
        edit.slider()->setSliderDown(true);
        edit.slider()->setSliderPosition(from);
        edit.slider()->setSliderPosition((from + to) / 2);
        edit.slider()->setSliderPosition(to);
        edit.slider()->setSliderDown(false);
    };
    drag(100, 400);
    drag(500, 700);
    REQUIRE(changed.count() == 6);
    CHECK(changed[0][1] == changed[2][1]);
    CHECK(changed[3][1] == changed[5][1]);
    CHECK(changed[0][1] != changed[3][1]);
    // Tones are shown as 0 to 255.
    edit.set_value(1);
    CHECK(edit.field()->value() == 255);
}

TEST_CASE("gradient: a click adds a stop that takes the colour and the grain of its place", "[widgets][gradient]") {
    Editor e;
    QTest::mouseClick(e.strip(), Qt::LeftButton, {}, QPoint(8 + (e.strip()->width() - 16) / 4, 10));
    REQUIRE(e.stops.size() == 4);
    CHECK(e.strip()->chosen() == 1);
    const Stop& fresh = e.stops[1];
    CHECK(fresh.place == Approx(0.25).margin(0.01));
    CHECK(fresh.grain == Approx(20).margin(1));
    const Ramp before(three, Interpolation::oklab), after(e.stops, Interpolation::oklab);
    CHECK(after.colour(0.25f).red == Approx(before.colour(0.25f).red).margin(0.01));
}

TEST_CASE("gradient: stops are dragged along the ramp, past each other, and pulled off", "[widgets][gradient]") {
    Editor e;
    const QPoint middle = e.strip()->stop_place(1);
    QTest::mousePress(e.strip(), Qt::LeftButton, {}, middle);
    CHECK(e.strip()->chosen() == 1);
    for (int x = 0; x <= 80; x += 20) QTest::mouseMove(e.strip(), middle + QPoint(x, 0));
    QTest::mouseRelease(e.strip(), Qt::LeftButton, {}, middle + QPoint(80, 0));
    CHECK(e.stops[1].place == Approx(0.5 + 80.0 / (e.strip()->width() - 16)).margin(0.01));
    CHECK(e.stops[1].grain == 40);
    CHECK(e.gestures == 1);
    // Past the last stop the order changes and the stop stays chosen.
    QTest::mousePress(e.strip(), Qt::LeftButton, {}, e.strip()->stop_place(0));
    QTest::mouseMove(e.strip(), QPoint(e.strip()->width() - 30, 34));
    QTest::mouseRelease(e.strip(), Qt::LeftButton, {}, QPoint(e.strip()->width() - 30, 34));
    CHECK(e.stops[1].colour == Colour{0, 0, 0});
    CHECK(e.strip()->chosen() == 1);
    // Far below the strip it comes off.
    const QPoint last = e.strip()->stop_place(2);
    QTest::mousePress(e.strip(), Qt::LeftButton, {}, last);
    QTest::mouseMove(e.strip(), last + QPoint(0, 120));
    QTest::mouseRelease(e.strip(), Qt::LeftButton, {}, last + QPoint(0, 120));
    CHECK(e.stops.size() == 2);
}

TEST_CASE("gradient: place, colour and grain are numbers; the keyboard moves, adds and removes", "[widgets][gradient]") {
    Editor e;
    e.strip()->choose(1);
    CHECK(e.widget.grain()->value() == 40);
    e.widget.grain()->field()->setFocus();
    e.widget.grain()->field()->selectAll();
    QTest::keyClicks(e.widget.grain()->field(), "75");
    QTest::keyClick(e.widget.grain()->field(), Qt::Key_Return);
    CHECK(e.stops[1].grain == 75);
    emit e.widget.colour()->changed({0, 0, 1}, "x");
    CHECK(e.stops[1].colour == Colour{0, 0, 1});
    e.strip()->setFocus();
    QTest::keyClick(e.strip(), Qt::Key_Right);
    CHECK(e.stops[1].place == Approx(0.51));
    QTest::keyClick(e.strip(), Qt::Key_Insert);
    CHECK(e.stops.size() == 4);
    QTest::keyClick(e.strip(), Qt::Key_Delete);
    QTest::keyClick(e.strip(), Qt::Key_Delete);
    QTest::keyClick(e.strip(), Qt::Key_Delete);
    CHECK(e.stops.size() == 1);
    // The last one stays.
    QTest::keyClick(e.strip(), Qt::Key_Delete);
    CHECK(e.stops.size() == 1);
}

TEST_CASE("the ends of levels cannot pass each other, and the middle is pulled up and down", "[widgets][levels]") {
    LevelsField field;
    field.resize(282, 164);
    field.show();
    REQUIRE(QTest::qWaitForWindowExposed(&field));
    LevelsField::Tones tones{0, 0.2, 1, 0.8, 0, 1};
    field.set_tones(tones);
    QObject::connect(&field, &LevelsField::changed, [&](const LevelsField::Changes& changes, const QString&) {
        for (const auto& [handle, value] : changes) tones[static_cast<std::size_t>(handle)] = value;
    });
    const auto drag = [&](int handle, const QPoint& by) {
        const QPoint from = field.handle_place(handle);
        QTest::mousePress(&field, Qt::LeftButton, {}, from);
        QTest::mouseMove(&field, from + by);
        QTest::mouseRelease(&field, Qt::LeftButton, {}, from + by);
    };
    const auto tone = [&](ToneHandle handle) { return tones[static_cast<std::size_t>(handle)]; };
    drag(LevelsField::dark_end, {40, -30});
    CHECK(tone(ToneHandle::black) == Approx(0.2 + 40.0 / 268).margin(0.01));
    CHECK(tone(ToneHandle::out_black) == Approx(30.0 / 150).margin(0.01));
    drag(LevelsField::middle, {0, -20});
    CHECK(tone(ToneHandle::middle) > 1);
    drag(LevelsField::middle, {0, 50});
    CHECK(tone(ToneHandle::middle) < 1);
    drag(LevelsField::light_end, {-300, 0});
    CHECK(tone(ToneHandle::white) > tone(ToneHandle::black));
    CHECK(tone(ToneHandle::white) - tone(ToneHandle::black) < 0.01);
    field.set_tones(tones = {0, 0.2, 1, 0.8, 0, 1});
    field.setFocus();
    field.choose(LevelsField::light_end);
    QTest::keyClick(&field, Qt::Key_Right);
    CHECK(tone(ToneHandle::white) == Approx(0.8 + 1.0 / 255).margin(1e-3));
    QTest::keyClick(&field, Qt::Key_PageDown);
    QTest::keyClick(&field, Qt::Key_Up);
    CHECK(tone(ToneHandle::middle) > 1);
    // What is lost is what lies beyond the ends.
    Histogram counts;
    counts.share[10] = 0.25, counts.share[128] = 0.5, counts.share[250] = 0.25;
    field.set_histogram(counts);
    CHECK(field.lost().first == Approx(0.25));
    CHECK(field.lost().second == Approx(0.25));
}

TEST_CASE("a number field calculates, and arrow keys go coarse and fine", "[widgets]") {
    Parameter p;
    p.unit = Unit::px, p.min = 0, p.max = 500, p.slider_max = 200;
    NumberEdit edit(p, "Length");
    edit.show();
    QApplication::setActiveWindow(&edit);
    edit.set_value(20);
    auto* field = edit.field();
    field->setFocus();
    const auto typed = [&](const char* text) {
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
        return edit.value();
    };
    CHECK(typed("2*(3+0.5)") == 7);
    CHECK(typed("1,5") == 1.5);
    CHECK(typed("30") == 30);
    CHECK(typed("*3") == 90);
    CHECK(typed("/ 4") == 22.5);
    CHECK(typed("10-4") == 6);
    // Beyond the range: its end. What comes to nothing, or is no number, leaves the value.
    CHECK(typed("99999") == 500);
    CHECK(typed("-7") == 0);
    CHECK(typed("12") == 12);
    CHECK(typed("1/0") == 12);
    CHECK(typed("3+") == 12);
    CHECK(typed("ab") == 12);
    QTest::keyClick(field, Qt::Key_Up);
    CHECK(edit.value() == 13);
    QTest::keyClick(field, Qt::Key_Up, Qt::ShiftModifier);
    CHECK(edit.value() == 23);
    QTest::keyClick(field, Qt::Key_Down, Qt::ControlModifier);
    CHECK(edit.value() == Approx(22.9));
    edit.slider()->setFocus();
    edit.set_value(20);
    QTest::keyClick(edit.slider(), Qt::Key_Right);
    CHECK(edit.value() == 22);
    QTest::keyClick(edit.slider(), Qt::Key_Left, Qt::ControlModifier);
    CHECK(edit.value() == Approx(21.9));
    QTest::keyClick(edit.slider(), Qt::Key_Right, Qt::ShiftModifier);
    CHECK(edit.value() == Approx(42).margin(0.6));
}

TEST_CASE("the step finder filters as one types and takes with Enter", "[widgets][finder]") {
    auto* finder = StepFinder::for_new(fresh_recipe(), {"strand", ChainKind::steps, 1}, nullptr);
    QSignalSpy chosen(finder, &StepFinder::chosen);
    finder->open_beside({100, 80, 117, 400}, {0, 0, 1280, 800});
    // Some window systems add a frame.
    CHECK(std::abs(finder->x() - 225) < 8);
    CHECK(std::abs(finder->y() - 80) < 8);
    CHECK(finder->list()->count() == steps_outside_masks());
    QTest::keyClicks(finder->search(), "noise");
    REQUIRE(finder->list()->count() > 2);
    for (int row = 0; row < finder->list()->count(); ++row) {
        const StepDescription& step = *find_step(finder->list()->item(row)->data(Qt::UserRole).toString().toStdString());
        CHECK(QString::fromStdString(std::string(step.title) + " " + std::string(step.summary) + " " + std::string(step.words))
                  .contains("noise", Qt::CaseInsensitive));
    }
    finder->search()->clear();
    QTest::keyClicks(finder->search(), "gaus");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    REQUIRE(chosen.count() == 1);
    CHECK(chosen[0][0].toString() == "gaussian");
}

TEST_CASE("the cloth zooms about the pointer, moves, repeats and fits", "[widgets][cloth]") {
    ClothView view;
    view.resize(600, 500);
    view.show();
    REQUIRE(QTest::qWaitForWindowExposed(&view));
    ClothPicture picture;
    picture.image = QImage(128, 128, QImage::Format_RGB888);
    picture.image.fill(Qt::red);
    picture.draft = false;
    picture.ticket = 5;
    view.show_picture(picture);
    ClothCanvas* canvas = view.canvas();
    CHECK(canvas->fits());
    const double fitting = canvas->zoom();
    view.set_repeat(true);
    CHECK(canvas->repeat() == 2);
    CHECK(canvas->zoom() == Approx(fitting / 2));
    view.set_repeat(false);
    QWheelEvent wheel(QPointF(300, 200), canvas->mapToGlobal(QPointF(300, 200)), {}, QPoint(0, 240), Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(canvas, &wheel);
    CHECK(canvas->zoom() > fitting * 1.3);
    const QPointF before = canvas->centre();
    QTest::mousePress(canvas, Qt::LeftButton, {}, {100, 100});
    QTest::mouseMove(canvas, {150, 100});
    QTest::mouseRelease(canvas, Qt::LeftButton, {}, {150, 100});
    CHECK(canvas->centre().x() < before.x());
    canvas->set_zoom(0);
    CHECK(canvas->fits());
    CHECK(canvas->zoom() == Approx(fitting));
    // A draft of an older recipe does not replace the finished picture; one of a newer does.
    ClothPicture draft = picture;
    draft.draft = true;
    draft.image = QImage(32, 32, QImage::Format_RGB888);
    canvas->show_picture(draft);
    CHECK(canvas->image().width() == 128);
    draft.ticket = 6;
    canvas->show_picture(draft);
    CHECK(canvas->image().width() == 32);
}
