// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The real window, driven by mouse and keyboard.
#include <QApplication>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QSignalSpy>
#include <QSpinBox>
#include <QTest>
#include <QTimer>
#include <QToolButton>

#include "app/loom/cloth_view.h"
#include "app/loom/join_card.h"
#include "app/loom/loom_view.h"
#include "app/loom/measures_bar.h"
#include "app/loom/step_finder.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "app/widgets/number_edit.h"
#include "core/base/files.h"
#include "core/files/picture.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("the sample book opens, and a click opens a sample as a new recipe", "[window][samples]") {
    MainWindow window;
    window.show();
    REQUIRE(QTest::qWaitForWindowExposed(&window));
    CHECK(window.page() == window.samples_view());
    CHECK(window.message().isEmpty());
    SamplesView* samples = window.samples_view();
    // Every picture of the book.
    REQUIRE(QTest::qWaitFor([&] { return samples->complete(); }, 5 * patience));
    REQUIRE(samples->swatches().size() >= 14);
    // None lies over another, and all are within the page.
    for (Swatch* a : samples->swatches())
        for (Swatch* b : samples->swatches()) CHECK((a == b || !a->geometry().intersects(b->geometry())));
    // They take the width there is, whatever it is.
    for (int width : {1500, 1100}) {
        window.resize(width, 800);
        const auto unused = [&] {
            int right = 0;
            for (Swatch* each : samples->swatches()) right = std::max(right, each->geometry().right());
            return samples->swatches().front()->parentWidget()->width() - right;
        };
        CHECK(QTest::qWaitFor([&] { return unused() > 0 && unused() < 30; }, patience));
    }
    QTest::keyClicks(samples->search(), "glove suede");
    int visible = 0;
    for (Swatch* swatch : samples->swatches()) visible += !swatch->isHidden();
    CHECK(visible == 1);
    samples->search()->clear();
    Swatch* oak = nullptr;
    for (Swatch* swatch : samples->swatches())
        if (swatch->recipe().name == "Carriage oak") oak = swatch;
    REQUIRE(oak);
    QTest::mouseClick(oak, Qt::LeftButton, {}, QPoint(100, 100));
    REQUIRE(QTest::qWaitFor([&] { return window.page() == window.loom_view(); }, patience));
    CHECK(window.session().recipe().name == "Carriage oak");
    CHECK(window.session().path().isEmpty());
    CHECK_FALSE(window.session().modified());
    REQUIRE(QTest::qWaitFor([&] { return !window.loom_view()->measures()->stale(); }, patience));
    CHECK(window.loom_view()->measures()->measures().across.ratio <= seam_good);
}

TEST_CASE("a slider changes the cloth: a draft at once, the full picture right after", "[window][render]") {
    Fixture f;
    f.click(f.card("a", "s2"));
    CHECK(f.session().selection() == Selection{"a", "s2"});
    auto* edit = qobject_cast<NumberEdit*>(f.loom().desk()->editor("in-white"));
    REQUIRE(edit);
    const QImage before = f.loom().cloth()->canvas()->image();
    std::vector<bool> drafts;
    QObject::connect(&f.window.service(), &RenderService::cloth_ready, &f.window,
                     [&](const ClothPicture& picture) { drafts.push_back(picture.draft); });
    edit->slider()->setFocus();
    QTest::keyClick(edit->slider(), Qt::Key_PageDown);
    CHECK(f.number("a", "s2", "in-white") == Approx(0.9).margin(0.01));
    f.rendered();
    REQUIRE(drafts.size() >= 2);
    CHECK(drafts.front());
    CHECK_FALSE(drafts.back());
    CHECK(f.loom().cloth()->canvas()->image() != before);
    CHECK(f.loom().cloth()->canvas()->image().width() == 320);
    QTest::keyClick(&f.window, Qt::Key_Z, Qt::ControlModifier);
    CHECK(f.number("a", "s2", "in-white") == 1);
    f.rendered();
    CHECK(f.loom().cloth()->canvas()->image() == before);
}

TEST_CASE("while somebody drags, the newest request wins and the window stays awake", "[window][render]") {
    Fixture f;
    f.click(f.card("a", "s1"));
    int ticks = 0;
    QTimer timer;
    QObject::connect(&timer, &QTimer::timeout, [&] { ++ticks; });
    timer.start(10);
    for (int k = 1; k <= 20; ++k) {
        f.session().set_value({"a", "s1", "contrast"}, Value(50.0 + 5 * k), "drag");
        QTest::qWait(15);
    }
    CHECK(ticks > 5);
    f.rendered();
    CHECK(f.session().undo_stack().count() == 1);
    const QImage shown = f.loom().cloth()->canvas()->image();
    CHECK(shown == to_image(cloth(f.session().recipe(), {320, 320})));
}

TEST_CASE("the desk shows what the description says, and follows undo", "[window][desk]") {
    Fixture f;
    f.click(f.card("b", "s1"));
    for (const Parameter& p : find_step("static")->parameters) {
        const bool wanted = relevant(*find_step("static"), p, {});
        INFO(p.id);
        CHECK(bool(f.loom().desk()->editor(p.id)) == wanted);
    }
    auto* spread = qobject_cast<QComboBox*>(f.loom().desk()->editor("spread"));
    REQUIRE(spread);
    spread->setFocus();
    QTest::keyClick(spread, Qt::Key_Down);
    CHECK(as<std::string>(*value_at(f.session().recipe(), {"b", "s1", "spread"})) == "sparse");
    // Another spread has other parameters.
    CHECK(f.loom().desk()->editor("share"));
    CHECK_FALSE(f.loom().desk()->editor("centre"));
    f.trigger("undo");
    CHECK(qobject_cast<QComboBox*>(f.loom().desk()->editor("spread"))->currentText() == "Gaussian");
    auto* seed = qobject_cast<NumberEdit*>(f.loom().desk()->editor("seed"));
    REQUIRE(seed);
    CHECK(seed->value() == 2);
    for (QToolButton* button : f.loom().desk()->findChildren<QToolButton*>())
        if (button->text() == "Reroll" && button->isVisible()) {
            button->click();
            break;
        }
    CHECK(f.number("b", "s1", "seed") == 3);
}

TEST_CASE("levels are drawn on the histogram of what comes in, and dragged there", "[window][desk]") {
    Fixture f;
    f.click(f.card("a", "s2"));
    LevelsField* field = f.loom().desk()->levels()->field();
    REQUIRE(field->isVisible());
    CHECK_FALSE(f.loom().desk()->histogram()->isVisible());
    const QPoint from = field->handle_place(LevelsField::dark_end);
    QTest::mousePress(field, Qt::LeftButton, {}, from);
    for (int x = 5; x <= 30; x += 5) QTest::mouseMove(field, from + QPoint(x, 0));
    QTest::mouseRelease(field, Qt::LeftButton, {}, from + QPoint(30, 0));
    CHECK(f.number("a", "s2", "in-black") > 0.35);
    CHECK(f.session().undo_stack().count() == 1);
    f.click(f.card("a", "s1"));
    CHECK_FALSE(field->isVisible());
    CHECK(f.loom().desk()->histogram()->isVisible());
}

TEST_CASE("routes and dials are worked at the desk", "[window][desk]") {
    Fixture f;
    f.session().select({"a", ""});
    QWidget* height = f.loom().desk()->editor("height");
    REQUIRE(height);
    auto* on = height->findChild<QCheckBox*>();
    QTest::mouseClick(on, Qt::LeftButton, {}, QPoint(8, on->height() / 2));
    CHECK(f.session().recipe().strand("a")->routes.contains(Map::height));
    Recipe recipe = f.session().recipe();
    recipe.dials.push_back({"Depth", 50, {{{"a", "s2", "in-black"}, 0, 0.6}}});
    f.session().apply(recipe, "dial");
    f.session().select({});
    auto* dial = qobject_cast<NumberEdit*>(f.loom().desk()->editor("Depth"));
    REQUIRE(dial);
    dial->slider()->setFocus();
    QTest::keyClick(dial->slider(), Qt::Key_End);
    CHECK(f.number("a", "s2", "in-black") == Approx(0.6));
    auto* width = qobject_cast<NumberEdit*>(f.loom().desk()->editor("tile.width"));
    REQUIRE(width);
    width->field()->setFocus();
    width->field()->selectAll();
    QTest::keyClicks(width->field(), "200");
    QTest::keyClick(width->field(), Qt::Key_Return);
    CHECK(f.session().recipe().tile.width == 200);
    f.rendered();
    CHECK(f.loom().cloth()->canvas()->image().width() == 200);
}

TEST_CASE("holding C shows the cloth without the selected step", "[window][cloth]") {
    Fixture f;
    f.click(f.card("a", "s3"));
    ClothCanvas* canvas = f.loom().cloth()->canvas();
    canvas->setFocus();
    QTest::keyPress(canvas, Qt::Key_C);
    REQUIRE(QTest::qWaitFor([&] { return canvas->shows_before(); }, patience));
    QTest::keyRelease(canvas, Qt::Key_C);
    CHECK_FALSE(canvas->shows_before());
    // In a field the letter is a letter.
    f.window.samples_view()->search()->setText("");
    CHECK(f.session().undo_stack().count() == 0);
}

TEST_CASE("every command has a shortcut or a menu, and every control a name", "[window][accessibility]") {
    Fixture f;
    f.click(f.card("a", "s3"));
    int checked = 0;
    for (QWidget* widget : f.window.findChildren<QWidget*>()) {
        if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus) continue;
        auto* button = qobject_cast<QAbstractButton*>(widget);
        auto* line = qobject_cast<QLineEdit*>(widget);
        // The line inside a spin box belongs to it.
        if (line && qobject_cast<QAbstractSpinBox*>(line->parent())) continue;
        if (qobject_cast<NumberEdit*>(widget) || widget->inherits("QMenuBar") || widget->inherits("QScrollArea") ||
            widget->inherits("QSplitter"))
            continue;
        const QString name = widget->accessibleName().isEmpty() && button ? button->text() : widget->accessibleName();
        INFO(widget->metaObject()->className());
        CHECK_FALSE(name.isEmpty());
        ++checked;
    }
    CHECK(checked > 30);
    // Tab walks on and never gets stuck.
    std::vector<QWidget*> order;
    f.card("a", "s1")->setFocus();
    for (int k = 0; k < 40; ++k) {
        order.push_back(QApplication::focusWidget());
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    }
    std::sort(order.begin(), order.end());
    CHECK(std::unique(order.begin(), order.end()) - order.begin() > 20);
}

TEST_CASE("the dark window is drawn and goes back", "[window]") {
    Fixture f;
    const QImage light = f.window.grab().toImage();
    f.window.action("dark")->trigger();
    QTest::qWait(50);
    const QImage dark = f.window.grab().toImage();
    auto brightness = [](const QImage& image) { return qGray(image.pixel(300, 560)); };
    CHECK(brightness(dark) < 90);
    CHECK(brightness(light) > 180);
    f.window.action("dark")->trigger();
}
