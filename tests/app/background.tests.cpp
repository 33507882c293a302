// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What is stopped while it waits is heard of, what runs long keeps nobody waiting, and what keeps somebody waiting is told.
#include <QMessageBox>
#include <QSignalSpy>
#include <atomic>
#include <future>
#include <thread>

#include "app/document/preferences.h"
#include "app/application.h"
#include "app/document/journal.h"
#include "app/document/render_service.h"
#include "app/repeat/repeat_view.h"
#include "app/watchdog.h"
#include "core/base/files.h"
#include "core/base/priority.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Holds one of the scheduler's workers until it is let go.
class Held {
public:
    explicit Held(Urgency urgency) : client_(scheduler(), "held") {
        Work work;
        work.urgency = urgency;
        work.run = [gate = gate_.get_future().share(), &begun = begun_](const WorkContext&) -> Result<Done> {
            begun = true;
            gate.wait();
            return Done{};
        };
        task_ = client_.submit(std::move(work));
        REQUIRE(QTest::qWaitFor([&] { return begun_.load(); }, patience));
    }
    ~Held() { let_go(); }
    void let_go() {
        if (!held_) return;
        held_ = false;
        gate_.set_value();
        // The gate and the flag are ours.
        while (task_.under_way()) QTest::qWait(1);
    }

private:
    std::promise<void> gate_;
    std::atomic<bool> begun_ = false;
    bool held_ = true;
    Client client_;
    Task task_;
};

QPushButton* button_of(QMessageBox& box, const char* words) {
    for (QAbstractButton* button : box.buttons())
        if (button->text().remove('&').contains(words)) return qobject_cast<QPushButton*>(button);
    return nullptr;
}

}  // namespace

TEST_CASE("an export that is stopped while it waits is over, and the next one is written", "[window][export][background]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* view = export_into(f, folder, 32);
    Held worker(Urgency::lengthy);
    QTest::mouseClick(view->write_button(), Qt::LeftButton);
    REQUIRE(view->writing());
    QTest::mouseClick(view->stop_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !view->writing(); }, patience));
    CHECK(view->message().contains("nothing was written"));
    CHECK(folder.files().empty());
    worker.let_go();
    REQUIRE(QTest::qWaitFor([&] { return view->write_button()->isEnabled(); }, patience));
    QTest::mouseClick(view->write_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !view->writing(); }, patience));
    CHECK(folder.files().size() == 1);
}

TEST_CASE("looking for a remedy is stopped while it waits", "[window][repeat][background]") {
    Fixture f;
    f.session().start_new(recipe_of({strand_of("a", {{"gradient", {}}, {"grain", {}, 3}})}, 256));
    f.rendered();
    f.window.show_page(f.window.repeat_view());
    Held worker(Urgency::search);
    f.window.repeat_view()->apply(Remedy::close_seams);
    CHECK(f.window.repeat_view()->searching());
    for (QPushButton* button : f.window.repeat_view()->findChildren<QPushButton*>())
        if (button->text() == "Stop looking") QTest::mouseClick(button, Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !f.window.repeat_view()->searching(); }, patience));
    CHECK(f.window.repeat_view()->message().contains("given up"));
}

TEST_CASE("frames under a brush go on after the document has changed while one waited", "[services][background]") {
    RenderService service;
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}}})}, 200);
    QSignalSpy parts(&service, &RenderService::part_ready);
    {
        Held worker(Urgency::live);
        service.submit_part(recipe, QRectF(10, 10, 40, 40), 1);
        service.submit_part(recipe, QRectF(20, 10, 40, 40), 1);
        service.submit(recipe, 2);
    }
    REQUIRE(QTest::qWaitFor([&] { return !service.busy(); }, patience));
    service.submit_part(recipe, QRectF(10, 10, 40, 40), 2);
    REQUIRE(QTest::qWaitFor([&] { return !parts.isEmpty(); }, patience));
    CHECK(parts.back()[3].toULongLong() == 2);
}

TEST_CASE("unsaved changes are kept and recipes saved while exports and searches run", "[safety][journal][background]") {
    TemporaryFolder temporary;
    Held lengthy(Urgency::lengthy), search(Urgency::search), reading(Urgency::reading);
    Session session;
    Journal journal(session, QString::fromStdString(temporary.path("unsaved")), [] { return QImage(); });
    session.start_new(fresh_recipe());
    QSignalSpy written(&journal, &Journal::written);
    session.set_value({"strand", "s1", "octaves"}, Value(3.0));
    CHECK((written.count() > 0 || written.wait(patience)));
    RecipeFiles files(session);
    bool there = false;
    files.save(QString::fromStdString(temporary.path("a.loom")), {}, [&] { there = true; });
    CHECK(QTest::qWaitFor([&] { return there; }, patience));
}

TEST_CASE("of what is unsaved only the newest state waits to be kept", "[safety][journal][background]") {
    TemporaryFolder temporary;
    Session session;
    Journal journal(session, QString::fromStdString(temporary.path("unsaved")), [] { return QImage(); });
    session.start_new(fresh_recipe());
    QSignalSpy written(&journal, &Journal::written);
    {
        Held worker(Urgency::journal);
        for (double value : {2.0, 3.0, 4.0}) {
            session.set_value({"strand", "s1", "octaves"}, Value(value));
            QTest::qWait(static_cast<int>(1000 * preferences().journal_seconds) + 100);
        }
    }
    REQUIRE((written.count() > 0 || written.wait(patience)));
    QTest::qWait(100);
    CHECK(written.count() == 1);
    CHECK(as<double>(*value_at(read_loom(journal.file().toStdString())->recipe, {"strand", "s1", "octaves"})) == 4);
}

TEST_CASE("closing while an export is written asks: finish, stop or stay", "[window][close][export][background]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* view = export_into(f, folder, 32);
    auto worker = std::make_unique<Held>(Urgency::lengthy);
    QTest::mouseClick(view->write_button(), Qt::LeftButton);
    REQUIRE(view->writing());
    const auto ask = [&] {
        CHECK_FALSE(f.window.close());
        auto* box = f.window.findChild<QMessageBox*>("exporting");
        REQUIRE(box);
        return box;
    };
    QTest::mouseClick(button_of(*ask(), "Stay"), Qt::LeftButton);
    QTest::qWait(20);
    CHECK(f.window.isVisible());
    CHECK(view->writing());
    // Stopped, it leaves no files.
    QTest::mouseClick(button_of(*ask(), "Stop"), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !f.window.isVisible(); }, patience));
    CHECK(folder.files().empty());
    // Finished, they are there.
    worker.reset();
    f.window.show();
    REQUIRE(QTest::qWaitFor([&] { return view->write_button()->isEnabled(); }, patience));
    worker = std::make_unique<Held>(Urgency::lengthy);
    QTest::mouseClick(view->write_button(), Qt::LeftButton);
    QTest::mouseClick(button_of(*ask(), "Finish"), Qt::LeftButton);
    QTest::qWait(20);
    CHECK(f.window.isVisible());
    worker.reset();
    REQUIRE(QTest::qWaitFor([&] { return !f.window.isVisible(); }, patience));
    CHECK(folder.files().size() == 1);
}

TEST_CASE("what is changed while another file is being read is asked about before that is shown", "[window][files][background]") {
    Fixture f;
    const TemporaryFolder folder;
    const QString path = QString::fromStdString(folder.path("other.loom"));
    LoomFile other;
    other.recipe = fresh_recipe();
    other.recipe.name = "Other";
    REQUIRE(write_loom(path.toStdString(), other));
    {
        Held worker(Urgency::reading);
        f.window.open(path);
        CHECK(f.window.files()->opening());
        f.session().set_value({"a", "s1", "octaves"}, Value(2.0));
        // Somebody who waits is told for what.
        CHECK(QTest::qWaitFor([&] { return f.window.message().contains("Opening other.loom"); }, patience));
    }
    auto* box = dialog<QMessageBox>(f.window);
    CHECK(box->text().contains("before opening other"));
    QTest::mouseClick(box->button(QMessageBox::Cancel), Qt::LeftButton);
    CHECK(f.number("a", "s1", "octaves") == 2);
    f.session().undo_stack().setClean();
}

TEST_CASE("what keeps somebody waiting is told, with the event that waits", "[background]") {
    class Slow : public QObject {
    public:
        using QObject::QObject;
        std::function<void()> work;

    protected:
        bool event(QEvent* event) override {
            if (event->type() != QEvent::User) return QObject::event(event);
            work();
            return true;
        }
    };
    const TemporaryFolder folder;
    REQUIRE(write_file(folder.path("a"), "x"));
    // The watch over the other tests is not told of this one's faults.
    auto& app = *static_cast<Application*>(QCoreApplication::instance());
    QStringList told;
    {
        double stolen = 0;  // of milliseconds, by a host of ours
        Watchdog dog([&](const QString& fault) { told << fault; }, Watchdog::longest_ms, [&] { return stolen; });
        Watchdog* const before = std::exchange(app.watchdog, &dog);
        Slow slow;
        slow.setObjectName("turtle");
        const auto send = [&](std::function<void()> work) {
            slow.work = std::move(work);
            QEvent event(QEvent::User);
            QCoreApplication::sendEvent(&slow, &event);
        };
        send([] {});
        send([] { QTest::qSleep(150); });  // waits, which costs no time of the processor
        CHECK(told.isEmpty());
        const auto burn = [] {
            volatile double x = 1;
            timespec now{};
            const auto ms = [&] {
                clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
                return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) / 1e6;
            };
            for (const double begin = ms(); ms() - begin < 1.2 * Watchdog::longest_ms;) x = x * 1.0000001;
        };
        send(burn);
        REQUIRE(told.size() == 1);
        CHECK(told[0].startsWith("User at"));
        CHECK(told[0].contains("turtle"));
        // What the host took meanwhile is not counted, the rest is.
        told.clear();
        send([&] { burn(), stolen += 0.5 * Watchdog::longest_ms; });
        CHECK(told.isEmpty());
        send([&] { burn(), burn(), stolen += 0.5 * Watchdog::longest_ms; });
        CHECK(told.size() == 1);
        told.clear();
        send([&] { (void)read_file(folder.path("a"), 10); });
        REQUIRE(told.size() == 1);
        CHECK(told[0].startsWith("reading a file within User"));
        // An event loop within is not part of it, as a menu's; on other threads and outside of events everything is fine.
        told.clear();
        send([&] {
            QEventLoop loop;
            QTimer::singleShot(0, &loop,
                               [&] { std::thread([&] { (void)read_file(folder.path("a"), 10); }).join(), loop.quit(); });
            loop.exec();
        });
        (void)read_file(folder.path("a"), 10);
        CHECK(told.isEmpty());
        app.watchdog = before;
    }
    if (app.watchdog) app.watchdog->watch();
}

TEST_CASE("what works in the background stands back behind the window", "[services][background]") {
    Background client("standing back", [](const QString& why) { FAIL(why.toStdString()); });
    for (Urgency urgency : {Urgency::live, Urgency::lengthy}) {
        std::atomic<int> own{-1}, shared{-1};
        Work work;
        work.urgency = urgency;
        work.run = [&](const WorkContext& context) -> Result<Done> {
            own = steps_back();
            // Whoever takes a range stands back too.
            std::atomic<int> least{100};
            for_ranges(context.job, 256, 1, [&](int, int) {
                int now = least.load();
                while (steps_back() < now && !least.compare_exchange_weak(now, steps_back())) {
                }
            });
            shared = least.load();
            return Done{};
        };
        const Task task = client.submit(std::move(work));
        REQUIRE(QTest::qWaitFor([&] { return !task.under_way(); }, patience));
        CHECK(own > 0);
        CHECK(shared > 0);
    }
    CHECK(steps_back() == 0);
}
