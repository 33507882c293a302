// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A window that is pressed, dragged and typed at without sense. KEEN_LOOM_EVENTS says how often, KEEN_LOOM_SEED with which luck.
#include <QDesktopServices>
#include <QMenu>
#include <QMessageBox>
#include <random>

#include "app/application.h"
#include "core/recipe/json.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

class Monkey : public QObject {
public:
    explicit Monkey(Fixture& f, std::uint32_t seed) : f_(f), random_(seed) {
        for (const char* scheme : {"file", "http", "https"}) QDesktopServices::setUrlHandler(scheme, this, "nowhere");
        // A button's own menu holds the press until it is answered.
        connect(&answers_, &QTimer::timeout, this, [this] {
            QWidget* const menu = QApplication::activePopupWidget();
            if (!menu || !acting_) return;
            for (int k = any(6); k > 0; --k) QTest::keyClick(menu, Qt::Key_Down);
            QTest::keyClick(menu, any(2) ? Qt::Key_Return : Qt::Key_Escape);
            if (menu == QApplication::activePopupWidget()) menu->close();
        });
        answers_.start(20);
    }
    ~Monkey() override {
        for (const char* scheme : {"file", "http", "https"}) QDesktopServices::unsetUrlHandler(scheme);
    }

    void act() {
        acting_ = true;
        one();
        acting_ = false;
    }
    const QString& last() const { return last_; }

private:
    void one() {
        QWidget* window = QApplication::activePopupWidget();
        if (!window) window = QApplication::activeModalWidget();
        // What opens is played with for a while, then closed.
        if (window && any(3) == 0) {
            window->close();
            return;
        }
        if (!window) window = &f_.window;
        QList<QWidget*> all = window->findChildren<QWidget*>();
        all << window;
        all.removeIf([](const QWidget* each) { return !each->isVisible() || each->size().isEmpty() || each->isWindow(); });
        QWidget* const widget = all.isEmpty() ? window : all[any(static_cast<int>(all.size()))];
        const QPoint at(any(widget->width()), any(widget->height())), to(any(widget->width()), any(widget->height()));
        last_ = QString("%1 %2").arg(widget->metaObject()->className(), widget->accessibleName());
        const int kind = any(100);
        if (kind < 50) {
            // A press may bring another recipe, and with it another desk.
            const QPointer<QWidget> there = widget;
            const Qt::MouseButton button = kind < 45 ? Qt::LeftButton : Qt::RightButton;
            const Qt::KeyboardModifiers held = kind < 45 ? keys() : Qt::KeyboardModifiers();
            QTest::mousePress(widget, button, held, at);
            if (there) QTest::mouseRelease(widget, button, held, at);
            return;
        }
        if (kind < 53) return QTest::mouseDClick(widget, Qt::LeftButton, {}, at);
        if (kind < 68) {
            const QPointer<QWidget> there = widget;
            QTest::mousePress(widget, Qt::LeftButton, keys(), at);
            if (there) QTest::mouseMove(widget, (at + to) / 2);
            if (there) QTest::mouseMove(widget, to);
            if (there) QTest::mouseRelease(widget, Qt::LeftButton, {}, to);
            return;
        }
        if (kind < 78) {
            QWheelEvent wheel(at, widget->mapToGlobal(at), {}, {0, any(2) ? 120 : -120}, Qt::NoButton, keys(), Qt::NoScrollPhase,
                              false);
            QApplication::sendEvent(widget, &wheel);
            return;
        }
        constexpr int pressed[] = {Qt::Key_Tab,       Qt::Key_Backtab, Qt::Key_Left,  Qt::Key_Right,  Qt::Key_Up,   Qt::Key_Down,
                                   Qt::Key_Return,    Qt::Key_Escape,  Qt::Key_Space, Qt::Key_Delete, Qt::Key_Home, Qt::Key_End,
                                   Qt::Key_Backspace, Qt::Key_PageUp,  Qt::Key_C,     Qt::Key_W,      Qt::Key_1,    Qt::Key_9,
                                   Qt::Key_Minus,     Qt::Key_A,       Qt::Key_Menu};
        QWidget* const focus = QApplication::focusWidget();
        QTest::keyClick(focus && window->isAncestorOf(focus) ? focus : window,
                        static_cast<Qt::Key>(pressed[any(std::size(pressed))]), keys());
    }
    int any(int count) { return static_cast<int>(random_() % static_cast<unsigned>(std::max(1, count))); }
    int any(std::size_t count) { return any(static_cast<int>(count)); }
    Qt::KeyboardModifiers keys() {
        const int kind = any(12);
        return kind == 0 ? Qt::ShiftModifier : kind == 1 ? Qt::ControlModifier : Qt::NoModifier;
    }

    Fixture& f_;
    std::mt19937 random_;
    QTimer answers_;
    bool acting_ = false;
    QString last_;
};

}  // namespace

TEST_CASE("however a window is pressed, dragged and typed at, undo leads back to the first bytes", "[window][events][long]") {
    const auto number = [](const char* name, int usual) {
        return qEnvironmentVariableIsSet(name) ? qEnvironmentVariableIntValue(name) : usual;
    };
    const int count = number("KEEN_LOOM_EVENTS", 300), seed = number("KEEN_LOOM_SEED", 7);
    constexpr int sitting = 300;  // fewer edits than undo holds
    // A few hundred events tell nothing of how long they take where other tests run beside them; thousands do.
    auto& app = *static_cast<Application*>(QCoreApplication::instance());
    const auto back = [&app](Watchdog* dog) { app.watchdog = dog; };
    const std::unique_ptr<Watchdog, decltype(back)> dog(app.watchdog, back);
    if (!qEnvironmentVariableIsSet("KEEN_LOOM_EVENTS")) app.watchdog = nullptr;
    // Whatever it saves.
    const TemporaryFolder home;
    qputenv("HOME", QByteArray::fromStdString(home.path()));
    Fixture f;
    QString first = QString::fromStdString(write_recipe(f.session().recipe()));
    std::uint64_t document = f.session().document();
    // Another document begins anew.
    QObject::connect(&f.session(), &Session::file_changed, &f.window, [&] {
        if (f.session().document() == document) return;
        document = f.session().document();
        first = QString::fromStdString(write_recipe(f.session().recipe()));
    });
    Monkey monkey(f, static_cast<std::uint32_t>(seed));
    for (int done = 0; done < count; done += sitting) {
        for (int k = 0; k < std::min(sitting, count - done); ++k) {
            INFO("seed " << seed << ", event " << done + k << " at " << monkey.last().toStdString());
            monkey.act();
            if (k % 10 == 0) QTest::qWait(1);
            // It may have been told to close.
            if (!f.window.isVisible()) f.window.show();
        }
        while (QWidget* open =
                   QApplication::activePopupWidget() ? QApplication::activePopupWidget() : QApplication::activeModalWidget()) {
            open->close();
            QTest::qWait(1);
        }
        f.loom().brush().show_stroke(-1);
        while (f.session().undo_stack().canUndo()) f.session().undo_stack().undo();
        INFO("seed " << seed << ", after " << done + sitting << " events");
        REQUIRE(write_recipe(f.session().recipe()) == first.toStdString());
    }
    f.session().undo_stack().setClean();
    f.window.show_page(f.window.loom_view());
    f.rendered();
}
