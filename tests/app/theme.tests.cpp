// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Whether the window's colours can be read, and judge nothing.
#include <QToolButton>
#include <cmath>

#include "app/theme/theme.h"
#include "app/tries/try_view.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Relative luminance and contrast as in the Web Content Accessibility Guidelines 2.2.
double luminance(const QColor& colour) {
    const auto linear = [](double c) { return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4); };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) + 0.0722 * linear(colour.blueF());
}
double contrast(const QColor& a, const QColor& b) {
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

}  // namespace

TEST_CASE("text can be read in both themes, and greys have no tint", "[window][theme]") {
    const theme::Scheme before = theme::scheme();
    for (theme::Scheme scheme : {theme::Scheme::light, theme::Scheme::dark}) {
        theme::apply(*qApp, scheme);
        const theme::Colours& c = theme::colours();
        for (const QColor& text : {c.text, c.faint, c.accent, c.good, c.warn})
            for (const QColor& ground : {c.window, c.panel, c.card, c.field}) {
                INFO(text.name().toStdString() << " on " << ground.name().toStdString());
                CHECK(contrast(text, ground) >= 4.5);
            }
        CHECK(contrast(c.on_accent, c.accent) >= 4.5);
        for (const QColor& grey : {c.window, c.panel, c.card, c.field, c.line, c.text, c.faint, c.thread, c.cloth_ground})
            CHECK((grey.red() == grey.green() && grey.green() == grey.blue()));
    }
    theme::apply(*qApp, before);
    // The formula itself: black on white.
    CHECK(contrast(QColor(Qt::black), QColor(Qt::white)) == Approx(21));
}

TEST_CASE("what was built in one theme is as readable in the other", "[window][theme]") {
    Fixture f;
    f.window.show_page(f.window.try_view());
    const auto readable = [&] {
        const QImage window = f.window.grab().toImage();
        for (QWidget* each : f.window.try_view()->findChildren<QWidget*>()) {
            if (!each->isVisible() || each->size().isEmpty() ||
                !(qobject_cast<QPushButton*>(each) || qobject_cast<QToolButton*>(each)))
                continue;
            // Of a control's own pixels, its ground is what most of them have.
            const QImage seen = window.copy(QRect(each->mapTo(&f.window, QPoint(0, 0)), each->size()))
                                    .scaled(24, 24)
                                    .convertToFormat(QImage::Format_RGB32);
            double light = 0;
            for (int y = 0; y < seen.height(); ++y)
                for (int x = 0; x < seen.width(); ++x) light += qGray(seen.pixel(x, y)) / 255.0 / (24 * 24);
            const auto* button = qobject_cast<QAbstractButton*>(each);
            INFO(button->text().toStdString() << " " << light);
            if (each->property("chip").toBool() || button->text() == "Take it") continue;
            CHECK((light > 0.5) == (theme::scheme() == theme::Scheme::light));
        }
    };
    readable();
    f.trigger("dark");
    QTest::qWait(30);
    readable();
    f.trigger("dark");
}
