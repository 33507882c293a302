// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How the window shares its room: the cloth first, at any size, alone, on a second screen and under a loupe.
#include <QScrollArea>
#include <QToolButton>
#include <QUndoStack>

#include "app/help/help_sheet.h"
#include "app/loom/tuning_desk.h"
#include "core/catalogue/description.h"
#include "core/recipe/container.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Carriage oak with its levels selected, in a window of so many pixels.
struct Oak : Fixture {
    Oak(int width, int height) {
        window.resize(width, height);
        session().start_new(read_loom(sample("carriage-oak"))->recipe);
        for (const Step& step : session().recipe().strands[2]->steps)
            if (step.kind == "levels") session().select({session().recipe().strands[2]->id, step.id});
        QCoreApplication::processEvents();
    }
    double cloth_side() {
        const QRectF tile = loom().cloth()->canvas()->tile_rect().intersected(QRectF(loom().cloth()->canvas()->rect()));
        return std::min(tile.width(), tile.height());
    }
    /// Whether all of it is seen inside the area it is scrolled in.
    static bool seen(const QWidget* widget) { return widget->visibleRegion().boundingRect() == widget->rect(); }
    int rows_seen() {
        int rows = 0;
        for (const Parameter& p : find_step("levels")->parameters)
            if (const QWidget* editor = loom().desk()->editor(p.id)) rows += seen(editor);
        return rows;
    }
    int strands_seen() {
        int count = 0;
        for (const StrandRef& strand : session().recipe().strands) count += seen(loom().strands()->join(strand->id));
        return count;
    }
};

}  // namespace

TEST_CASE("the cloth has most of the window, beside five strands and six rows of the desk", "[window][layout]") {
    Oak oak(1280, 800);
    CHECK(oak.cloth_side() >= 620);
    CHECK(oak.strands_seen() >= 5);
    CHECK(oak.rows_seen() >= 6);
    // Measures stand in one line under it.
    const QWidget* measures = oak.loom().measures();
    CHECK(measures->height() <= 34);
    CHECK(measures->mapTo(&oak.window, QPoint(0, 0)).y() >
          oak.loom().cloth()->mapTo(&oak.window, QPoint(0, oak.loom().cloth()->height() - 1)).y());
}

TEST_CASE("a small screen can be worked on, and a large one gives its room to the cloth", "[window][layout]") {
    for (const auto& [width, height, side, rows] : {std::tuple{1024, 700, 380, 4}, {1920, 1080, 900, 6}, {3840, 2160, 1900, 6}}) {
        Oak oak(width, height);
        INFO(width << "x" << height);
        // Which of the views asks for too much.
        for (const Page* page : oak.window.findChildren<Page*>())
            UNSCOPED_INFO(page->id().toStdString() << " wants " << page->minimumSizeHint().width());
        CHECK(oak.window.width() == width);
        CHECK(oak.window.height() == height);
        CHECK(oak.cloth_side() >= side);
        CHECK(oak.rows_seen() >= rows);
        CHECK(oak.strands_seen() >= 4);
    }
}

TEST_CASE("a command shows the cloth alone and brings the rest back", "[window][layout]") {
    Oak oak(1280, 800);
    const int before = oak.loom().cloth()->width();
    oak.loom().strands()->focus_selected();
    oak.trigger("cloth-alone");
    QCoreApplication::processEvents();
    CHECK(oak.loom().alone());
    CHECK_FALSE(oak.loom().strands()->isVisible());
    CHECK_FALSE(oak.loom().desk()->isVisible());
    CHECK(oak.loom().cloth()->width() == oak.window.width());
    CHECK(oak.loom().cloth()->alone_button()->isChecked());
    CHECK(oak.loom().cloth()->canvas()->hasFocus());
    QTest::mouseClick(oak.loom().cloth()->alone_button(), Qt::LeftButton);
    QCoreApplication::processEvents();
    CHECK_FALSE(oak.loom().alone());
    CHECK(oak.loom().desk()->isVisible());
    CHECK(oak.loom().cloth()->width() == before);
}

TEST_CASE("the cloth goes to a window of its own, where keys work as ever, and comes back when that is closed",
          "[window][layout]") {
    Fixture f;
    f.trigger("cloth-apart");
    REQUIRE(f.loom().apart());
    QWidget* apart = f.loom().second_window();
    CHECK(f.loom().cloth()->window() == apart);
    CHECK(f.loom().measures()->window() == apart);
    CHECK(f.loom().strands()->window() == &f.window);
    QApplication::setActiveWindow(apart);
    f.session().set_value({"a", "s1", "size-x"}, Value(77.0));
    f.rendered();
    f.loom().cloth()->canvas()->setFocus();
    QTest::keyClick(apart->windowHandle(), Qt::Key_Z, Qt::ControlModifier);
    CHECK(f.number("a", "s1", "size-x") != 77);
    // Alone is of the page; it takes the cloth back first.
    apart->close();
    CHECK_FALSE(f.loom().apart());
    CHECK(f.loom().cloth()->window() == &f.window);
    CHECK(f.loom().cloth()->isVisible());
    CHECK_FALSE(f.window.action("cloth-apart")->isChecked());
    f.trigger("cloth-apart");
    f.trigger("cloth-alone");
    CHECK_FALSE(f.loom().apart());
    CHECK(f.loom().alone());
}

TEST_CASE("L, held, shows the pixels under the pointer four times as large", "[window][cloth]") {
    Fixture f;
    ClothCanvas* canvas = f.loom().cloth()->canvas();
    canvas->setFocus();
    QCursor::setPos(f.window.mapToGlobal(QPoint(2, 2)));
    const QImage plain = canvas->grab().toImage();
    QTest::keyPress(canvas, Qt::Key_L);
    REQUIRE(canvas->shows_loupe());
    const QImage glass = canvas->grab().toImage();
    QTest::keyRelease(canvas, Qt::Key_L);
    CHECK_FALSE(canvas->shows_loupe());
    CHECK(glass != plain);
    CHECK(canvas->grab().toImage() == plain);
    // Away from the pointer, which is nowhere near, it stands in the middle: runs of equal pixels are four long.
    const QPoint middle = canvas->rect().center();
    const QImage& picture = canvas->image();
    const QRectF tile = canvas->tile_rect();
    int right = 0, all = 0;
    for (int dy = -40; dy <= 40; dy += 7)
        for (int dx = -40; dx <= 40; dx += 7) {
            const QPointF at = QRectF(canvas->rect()).center();
            const double u = (at.x() - tile.left()) / tile.width() * picture.width() + (middle.x() + dx + 0.5 - at.x()) / 4,
                         v = (at.y() - tile.top()) / tile.height() * picture.height() + (middle.y() + dy + 0.5 - at.y()) / 4;
            // Not where two pixels meet.
            if (std::abs(u - std::round(u)) < 0.15 || std::abs(v - std::round(v)) < 0.15) continue;
            const QColor wanted = picture.pixelColor(wrap(static_cast<int>(std::floor(u)), picture.width()),
                                                     wrap(static_cast<int>(std::floor(v)), picture.height()));
            const QColor is = glass.pixelColor(middle.x() + dx, middle.y() + dy);
            ++all;
            right += std::abs(is.red() - wanted.red()) <= 2 && std::abs(is.green() - wanted.green()) <= 2;
        }
    REQUIRE(all > 40);
    CHECK(right > all * 9 / 10);
}

TEST_CASE("help on a step stands beside the cloth with its pictures, and goes again", "[window][help][rendering]") {
    Fixture f;
    f.click(f.card("a", "s2"));
    f.trigger("step-help");
    REQUIRE(f.loom().shows_help());
    // The cloth and the desk stay.
    CHECK(f.loom().cloth()->isVisible());
    CHECK(f.loom().desk()->isVisible());
    const QString words = f.loom().help()->text()->toPlainText();
    const StepDescription& levels = *find_step("levels");
    CHECK(words.contains(QString::fromUtf8(levels.summary.data(), static_cast<int>(levels.summary.size()))));
    for (const Parameter& p : levels.parameters)
        CHECK(words.contains(QString::fromUtf8(p.title.data(), static_cast<int>(p.title.size()))));
    REQUIRE(QTest::qWaitFor([&] { return f.loom().help()->complete(); }, patience));
    const auto picture = [&](const char* name) {
        return f.loom().help()->text()->loadResource(QTextDocument::ImageResource, QUrl(name)).value<QImage>();
    };
    for (const char* name : {"before", "after"}) CHECK_FALSE(picture(name).isNull());
    // Its pictures follow what is tuned; those there were stay until new ones come.
    const QImage before = picture("before"), after = picture("after");
    f.session().set_value({"a", "s2", "in-black"}, Value(0.6), "drag");
    f.session().set_value({"a", "s2", "in-black"}, Value(0.8), "drag");
    CHECK_FALSE(picture("after").isNull());
    REQUIRE(QTest::qWaitFor([&] { return f.loom().help()->complete(); }, patience));
    CHECK(picture("before") == before);
    CHECK(picture("after") != after);
    // A step that comes first has nothing before it.
    f.trigger("move-up");
    CHECK_FALSE(f.loom().help()->text()->toPlainText().contains("Before and after"));
    f.trigger("undo");
    CHECK(f.loom().help()->text()->toPlainText().contains("Before and after"));
    // It goes with what is selected.
    f.session().select({"b", "s2"});
    CHECK(f.loom().help()->text()->toPlainText().contains("Directional blur"));
    f.session().select({"a", "s2"});
    QTest::keyClick(f.loom().help()->text(), Qt::Key_Escape);
    CHECK_FALSE(f.loom().shows_help());
    CHECK(f.card("a", "s2")->hasFocus());
    f.trigger("step-help");
    f.session().select({"a", ""});
    CHECK_FALSE(f.loom().shows_help());
}

TEST_CASE("the sheet of keys has every command that has one", "[window][help]") {
    Fixture f;
    f.trigger("keys");
    REQUIRE(f.loom().shows_help());
    const QString words = f.loom().help()->text()->toPlainText();
    int count = 0;
    for (const QAction* action : f.window.findChildren<QAction*>())
        if (!action->shortcut().isEmpty()) {
            INFO(action->text().toStdString());
            CHECK(words.contains(action->shortcut().toString(QKeySequence::NativeText)));
            ++count;
        }
    CHECK(count > 20);
    f.trigger("step-help");
    CHECK_FALSE(f.loom().shows_help());
}
