// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QAction>
#include <QApplication>
#include <QCheckBox>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTest>

#include "app/document/recipe_files.h"
#include "app/document/sample_book.h"
#include "app/export/export_view.h"
#include "app/export/map_card.h"
#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/loom/measures_bar.h"
#include "app/loom/step_finder.h"
#include "app/loom/strands_view.h"
#include "app/main_window.h"
#include "tests/support/support.h"

namespace loom::test {

/// Milliseconds; much more than anything takes, also under sanitizers on a machine that does other things besides.
constexpr int patience = 180000;

/// A window on a small recipe of two strands, shown and rendered.
struct Fixture {
    MainWindow window;
    Fixture() {
        // Whatever the screen is.
        window.resize(1280, 800);
        window.show();
        REQUIRE(QTest::qWaitForWindowExposed(&window));
        QApplication::setActiveWindow(&window);
        Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 1}, {"levels", {{"in-black", 0.3}}}, {"gradientmap", {}}}),
                                   strand_of("b", {{"static", {}, 2}, {"directional", {}}}, {Blend::soft_light, 60, false})},
                                  320);
        recipe.name = "Trial";
        window.session().start_new(recipe);
        window.show_page(window.loom_view());
        rendered();
    }
    Session& session() { return window.session(); }
    LoomView& loom() { return *window.loom_view(); }
    StepCard* card(const char* strand, const char* step) { return loom().strands()->card(strand, step); }
    void rendered() {
        REQUIRE(QTest::qWaitFor([this] { return !loom().measures()->stale(); }, patience));
    }
    void trigger(const char* id) {
        QAction* action = window.action(id);
        REQUIRE(action);
        REQUIRE(action->isEnabled());
        action->trigger();
    }
    std::string order(const char* strand) {
        std::string ids;
        for (const Step& step : session().recipe().strand(strand)->steps) ids += step.kind + " ";
        return ids;
    }
    void click(QWidget* widget) { QTest::mouseClick(widget, Qt::LeftButton, {}, QPoint(20, 12)); }
    double number(const char* strand, const char* step, const char* parameter) {
        return as<double>(*value_at(session().recipe(), {strand, step, parameter}));
    }
};

/// Saves as the window does; whether it is there.
inline bool saved(MainWindow& window, const QString& path) {
    bool there = false;
    window.save_to(path, [&] { there = true; });
    REQUIRE(QTest::qWaitFor([&] { return !window.files()->busy(); }, patience));
    return there;
}

/// Opens as the window does, or fails as it does.
inline void open_in(MainWindow& window, const QString& path) {
    window.open(path);
    REQUIRE(QTest::qWaitFor([&] { return !window.files()->busy(); }, patience));
}

inline void open_sample(MainWindow& window, const QString& path) {
    REQUIRE(QTest::qWaitFor([&] { return !window.book().reading(); }, patience));
    window.open_sample(path);
    REQUIRE(QTest::qWaitFor([&] { return !window.files()->busy(); }, patience));
}

/// How many steps a finder offers that is not a mask's.
inline int steps_outside_masks() {
    int count = 0;
    for (const StepDescription& step : all_steps()) count += step.family != Family::mask;
    return count;
}

template <class T>
T* dialog(QWidget& window) {
    T* found = nullptr;
    REQUIRE(QTest::qWaitFor([&] { return (found = window.findChild<T*>()) && found->isVisible(); }, patience));
    return found;
}

/// The export as it opens, set to write the colour alone, as a PNG called "cloth" of `size` pixels, into `folder`.
inline ExportView* export_into(Fixture& f, const TemporaryFolder& folder, int size) {
    f.trigger("export");
    ExportView* shown = f.window.export_view();
    REQUIRE(shown->isVisible());
    ExportPreset preset;
    preset.pictures = {{Map::colour, "", {}, PictureFormat::png}};
    preset.sizes = {size}, preset.names = "cloth";
    shown->folder_field()->setText(QString::fromStdString(folder.path()));
    shown->set_preset(preset);
    return shown;
}

}  // namespace loom::test
