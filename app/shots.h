// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures of the window on the demo, for the documentation.
#pragma once

#include <QObject>
#include <QStringList>
#include <functional>

namespace loom {

class MainWindow;

class Shots : public QObject {
    Q_OBJECT
public:
    struct Scene;
    /// Each order is VIEW=FILE.
    Shots(MainWindow& window, QStringList orders);
    /// Takes them one after the other, then ends the program; exit code 2 for a view that does not exist.
    void begin();
    /// The views that can be taken.
    static QStringList views();

private:
    void next();
    /// Takes the picture once the view is complete.
    void draw(int moves, const std::function<void()>& take);
    void prepare(const Scene& scene, const std::function<void()>& take);
    void show(const Scene& scene, const std::function<void()>& take);
    void when(std::function<bool()> ready, std::function<void()> then);

    MainWindow& window_;
    QStringList orders_;
};

}  // namespace loom
