// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// One line over the measures while a seam shows: which step opens it first, and a button that closes it.
#pragma once

#include <QWidget>
#include <optional>

#include "app/document/render_service.h"
#include "app/document/session.h"

class QLabel;
class QPushButton;

namespace loom {

class RemedyBar : public QWidget {
    Q_OBJECT
public:
    explicit RemedyBar(Session& session, QWidget* parent = nullptr);
    /// Looks for the step that opens a seam and hides if there is none.
    void show_cards(const CardPictures& cards);
    QPushButton* button() const { return button_; }
    QString text() const;

private:
    void close_seams();

    Session& session_;
    QLabel* label_;
    QPushButton* button_;
    Selection culprit_;
};

/// The first step whose picture shows a seam that is still there at the end of its strand though what came in had none;
/// nothing if there is none.
std::optional<Selection> first_seam(const Recipe& recipe, const CardPictures& cards);

}  // namespace loom
