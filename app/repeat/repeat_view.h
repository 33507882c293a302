// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The view in which a tile has to prove that it repeats: the cloth laid out side by side, with its seams, what stands out, and
// the measures with what may help beside each.
#pragma once

#include "app/document/render_service.h"
#include "app/document/session.h"
#include "app/document/try_service.h"
#include "app/pages/page.h"
#include "app/repeat/repeat_overlay.h"
#include "core/measure/remedies.h"

class QButtonGroup;
class QLabel;
class QPushButton;
class QToolButton;

namespace loom {

class ClothCanvas;
class MeasureList;

class RepeatView : public Page {
    Q_OBJECT
public:
    RepeatView(Session& session, RenderService& service, QWidget* parent = nullptr);

    QString id() const override { return "repeat"; }
    QString title() const override { return tr("Repeat"); }
    bool shows_recipe() const override { return true; }
    void add_commands(Commands& commands, std::function<bool()> shown) override;
    QVariantMap state() const override;
    void set_state(const QVariantMap& state) override;

    ClothCanvas* canvas() const { return canvas_; }
    MeasureList* list() const { return list_; }
    const RepeatOverlay& overlay() const { return overlay_; }
    QToolButton* half_button() const { return half_; }
    QPushButton* stop_button() const { return stop_; }
    QToolButton* lit_button() const { return lit_; }
    QString message() const;
    void set_count(int count);
    int count() const;
    /// Looks for the remedy beside the window and applies it as one undo step.
    void apply(Remedy remedy);
    bool searching() const { return searching_.under_way(); }

protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void mark();
    void found(const Result<Recipe>& result, Remedy remedy, std::uint64_t document, const Recipe& from);
    void show_message(const QString& text);
    void refresh_marks();
    /// Lays the lit cloth out instead of its colour, where that is wanted.
    void ask_lit();
    void show_zoom();

    Session& session_;
    RepeatOverlay overlay_;
    ClothCanvas* canvas_;
    MeasureList* list_;
    QButtonGroup* counts_;
    QToolButton *half_, *seams_, *standout_, *light_, *lit_;
    QLabel *zoom_, *grid_, *message_;
    QPushButton* stop_;
    ClothPicture cloth_;
    TryService lit_pictures_{1024};
    quint64 lit_ticket_ = 0;
    bool marked_ = false;
    Task searching_;
    Background client_;
};

}  // namespace loom
