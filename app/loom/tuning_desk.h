// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The desk under the cloth: the parameters of the selected step, built from its description; the join and routes
// of a selected strand; or the dials and the tile of the whole recipe.
#pragma once

#include <QWidget>
#include <functional>
#include <memory>
#include <set>
#include <vector>

#include "app/document/render_service.h"
#include "app/document/sample_book.h"
#include "app/document/session.h"
#include "app/widgets/histogram_view.h"
#include "app/widgets/levels_edit.h"

class QBoxLayout;
class QLabel;
class QScrollArea;
class QAbstractButton;
class QToolButton;
class QMenu;

namespace loom {

class Brush;
class CurveEdit;
class SeedStrip;

class TuningDesk : public QWidget {
    Q_OBJECT
public:
    TuningDesk(Session& session, Brush& brush, const SampleBook& book, QWidget* parent = nullptr);
    /// A picture whose tones are drawn behind ours; null takes them away.
    void show_reference(const QImage& picture, std::shared_ptr<const Bundle> planes);

    void show_cards(const CardPictures& cards);
    QToolButton* exchange_button() const { return exchange_; }
    HistogramView* histogram() const { return histogram_; }
    LevelsEdit* levels() const { return levels_; }
    SeedStrip* seeds() const { return seeds_; }
    CurveEdit* curves() const { return curves_; }
    /// Something read from a file on another thread, to be kept in the recipe.
    struct KeptFile {
        std::string name;
        std::shared_ptr<const Asset> asset;
        QString text;  ///< of the undo step
    };
    /// Reads beside the interface; the result goes only into the document it was asked for.
    void keep_file(const Address& at, const QString& path, std::function<Result<KeptFile>()> read);
    /// Sets the stops at `at` to colours of a picture: of equal shares of its tones, or its main ones.
    void take_ramp(const Address& at, const QString& path, int count, bool palette);
    /// Puts a picture or a recipe file into the recipe and lets the parameter name it; refusals are told by the session.
    void keep_picture(const Address& at, const QString& path);
    void keep_recipe(const Address& at, const QString& path);
    void keep_drawing(const Address& at, const QString& path);
    /// The editor of a parameter of the step on show (a NumberEdit, QComboBox, ...), for tests.
    QWidget* editor(std::string_view parameter) const;
    /// What can be done with the value of a row on show, as its menu.
    std::unique_ptr<QMenu> row_menu(std::string_view parameter);
    int columns() const { return columns_; }
    /// The row of a section's name on show; null if there is none.
    QAbstractButton* heading(const QString& section) const;
    /// Sections that are folded, of whatever step; kept from step to step.
    QStringList folded_sections() const;
    void set_folded_sections(const QStringList& sections);

signals:
    void exchange_wanted();
    void try_wanted(const loom::Address& at);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    /// One line of the form and how it follows the recipe.
    struct Row {
        enum class Form {
            line,    ///< label, editor and what comes after it; several stand beside each other where there is room
            wide,    ///< an editor over the whole width
            heading  ///< of a section
        };
        std::string id;
        Form form = Form::line;
        QWidget *label = nullptr, *editor = nullptr, *after = nullptr;
        std::string section = {};  ///< that it stands in, with the kind of step
        std::function<void()> refresh = [] {};
        std::string second = {};  ///< the other one of a pair
    };
    void refresh();
    void rebuild();
    void show_histogram();
    /// The parameters that stand for these tones, in one edit.
    void set_tones(const LevelsField::Changes& changes, const QString& gesture);
    bool narrow() const;
    void build_step(const Step& step);
    void build_strand(const Strand& strand);
    void build_recipe();
    Row& add_row(const std::string& id, const QString& label, const QString& help, QWidget* editor, QWidget* after = nullptr);
    void add_parameter(const Address& at, const Parameter& parameter);
    void add_number(const Address& at, const Parameter& parameter);
    /// Two numbers that belong together; `section` as they are in the description.
    void add_pair(const Pair& pair);
    /// The picture that stands beside a parameter of the step.
    void add_aside(const StepDescription& description);
    void add_seed(const Address& at);
    void add_strand_choice(const Address& at, const QString& label, const QString& help);
    void add_taken(const Address& at, const Parameter& p);
    void add_route(Map map);
    void add_formula(const Address& at, const Parameter& parameter);
    /// Into the editor of the curves before it, if there is one.
    void add_curve(const Address& at, const Parameter& parameter);
    /// Colours of `picture` as stops, worked out beside the interface; `name` is for messages.
    void take_ramp(const Address& at, const QString& name, std::function<Result<Bundle>()> picture, int count, bool palette);
    void ask_ramp(const Address& at, int count, bool palette);
    void add_strokes(const Address& at, const Parameter& parameter);
    void add_moves(const Address& at, const Parameter& parameter);
    void add_outline(const Address& at, const Parameter& parameter);
    void add_lines(const Address& at, const Parameter& parameter);
    void add_offers(const Address& at, const Parameter& parameter);
    void add_drawing(const Address& at, const Parameter& parameter);
    void add_draft(const Address& at, const Parameter& parameter);
    void add_inputs(const Address& at, const Parameter& parameter, bool fixed);
    void add_text(const Address& at, const Parameter& parameter);
    void add_picture(const Address& at, const Parameter& parameter);
    void add_recipe(const Address& at, const Parameter& parameter);
    /// Begins a section, which the row of its name folds and unfolds.
    void add_heading(const QString& text, const std::string& kind);
    bool folded(const std::string& section) const { return folded_.contains(section); }
    void fold(const std::string& section, bool folded);
    void show_section(const std::string& section);
    /// The values of a folded section in short.
    QString values_of(const std::string& section) const;
    /// Puts the rows in their places, two beside each other where there is width.
    void arrange();
    int columns_in_view() const;
    /// What can be done with one value.
    void open_row_menu(const std::string& id, const QPoint& place);
    void fill_row_menu(QMenu* menu, const Address& at);
    void fill_dial_menu(QMenu* menu, const std::string& dial);
    Row& add_wide_row(const std::string& id, const QString& help, QWidget* editor);
    QLabel* row_label(const std::string& id, const QString& text, const QString& help);
    QToolButton* reset_button(const Address& at, const Value& fallback);

    Session& session_;
    Brush& brush_;
    const SampleBook& book_;
    QLabel *title_, *summary_, *notice_;
    QToolButton *exchange_, *bypass_, *reset_;
    QScrollArea* scroll_;
    QWidget* form_ = nullptr;
    HistogramView* histogram_;
    LevelsEdit* levels_;
    QBoxLayout* body_;
    SeedStrip* seeds_;
    CurveEdit* curves_ = nullptr;  ///< of the step on show, if it has any
    std::vector<Row> rows_;
    std::string section_;  ///< while rows are added
    std::set<std::string> folded_;
    std::string shape_;
    int columns_ = 1, last_line_ = 0;
    CardPictures cards_;
    QImage reference_;
    std::shared_ptr<const Bundle> reference_planes_;
    Background files_;  ///< reads what is to be kept inside
};

}  // namespace loom
