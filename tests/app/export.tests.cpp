// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The Export view: what is chosen is what is written, names are known before, presets stay in the recipe, and the command does
// the same.
#include <QComboBox>
#include <QLabel>
#include <QMessageBox>
#include <QRadioButton>
#include <QToolButton>
#include <set>

#include "app/export/pack_row.h"
#include "app/export/written_list.h"
#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("maps, packs, sizes and a material are written as chosen, and the command writes the same", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    const QString file = QString::fromStdString(folder.path("trial.loom"));
    REQUIRE(saved(f.window, file));
    ExportView* view = export_into(f, folder, 32);
    view->folder_field()->setText(QString::fromStdString(folder.path("out")));
    view->names_field()->clear();
    view->card(Map::normal)->box()->click();
    QTest::mouseClick(view->add_pack_button(), Qt::LeftButton);
    REQUIRE(view->packs().size() == 1);
    QComboBox* green = view->packs().front()->channel(1);
    green->setCurrentIndex(green->findData("1-roughness"));
    view->size_button(512)->click();
    view->material_button(Material::glb)->click();
    CHECK(view->write_button()->text() == "Write 8 files");
    QTest::mouseClick(view->write_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !view->writing() && !view->message().isEmpty(); }, patience));
    INFO(view->message().toStdString());
    CHECK(view->message().contains("Written: 8 files"));
    CHECK(view->written()->files().size() == 8);
    std::vector<std::string> names;
    for (const auto& entry : std::filesystem::directory_iterator(folder.path("out")))
        names.push_back(entry.path().filename().string());
    std::sort(names.begin(), names.end());
    CHECK(names == std::vector<std::string>{"trial-colour-32.png", "trial-colour-512.png", "trial-material-32.glb",
                                            "trial-material-512.glb", "trial-normal-32.png", "trial-normal-512.png",
                                            "trial-orm-32.png", "trial-orm-512.png"});
    const auto packed = read_picture(folder.path("out/trial-orm-32.png"));
    REQUIRE(packed);
    CHECK(packed->channel(1).at(3, 3) == Approx(0.5).margin(0.01));
    // The command, in another folder.
    QString command = view->command();
    command.replace(QString::fromStdString(folder.path("out")), QString::fromStdString(folder.path("again")));
    for (QString line : command.split('\n')) {
        INFO(line.toStdString());
        const Ran ran = run_command(KEEN_LOOM_BIN "/" + line.toStdString());
        INFO(ran.err);
        REQUIRE(ran.code == 0);
    }
    for (const std::string& name : names) {
        const auto one = read_file(folder.path("out/" + name), 1 << 26), other = read_file(folder.path("again/" + name), 1 << 26);
        INFO(name);
        REQUIRE(other);
        const bool same = *one == *other;
        CHECK(same);
    }
}

TEST_CASE("what cannot be written is said at once, and nothing can be pressed", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* view = export_into(f, folder, 32);
    CHECK(view->write_button()->isEnabled());
    for (const char* names : {"../up", "{nme}", "a/"}) {
        INFO(names);
        view->names_field()->setText(names);
        CHECK_FALSE(view->write_button()->isEnabled());
        CHECK_FALSE(view->message().isEmpty());
    }
    view->names_field()->setText("fine");
    CHECK(view->write_button()->isEnabled());
    CHECK(view->message().isEmpty());
    view->size_field()->setText("99999");
    CHECK_FALSE(view->write_button()->isEnabled());
    view->size_field()->setText("many");
    CHECK_FALSE(view->write_button()->isEnabled());
    view->size_field()->setText("40");
    view->card(Map::colour)->box()->click();
    CHECK_FALSE(view->write_button()->isEnabled());
}

TEST_CASE("a preset is kept in the recipe, undone, found again, and follows the document", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* view = export_into(f, folder, 48);
    view->card(Map::height)->box()->click();
    const ExportPreset chosen = view->preset();
    view->keep_as("Game, small");
    REQUIRE(f.session().recipe().exports.size() == 1);
    CHECK(f.session().recipe().exports[0].pictures == chosen.pictures);
    CHECK(view->presets()->currentText() == "Game, small");
    view->card(Map::colour)->box()->click();
    view->presets()->setCurrentIndex(1);
    emit view->presets()->activated(1);
    CHECK(view->preset().pictures == chosen.pictures);
    REQUIRE(saved(f.window, QString::fromStdString(folder.path("kept.loom"))));
    f.session().start_new(fresh_recipe());
    CHECK(view->presets()->count() == 1);
    open_in(f.window, QString::fromStdString(folder.path("kept.loom")));
    f.trigger("export");
    CHECK(view->preset().pictures == chosen.pictures);
    CHECK(view->preset().sizes == std::vector<int>{48});
    f.session().apply(export_removed(f.session().recipe(), "Game, small"), "Remove preset");
    CHECK(view->presets()->count() == 1);
    f.trigger("undo");
    CHECK(view->presets()->count() == 2);
}

TEST_CASE("what an export takes is known before, and each change of it is followed", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* view = export_into(f, folder, 64);
    REQUIRE(QTest::qWaitFor([&] { return view->settled(); }, patience));
    const auto label = [&](const char* part) {
        for (const QLabel* each : view->findChildren<QLabel*>())
            if (each->isVisible() && each->text().contains(part)) return each->text();
        return QString();
    };
    CHECK(label(" free").startsWith("about "));
    CHECK_FALSE(label("second").isEmpty());
    CHECK(label("One file").contains("64 × 64"));
    // Notes on the cards say how each is written.
    const auto note = [&](Map map) {
        QStringList notes;
        for (const QLabel* each : view->card(map)->findChildren<QLabel*>()) notes << each->text();
        return notes.join("|");
    };
    CHECK(note(Map::colour).contains("sRGB"));
    CHECK(note(Map::colour).contains("cloth.png"));
    QComboBox* format = view->card(Map::colour)->format_field();
    format->setCurrentIndex(format->findData(static_cast<int>(PictureFormat::exr)));
    CHECK(note(Map::colour).contains("linear"));
    CHECK(note(Map::colour).contains("cloth.exr"));
    format->setCurrentIndex(format->findData(static_cast<int>(PictureFormat::png)));
    CHECK(note(Map::normal).contains("y up"));
    QTest::mouseClick(view->add_pack_button(), Qt::LeftButton);
    CHECK(note(Map::occlusion).contains("packed: red"));
    CHECK(note(Map::metalness).contains("packed: blue"));
    // Names that fall together are told of as soon as they do, and are mended by the pattern.
    CHECK_FALSE(view->write_button()->isEnabled());
    CHECK(view->message().contains("{map}"));
    view->names_field()->setText("{name}-{map}");
    CHECK(view->write_button()->isEnabled());
    for (QToolButton* button : view->packs().front()->findChildren<QToolButton*>())
        if (button->text() == "Remove") QTest::mouseClick(button, Qt::LeftButton);
    CHECK(view->packs().empty());
    CHECK(note(Map::metalness).contains("data"));
    // In a narrow window the cards stand in two columns, in a wide one in three.
    const auto columns = [&] {
        std::set<int> places;
        for (const MapInfo& info : map_table) places.insert(view->card(info.map)->x());
        return places.size();
    };
    f.window.resize(1024, 700);
    REQUIRE(QTest::qWaitFor([&] { return columns() == 2; }, patience));
    f.window.resize(1500, 800);
    REQUIRE(QTest::qWaitFor([&] { return columns() == 3; }, patience));
}

TEST_CASE("every colourway is written under its own name, and the dark window has the same words", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    Recipe recipe = f.session().recipe();
    recipe.colourways = {{"Fine", {{{"a", "s1", "octaves"}, Value(2.0)}}}, {"Broad", {{{"a", "s1", "octaves"}, Value(5.0)}}}};
    f.session().start_new(recipe);
    f.rendered();
    ExportView* view = export_into(f, folder, 24);
    view->names_field()->clear();
    view->colourways_box()->click();
    CHECK(view->write_button()->text() == "Write 2 files");
    CHECK(view->command().contains("--all-colourways"));
    QTest::mouseClick(view->write_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !view->writing() && !view->message().isEmpty(); }, patience));
    CHECK(folder.files() == std::vector<std::string>{"trial-broad-colour.png", "trial-fine-colour.png"});
    const auto fine = read_picture(folder.path("trial-fine-colour.png")),
               broad = read_picture(folder.path("trial-broad-colour.png"));
    REQUIRE((fine && broad));
    CHECK(greatest_difference(*fine, *broad) > 0.01);
    // Given up in the middle of the second one: the first is not there either.
    QDir(QString::fromStdString(folder.path())).removeRecursively();
    QDir().mkpath(QString::fromStdString(folder.path()));
    view->size_field()->setText("3000");
    QTest::mouseClick(view->write_button(), Qt::LeftButton);
    const auto waiting = [&] { return view->written()->files().at(0).share > 0.98; };
    REQUIRE(QTest::qWaitFor([&] { return !view->writing() || waiting(); }, patience));
    QTest::mouseClick(view->stop_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !view->writing(); }, patience));
    CHECK(view->message().contains("nothing was written"));
    CHECK(folder.files().empty());
    view->size_field()->setText("24");
    const QString before = view->write_button()->text();
    f.trigger("dark");
    CHECK(view->write_button()->text() == before);
    f.trigger("dark");
}

TEST_CASE("a recipe whose plan has no end is told of while the window goes on", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* view = export_into(f, folder, 64);
    REQUIRE(QTest::qWaitFor([&] { return view->settled(); }, patience));
    REQUIRE(f.session().apply(nested_recipe(4, 100, [](int k) { return Values{{"scale", 20.0 + 5 * k}}; }), "Nested"));
    REQUIRE(QTest::qWaitFor([&] { return view->message().contains("pieces of work"); }, patience));
    CHECK_FALSE(view->write_button()->isEnabled());
    // What can be written can be written again.
    f.trigger("undo");
    REQUIRE(QTest::qWaitFor([&] { return view->settled() && view->message().isEmpty(); }, patience));
    CHECK(view->write_button()->isEnabled());
}

TEST_CASE("files that are there are asked about once: replaced, left, or written beside under new names", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    REQUIRE(write_file(folder.path("cloth.png"), "somebody's"));
    ExportView* view = export_into(f, folder, 32);
    const auto asked = [&] {
        QTest::mouseClick(view->write_button(), Qt::LeftButton);
        return dialog<QMessageBox>(f.window);
    };
    const auto answer = [&](QMessageBox* box, const char* words) {
        for (QAbstractButton* button : box->buttons())
            if (button->text().remove('&').contains(words)) QTest::mouseClick(button, Qt::LeftButton);
        QTest::qWait(10);
    };
    const auto written = [&] {
        REQUIRE(QTest::qWaitFor([&] { return !view->writing() && view->message().contains("Written"); }, patience));
    };
    QMessageBox* box = asked();
    CHECK(box->text().contains("cloth.png"));
    answer(box, "Stay here");
    CHECK(*read_file(folder.path("cloth.png"), 100) == "somebody's");
    answer(asked(), "new names");
    written();
    CHECK(view->names_field()->text() == "cloth-2");
    CHECK(*read_file(folder.path("cloth.png"), 100) == "somebody's");
    CHECK(read_picture(folder.path("cloth-2.png")));
    for (const WrittenList::File& file : view->written()->files()) CHECK(file.share == 1);
    // What this window has written is its own to replace.
    QTest::mouseClick(view->write_button(), Qt::LeftButton);
    written();
    CHECK_FALSE(f.window.findChild<QMessageBox*>("replacing"));
    view->names_field()->setText("cloth");
    answer(asked(), "Replace");
    written();
    CHECK(read_picture(folder.path("cloth.png")));
}

TEST_CASE("many sizes are boxes and one material is a round, and names say what they leave out", "[window][export]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* view = export_into(f, folder, 512);
    CHECK(qobject_cast<QCheckBox*>(view->size_button(512)));
    CHECK(qobject_cast<QRadioButton*>(view->material_button(Material::none)));
    view->names_field()->clear();
    const auto says = [&](const char* words) {
        for (const QLabel* label : view->findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains(words)) return true;
        return false;
    };
    CHECK(says("one size: names leave it out"));
    view->size_button(1024)->click();
    CHECK(says("several sizes: names say which"));
}
