// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Nothing is lost: the journal of unsaved changes, files that two windows have open, files that somebody else has written.
#include <QDir>
#include <QFileDialog>
#include <QLabel>
#include <QMessageBox>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>

#include "app/document/preferences.h"
#include "app/document/journal.h"
#include "app/document/open_file.h"
#include "app/document/scheduler.h"
#include "app/widgets/notice_bar.h"
#include "core/base/files.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

QStringList kept(const QString& folder) { return QDir(folder).entryList({"*.loom"}, QDir::Files); }

std::function<QImage()> red() {
    return [] {
        QImage image(64, 64, QImage::Format_RGB888);
        image.fill(Qt::red);
        return image;
    };
}

/// A session whose changes were kept, and which is gone without having said goodbye.
void crash(const QString& folder, double octaves, const QString& path = {}) {
    Session session;
    Journal journal(session, folder, red());
    session.start_new(fresh_recipe(), path);
    QSignalSpy written(&journal, &Journal::written);
    session.set_value({"strand", "s1", "octaves"}, Value(octaves));
    REQUIRE(written.wait(patience));
}

QPushButton* answer(NoticeBar* bar, const QString& title) {
    for (QPushButton* button : bar->buttons())
        if (button->text() == title) return button;
    return nullptr;
}

/// Whether so many files are kept before long.
bool come_to(const QString& folder, int count) {
    return QTest::qWaitFor([&] { return kept(folder).size() == count; }, patience);
}

/// Written anew by somebody else, with another size.
void write_by_others(const QString& path) {
    QFile file(path);
    REQUIRE(file.open(QIODevice::Append));
    file.write("someone else");
}

}  // namespace

TEST_CASE("unsaved changes are kept until they are saved, undone or given up", "[safety][journal]") {
    TemporaryFolder temporary;
    const QString folder = QString::fromStdString(temporary.path("unsaved"));
    Session session;
    Journal journal(session, folder, red());
    session.start_new(fresh_recipe());
    CHECK(kept(folder).isEmpty());
    QSignalSpy written(&journal, &Journal::written);
    session.set_value({"strand", "s1", "octaves"}, Value(3.0));
    REQUIRE(written.wait(patience));
    CHECK(kept(folder).size() == 1);
    const auto file = read_loom(journal.file().toStdString());
    REQUIRE(file);
    CHECK(as<double>(*value_at(file->recipe, {"strand", "s1", "octaves"})) == 3);
    CHECK(!file->preview_png.empty());
    session.undo_stack().undo();
    CHECK(come_to(folder, 0));
    session.undo_stack().redo();
    REQUIRE(written.wait(patience));
    session.saved(QString::fromStdString(temporary.path("a.loom")), session.content());
    CHECK(come_to(folder, 0));
    session.set_value({"strand", "s1", "octaves"}, Value(5.0));
    REQUIRE(written.wait(patience));
    // Another recipe is begun only after the person has given this one up.
    session.start_new(fresh_recipe());
    CHECK(come_to(folder, 0));
    // A write that is under way when it is given up leaves nothing behind.
    session.set_value({"strand", "s1", "octaves"}, Value(5.0));
    QTest::qWait(static_cast<int>(1000 * preferences().journal_seconds) + 20);
    journal.give_up();
    CHECK(come_to(folder, 0));
}

TEST_CASE("what a crash left behind is found, with its picture, and not what another window holds", "[safety][journal]") {
    TemporaryFolder temporary;
    const QString folder = QString::fromStdString(temporary.path("unsaved"));
    crash(folder, 2, "/somewhere/oak.loom");
    Session live;
    Journal other(live, folder, red());
    live.start_new(fresh_recipe());
    QSignalSpy written(&other, &Journal::written);
    live.set_value({"strand", "s1", "octaves"}, Value(9.0));
    REQUIRE(written.wait(patience));
    CHECK(kept(folder).size() == 2);

    Session session;
    Journal journal(session, folder, red());
    std::vector<LeftBehind> found;
    QObject::connect(&journal, &Journal::found, &session, [&](const std::vector<LeftBehind>& left) { found = left; });
    journal.look();
    REQUIRE(QTest::qWaitFor([&] { return !found.empty(); }, patience));
    REQUIRE(found.size() == 1);
    CHECK(found[0].path == "/somewhere/oak.loom");
    CHECK(!found[0].content.preview_png.empty());
    CHECK(found[0].content.recipe.unknown.empty());
    journal.restore(found[0]);
    CHECK(session.modified());
    CHECK(session.path() == "/somewhere/oak.loom");
    CHECK(as<double>(*value_at(session.recipe(), {"strand", "s1", "octaves"})) == 2);
    CHECK(kept(folder).size() == 2);
    // Two that went on with it at once would write over each other.
    session.saved(QString::fromStdString(temporary.path("oak.loom")), session.content());
    CHECK(come_to(folder, 1));
}

TEST_CASE("a folder that takes nothing is told once", "[safety][journal][faults]") {
    TemporaryFolder temporary;
    REQUIRE(write_file(temporary.path("file"), "in the way"));
    Session session;
    Journal journal(session, QString::fromStdString(temporary.path("file")) + "/unsaved", red());
    session.start_new(fresh_recipe());
    QSignalSpy failed(&journal, &Journal::failed);
    session.set_value({"strand", "s1", "octaves"}, Value(3.0));
    REQUIRE(failed.wait(patience));
    session.set_value({"strand", "s1", "octaves"}, Value(4.0));
    QTest::qWait(static_cast<int>(1000 * preferences().journal_seconds) + 300);
    CHECK(failed.count() == 1);
    CHECK(failed[0][0].toString().contains("unsaved"));
}

TEST_CASE("windows of one file notice each other, and when one of them closes it", "[safety][files]") {
    TemporaryFolder temporary;
    const QString path = QString::fromStdString(temporary.path("oak.loom")),
                  folder = QString::fromStdString(temporary.path("open"));
    REQUIRE(write_file(path.toStdString(), "first"));
    OpenFile one(folder);
    one.know(path);
    CHECK(one.others() == 0);
    {
        OpenFile two(folder), third(folder);
        two.know(path);
        CHECK(two.others() == 1);
        CHECK(QTest::qWaitFor([&] { return one.others() == 1; }, patience));
        third.know(path + ".other");
        CHECK(third.others() == 0);
        CHECK(one.others() == 1);
    }
    CHECK(QTest::qWaitFor([&] { return one.others() == 0; }, patience));
}

TEST_CASE("a file that somebody else has written is noticed, one's own saving is not", "[safety][files]") {
    TemporaryFolder temporary;
    const QString path = QString::fromStdString(temporary.path("oak.loom"));
    REQUIRE(write_file(path.toStdString(), "first"));
    OpenFile file(QString::fromStdString(temporary.path("open")));
    file.know(path);
    QSignalSpy told(&file, &OpenFile::changed_by_others);
    REQUIRE(write_file(path.toStdString(), "one's own"));
    file.know(path);
    QTest::qWait(200);
    CHECK(told.count() == 0);
    // Written into, and replaced as a whole.
    write_by_others(path);
    REQUIRE((told.count() > 0 || told.wait(patience)));
    CHECK(file.changed());
    file.know(path);
    CHECK(!file.changed());
    REQUIRE(write_file(path.toStdString(), "replaced by another one"));
    REQUIRE(QTest::qWaitFor([&] { return told.count() >= 2; }, patience));
    QFile::remove(path);
    CHECK(!file.changed());
}

TEST_CASE("the window offers what was left behind and goes on with it", "[window][safety]") {
    TemporaryFolder temporary;
    const QString folder = QString::fromStdString(temporary.path(""));
    crash(folder + "/unsaved", 7);
    crash(folder + "/unsaved", 8);
    Fixture f;
    f.window.keep_safe(folder);
    REQUIRE(QTest::qWaitFor([&] { return f.window.notices().size() == 2; }, patience));
    NoticeBar* bar = f.window.notices().front();
    CHECK(bar->text().contains("was not saved"));
    CHECK(bar->text().contains("a minute ago"));
    bool pictured = false;
    for (const QLabel* label : bar->findChildren<QLabel*>()) pictured = pictured || !label->pixmap().isNull();
    CHECK(pictured);
    answer(bar, "Go on with it")->click();
    CHECK(f.session().modified());
    CHECK(f.number("strand", "s1", "octaves") >= 7);
    CHECK(f.window.notices().size() == 1);
    answer(f.window.notices().front(), "Delete it")->click();
    CHECK(come_to(folder + "/unsaved", 1));
    // Undoing is what it always was, and closing after giving up leaves nothing.
    f.window.journal()->give_up();
    CHECK(come_to(folder + "/unsaved", 0));
}

TEST_CASE("saving over what somebody else wrote is asked about first", "[window][safety][files]") {
    TemporaryFolder temporary;
    const QString path = QString::fromStdString(temporary.path("mine.loom"));
    Fixture f;
    f.window.keep_safe(QString::fromStdString(temporary.path("settings")));
    REQUIRE(saved(f.window, path));
    f.session().set_value({"a", "s1", "octaves"}, Value(2.0));
    f.trigger("save");
    REQUIRE(QTest::qWaitFor([&] { return !f.session().modified(); }, patience));
    f.session().set_value({"a", "s1", "octaves"}, Value(3.0));
    write_by_others(path);
    REQUIRE(QTest::qWaitFor([&] { return !f.window.notices().isEmpty(); }, patience));
    CHECK(f.window.notices().front()->text().contains("mine.loom was written by someone else"));
    answer(f.window.notices().front(), "Keep what is here")->click();
    f.trigger("save");
    auto* box = dialog<QMessageBox>(f.window);
    CHECK(box->text().contains("Saving replaces what they wrote"));
    QTest::keyClick(box, Qt::Key_Escape);
    QTest::qWait(50);
    CHECK(f.session().modified());
    f.trigger("save");
    box = dialog<QMessageBox>(f.window);
    for (QAbstractButton* button : box->buttons())
        if (button->text().contains("Replace")) button->click();
    REQUIRE(QTest::qWaitFor([&] { return !f.session().modified(); }, patience));
    CHECK(as<double>(*value_at(read_loom(path.toStdString())->recipe, {"a", "s1", "octaves"})) == 3);
    f.session().set_value({"a", "s1", "octaves"}, Value(4.0));
    f.trigger("save");
    CHECK(QTest::qWaitFor([&] { return !f.session().modified(); }, patience));
}

TEST_CASE("ages are said as people say them", "[safety]") {
    const QDateTime now(QDate(2026, 11, 29), QTime(15, 0));
    CHECK(age(now.addSecs(-20), now) == "a minute ago");
    CHECK(age(now.addSecs(-600), now) == "10 minutes ago");
    CHECK(age(now.addSecs(-3 * 3600), now).startsWith("today at"));
    CHECK(age(now.addSecs(-20 * 3600), now).startsWith("yesterday at"));
    CHECK(age(now.addDays(-5), now).startsWith("on "));
}
