// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The view in which one thing is varied and many pictures are looked at: what varies on the left, the sheet, and the chosen
// picture large beside how things are now.
#pragma once

#include <QElapsedTimer>
#include <QTimer>

#include "app/document/session.h"
#include "app/document/try_service.h"
#include "app/pages/page.h"
#include "app/tries/compare_pane.h"
#include "core/recipe/question.h"

class QButtonGroup;
class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QSpinBox;

namespace loom {

class PlaceButton;
class ReferencePicture;
class TowardPanel;
class TrySheet;

class TryView : public Page {
    Q_OBJECT
public:
    TryView(Session& session, ReferencePicture& reference, QWidget* parent = nullptr);

    QString id() const override { return "try"; }
    QString title() const override { return tr("Try"); }
    bool shows_recipe() const override { return true; }
    void add_commands(Commands& commands, std::function<bool()> shown) override;
    QVariantMap state() const override;
    void set_state(const QVariantMap& state) override;

    /// Asks it, as far as the recipe allows.
    void ask(Question question);
    const Question& question() const { return question_; }
    TrySheet* sheet() const { return sheet_; }
    ComparePane* compare() const { return compare_; }
    QPushButton* take_button() const { return take_; }
    TowardPanel* toward() const { return toward_; }
    /// The button of a kind of question, for tests.
    QPushButton* kind(Question::What what) const;
    QDoubleSpinBox* end(bool down, bool to) const { return (down ? down_ : across_).ends[to ? 1 : 0]; }
    /// Whether every picture has come.
    bool complete() const;

    void take(int index);
    /// Asks for a name and keeps it as a colourway.
    void keep(int index);
    void save_sheet(const QString& path);

signals:
    void failed(const QString& message);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    /// What says which value varies along one side of the sheet.
    struct Side {
        QWidget* box = nullptr;
        QLabel* heading = nullptr;
        PlaceButton* place = nullptr;
        QWidget* span = nullptr;
        QDoubleSpinBox* ends[2] = {};
    };
    QWidget* build_question();
    QWidget* build_result();
    Side build_side(bool down);
    void follow();
    void order();
    /// Puts pictures of these on the sheet.
    void show_axes(SheetAxes axes);
    void show_question();
    void show_chosen();
    void show_pictures();
    QString full_caption(int cell) const;
    void show_count();
    void note_kept();
    void set_side(bool down, const Address& at);
    void set_span(bool down, const Span& span);
    void ask_save();
    /// Each to the next: half as wide around the chosen one, or twice.
    void narrow(bool closer);
    Variant variant(int index) const { return axes_.variant(static_cast<std::size_t>(index)); }

    Session& session_;
    ReferencePicture& reference_;
    TowardPanel* toward_;
    Question question_;
    SheetAxes axes_;
    std::uint64_t asked_document_ = 0;
    QButtonGroup* kinds_;
    Side across_, down_;
    QWidget* counts_;
    QSpinBox *columns_, *rows_;
    QPushButton *closer_, *wider_, *swap_, *save_, *take_, *keep_;
    QLabel *count_, *changes_, *hint_;
    QButtonGroup* ways_;
    TrySheet* sheet_;
    ComparePane* compare_;
    TryService pictures_{192}, large_{640, nullptr, true};
    std::vector<ComparePane::Picture> shown_;
    std::vector<int> shown_of_;  ///< the cell of each; -1: how things are now
    std::uint64_t ticket_ = 0, large_ticket_ = 0;
    int missing_ = 0;
    qint64 taken_ms_ = 0;
    bool updating_ = false;
    bool searched_ = false;  ///< what is on the sheet was found by a search
    QTimer later_;
    QElapsedTimer since_;
    Background files_;
};

}  // namespace loom
