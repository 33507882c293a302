// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The view in which a recipe is woven: the cloth at full height on the right with its measures below, strands and desk left.
#pragma once

#include "app/document/render_service.h"
#include "app/document/session.h"
#include "app/document/try_service.h"
#include "app/hand/box_hand.h"
#include "app/hand/brush.h"
#include "app/hand/letter_hand.h"
#include "app/hand/outline_hand.h"
#include "app/hand/points_hand.h"
#include "app/hand/stroke_hand.h"
#include "app/loom/cloth_handles.h"
#include "app/pages/page.h"

class QSplitter;
class QStackedWidget;

namespace loom {

class StrandsView;
class ClothView;
class TuningDesk;
class MeasuresBar;
class StepFinder;
class BlendChooser;
class PictureChooser;
class RemedyBar;
class ApartWindow;
class HelpSheet;
class ReferencePicture;
class HistorySheet;
class SampleBook;
class FrontPanel;

class LoomView : public Page {
    Q_OBJECT
public:
    LoomView(Session& session, RenderService& service, const SampleBook& book, QWidget* parent = nullptr);

    QString id() const override { return "loom"; }
    QString title() const override { return tr("Loom"); }
    bool shows_recipe() const override { return true; }
    void add_commands(Commands& commands, std::function<bool()> shown) override;
    /// C, held, shows the cloth without what is selected; L a loupe; W which colours it means.
    bool take_key(const QKeyEvent& event, bool pressed) override;
    QWidget* second_window() const override;
    QVariantMap state() const override;
    void set_state(const QVariantMap& state) override;

    StrandsView* strands() const { return strands_; }
    ClothView* cloth() const { return cloth_; }
    TuningDesk* desk() const { return desk_; }
    Brush& brush() { return brush_; }
    StrokeHand& stroke_hand() { return stroke_hand_; }
    BoxHand& box_hand() { return box_hand_; }
    MeasuresBar* measures() const { return measures_; }
    RemedyBar* remedy() const { return remedy_; }

    /// Opens the step finder for the end of the selected chain, or right below the selected step.
    void add_step();
    void add_strand();
    /// A strand on top that begins with a picture, which the recipe keeps inside.
    void add_picture(const QString& path);
    void duplicate_selected();
    void remove_selected();
    /// The selected steps, or the strand, as text on the clipboard.
    void copy_selected();
    void cut_selected();
    /// Below the selected step, at the end of the selected strand, or right of it.
    void paste();
    void rename_selected();
    void fold_selected();
    void fold_group();
    void group_with_next();
    void dissolve_group();
    /// All steps of the chain that the selected step stands in.
    void select_chain();
    void bypass_selected();
    /// Opens the finder for another kind in the place of the selected step.
    StepFinder* exchange_selected();
    /// Up or down in its chain (way -1, 1), across to the neighbouring strand (side -1, 1).
    void move_selected(int way, int side);
    /// The page of the selected step, or the keys, in the place of the strands; the desk stays.
    void show_step_help();
    void show_keys();
    HelpSheet* help() const { return help_; }
    bool shows_help() const;
    void close_help();
    /// What is read goes with what is selected.
    void follow_help();
    void set_before(bool on);
    /// Which colours the selected step means, in white on the cloth; only for steps that mean some.
    void set_range(bool on);
    /// Lays a state of the recipe beside the present one, under a line to be dragged over the cloth.
    void pin(const Recipe& state, const QString& name);
    void pin_present() { pin(session_.recipe(), tr("pinned")); }
    void unpin();
    bool pinned() const { return pinned_.has_value(); }
    /// The picture of the material that the recipe is held against.
    ReferencePicture& reference() const { return *reference_; }
    /// Lays it beside the cloth, under a line to be dragged.
    void show_reference(bool on);
    bool shows_reference() const { return reference_shown_; }
    void choose_reference();
    /// A step Match at the end of the selected strand, or of the last, with the picture kept inside.
    void match_reference();
    /// The recipe as it was pinned, as one undo step.
    void return_to_pinned();
    /// Every state since the recipe was opened, in the place of the strands.
    void show_history(bool on);
    HistorySheet* history() const { return history_; }
    /// The dials and colourways alone, in the place of strands and desk.
    void show_front(bool on);
    bool shows_front() const;
    FrontPanel* front() const { return front_; }
    /// Nothing but the cloth and its measures in the page.
    void set_alone(bool on);
    bool alone() const;
    /// The cloth and its measures in a window of their own, for a second screen.
    void set_apart(bool on);
    bool apart() const { return apart_ != nullptr; }
    /// Asks for a name, and keeps every colour and gradient under it.
    void keep_colourway();
    StepFinder* open_finder(const Slot& slot);
    /// Every blend of a strand's join as a picture; nothing for the first strand, which lies on nothing.
    BlendChooser* choose_blend(const std::string& strand);

signals:
    /// To see many values of the place at `at`.
    void try_wanted(const loom::Address& at);
    /// A strand is gone from which others read; they go on without it.
    void strand_missed(const QString& strand, const QStringList& readers);

private:
    void resizeEvent(QResizeEvent* event) override;
    void render();
    void warm_hand();
    Slot with_source_first(Slot slot) const;
    void open_beside(PictureChooser* chooser, const std::string& strand);
    QString about_selected(const QString& one, const QString& many) const;
    void put_step(const Slot& slot, const QString& kind);
    bool put_strand(const QString& name, Chain steps, const QString& text);

    void connect_hands();

    Session& session_;
    RenderService& service_;
    Brush brush_;
    StrokeHand stroke_hand_;
    OutlineHand outline_hand_;
    PointsHand points_hand_;
    LetterHand letter_hand_;
    BoxHand box_hand_;
    bool by_hand_ = false;  // the edit that is under way was shown while it was drawn
    StrandsView* strands_;
    ClothView* cloth_;
    TuningDesk* desk_;
    MeasuresBar* measures_;
    RemedyBar* remedy_;
    QWidget* right_;
    QSplitter *across_, *left_;
    QStackedWidget *top_, *side_;
    HelpSheet* help_;
    HistorySheet* history_;
    FrontPanel* front_;
    ApartWindow* apart_ = nullptr;
    Commands* commands_ = nullptr;
    ClothHandles handles_;
    std::uint64_t ticket_ = 0;
    std::optional<Recipe> pinned_;
    std::uint64_t pinned_document_ = 0;
    TryService pins_{1024};
    std::uint64_t pin_ticket_ = 0;
    QString pin_name_;
    ReferencePicture* reference_;
    bool reference_shown_ = false;
};

}  // namespace loom
