// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Lettering typed on the cloth: two presses on it, or Return, begin; Escape or a press elsewhere ends.
#pragma once

#include "app/document/session.h"
#include "app/hand/cloth_hand.h"
#include "core/catalogue/description.h"

namespace loom {

class LetterHand : public ClothHand {
public:
    explicit LetterHand(Session& session) : session_(session) {}

    void paint(QPainter& painter, const QRectF& tile) const override;
    bool press(const Touch& touch, const QRectF& tile) override;
    void drag(const Touch&, const QRectF&) override {}
    void release() override {}
    bool held() const override { return false; }
    bool takes(const QPointF&, const QRectF&) const override { return false; }
    bool key(const QKeyEvent& event, bool pressed) override;
    bool types() const override { return typing_ && parameter(); }
    /// What an input method makes of several keys.
    void insert(const QString& text);

private:
    const Parameter* parameter() const;
    QString text() const;
    void set(const QString& text);
    QPolygonF box(const QRectF& tile) const;

    Session& session_;
    bool typing_ = false;
    int runs_ = 0;
};

}  // namespace loom
