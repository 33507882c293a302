// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A button that says which place of the recipe is meant; its menu leads by strand and step to every other.
#pragma once

#include <QToolButton>
#include <functional>

#include "core/recipe/places.h"

namespace loom {

class PlaceButton : public QToolButton {
    Q_OBJECT
public:
    /// `fits`: whether a place may be chosen.
    PlaceButton(const QString& name, std::function<bool(const Recipe&, const Address&)> fits, QWidget* parent = nullptr);

    void set_place(const Recipe& recipe, const Address& at);
    const Address& place() const { return at_; }

signals:
    void chosen(const loom::Address& at);

private:
    void fill();
    void add(const Address& at, QMenu& into);

    QString name_;
    std::function<bool(const Recipe&, const Address&)> fits_;
    Recipe recipe_;
    Address at_;
};

}  // namespace loom
