// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The brush that the next stroke is drawn with, and which stroke is looked at: the desk and the cloth share it.
#pragma once

#include <QObject>
#include <QVariantMap>
#include <map>
#include <string>

#include "app/document/session.h"
#include "core/catalogue/description.h"

namespace loom {

class Brush : public QObject {
    Q_OBJECT
public:
    explicit Brush(Session& session, QObject* parent = nullptr);

    double size() const { return stroke_.size; }
    double strength() const { return stroke_.strength; }
    double softness() const { return stroke_.softness; }
    const Colour& colour() const { return stroke_.colour; }
    void set_size(double px);
    void set_strength(double percent);
    void set_softness(double percent);
    void set_colour(const Colour& colour);
    /// Of the selected step; each kind of step remembers its own.
    std::string tool() const;
    void set_tool(const std::string& tool);
    /// A stroke as the brush is now, without points.
    Stroke stroke() const;

    /// The parameter of the selected step that holds strokes; null if it has none or is off.
    const Parameter* parameter() const;
    Address address() const;
    Strokes strokes() const;

    /// The stroke that is shown on the cloth, -1 for none.
    int shown() const { return shown_; }
    void show_stroke(int index);

    QVariantMap state() const;
    void set_state(const QVariantMap& state);

signals:
    void changed();

private:
    Session& session_;
    Stroke stroke_;
    std::map<std::string, std::string> tools_;  // by kind of step
    int shown_ = -1;
};

}  // namespace loom
