// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What must not end the program, reach the wrong document or go unsaid.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QSpinBox>
#include <QStatusBar>
#include <QTest>
#include <QThreadPool>

#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/loom/measures_bar.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/main_window.h"
#include "app/widgets/number_edit.h"
#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/fields.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// A strand that shows a kept picture which cannot be read.
Recipe with_damaged_picture() {
    Recipe recipe = recipe_of(
        {strand_of("a", {{"clouds", {}, 1}}), strand_of("b", {{"image", {{"file", std::string("assets/p.png")}}}})}, 64);
    recipe.name = "Damaged";
    recipe.assets["assets/p.png"] = make_asset("assets/p.png", "no picture at all");
    return recipe;
}

}  // namespace

TEST_CASE("a window that is closed after an edit hears nothing more", "[window][close]") {
    int heard = 0;
    {
        Fixture f;
        f.session().set_value({"a", "s1", "octaves"}, Value(3.0));
        REQUIRE(f.session().undo_stack().canUndo());
        QObject::connect(&f.session().undo_stack(), &QUndoStack::indexChanged, [&] { ++heard; });
    }
    CHECK(heard == 0);
}

TEST_CASE("what is left out of a picture is said in the window and with the export", "[window][warnings]") {
    Fixture f;
    const TemporaryFolder folder;
    f.session().start_new(with_damaged_picture());
    REQUIRE(QTest::qWaitFor([&] { return f.window.message().contains("left out"); }, patience));
    CHECK(f.window.message().contains("a picture in the recipe cannot be read"));
    ExportView* shown = export_into(f, folder, 32);
    QTest::mouseClick(shown->write_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return shown->message().contains("Written"); }, patience));
    CHECK(shown->message().contains("left out"));
    f.window.show_page(f.window.loom_view());
    // Once nothing is left out the line goes.
    f.session().apply(strand_removed(f.session().recipe(), "b"), "Remove");
    f.rendered();
    REQUIRE(QTest::qWaitFor([&] { return f.window.message().isEmpty(); }, patience));
}

TEST_CASE("what was asked for one document does not land in the next", "[window][documents]") {
    Fixture f;
    const TemporaryFolder folder;
    REQUIRE(write_picture(folder.path("wall.png"), random_bundle({40, 30}, 2), PictureFormat::png));
    Recipe first = recipe_of({strand_of("a", {{"image", {}}})}, 64), second = first;
    first.name = "First", second.name = "Second";
    f.session().start_new(first);
    QSignalSpy refused(&f.session(), &Session::refused);
    auto* desk = f.window.findChild<TuningDesk*>();
    desk->keep_picture({"a", "s1", "file"}, QString::fromStdString(folder.path("wall.png")));
    // It is read already, but nothing has been handed over yet.
    QThreadPool::globalInstance()->waitForDone();
    f.session().start_new(second);
    REQUIRE(QTest::qWaitFor([&] { return refused.count() == 1; }, patience));
    CHECK(refused.takeFirst().at(0).toString().contains("wall.png was for 'First', which is no longer open"));
    CHECK(f.session().recipe() == second);
    CHECK_FALSE(f.session().undo_stack().canUndo());
    // In its own document it does land.
    desk->keep_picture({"a", "s1", "file"}, QString::fromStdString(folder.path("wall.png")));
    REQUIRE(QTest::qWaitFor([&] { return f.session().recipe().assets.size() == 1; }, patience));
    f.session().undo_stack().setClean();
}

TEST_CASE("a picture of an older document never shows in a newer one", "[window][documents]") {
    Fixture f;
    const auto flat = [](float tone) {
        return recipe_of({strand_of("a", {{"flat", {{"colour", Value(Colour{tone, tone, tone})}}}})}, 320);
    };
    bool wrong = false;
    QObject::connect(&f.window.service(), &RenderService::cloth_ready, &f.window, [&](const ClothPicture& picture) {
        // Asked for another document: the canvas keeps what it has.
        if (picture.document == f.session().document()) return;
        const QImage before = f.loom().cloth()->canvas()->image();
        wrong = wrong || (!before.isNull() && before.size() == picture.image.size() && before == picture.image &&
                          qGray(before.pixel(3, 3)) > 200);
    });
    for (int k = 0; k < 6; ++k) f.session().start_new(flat(k % 2 ? 0.1f : 0.95f));
    f.rendered();
    CHECK_FALSE(wrong);
    CHECK(qGray(f.loom().cloth()->canvas()->image().pixel(3, 3)) < 60);
}

TEST_CASE("paths and numbers that no system takes are refused in one line", "[window][faults]") {
    Fixture f;
    const TemporaryFolder folder;
    const Recipe before = f.session().recipe();
    REQUIRE(write_file(folder.path("huge.loom"), R"({"format": "keen-loom/1", "seed": 1e999, "strands": []})"));
    REQUIRE(write_file(folder.path("deep.loom"),
                       "{\"format\": \"keen-loom/1\", \"x\": " + std::string(5000, '[') + std::string(5000, ']') + "}"));
    const std::string long_name = "/" + std::string(5000, 'x') + ".loom";
    for (const std::string& path : {folder.path("huge.loom"), folder.path("deep.loom"), long_name}) {
        open_in(f.window, QString::fromStdString(path));
        INFO(f.window.message().toStdString().substr(0, 200));
        CHECK_FALSE(f.window.message().isEmpty());
        CHECK_FALSE(f.window.message().contains('\n'));
        CHECK(f.session().recipe() == before);
        f.window.statusBar()->hide();
    }
    CHECK_FALSE(saved(f.window, QString::fromStdString(long_name)));
    CHECK(f.window.message().contains("name is too long"));
    CHECK_FALSE(saved(f.window, QString::fromStdString(folder.path(std::string(300, 'y')))));
    CHECK(f.session().recipe() == before);
    CHECK(folder.files().size() == 2);
}

TEST_CASE("a tone gate is set at the desk, for a step and for a join", "[window][gate]") {
    Fixture f;
    f.session().select({"a", "s2"});
    auto* desk = f.window.findChild<TuningDesk*>();
    CHECK(desk->editor("gate.from") == nullptr);
    auto* of = qobject_cast<QComboBox*>(desk->editor("gate.of"));
    REQUIRE(of);
    of->setCurrentIndex(of->findData("own"));
    emit of->activated(of->currentIndex());
    CHECK(f.session().recipe().step({"a", "s2", ""})->gate.of == ToneGate::Of::own);
    auto* from = qobject_cast<NumberEdit*>(desk->editor("gate.from"));
    REQUIRE(from);
    // Tones are typed as 0 to 255.
    from->field()->setFocus();
    from->field()->selectAll();
    QTest::keyClicks(from->field(), "51");
    QTest::keyClick(from->field(), Qt::Key_Return);
    CHECK(f.number("a", "s2", "gate.from") == Approx(0.2));
    f.session().select({"b", ""});
    of = qobject_cast<QComboBox*>(desk->editor("gate.of"));
    REQUIRE(of);
    of->setCurrentIndex(2);
    emit of->activated(2);
    CHECK(f.session().recipe().strand("b")->join.gate.of == ToneGate::Of::beneath);
    REQUIRE(desk->editor("gate.softness"));
    f.rendered();
    f.session().undo_stack().setClean();
}

TEST_CASE("choosing a form of gradient puts its points where it begins well, in one undo step", "[window][gradient]") {
    Fixture f;
    f.session().start_new(recipe_of({strand_of("a", {{"gradient", {}}})}, 64));
    f.session().select({"a", "s1"});
    auto* form = qobject_cast<QComboBox*>(f.window.findChild<TuningDesk*>()->editor("form"));
    REQUIRE(form);
    const auto choose = [&](const char* id) {
        form->setCurrentIndex(form->findData(id));
        emit form->activated(form->currentIndex());
    };
    choose("angular");
    CHECK(f.number("a", "s1", "from-x") == 50);
    CHECK(f.number("a", "s1", "to-x") == 100);
    CHECK(value_at(f.session().recipe(), {"a", "s1", "close"}) == Value(true));
    choose("linear");
    CHECK(f.session().recipe().strand("a")->steps[0].set.empty());
    CHECK(f.session().undo_stack().count() == 2);
    f.session().undo_stack().setClean();
}
