// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What steps of an edge chain share: how far each place lies from the edge of what a strand covers, and how tones and lines are
// laid within, over and under it.
#pragma once

#include "core/catalogue/describe.h"
#include "core/colour/blend.h"

namespace loom {

/// What a step names among what it reads if it works along the edge of a form: others["form"] is then the picture before any such
/// step laid something beside it, so that a line after a shadow follows the form and not the shadow.
constexpr std::string_view form_name = "form";
inline std::vector<std::string> reads_form() { return {std::string(form_name)}; }

/// Design px from the edge of the form, where coverage is one half: positive inside. Cut at `reach` design px to both sides.
Plane edge_distance(double reach, const StepContext& context);
/// The form's coverage; null if everything is covered.
PlaneRef form_of(const StepContext& context);

/// One colour that covers as `cover` says.
Bundle layer_of(const Colour& colour, Plane cover, const StepContext& context);

/// The layer over the picture where that covers; what it covers stays as it was.
Bundle laid_within(const Bundle& in, const Bundle& layer, const BlendSettings& settings, const StepContext& context);
/// The layer under the picture, so that no rim of another colour shows where the picture covers in part. With a blend other than
/// normal it is mixed with what lies beneath the strand (StepContext::other("beneath")).
Bundle laid_under(const Bundle& in, const Bundle& layer, const BlendSettings& settings, const StepContext& context);

/// What comes out of a step that lays tones along an edge. Grey stays grey with grey tones, unless it meets what lies beneath.
constexpr Shape edge_shape(Shape in, bool grey, bool meets_beneath) {
    return in.coverage ? Shape{in.channels == 1 && grey && !meets_beneath ? 1 : 3, true} : in;
}
/// `picture` with as many channels as edge_shape says.
Bundle edge_picture(Bundle picture, const Bundle& in, bool grey, bool meets_beneath);

/// The blends as choices of a parameter.
std::vector<Choice> blend_choices();

}  // namespace loom
