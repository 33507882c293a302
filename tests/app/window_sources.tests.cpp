// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Choosing by looking, in the real window: seeds, the finder's pictures, handles on the cloth, formulas, and what a recipe
// keeps inside.
#include <QDialog>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QSpinBox>
#include <QToolButton>
#include <algorithm>
#include <cmath>
#include <set>

#include "app/loom/cloth_handles.h"
#include "app/loom/remedy_bar.h"
#include "app/loom/tuning_desk.h"
#include "app/tries/seed_strip.h"
#include "app/widgets/draft_edit.h"
#include "app/widgets/formula_edit.h"
#include "app/widgets/inputs_edit.h"
#include "app/widgets/number_edit.h"
#include "core/files/picture.h"
#include "core/recipe/container.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// A window on one step.
struct OneStep : Fixture {
    explicit OneStep(const std::string& kind, const Values& set = {}) {
        Recipe recipe = recipe_of({strand_of("a", {{kind, set, 6}})}, 200);
        recipe.name = "One";
        session().start_new(recipe);
        session().select({"a", "s1"});
        rendered();
    }
    TuningDesk& desk() { return *loom().desk(); }
    SeedStrip& seeds() { return *desk().seeds(); }
    template <class T>
    T* editor(const char* id) {
        T* found = dynamic_cast<T*>(desk().editor(id));
        REQUIRE(found);
        return found;
    }
    const Value value(const char* id) { return *value_at(session().recipe(), {"a", "s1", id}); }
};

}  // namespace

TEST_CASE("a step that draws lots shows eight neighbouring seeds, and a click takes one", "[window][seeds]") {
    OneStep f("cells");
    REQUIRE(f.seeds().isVisible());
    REQUIRE(QTest::qWaitFor([&] { return f.seeds().complete(); }, patience));
    std::set<std::uint32_t> seeds;
    for (int k = 0; k < SeedStrip::count; ++k) seeds.insert(f.seeds().seed(k));
    CHECK(seeds.size() == SeedStrip::count);
    CHECK_FALSE(seeds.contains(6));
    CHECK(*seeds.begin() == 2);
    CHECK(*seeds.rbegin() == 10);
    const std::uint32_t wanted = f.seeds().seed(5);
    QTest::mouseClick(&f.seeds(), Qt::LeftButton, {}, f.seeds().place(5).center());
    CHECK(f.session().selected_step()->seed == wanted);
    f.trigger("undo");
    CHECK(f.session().selected_step()->seed == 6);
    // With keys too.
    f.seeds().setFocus();
    QTest::keyClick(&f.seeds(), Qt::Key_Right);
    QTest::keyClick(&f.seeds(), Qt::Key_Return);
    CHECK(f.session().selected_step()->seed == 3);
    REQUIRE(QTest::qWaitFor([&] { return f.seeds().complete(); }, patience));
}

TEST_CASE("the strip of seeds is there only where seeds matter", "[window][seeds]") {
    OneStep f("gradient");
    CHECK(f.seeds().isHidden());
    f.session().set_value({"a", "s1", "stops"}, Value(Stops{{0, {0, 0, 0}, 40}, {1, {1, 1, 1}, 0}}));
    CHECK(f.seeds().isVisible());
    f.session().select({"a", ""});
    CHECK(f.seeds().isHidden());
}

TEST_CASE("the finder shows every step as a picture and is walked with arrow keys", "[window][finder][rendering]") {
    Fixture f;
    QTest::mouseClick(f.loom().strands()->add_button("b", ChainKind::steps), Qt::LeftButton);
    auto* finder = dialog<StepFinder>(f.loom());
    REQUIRE(QTest::qWaitFor([&] { return finder->complete(); }, patience));
    int pictures = 0;
    for (int row = 0; row < finder->list()->count(); ++row)
        pictures += !finder->list()->item(row)->data(Qt::UserRole + 3).value<QImage>().isNull();
    CHECK(pictures == steps_outside_masks());
    // Treatments of this strand come first here.
    CHECK(find_step(finder->list()->item(0)->data(Qt::UserRole).toString().toStdString())->family != Family::make);
    QTest::keyClick(finder->search(), Qt::Key_Right);
    CHECK(finder->list()->currentRow() == 1);
    QTest::keyClick(finder->search(), Qt::Key_Down);
    CHECK(finder->list()->currentRow() > 3);
    QTest::keyClick(finder->search(), Qt::Key_Up);
    CHECK(finder->list()->currentRow() == 1);
    QTest::keyClick(finder->search(), Qt::Key_Left);
    CHECK(finder->list()->currentRow() == 0);
    QTest::keyClick(finder->search(), Qt::Key_Escape);
    REQUIRE(QTest::qWaitFor([&] { return !f.loom().findChild<StepFinder*>(); }, patience));
    CHECK(f.order("b") == "static directional ");
    // A new strand begins with what makes something.
    f.loom().add_strand();
    finder = dialog<StepFinder>(f.loom());
    CHECK(find_step(finder->list()->item(0)->data(Qt::UserRole).toString().toStdString())->family == Family::make);
    finder->close();
}

TEST_CASE("the ends of a gradient are dragged on the cloth, as one undoable step", "[window][handles]") {
    OneStep f("gradient", {{"form", std::string("radial")}, {"from-x", 50.0}, {"from-y", 50.0}, {"to-x", 90.0}, {"to-y", 50.0}});
    ClothCanvas* canvas = f.loom().cloth()->canvas();
    const QRectF tile = canvas->tile_rect();
    const QPoint from = tile.center().toPoint(),
                 to = (tile.topLeft() + QPointF(tile.width() * 0.25, tile.height() * 0.2)).toPoint();
    const QPointF centre = canvas->centre();
    QTest::mousePress(canvas, Qt::LeftButton, {}, from);
    for (int k = 1; k <= 5; ++k) QTest::mouseMove(canvas, from + (to - from) * k / 5);
    QTest::mouseRelease(canvas, Qt::LeftButton, {}, to);
    CHECK(as<double>(f.value("from-x")) == Approx(25).margin(1));
    CHECK(as<double>(f.value("from-y")) == Approx(20).margin(1));
    CHECK(as<double>(f.value("to-x")) == 90);
    // The cloth itself stayed where it was.
    CHECK(canvas->centre() == centre);
    CHECK(f.session().undo_stack().count() == 1);
    f.trigger("undo");
    CHECK(as<double>(f.value("from-x")) == 50);
    // Beside the handles the cloth is moved as ever.
    QTest::mousePress(canvas, Qt::LeftButton, {}, tile.bottomLeft().toPoint() + QPoint(20, -20));
    QTest::mouseMove(canvas, tile.bottomLeft().toPoint() + QPoint(60, -20));
    QTest::mouseRelease(canvas, Qt::LeftButton, {}, tile.bottomLeft().toPoint() + QPoint(60, -20));
    CHECK(canvas->centre() != centre);
    CHECK(as<double>(f.value("from-x")) == 50);
}

TEST_CASE("a draft is drawn in a grid, chosen by its trade name, and goes to a WIF file and back", "[window][draft]") {
    OneStep f("weave", {{"draft", std::string("grid")}, {"grid", LongText("#./.#")}});
    auto* edit = f.editor<DraftEdit>("grid");
    DraftGrid& grid = *edit->grid();
    CHECK(edit->draft() == plain_draft());
    // The first pick lies at the bottom.
    CHECK(grid.square(0, 0).top() > grid.square(0, 1).top());
    QTest::mouseClick(&grid, Qt::LeftButton, {}, grid.square(1, 0).center());
    CHECK(f.value("grid") == Value(LongText("##/.#")));
    f.session().undo_stack().undo();
    CHECK(f.value("grid") == Value(LongText("#./.#")));
    // With the keys: to the right, and turned over.
    grid.setFocus();
    QTest::keyClick(&grid, Qt::Key_Left), QTest::keyClick(&grid, Qt::Key_Down), QTest::keyClick(&grid, Qt::Key_Space);
    CHECK(f.value("grid") == Value(LongText("../.#")));
    // A larger repeat goes on as it was.
    edit->findChildren<QSpinBox*>()[0]->setValue(4);
    CHECK(f.value("grid") == Value(LongText("..../.#.#")));
    for (QAction* action : edit->findChild<QMenu*>()->actions())
        if (action->text() == "Denim (3/1 twill)") action->trigger();
    CHECK(f.value("grid") == Value(LongText(draft_text(twill_draft(3, 1, true)))));
    const TemporaryFolder folder;
    edit->save_wif(QString::fromStdString(folder.path("denim.wif")));
    edit->set_draft(plain_draft());
    edit->open_wif(QString::fromStdString(folder.path("denim.wif")));
    CHECK(edit->draft() == twill_draft(3, 1, true));
    QSignalSpy refused(&f.session(), &Session::refused);
    edit->open_wif(QString::fromStdString(folder.path("none.wif")));
    CHECK(refused.count() == 1);
    CHECK(edit->draft() == twill_draft(3, 1, true));
}

TEST_CASE("a formula shows its fault at the character while one types, and keeps the last sound one", "[window][formula]") {
    OneStep f("formula");
    auto* edit = f.editor<FormulaEdit>("expression");
    const Value before = f.value("expression");
    edit->field()->setFocus();
    edit->field()->selectAll();
    QTest::keyClicks(edit->field(), "wave(u * ");
    CHECK(edit->fault().startsWith("Character 10:"));
    CHECK(edit->field()->extraSelections().size() == 1);
    QTest::qWait(400);
    CHECK(f.value("expression") == before);
    QTest::keyClicks(edit->field(), "count)");
    CHECK(edit->fault().isEmpty());
    REQUIRE(QTest::qWaitFor([&] { return f.value("expression") == Value(std::string("wave(u * count)")); }, patience));
    // The new name is a slider at once; the old ones are gone.
    auto* inputs = f.editor<InputsEdit>("inputs");
    REQUIRE(inputs->inputs().size() == 1);
    CHECK(inputs->inputs()[0].name == "count");
    f.rendered();
    const QImage half = f.loom().cloth()->canvas()->image().copy();
    inputs->slider(0)->field()->setFocus();
    inputs->slider(0)->field()->selectAll();
    QTest::keyClicks(inputs->slider(0)->field(), "0.75");
    QTest::keyClick(inputs->slider(0)->field(), Qt::Key_Return);
    CHECK(as<Inputs>(f.value("inputs"))[0].value == 0.75);
    f.rendered();
    // And the picture is that of the new value: half a wave became three quarters of one.
    const QImage more = f.loom().cloth()->canvas()->image().copy();
    const auto tone = [](const QImage& image, double u) { return qGray(image.pixel(static_cast<int>(u * image.width()), 5)); };
    CHECK(std::abs(tone(half, 0.99) - 127) < 8);
    CHECK(tone(more, 0.99) < 8);
    // Its range and note.
    inputs->edit(0);
    auto* window = dialog<QDialog>(*inputs);
    const auto fields = window->findChildren<QDoubleSpinBox*>();
    REQUIRE(fields.size() == 2);
    fields[0]->setValue(0);
    fields[1]->setValue(40);
    auto lines = window->findChildren<QLineEdit*>();
    lines.removeIf([](QLineEdit* line) { return qobject_cast<QAbstractSpinBox*>(line->parentWidget()) != nullptr; });
    REQUIRE(lines.size() == 1);
    lines[0]->setText("How many");
    window->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Ok)->click();
    const Inputs kept = as<Inputs>(f.value("inputs"));
    CHECK(kept[0].max == 40);
    CHECK(kept[0].note == "How many");
    f.trigger("undo");
    CHECK(as<Inputs>(f.value("inputs"))[0].max == 1);
    f.rendered();
    CHECK(f.window.message().isEmpty());
}

TEST_CASE("a picture and a recipe are put into the recipe; what cannot be kept is refused in the message line",
          "[window][kept]") {
    const TemporaryFolder folder;
    REQUIRE(write_picture(folder.path("wall.png"), random_bundle({40, 30}, 2), PictureFormat::png));
    {
        OneStep f("image");
        CHECK_FALSE(f.editor<QPushButton>("file")->text().isEmpty());
        f.desk().keep_picture({"a", "s1", "file"}, QString::fromStdString(folder.path("wall.png")));
        REQUIRE(QTest::qWaitFor([&] { return f.session().recipe().assets.size() == 1; }, patience));
        CHECK(f.editor<QPushButton>("file")->text().contains("Kept inside"));
        f.rendered();
        CHECK(f.loom().cloth()->canvas()->image().width() == 200);
        f.desk().keep_picture({"a", "s1", "file"}, QString::fromStdString(folder.path("none.png")));
        REQUIRE(QTest::qWaitFor([&] { return f.window.message().contains("none.png"); }, patience));
        CHECK(f.session().recipe().assets.size() == 1);
        f.trigger("undo");
        CHECK(f.session().recipe().assets.empty());
    }
    OneStep f("recipe");
    CHECK(f.editor<QPushButton>("file")->text().contains("Choose"));
    f.desk().keep_recipe({"a", "s1", "file"}, QString::fromStdString(sample("carriage-oak")));
    REQUIRE(QTest::qWaitFor([&] { return f.session().recipe().assets.size() == 1; }, patience));
    CHECK(f.editor<QPushButton>("file")->text() == "Carriage oak");
    // Its colourways and dials are on offer.
    CHECK(f.editor<QComboBox>("colourway")->count() > 1);
    auto* dials = f.editor<InputsEdit>("dials");
    REQUIRE_FALSE(dials->inputs().empty());
    dials->slider(0)->slider()->setFocus();
    QTest::keyClick(dials->slider(0)->slider(), Qt::Key_End);
    CHECK(as<Inputs>(f.value("dials"))[0].value == 100);
    f.rendered();
    CHECK(f.window.message().isEmpty());
    // Not itself.
    const QString path = QString::fromStdString(folder.path("self.loom"));
    REQUIRE(saved(f.window, path));
    f.desk().keep_recipe({"a", "s1", "file"}, path);
    CHECK(f.window.message().contains("inside itself"));
}

TEST_CASE("directions are turned on the cloth; steps that follow the lamp share one handle", "[window][handles][lamp]") {
    OneStep f("stripes");
    ClothCanvas* canvas = f.loom().cloth()->canvas();
    auto turn = [&](double from, double to) {
        const QRectF tile = canvas->tile_rect();
        auto at = [&](double degrees) {
            const double a = degrees * 3.14159265358979 / 180, length = 0.28 * tile.width();
            return (tile.center() + QPointF(length * std::cos(a), -length * std::sin(a))).toPoint();
        };
        QTest::mousePress(canvas, Qt::LeftButton, {}, at(from));
        for (int k = 1; k <= 4; ++k) QTest::mouseMove(canvas, at(from + (to - from) * k / 4));
        QTest::mouseRelease(canvas, Qt::LeftButton, {}, at(to));
    };
    turn(0, 60);
    CHECK(as<double>(f.value("angle")) == Approx(60).margin(2));
    CHECK(f.session().undo_stack().count() == 1);
    Step relief;
    relief.kind = "relief", relief.id = "light", relief.set = {{"lamp", std::string("shared")}};
    f.session().apply(step_added(f.session().recipe(), {"a", ChainKind::steps, 1}, relief), "light");
    f.session().select({"a", "light"});
    f.rendered();
    const QImage before = canvas->image();
    turn(135, 20);
    CHECK(f.session().recipe().lamp.direction == Approx(20).margin(2));
    REQUIRE(QTest::qWaitFor([&] { return !f.loom().measures()->stale() && canvas->image() != before; }, patience));
    // The desk of the whole recipe has its numbers.
    f.session().select({});
    f.editor<NumberEdit>("lamp.elevation")->field()->setValue(70);
    CHECK(f.session().recipe().lamp.elevation == 70);
}

TEST_CASE("the step that opens the seam is named, and the remedy closes it", "[window][seam]") {
    OneStep f("clouds");
    CHECK(f.loom().remedy()->text().isEmpty());
    Step polar;
    polar.kind = "polar", polar.id = "round";
    f.session().apply(step_added(f.session().recipe(), {"a", ChainKind::steps, 1}, polar), "polar");
    f.rendered();
    REQUIRE(QTest::qWaitFor([&] { return f.loom().remedy()->text().contains("Polar"); }, patience));
    QTest::mouseClick(f.loom().remedy()->button(), Qt::LeftButton);
    CHECK(f.order("a") == "clouds polar closeseams ");
    f.rendered();
    REQUIRE(QTest::qWaitFor([&] { return f.loom().remedy()->text().isEmpty(); }, patience));
    CHECK(f.loom().measures()->measures().across.ratio <= seam_visible);
}
