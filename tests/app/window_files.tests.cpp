// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Files and faults in the real window.
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
#include "app/document/reference.h"
#include "app/widgets/notice_bar.h"
#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("colourways are laid over from the header", "[window]") {
    MainWindow window;
    window.show();
    open_sample(window, QString::fromStdString(sample("glove-suede")));
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
    // What will happen is said, without pictures of the platform.
    CHECK(box->text() == "Save the changes to 'Trial' before beginning a new one?");
    for (QAbstractButton* button : box->buttons()) CHECK(button->icon().isNull());
    QTest::mouseClick(box->button(QMessageBox::Cancel), Qt::LeftButton);
    CHECK(f.session().recipe().name == "Trial");
    QTest::qWait(10);
    open_sample(f.window, QString::fromStdString(sample("glove-suede")));
    box = dialog<QMessageBox>(f.window);
    CHECK(box->text() == "Save the changes to 'Trial' before opening Glove suede?");
    QTest::mouseClick(box->button(QMessageBox::Cancel), Qt::LeftButton);
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
    REQUIRE(saved(f.window, path));
    CHECK_FALSE(f.session().modified());
    const auto file = read_loom(path.toStdString());
    REQUIRE(file);
    CHECK(file->preview_png.substr(1, 3) == "PNG");
    CHECK(file->recipe == f.session().recipe());
    f.session().start_new(fresh_recipe());
    open_in(f.window, path);
    CHECK(f.number("a", "s1", "octaves") == 2);
    bool listed = false;
    CHECK(QTest::qWaitFor(
        [&] {
            for (QToolButton* button : f.window.samples_view()->findChildren<QToolButton*>())
                listed = listed || button->text() == "trial";
            return listed;
        },
        patience));
    // Saved again without a question.
    f.session().set_value({"a", "s1", "octaves"}, Value(4.0));
    f.trigger("save");
    CHECK(QTest::qWaitFor([&] { return !f.session().modified(); }, patience));
    f.session().undo_stack().setClean();
}

TEST_CASE("a recipe goes by its file's name until somebody gives it one", "[window][files]") {
    Fixture f;
    const TemporaryFolder folder;
    const auto at = [&](const char* name) { return QString::fromStdString(folder.path(name)); };
    f.session().start_new(fresh_recipe());
    REQUIRE(saved(f.window, at("Ticket oak.loom")));
    CHECK(f.session().recipe().name == "Ticket oak");
    CHECK_FALSE(f.session().modified());
    CHECK(f.window.windowTitle().startsWith("Ticket oak"));
    CHECK(read_loom(folder.path("Ticket oak.loom"))->recipe.name == "Ticket oak");
    // A copy under another name is called so, and a sample's copy too; what only writes the name otherwise keeps it.
    REQUIRE(saved(f.window, at("Bench oak.loom")));
    CHECK(f.session().recipe().name == "Bench oak");
    REQUIRE(saved(f.window, at("bench-oak.loom")));
    CHECK(f.session().recipe().name == "Bench oak");
    open_sample(f.window, QString::fromStdString(sample("glove-suede")));
    CHECK(f.session().recipe().name == "Glove suede");
    REQUIRE(saved(f.window, at("Saddle.loom")));
    CHECK(f.session().recipe().name == "Saddle");
    // A name that was given stays.
    f.session().apply(renamed(f.session().recipe(), "Fine saddle"), "Rename recipe");
    REQUIRE(saved(f.window, at("second.loom")));
    CHECK(f.session().recipe().name == "Fine saddle");
    // A file whose recipe has no name.
    REQUIRE(write_file(folder.path("Old one.loom"), write_recipe(fresh_recipe())));
    open_in(f.window, at("Old one.loom"));
    CHECK(f.session().recipe().name == "Old one");
    CHECK_FALSE(f.session().modified());
    // Lately used files have their pictures.
    CHECK(QTest::qWaitFor(
        [&] {
            for (QToolButton* button : f.window.samples_view()->findChildren<QToolButton*>())
                if (button->text() == "Saddle") return !button->icon().isNull();
            return false;
        },
        patience));
}

TEST_CASE("a picture that is opened as a recipe is offered as a strand and as the reference", "[window][files]") {
    Fixture f;
    const TemporaryFolder folder;
    const QString path = QString::fromStdString(folder.path("plank.png"));
    REQUIRE(write_picture(path.toStdString(), cloth(f.session().recipe(), {64, 64}), PictureFormat::png));
    const std::uint64_t document = f.session().document();
    open_in(f.window, path);
    REQUIRE(f.window.notices().size() == 1);
    CHECK(f.window.notices().front()->text().contains("plank.png is a picture"));
    CHECK(f.session().document() == document);
    QTest::mouseClick(f.window.notices().front()->buttons()[0], Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return f.session().recipe().assets.size() == 1; }, patience));
    REQUIRE(f.session().selected_step());
    CHECK(f.session().selected_step()->kind == "image");
    CHECK(f.session().selected_strand()->name == "plank");
    CHECK(f.session().recipe().strands.size() == 3);
    f.session().undo_stack().setClean();
    open_in(f.window, path);
    REQUIRE(f.window.notices().size() == 1);
    QTest::mouseClick(f.window.notices().front()->buttons()[1], Qt::LeftButton);
    CHECK(QTest::qWaitFor([&] { return f.loom().reference().is_there(); }, patience));
    CHECK(f.window.notices().isEmpty());
    // The command line says the same.
    const auto refused = read_loom(path.toStdString());
    REQUIRE_FALSE(refused);
    CHECK(refused.error().message.find("it is a picture (PNG)") != std::string::npos);
    f.loom().reference().forget();
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
    with("\"octaves\": 3", "\"octaves\": 300", "range.loom");
    with("\"strand\": \"timber\"", "\"strand\": \"ground\"", "circle.loom");
    with("\"width\": 1024", "\"width\": 100000", "size.loom");
    for (const char* name : {"none.loom", "cut.loom", "range.loom", "circle.loom", "size.loom"}) {
        open_in(f.window, QString::fromStdString(folder.path(name)));
        INFO(name << ": " << f.window.message().toStdString());
        CHECK(f.window.message().contains(name));
        CHECK_FALSE(f.window.message().contains('\n'));
        CHECK(f.session().recipe() == before);
    }
    CHECK_FALSE(saved(f.window, "/no/such/folder/x.loom"));
    CHECK(f.window.message().contains("no such file or folder"));
    // An unknown step is kept and passed over.
    with("\"step\": \"static\"", "\"step\": \"quilt\"", "unknown.loom");
    open_in(f.window, QString::fromStdString(folder.path("unknown.loom")));
    CHECK(f.session().recipe().name == "Carriage oak");
    CHECK(f.window.message().contains("unknown step 'quilt'"));
    f.session().select({"long-grain", "noise"});
    f.rendered();
}

TEST_CASE("a recipe that needs too much memory is refused with a line, and the next one renders", "[window][faults]") {
    Fixture f;
    f.window.service().set_memory_limit(1000);
    f.session().set_value({"a", "s1", "octaves"}, Value(2.0));
    REQUIRE(QTest::qWaitFor([&] { return f.window.message().contains("are allowed; choose a smaller size"); }, patience));
    f.window.service().set_memory_limit(0);
    f.session().set_value({"a", "s1", "octaves"}, Value(3.0));
    f.rendered();
    CHECK(f.window.message().isEmpty());
}

TEST_CASE("a picture is exported at the size that is asked for, and failures are told", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* shown = export_into(f, folder, 96);
    QTest::mouseClick(shown->write_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return shown->message().contains("Written"); }, patience));
    const auto picture = read_picture(folder.path("cloth.png"));
    REQUIRE(picture);
    CHECK(picture->size() == Size{96, 96});
    CHECK(folder.files().size() == 1);
    shown->folder_field()->setText("/proc/no/such/folder");
    QTest::mouseClick(shown->write_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return shown->message().contains("cannot write into '/proc/no"); }, patience));
}
