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

#include "app/export/export_dialog.h"
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
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

constexpr int patience = 60000;

/// A window on a small recipe of two strands, shown and rendered.
struct Fixture {
    MainWindow window;
    Fixture() {
        window.show();
        REQUIRE(QTest::qWaitForWindowExposed(&window));
        QApplication::setActiveWindow(&window);
        Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 1}, {"levels", {{"in-black", 0.3}}}, {"gradientmap", {}}}),
                                   strand_of("b", {{"static", {}, 2}, {"directional", {}}}, {Blend::soft_light, 60, false})}, 320);
        recipe.name = "Trial";
        window.session().start_new(recipe);
        window.show_view(MainWindow::View::loom);
        rendered();
    }
    Session& session() { return window.session(); }
    LoomView& loom() { return *window.loom_view(); }
    StepCard* card(const char* strand, const char* step) { return loom().strands()->card(strand, step); }
    void rendered() { REQUIRE(QTest::qWaitFor([this] { return !loom().measures()->stale(); }, patience)); }
    void trigger(const char* id) {
        QAction* action = window.action(id);
        REQUIRE(action);
        REQUIRE(action->isEnabled());
        action->trigger();
    }
    std::string order(const char* strand) {
        std::string ids;
        for (const Step& step : session().recipe().strand(strand)->steps) ids += step.kind + " ";
        return ids;
    }
    void click(QWidget* widget) { QTest::mouseClick(widget, Qt::LeftButton, {}, QPoint(20, 12)); }
    double number(const char* strand, const char* step, const char* parameter) { return std::get<double>(*value_at(session().recipe(), {strand, step, parameter})); }
};

template <class T> T* dialog(QWidget& window) {
    T* found = nullptr;
    REQUIRE(QTest::qWaitFor([&] { return (found = window.findChild<T*>()) && found->isVisible(); }, 5000));
    return found;
}

}  // namespace

TEST_CASE("the sample book opens, and a click opens a sample as a new recipe", "[window][samples]") {
    MainWindow window;
    window.show();
    REQUIRE(QTest::qWaitForWindowExposed(&window));
    CHECK(window.view() == MainWindow::View::samples);
    CHECK(window.message().isEmpty());
    SamplesView* samples = window.samples_view();
    REQUIRE(samples->swatches().size() == 3);
    REQUIRE(QTest::qWaitFor([&] { return samples->complete(); }, patience));
    // None lies over another, and all are within the page.
    for (Swatch* a : samples->swatches())
        for (Swatch* b : samples->swatches()) CHECK((a == b || !a->geometry().intersects(b->geometry())));
    QTest::keyClicks(samples->search(), "suede");
    int visible = 0;
    for (Swatch* swatch : samples->swatches()) visible += !swatch->isHidden();
    CHECK(visible == 1);
    samples->search()->clear();
    Swatch* oak = samples->swatches()[0];
    QTest::mouseClick(oak, Qt::LeftButton, {}, QPoint(100, 100));
    CHECK(window.view() == MainWindow::View::loom);
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
    QObject::connect(f.window.findChild<RenderService*>(), &RenderService::cloth_ready, &f.window, [&](const ClothPicture& picture) { drafts.push_back(picture.draft); });
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
    CHECK(std::get<std::string>(*value_at(f.session().recipe(), {"b", "s1", "spread"})) == "sparse");
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
    HistogramView* histogram = f.loom().desk()->histogram();
    REQUIRE(histogram->has_handles());
    const QPoint from = histogram->handle_place(ToneHandle::black);
    QTest::mousePress(histogram, Qt::LeftButton, {}, from);
    for (int x = 5; x <= 30; x += 5) QTest::mouseMove(histogram, from + QPoint(x, 0));
    QTest::mouseRelease(histogram, Qt::LeftButton, {}, from + QPoint(30, 0));
    CHECK(f.number("a", "s2", "in-black") > 0.35);
    CHECK(f.session().undo_stack().count() == 1);
    f.click(f.card("a", "s1"));
    CHECK_FALSE(histogram->has_handles());
}

TEST_CASE("cards are dragged to another place and another strand", "[window][strands]") {
    Fixture f;
    auto drag = [&](StepCard* card, const QPoint& global) {
        const QPoint start(60, 30);
        QTest::mousePress(card, Qt::LeftButton, {}, start);
        for (int k = 1; k <= 4; ++k) QTest::mouseMove(card, start + (card->mapFromGlobal(global) - start) * k / 4);
        QTest::mouseRelease(card, Qt::LeftButton, {}, card->mapFromGlobal(global));
    };
    drag(f.card("a", "s1"), f.card("a", "s3")->mapToGlobal(QPoint(60, 68)));
    CHECK(f.order("a") == "levels gradientmap clouds ");
    f.trigger("undo");
    CHECK(f.order("a") == "clouds levels gradientmap ");
    drag(f.card("a", "s2"), f.card("b", "s2")->mapToGlobal(QPoint(60, 4)));
    CHECK(f.order("a") == "clouds gradientmap ");
    CHECK(f.order("b") == "static levels directional ");
    f.trigger("undo");
    // Dropped outside of all strands nothing happens.
    drag(f.card("a", "s2"), f.window.mapToGlobal(QPoint(1200, 300)));
    CHECK(f.order("a") == "clouds levels gradientmap ");
    // Escape gives a drag up.
    QTest::mousePress(f.card("a", "s1"), Qt::LeftButton, {}, {60, 30});
    QTest::mouseMove(f.card("a", "s1"), {60, 120});
    QTest::keyClick(f.card("a", "s1"), Qt::Key_Escape);
    QTest::mouseRelease(f.card("a", "s1"), Qt::LeftButton, {}, {60, 200});
    CHECK(f.order("a") == "clouds levels gradientmap ");
}

TEST_CASE("steps are moved, bypassed, duplicated and removed from the keyboard", "[window][strands]") {
    Fixture f;
    f.click(f.card("a", "s2"));
    QTest::keyClick(f.card("a", "s2"), Qt::Key_Down, Qt::AltModifier);
    CHECK(f.order("a") == "clouds gradientmap levels ");
    QTest::keyClick(f.card("a", "s2"), Qt::Key_Up, Qt::AltModifier);
    CHECK(f.order("a") == "clouds levels gradientmap ");
    QTest::keyClick(f.card("a", "s2"), Qt::Key_Right, Qt::AltModifier);
    CHECK(f.order("b") == "static levels directional ");
    QTest::keyClick(f.card(f.session().selection().strand.c_str(), f.session().selection().step.c_str()), Qt::Key_Left, Qt::AltModifier);
    CHECK(f.order("a") == "clouds levels gradientmap ");
    f.session().select({"a", "s2"});
    QTest::keyClick(&f.window, Qt::Key_B, Qt::ControlModifier);
    CHECK_FALSE(f.session().selected_step()->on);
    QTest::keyClick(&f.window, Qt::Key_D, Qt::ControlModifier);
    CHECK(f.order("a") == "clouds levels levels gradientmap ");
    QTest::keyClick(&f.window, Qt::Key_Delete);
    CHECK(f.order("a") == "clouds levels gradientmap ");
    const int count = f.session().undo_stack().count();
    for (int k = 0; k < count; ++k) f.session().undo_stack().undo();
    CHECK(f.order("a") == "clouds levels gradientmap ");
    CHECK_FALSE(f.session().modified());
}

TEST_CASE("a step is added through the finder", "[window][finder]") {
    Fixture f;
    QTest::mouseClick(f.loom().strands()->add_button("b", ChainKind::steps), Qt::LeftButton);
    auto* finder = dialog<StepFinder>(f.loom());
    QTest::keyClicks(finder->search(), "wander");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(f.order("b") == "static directional wander ");
    CHECK(f.session().selected_step()->kind == "wander");
    // A seed of its own, unlike those that are there.
    CHECK(f.session().selected_step()->seed == 3);
    REQUIRE(QTest::qWaitFor([&] { return !f.loom().findChild<StepFinder*>(); }, 5000));
    QTest::mouseClick(f.loom().strands()->add_button("b", ChainKind::mask), Qt::LeftButton);
    finder = dialog<StepFinder>(f.loom());
    QTest::keyClicks(finder->search(), "clouds");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(f.session().recipe().strand("b")->mask.size() == 1);
    REQUIRE(f.card("b", f.session().selection().step.c_str()));
    f.rendered();
}

TEST_CASE("joins: blend, amount and keep within are changed at the foot of a strand", "[window][strands]") {
    Fixture f;
    JoinCard* join = f.loom().strands()->join("b");
    REQUIRE(join);
    join->blend_box()->setFocus();
    QTest::keyClick(join->blend_box(), Qt::Key_Down);
    CHECK(f.session().recipe().strand("b")->join.blend == Blend::difference);
    join->amount_slider()->setFocus();
    QTest::keyClick(join->amount_slider(), Qt::Key_Home);
    CHECK(f.session().recipe().strand("b")->join.amount == 0);
    QTest::mouseClick(join->within_box(), Qt::LeftButton, {}, QPoint(8, join->within_box()->height() / 2));
    CHECK(f.session().recipe().strand("b")->join.within);
    // The foot stays in sight however long the strand is.
    for (int k = 0; k < 8; ++k) f.trigger("duplicate");
    f.rendered();
    const QRect visible(f.loom().strands()->viewport()->mapToGlobal(QPoint(0, 0)), f.loom().strands()->viewport()->size());
    CHECK(visible.contains(QRect(f.loom().strands()->join("a")->mapToGlobal(QPoint(0, 0)), QSize(20, 70))));
}

TEST_CASE("strands are added, switched off, renamed and removed", "[window][strands]") {
    Fixture f;
    f.trigger("add-strand");
    auto* finder = dialog<StepFinder>(f.loom());
    QTest::keyClicks(finder->search(), "flat");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    REQUIRE(f.session().recipe().strands.size() == 3);
    CHECK(f.session().recipe().strands[2]->steps[0].kind == "flat");
    f.session().select({"b", ""});
    f.trigger("bypass");
    CHECK_FALSE(f.session().recipe().strand("b")->on);
    f.trigger("rename");
    auto* rename = dialog<QInputDialog>(f.window);
    rename->setTextValue("Long grain");
    rename->accept();
    CHECK(f.session().recipe().strand("b")->name == "Long grain");
    f.trigger("remove");
    CHECK(f.session().recipe().strands.size() == 2);
    f.session().undo_stack().undo();
    CHECK(f.session().recipe().strand("b")->name == "Long grain");
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
    auto* width = qobject_cast<NumberEdit*>(f.loom().desk()->editor("tile-width"));
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

TEST_CASE("colourways are laid over from the header", "[window]") {
    MainWindow window;
    window.show();
    window.open_sample(QString::fromStdString(sample("glove-suede")));
    auto* box = window.findChild<QComboBox*>();
    REQUIRE(box);
    CHECK(box->currentText().contains("Tan"));
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Down);
    CHECK(present_colourway(window.session().recipe()) == "Slate");
    CHECK(window.session().undo_stack().count() == 1);
}

TEST_CASE("unsaved changes are asked about before they are lost", "[window][files]") {
    Fixture f;
    const TemporaryFolder folder;
    f.session().set_value({"a", "s1", "octaves"}, Value(2.0));
    f.trigger("new");
    auto* box = dialog<QMessageBox>(f.window);
    QTest::mouseClick(box->button(QMessageBox::Cancel), Qt::LeftButton);
    CHECK(f.session().recipe().name == "Trial");
    QTest::qWait(10);
    f.trigger("new");
    box = dialog<QMessageBox>(f.window);
    QTest::mouseClick(box->button(QMessageBox::Discard), Qt::LeftButton);
    CHECK(f.session().recipe().name == "Untitled");
    // Closing asks too.
    f.session().set_value({"strand", "s1", "octaves"}, Value(2.0));
    QTest::qWait(10);
    CHECK_FALSE(f.window.close());
    box = dialog<QMessageBox>(f.window);
    QTest::mouseClick(box->button(QMessageBox::Cancel), Qt::LeftButton);
    CHECK(f.window.isVisible());
    f.session().undo_stack().setClean();
    CHECK(f.window.close());
}

TEST_CASE("recipes are saved with a preview, opened again and listed as recent", "[window][files]") {
    Fixture f;
    const TemporaryFolder folder;
    const QString path = QString::fromStdString(folder.path("trial.loom"));
    f.session().set_value({"a", "s1", "octaves"}, Value(2.0));
    f.rendered();
    REQUIRE(f.window.save_to(path));
    CHECK_FALSE(f.session().modified());
    const auto file = read_loom(path.toStdString());
    REQUIRE(file);
    CHECK(file->preview_png.substr(1, 3) == "PNG");
    CHECK(file->recipe == f.session().recipe());
    f.session().start_new(fresh_recipe());
    f.window.open(path);
    CHECK(f.number("a", "s1", "octaves") == 2);
    bool listed = false;
    for (QToolButton* button : f.window.samples_view()->findChildren<QToolButton*>()) listed = listed || button->text() == "trial";
    CHECK(listed);
    // Saved again without a question.
    f.session().set_value({"a", "s1", "octaves"}, Value(4.0));
    f.trigger("save");
    CHECK_FALSE(f.session().modified());
    f.session().undo_stack().setClean();
}

TEST_CASE("the window survives wrong files with one clear line", "[window][faults]") {
    Fixture f;
    const TemporaryFolder folder;
    const Recipe before = f.session().recipe();
    std::string text = *read_file(sample("carriage-oak") + "/recipe.json", 1 << 20);
    REQUIRE(write_file(folder.path("cut.loom"), text.substr(0, 500)));
    auto with = [&](const std::string& from, const std::string& to, const char* name) {
        std::string changed = text;
        changed.replace(changed.find(from), from.size(), to);
        REQUIRE(write_file(folder.path(name), changed));
    };
    with("\"octaves\": 7", "\"octaves\": 700", "range.loom");
    with("\"strand\": \"rings\"", "\"strand\": \"pores\"", "circle.loom");
    with("\"width\": 1024", "\"width\": 100000", "size.loom");
    for (const char* name : {"none.loom", "cut.loom", "range.loom", "circle.loom", "size.loom"}) {
        f.window.open(QString::fromStdString(folder.path(name)));
        INFO(name << ": " << f.window.message().toStdString());
        CHECK(f.window.message().contains(name));
        CHECK_FALSE(f.window.message().contains('\n'));
        CHECK(f.session().recipe() == before);
    }
    CHECK_FALSE(f.window.save_to("/no/such/folder/x.loom"));
    CHECK(f.window.message().contains("no such file or folder"));
    // An unknown step is kept and passed over.
    with("\"step\": \"static\"", "\"step\": \"quilt\"", "unknown.loom");
    f.window.open(QString::fromStdString(folder.path("unknown.loom")));
    CHECK(f.session().recipe().name == "Carriage oak");
    CHECK(f.window.message().isEmpty());
    f.session().select({"long-grain", "noise"});
    f.rendered();
}

TEST_CASE("a recipe that needs too much memory is refused with a line, and the next one renders", "[window][faults]") {
    Fixture f;
    f.window.findChild<RenderService*>()->set_memory_limit(1000);
    f.session().set_value({"a", "s1", "octaves"}, Value(2.0));
    REQUIRE(QTest::qWaitFor([&] { return f.window.message().contains("are allowed; choose a smaller size"); }, patience));
    f.window.findChild<RenderService*>()->set_memory_limit(0);
    f.session().set_value({"a", "s1", "octaves"}, Value(3.0));
    f.rendered();
    CHECK(f.window.message().isEmpty());
}

TEST_CASE("a picture is exported at the size that is asked for, and failures are told", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    f.trigger("export");
    auto* dialog_shown = dialog<ExportDialog>(f.window);
    dialog_shown->path_field()->setText(QString::fromStdString(folder.path("cloth.png")));
    dialog_shown->size_field()->setValue(96);
    QTest::mouseClick(dialog_shown->export_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return dialog_shown->message()->text().contains("Written"); }, patience));
    const auto picture = read_picture(folder.path("cloth.png"));
    REQUIRE(picture);
    CHECK(picture->size() == Size{96, 96});
    CHECK(folder.files().size() == 1);
    dialog_shown->path_field()->setText("/no/such/folder/cloth.png");
    QTest::mouseClick(dialog_shown->export_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return dialog_shown->message()->text().contains("no such file or folder"); }, patience));
    dialog_shown->close();
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
        if (qobject_cast<NumberEdit*>(widget) || widget->inherits("QMenuBar") || widget->inherits("QScrollArea") || widget->inherits("QSplitter")) continue;
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
