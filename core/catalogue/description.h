// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a step is, said once: the tuning desk, the reader's checks, the command line, the reference in docs/
// and the tests over all steps follow from these records.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/catalogue/condition.h"
#include "core/catalogue/context.h"
#include "core/image/footprint.h"
#include "core/catalogue/value.h"

namespace loom {

enum class Family {
    make,
    soften,
    roughen,
    bend,
    shade,
    tune,
    mask,  ///< makes where a strand shows; they work in other chains too
    finish
};
enum class Tiling {
    keeps,    ///< the result repeats if the input does
    breaks,   ///< the result does not repeat
    depends,  ///< on the parameters; the help says on which
};
enum class Kind {
    number,
    count,
    toggle,
    choice,
    colour,
    stops,
    curve,  ///< points that a curve goes through
    strand,
    text,     ///< a short text, such as a name
    formula,  ///< an expression
    draft,    ///< which thread lies on top, as rows of marks
    inputs,   ///< named numbers
    picture,  ///< the name of a picture that the recipe keeps, "assets/..."
    recipe,   ///< the name of a recipe that the recipe keeps
    drawing,  ///< the name of an SVG file that the recipe keeps
    strokes,  ///< made by the hand on the cloth, with the tools that the parameter's choices name
    moves,    ///< points dragged from one place to another
    outline,  ///< curves from point to point
};
constexpr Kind all_kinds[] = {Kind::number,  Kind::count,  Kind::toggle,  Kind::choice,  Kind::colour, Kind::stops,
                              Kind::curve,   Kind::strand, Kind::text,    Kind::formula, Kind::draft,  Kind::inputs,
                              Kind::picture, Kind::recipe, Kind::drawing, Kind::strokes, Kind::moves,  Kind::outline};
/// Whether it names something that the recipe keeps inside.
constexpr bool names_kept(Kind kind) { return kind == Kind::picture || kind == Kind::recipe || kind == Kind::drawing; }
enum class Unit { none, px, percent, degrees, tone, stops };
enum class Scale { linear, root };  ///< how a slider spreads its range; root gives small values more room

// These are made, copied and given up in every step's file; their code stands once, in description.cpp.
struct Choice {
    Choice(std::string_view id, std::string_view title, std::vector<std::pair<std::string_view, Value>> suits = {});
    Choice(const Choice&);
    Choice(Choice&&) noexcept;
    Choice& operator=(const Choice&);
    ~Choice();

    std::string_view id, title;
    /// What other parameters of the step are set to when this is chosen, so that it begins as it is meant.
    std::vector<std::pair<std::string_view, Value>> suits;
};

/// What a parameter's handle on the tone histogram stands for, if it has one there.
enum class ToneHandle { none, black, middle, white, out_black, out_white };

/// What is wrong in a text, and at which character (from 0).
struct TextFault {
    std::size_t at = 0;
    std::string message;
};

/// Counts the changes of defaults. A file says by which it was written; what it leaves out means what it did then.
constexpr int present_defaults = 2;

/// See Parameter::planes_of.
constexpr std::string_view own_planes = "*";

/// A default of earlier days.
struct OnceDefault {
    int before;  ///< files whose defaults are older than this mean `value`
    Value value;
};

struct Parameter {
    Parameter();
    Parameter(const Parameter&);
    Parameter(Parameter&&) noexcept;
    Parameter& operator=(const Parameter&);
    Parameter& operator=(Parameter&&) noexcept;
    ~Parameter();

    std::string_view id, title;
    Kind kind = Kind::number;
    Unit unit = Unit::none;
    double min = 0, max = 0;                ///< hard range of numbers and counts; what lies outside is refused
    double slider_min = 0, slider_max = 0;  ///< range of the slider, within the hard one
    Scale scale = Scale::linear;
    std::vector<Choice> choices;
    std::string_view help;
    Value fallback;  ///< read from the step's own settings
    ToneHandle tone_handle = ToneHandle::none;
    std::vector<std::string_view> formerly;  ///< ids that files of earlier versions know it by
    std::vector<OnceDefault> once;           ///< oldest first
    Condition when;                          ///< shown, and of consequence, only then
    std::string_view section;                ///< the heading it stands under; "": before all headings
    /// The difference between the choices is one to be seen: people choose by small pictures, which the step makes itself
    /// (core/render/choice_pictures.h).
    bool visual = false;
    /// The choices are curves, such as falloffs and profiles: the height 0..1 at x 0..1 of each, by its place in the list.
    double (*curve)(std::size_t choice, double x) = nullptr;
    Values on_pictures;  ///< settings under which such a picture, of a tile of 256 design pixels, shows it best
    /// Reads a formula or a draft; null for all other kinds.
    std::optional<TextFault> (*check)(std::string_view text) = nullptr;
    bool lines = false;  ///< a text of several lines
    /// A choice of what to take of a strand: the parameter that names the strand, or own_planes where it is the one that holds
    /// this. What that strand has none of need not be offered.
    std::string_view planes_of = {};
    bool own = false;  ///< the step keeps it for itself (StepDescription::settle): nobody sets it by hand
    /// Texts to choose from, such as fonts; null: none.
    std::vector<std::string> (*offers)() = nullptr;
};

/// Something to take hold of on the cloth.
struct Handle {
    enum class Form {
        point,      ///< x and y are ids of parameters in % of the tile
        radius,     ///< a distance in px around the point of x and y
        direction,  ///< an angle in degrees, seen from the middle of the tile
        offset,     ///< x and y are ids of parameters in px, seen from the middle of the tile
        box,        ///< the step's extent: its middle x and y, its angle, and its lengths `radius` and `height`, if it has those
    };
    Form form = Form::point;
    std::string_view title, x, y, radius, angle;
    bool by_click = false;  ///< a point that a click anywhere on the cloth sets
    std::string_view height = {};
};

/// Two lengths, counts or places that belong together, such as one across and one down.
struct Pair {
    std::string_view title, across, down;  ///< ids of parameters
};

/// What a step wants of the recipe within the recipe that it names.
struct Inner {
    std::string map;        ///< "colour", "height", "roughness" or "metalness"
    std::string colourway;  ///< "": as it is
    Inputs dials;
    double scale = 100;  ///< %: size of its tile beside the tile it lies on
};

/// A rectangle about a place, in design pixels.
struct Extent {
    double left = 0, top = 0, right = 0, bottom = 0;
    double width() const { return right - left; }
    double height() const { return bottom - top; }
};

struct Shape {
    int channels = 1;  ///< 1 or 3; 0: nothing came in
    bool coverage = false;
};

/// One row of pixels in straight (not premultiplied) values; a per-pixel step changes it in place.
struct PixelRow {
    float* channel[3];  ///< all three are buffers; only the first `channels` are filled
    int channels;
    const float* coverage;  ///< null: opaque
    int x, y, count;        ///< pixel place of the first value
    /// Makes the row colour: copies the grey to all three channels.
    void to_colour();
};

/// A per-pixel step with its settings read and its tables made. apply() may run on several rows at once.
class PixelStep {
public:
    virtual ~PixelStep() = default;
    virtual void apply(PixelRow& row) const = 0;
};

/// How many planes go into a step and come out of it, named ones included.
struct PlaneCounts {
    int in = 0, out = 1;
};

struct StepDescription {
    StepDescription();
    StepDescription(const StepDescription&);
    StepDescription(StepDescription&&) noexcept;
    StepDescription& operator=(const StepDescription&);
    ~StepDescription();

    std::string_view id, title;
    Family family = Family::make;
    std::string_view summary;
    std::string_view words;  ///< everyday words by which somebody may look for it, between spaces
    Tiling tiles = Tiling::keeps;
    std::string_view tiles_note;  ///< for depends and breaks: on what, or why
    bool seeded = false;          ///< draws lots, so it has a seed
    bool shown_lit = false;       ///< what it makes is a relief, told apart only by light: candidates are shown under a lamp
    bool blends = false;          ///< joins pictures, so the recipe's light (encoded or linear) matters
    std::vector<Parameter> parameters;
    std::vector<std::string_view> headline;  ///< parameters that a card shows
    std::vector<Handle> handles;             ///< shown on the cloth while the step is chosen
    std::vector<Pair> pairs;
    std::vector<std::string_view> planes;  ///< named planes that it makes
    Values alone_in_mask;                  ///< settings with which it begins where a mask has nothing else yet
    Values alone;                          ///< settings with which it begins where nothing comes in; a step that makes needs none
    /// For a step that makes: when it uses what comes in, if it ever does. For all others: when they need it, if not always.
    std::optional<Condition> takes_input;
    Values shows_range;           ///< settings under which what the step means is white, if it means some colours only
    std::string_view objects_of;  ///< the parameter that names the strand whose objects come out, if one does

    /// Channels and coverage that come out.
    std::function<Shape(const Values&, Shape)> shape;
    /// Planes of the picture's size that running has alive besides input and output; `scratch` says it where it depends on more.
    double scratch_planes = 0;
    std::function<double(const Values&, const Scales&, const PlaneCounts&)> scratch;
    /// How far a result looks around itself. The same bytes come out whatever bands it is made in.
    std::function<Footprint(const Values&, const Scales&)> footprint;
    /// Named planes that it reads from its input and from other strands; null: none.
    std::function<std::vector<std::string>(const Values&)> reads;
    /// The numbers that its parameter of kind `inputs` holds now, those left at their default too; null: no such parameter.
    std::function<Inputs(const Values&)> inputs;
    /// What it wants of the recipe that its parameter of kind `recipe` names; null: no such parameter.
    std::function<Inner(const Values&)> inner;
    /// Whether it takes what the strands to the left have joined to.
    std::function<bool(const Values&)> reads_beneath;
    /// Something the person should know about these settings, or "".
    std::function<std::string(const Values&)> notice;
    /// What to set so that these settings repeat, for a step that breaks the tile by what it draws; nothing if no setting helps.
    std::function<Values(const Values&)> closing;
    /// What the settings come to on a tile, where they are rounded so that it closes; "" if as they say. Null: never rounded.
    std::function<std::string(const Values&, Size tile)> rounded;
    /// For steps whose strokes work one after the other: what strokes [first, last) make of StepContext::carried, so that what
    /// was made before need not be made again with every stroke. `run` then finds all of it there, or makes it itself.
    std::function<Bundle(const Values&, const StepContext&, std::size_t first, std::size_t last)> carry;
    /// Its size and shape, if it is not the picture's own, given the tile; such work does not look at the picture.
    std::function<Size(Size tile)> carried_size;
    Shape carried_shape;
    /// How far it looks once that is known, for work of a size of its own; null: as `footprint` says.
    std::function<Footprint(const Values&, const Bundle& carried, const Scales&)> carried_footprint;
    /// Brings what the step keeps for itself (Parameter::own) into line with its other values; null: it keeps nothing.
    std::function<void(Values&)> settle;
    /// What a box on the cloth goes round, before it is turned; null: the step has no such handle.
    std::function<Extent(const Values&)> extent;
    /// How many times as large as the picture these settings want what comes in; null: never enlarged.
    std::function<int(const Values&)> enlarges;
    /// The scale, in %, at which these settings want what comes in made anew, on a tile so much smaller, if that can be done;
    /// 100: as it is. It then stands in the context as "remade". Null: always as it is.
    std::function<double(const Values&)> remakes;
    /// Whether these settings make its named planes; null: always.
    std::function<bool(const Values&)> makes_planes;
    /// For steps per pixel: whether a height that comes along is changed by the same curve as tones. Null: never.
    std::function<bool(const Values&)> carries_height;
    /// Whether these settings take the direction and elevation of the recipe's lamp; null: never.
    std::function<bool(const Values&)> follows_lamp;
    /// Whether these settings draw any lots, for seeded steps that do not always.
    std::function<bool(const Values&)> draws;

    /// A picture of what the step works with, such as the room that is mirrored, to be shown beside a parameter; null: none.
    struct Aside {
        std::string_view beside, title;
        std::function<Bundle(const Values&, const StepContext&)> picture;
    } aside;

    /// Numbers that files of earlier versions set, and what these are now; null: none. It is asked whenever a file sets one of
    /// them.
    struct Earlier {
        std::vector<std::string_view> ids;
        void (*renew)(const std::map<std::string, double, std::less<>>& old, Values& set) = nullptr;
    } earlier;

    /// Exactly one of the two is set.
    std::function<Bundle(const Values&, const StepContext&)> run;
    std::function<std::unique_ptr<PixelStep>(const Values&, const StepContext&)> per_pixel;

    const Parameter* parameter(std::string_view parameter_id) const;
    const Parameter* parameter_of(Kind kind) const;  ///< the first of a kind
};

/// All steps in the order people meet them. Defined beside the steps, see core/steps/all_steps.cpp.
const std::vector<StepDescription>& all_steps();
const StepDescription* find_step(std::string_view id);

/// The parameter's value in `values`, or its default.
const Value& value_or_default(const Parameter& parameter, const Values& values);
/// Whether the parameter matters, given the values of the parameters it depends on.
bool relevant(const StepDescription& step, const Parameter& parameter, const Values& values);
/// Whether there has to be something that comes in, given its values; if not it can be the first step of a strand.
bool needs_input(const StepDescription& step, const Values& values);
/// Whether what comes in, if anything does, counts.
bool uses_input(const StepDescription& step, const Values& values);
/// Whether it works, in a mask, on what the mask shows and not on the picture of a form: what tunes or softens.
inline bool works_on_shown(const StepDescription& step) { return step.family == Family::tune || step.family == Family::soften; }
/// When it does, as words: "Lamp is Near or Distant"; "" if always.
std::string when_text(const StepDescription& step, const Parameter& parameter);
/// Sets the parameter, and what suits the choice that was made; values that are the default are not kept.
void set_parameter(const StepDescription& step, Values& values, const Parameter& parameter, const Value& value);
/// Why the parameter cannot take this value, as words that follow its name; nothing if it can.
std::optional<std::string> refuses(const Parameter& parameter, const Value& value);
/// A value from text, as on the command line; each kind says how it is written.
std::optional<Value> parse_value(const Parameter& parameter, std::string_view text);
/// A number with as many digits as it needs.
std::string write_number(double number);
/// "341 x 256 px", each to a tenth.
std::string show_pixels(double across, double down);
/// How often a tile of `inner` design pixels at `scale` % goes into one of `outer`; whole, so that the tile closes.
int repeats(int outer, int inner, double scale);
/// "1.5 px", "Gaussian", "#aabbcc", "3 stops": as people read it; tones as 0-255.
std::string show_value(const Parameter& parameter, const Value& value);

std::string_view word(Family family);
std::string_view word(Tiling tiling);
std::string_view word(Kind kind);
std::string_view word(Unit unit);

}  // namespace loom
