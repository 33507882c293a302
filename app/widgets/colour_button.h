// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QPointer>
#include <QPushButton>

#include "core/colour/colour.h"

namespace loom {

QColor to_qcolor(const Colour& colour);
Colour from_qcolor(const QColor& colour);

class ColourPanel;

/// Shows a colour and its code; a click opens a chooser whose every move is reported.
class ColourButton : public QPushButton {
    Q_OBJECT
public:
    explicit ColourButton(QWidget* parent = nullptr);
    void set_colour(const Colour& colour);
    const Colour& colour() const { return colour_; }
    /// That is open; null if none is.
    ColourPanel* panel() const;

signals:
    void changed(const loom::Colour& colour, const QString& gesture);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void choose();
    Colour colour_;
    QPointer<ColourPanel> panel_;
};

}  // namespace loom
