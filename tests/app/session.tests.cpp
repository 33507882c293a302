// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/session.h"

#include <QSignalSpy>
#include <QTest>

#include "app/document/recent_files.h"
#include "app/document/recipe_files.h"
#include "core/base/files.h"
#include "core/recipe/assets.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {
const Address octaves{"strand", "s1", "octaves"};
double present(Session& session, const Address& at) { return as<double>(*value_at(session.recipe(), at)); }

bool save(Session& session, const QString& path, const QImage& picture = {}) {
    RecipeFiles files(session);
    bool there = false;
    files.save(path, picture, [&] { there = true; });
    REQUIRE(QTest::qWaitFor([&] { return !files.busy(); }, patience));
    return there;
}

bool open(Session& session, const QString& path) {
    RecipeFiles files(session);
    QSignalSpy failed(&files, &RecipeFiles::failed);
    files.open(path, [&](LoomFile& file) { session.start_opened(std::move(file), path); });
    REQUIRE(QTest::qWaitFor([&] { return !files.busy(); }, patience));
    return failed.isEmpty();
}
}  // namespace

TEST_CASE("edits are undone and redone, and one drag is one step", "[session]") {
    Session session;
    session.start_new(fresh_recipe());
    CHECK_FALSE(session.modified());
    CHECK(session.selected_step());
    REQUIRE(session.set_value(octaves, Value(3.0)));
    CHECK(session.modified());
    for (double value : {20.0, 40.0, 60.0}) session.set_value({"strand", "s1", "contrast"}, Value(value), "drag-1");
    session.set_value({"strand", "s1", "contrast"}, Value(80.0), "drag-2");
    CHECK(session.undo_stack().count() == 3);
    session.undo_stack().undo();
    CHECK(present(session, {"strand", "s1", "contrast"}) == 60);
    session.undo_stack().undo();
    CHECK(present(session, {"strand", "s1", "contrast"}) == 100);
    session.undo_stack().undo();
    CHECK(present(session, octaves) == 6);
    CHECK_FALSE(session.modified());
    session.undo_stack().redo();
    CHECK(present(session, octaves) == 3);
}

TEST_CASE("a drag that ends where it began leaves nothing to undo", "[session]") {
    Session session;
    session.start_new(fresh_recipe());
    session.set_value(octaves, Value(4.0), "drag");
    session.set_value(octaves, Value(6.0), "drag");
    CHECK(session.undo_stack().count() == 0);
    CHECK_FALSE(session.modified());
}

TEST_CASE("wrong values and circles are refused with a sentence and change nothing", "[session][faults]") {
    Session session;
    session.start_new(
        recipe_of({strand_of("a", {{"clouds", {}}}), strand_of("b", {{"borrow", {{"strand", std::string("a")}}}})}));
    const Recipe before = session.recipe();
    QSignalSpy refused(&session, &Session::refused);
    CHECK_FALSE(session.set_value({"a", "s1", "octaves"}, Value(99.0)));
    CHECK_FALSE(session.set_value({"a", "s1", "where"}, Value(std::string("b"))));
    REQUIRE(refused.count() == 2);
    CHECK(refused[0][0].toString().contains("octaves must be a whole number from 1 to 12"));
    CHECK(refused[1][0].toString().contains("circle"));
    CHECK(session.recipe() == before);
    CHECK(session.undo_stack().count() == 0);
}

TEST_CASE("the selection never points at what is gone", "[session]") {
    Session session;
    session.start_new(recipe_of({strand_of("a", {{"clouds", {}}, {"invert", {}}}), strand_of("b", {{"flat", {}}})}));
    session.select({"a", "s2"});
    session.apply(step_removed(session.recipe(), "a", "s2"), "x");
    CHECK(session.selection() == Selection{"a", ""});
    session.apply(strand_removed(session.recipe(), "a"), "x");
    CHECK(session.selection() == Selection{});
    session.select({"nowhere", "s1"});
    CHECK(session.selection() == Selection{});
}

TEST_CASE("a recipe is saved, marked clean and loaded again", "[session][files]") {
    const TemporaryFolder folder;
    const QString path = QString::fromStdString(folder.path("a.loom"));
    Session session;
    session.start_new(fresh_recipe());
    session.set_value(octaves, Value(2.0));
    REQUIRE(save(session, path));
    CHECK_FALSE(session.modified());
    CHECK(session.path() == path);
    session.set_value(octaves, Value(5.0));
    CHECK(session.modified());
    session.undo_stack().undo();
    CHECK_FALSE(session.modified());
    Session other;
    REQUIRE(open(other, path));
    CHECK(other.recipe() == session.recipe());
}

TEST_CASE("edits of different places are different steps, whatever their gestures are called", "[session]") {
    Session session;
    session.start_new(fresh_recipe());
    Recipe two = session.recipe();
    Strand strand = *two.strands[0];
    Step second = *strand.steps.begin();
    second.id = "s2";
    strand.steps.push_back(second);
    two.strands[0] = std::make_shared<const Strand>(strand);
    session.start_new(two);
    // Two editors that number their own gestures.
    session.set_value({"strand", "s1", "contrast"}, Value(20.0), "drag 1");
    session.set_value({"strand", "s2", "contrast"}, Value(30.0), "drag 1");
    session.set_value({"strand", "s2", "contrast"}, Value(40.0), "drag 1");
    CHECK(session.undo_stack().count() == 2);
    session.undo_stack().undo();
    CHECK(present(session, {"strand", "s1", "contrast"}) == 20);
    CHECK(present(session, {"strand", "s2", "contrast"}) == 100);
    // Two values that are dragged together are one.
    const Address across{"strand", "s1", "contrast"}, down{"strand", "s1", "octaves"};
    for (double value : {1.0, 2.0, 3.0}) session.set_values({{across, Value(value)}, {down, Value(value)}}, "pad");
    CHECK(session.undo_stack().count() == 2);
    session.undo_stack().undo();
    CHECK(present(session, across) == 20);
    CHECK(present(session, down) == 6);
}

TEST_CASE("what is changed while a file is being written stays unsaved, and the file is one whole state", "[session][files]") {
    const TemporaryFolder folder;
    const QString path = QString::fromStdString(folder.path("a.loom"));
    Session session;
    session.start_new(fresh_recipe());
    session.set_value(octaves, Value(2.0));
    RecipeFiles files(session);
    files.save(path, {}, {});
    CHECK(files.saving());
    session.set_value(octaves, Value(3.0));
    REQUIRE(QTest::qWaitFor([&] { return !files.busy(); }, patience));
    CHECK(session.path() == path);
    CHECK(session.modified());
    CHECK(as<double>(*value_at(read_loom(path.toStdString())->recipe, octaves)) == 2);
    // Nothing that undo goes through passes for what is in the file.
    session.undo_stack().undo();
    session.undo_stack().undo();
    CHECK(session.modified());
    // Of several wishes the last is what stays.
    for (double value : {4.0, 5.0, 1.0}) {
        session.set_value(octaves, Value(value));
        files.save(path, {}, {});
    }
    REQUIRE(QTest::qWaitFor([&] { return !files.busy(); }, patience));
    CHECK_FALSE(session.modified());
    CHECK(as<double>(*value_at(read_loom(path.toStdString())->recipe, octaves)) == 1);
    // Another document is not told that it was saved.
    session.set_value(octaves, Value(7.0));
    files.save(path, {}, {});
    session.start_new(fresh_recipe());
    REQUIRE(QTest::qWaitFor([&] { return !files.busy(); }, patience));
    CHECK(session.path().isEmpty());
}

TEST_CASE("a file that cannot be loaded or saved leaves the document as it was", "[session][faults]") {
    const TemporaryFolder folder;
    Session session;
    session.start_new(fresh_recipe());
    session.set_value(octaves, Value(2.0));
    const Recipe before = session.recipe();
    REQUIRE(write_file(folder.path("bad.loom"), "{\"format\": \"keen-loom/1\", \"strands\": 3}"));
    for (const char* name : {"none.loom", "bad.loom"}) {
        CHECK_FALSE(open(session, QString::fromStdString(folder.path(name))));
        CHECK(session.recipe() == before);
        CHECK(session.modified());
    }
    CHECK_FALSE(save(session, QString::fromStdString(folder.path("no/such/a.loom"))));
    CHECK(session.modified());
}

TEST_CASE("what a file holds besides the recipe is saved with it again", "[session][files]") {
    const TemporaryFolder folder;
    LoomFile file;
    file.recipe = fresh_recipe();
    file.recipe.assets["assets/0a.png"] = make_asset("assets/0a.png", "picture");
    file.recipe.unknown = R"({"later": "assets/0a.png"})";
    REQUIRE(write_loom(folder.path("a.loom"), file));
    Session session;
    REQUIRE(open(session, QString::fromStdString(folder.path("a.loom"))));
    QImage picture(20, 10, QImage::Format_RGB32);
    picture.fill(Qt::red);
    REQUIRE(save(session, QString::fromStdString(folder.path("b.loom")), picture));
    const auto back = read_loom(folder.path("b.loom"));
    REQUIRE(back->recipe.assets.contains("assets/0a.png"));
    CHECK(back->recipe.assets.at("assets/0a.png")->bytes == "picture");
    CHECK(QImage::fromData(QByteArray::fromStdString(back->preview_png)).size() == QSize(20, 10));
}

TEST_CASE("recent files: newest first, each once, gone ones left out", "[session][files]") {
    const TemporaryFolder folder;
    for (const char* name : {"a", "b", "c"}) {
        REQUIRE(write_file(folder.path(name), "x"));
        RecentFiles().add(QString::fromStdString(folder.path(name)));
    }
    RecentFiles().add(QString::fromStdString(folder.path("a")));
    std::filesystem::remove(folder.path("b"));
    const QStringList paths = RecentFiles::present(RecentFiles().paths());
    REQUIRE(paths.size() >= 2);
    CHECK(paths[0].endsWith("/a"));
    CHECK(paths[1].endsWith("/c"));
    CHECK_FALSE(paths.contains(QString::fromStdString(folder.path("b"))));
}
