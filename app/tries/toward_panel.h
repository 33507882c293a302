// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a search toward the reference picture may change, and the search itself: it tells the best as they come, can be stopped at
// any time, and changes nothing of the recipe.
#pragma once

#include <QTimer>
#include <QWidget>
#include <vector>

#include "app/document/session.h"
#include "core/measure/toward.h"
#include "core/recipe/variations.h"
#include "app/document/background.h"

class QCheckBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace loom {

class PlaceButton;
class ReferencePicture;

class TowardPanel : public QWidget {
    Q_OBJECT
public:
    TowardPanel(Session& session, ReferencePicture& reference, QWidget* parent = nullptr);

    /// Offers the dials of the recipe, and the values that were added to them.
    void follow();
    void search();
    void stop();
    bool searching() const { return searching_.under_way(); }
    /// How far it is, or what is missing, as a line.
    QString told() const;
    QPushButton* search_button() const { return search_; }
    PlaceButton* add_button() const { return add_; }
    const std::vector<QCheckBox*>& boxes() const { return boxes_; }

signals:
    void found(const loom::Axis& best);
    void told_changed();

private:
    void add(const Address& at);
    void rebuild();
    std::vector<Knob> chosen() const;
    void show_state();
    Axis axis_of(const std::vector<Found>& best) const;

    Session& session_;
    ReferencePicture& reference_;
    QVBoxLayout* lines_;
    QPushButton* search_;
    PlaceButton* add_;
    QLabel* hint_;
    std::vector<Knob> offered_;
    std::vector<QCheckBox*> boxes_;
    std::vector<Address> added_;
    std::string shape_;
    // Of the search that runs, or ran last.
    Recipe from_;
    std::vector<Knob> knobs_;
    int tried_ = 0;
    double nearest_ = -1;
    QString failure_;
    std::uint64_t document_ = 0;
    Task searching_;
    Background client_;
};

}  // namespace loom
