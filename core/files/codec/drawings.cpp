// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/codec/drawings.h"

#include <librsvg/rsvg.h>

#include <algorithm>
#include <cmath>

namespace loom {

namespace {

struct Unref {
    void operator()(RsvgHandle* handle) const { g_object_unref(handle); }
    void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
    void operator()(cairo_t* cairo) const { cairo_destroy(cairo); }
};
using Handle = std::unique_ptr<RsvgHandle, Unref>;

CodecFailure failure_of(GError* error, const char* otherwise) {
    CodecFailure failure{error ? error->message : otherwise};
    g_clear_error(&error);
    std::replace(failure.words.begin(), failure.words.end(), '\n', ' ');
    failure.words.resize(std::min<std::size_t>(failure.words.size(), 200));
    return failure;
}

constexpr double greatest_side = 1e6;

Handle opened(std::string_view svg, DrawingSize& size, CodecFailure& failure) {
    GError* error = nullptr;
    Handle handle(rsvg_handle_new_from_data(reinterpret_cast<const guint8*>(svg.data()), svg.size(), &error));
    if (!handle) {
        failure = failure_of(error, "it is no SVG file");
        failure.words = "it is no SVG file that can be read: " + failure.words;
        return nullptr;
    }
    gboolean has_width = 0, has_height = 0, has_box = 0;
    RsvgLength width, height;
    RsvgRectangle box{};
    rsvg_handle_get_intrinsic_dimensions(handle.get(), &has_width, &width, &has_height, &height, &has_box, &box);
    double across = 0, down = 0;
    if (!rsvg_handle_get_intrinsic_size_in_pixels(handle.get(), &across, &down)) across = box.width, down = box.height;
    if (!(across > 0) || !(down > 0)) across = has_box ? box.width : 0, down = has_box ? box.height : 0;
    if (!(across > 0) || !(down > 0)) {
        // Neither size nor viewBox: what is drawn has some extent.
        RsvgRectangle ink{}, logical{};
        if (rsvg_handle_get_geometry_for_element(handle.get(), nullptr, &ink, &logical, nullptr))
            across = ink.width, down = ink.height;
    }
    if (!(across > 0) || !(down > 0) || across > greatest_side || down > greatest_side) {
        failure.words = "it has no size between nothing and a million units";
        return nullptr;
    }
    size = {across, down};
    return handle;
}

class SvgDrawing final : public VectorDrawing {
public:
    SvgDrawing(Handle handle, DrawingSize size) : handle_(std::move(handle)), size_(size) {}

    DrawingSize size() const override { return size_; }

    CodecFailure draw(const Affine& placing, const std::vector<std::pair<int, int>>& copies, int width, Rows rows,
                      float* out) override {
        const std::unique_ptr<cairo_surface_t, Unref> surface(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, rows.count));
        const std::unique_ptr<cairo_t, Unref> cairo(cairo_create(surface.get()));
        for (const auto& [across, down] : copies) {
            cairo_matrix_t matrix;
            cairo_matrix_init(&matrix, placing.xx, placing.yx, placing.xy, placing.yy, placing.x0 + across,
                              placing.y0 + down - rows.first);
            cairo_set_matrix(cairo.get(), &matrix);
            const RsvgRectangle viewport{0, 0, size_.width, size_.height};
            GError* error = nullptr;
            if (!rsvg_handle_render_document(handle_.get(), cairo.get(), &viewport, &error))
                return failure_of(error, "it cannot be drawn");
        }
        if (cairo_status(cairo.get()) != CAIRO_STATUS_SUCCESS) return {cairo_status_to_string(cairo_status(cairo.get()))};
        cairo_surface_flush(surface.get());
        const unsigned char* bytes = cairo_image_surface_get_data(surface.get());
        const int stride = cairo_image_surface_get_stride(surface.get());
        for (int y = 0; y < rows.count; ++y) {
            const auto* row = reinterpret_cast<const std::uint32_t*>(bytes + static_cast<std::ptrdiff_t>(y) * stride);
            for (int x = 0; x < width; ++x) *out++ = static_cast<float>(row[x] >> 24) / 255.0f;
        }
        return {};
    }

private:
    Handle handle_;
    DrawingSize size_;
};

}  // namespace

std::unique_ptr<VectorDrawing> svg_drawing(std::string_view svg, CodecFailure& failure) {
    DrawingSize size;
    Handle handle = opened(svg, size, failure);
    return handle ? std::make_unique<SvgDrawing>(std::move(handle), size) : nullptr;
}

}  // namespace loom
