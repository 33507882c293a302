// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/png.h"

#include <spng.h>

#include <algorithm>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace loom {

namespace {

struct FreeContext {
    void operator()(spng_ctx* context) const { spng_ctx_free(context); }
};
using Context = std::unique_ptr<spng_ctx, FreeContext>;

enum ColourType : int { grey = 0, palette = 3, alpha_bit = 4, grey_alpha = 4, rgb = 2, rgb_alpha = 6 };

CodecFailure damaged(int code) { return {std::string("the picture is damaged: ") + spng_strerror(code)}; }

/// The head, read and checked.
CodecFailure open(Context& context, std::string_view file, int greatest, spng_ihdr& head) {
    context.reset(spng_ctx_new(0));
    if (!context) return {"there is not enough memory"};
    spng_set_crc_action(context.get(), SPNG_CRC_ERROR, SPNG_CRC_DISCARD);
    spng_set_chunk_limits(context.get(), std::size_t{16} << 20, std::size_t{64} << 20);
    spng_set_png_buffer(context.get(), file.data(), file.size());
    if (const int code = spng_get_ihdr(context.get(), &head)) return damaged(code);
    const auto most = static_cast<std::uint32_t>(greatest);
    if (head.width > most || head.height > most)
        return {"it has " + std::to_string(head.width) + "x" + std::to_string(head.height) + " pixels; at most " +
                std::to_string(greatest) + " on a side can be read"};
    return {};
}

template <class Sample>
void take_samples(const std::vector<unsigned char>& decoded, bool is_grey, bool has_alpha, RawPicture& out) {
    const auto* in = reinterpret_cast<const Sample*>(decoded.data());
    constexpr float most = static_cast<float>(static_cast<Sample>(-1));
    const int colours = is_grey ? 1 : 3;
    float* to = out.pixels.data();
    for (std::size_t k = 0; k < out.size.pixels(); ++k, in += 4) {
        const float alpha = has_alpha ? static_cast<float>(in[3]) / most : 1.0f;
        for (int c = 0; c < colours; ++c) *to++ = static_cast<float>(in[c]) / most * alpha;
        if (has_alpha) *to++ = alpha;
    }
}

template <class Sample>
void put_samples(const float* in, std::size_t count, std::vector<unsigned char>& out) {
    constexpr float most = static_cast<float>(static_cast<Sample>(-1));
    auto* to = reinterpret_cast<Sample*>(out.data());
    for (std::size_t k = 0; k < count; ++k)
        // What is no number becomes black.
        to[k] = in[k] > 0 ? static_cast<Sample>(std::min(in[k] * most + 0.5f, most)) : Sample{0};
}

}  // namespace

bool is_png(std::string_view start) { return start.starts_with("\x89PNG\r\n\x1a\n"); }

CodecFailure png_size(std::string_view file, int greatest, Size& out) {
    Context context;
    spng_ihdr head{};
    if (auto failure = open(context, file, greatest, head)) return failure;
    out = {static_cast<int>(head.width), static_cast<int>(head.height)};
    return {};
}

CodecFailure read_png(std::string_view file, int greatest, RawPicture& out) {
    Context context;
    spng_ihdr head{};
    if (auto failure = open(context, file, greatest, head)) return failure;
    const bool deep = head.bit_depth == 16;
    const int format = deep ? SPNG_FMT_RGBA16 : SPNG_FMT_RGBA8;
    std::size_t length = 0;
    if (const int code = spng_decoded_image_size(context.get(), format, &length)) return damaged(code);
    std::vector<unsigned char> decoded(length);
    if (const int code = spng_decode_image(context.get(), decoded.data(), length, format, SPNG_DECODE_TRNS)) return damaged(code);
    spng_trns transparent{};
    const bool has_alpha = (head.color_type & alpha_bit) != 0 || spng_get_trns(context.get(), &transparent) == 0;
    const bool is_grey = head.color_type == grey || head.color_type == grey_alpha;
    std::uint32_t gamma = 0;
    std::uint8_t intent = 0;
    out.size = {static_cast<int>(head.width), static_cast<int>(head.height)};
    out.channels = (is_grey ? 1 : 3) + (has_alpha ? 1 : 0);
    // A gamma of 1 says linear light; everything else is taken as sRGB.
    out.linear = spng_get_srgb(context.get(), &intent) != 0 && spng_get_gama_int(context.get(), &gamma) == 0 && gamma == 100000;
    out.pixels.resize(out.size.pixels() * static_cast<std::size_t>(out.channels));
    if (deep)
        take_samples<std::uint16_t>(decoded, is_grey, has_alpha, out);
    else
        take_samples<std::uint8_t>(decoded, is_grey, has_alpha, out);
    return {};
}

namespace {

Error refused(int code) { return {Fault::file, std::string("cannot write a PNG: ") + spng_strerror(code)}; }

}  // namespace

struct PngWriter::State {
    PngLayout layout;
    Sink sink;
    std::optional<Error> error;  ///< of the sink
    Context context;
    std::vector<unsigned char> row;
    int code = 0;

    static int to_sink(spng_ctx*, void* user, void* data, std::size_t length) {
        auto& state = *static_cast<State*>(user);
        if (auto done = state.sink({static_cast<const char*>(data), length}); !done) {
            state.error = done.error();
            return SPNG_IO_ERROR;
        }
        return 0;
    }
    Result<Done> done() const {
        if (error) return *error;
        return code == 0 || code == SPNG_EOI ? Result<Done>(Done{}) : refused(code);
    }
};

PngWriter::PngWriter(const PngLayout& layout, Sink sink) : state_(std::make_unique<State>()) {
    state_->layout = layout, state_->sink = std::move(sink);
    state_->context = Context(spng_ctx_new(SPNG_CTX_ENCODER));
    state_->code = state_->context ? begin() : SPNG_EMEM;
}
PngWriter::PngWriter(PngWriter&&) noexcept = default;
PngWriter::~PngWriter() = default;

int PngWriter::begin() {
    const PngLayout& layout = state_->layout;
    spng_ctx* context = state_->context.get();
    spng_set_png_stream(context, State::to_sink, state_.get());
    // Noise hardly shrinks further at higher levels, which take several times as long.
    spng_set_option(context, SPNG_IMG_COMPRESSION_LEVEL, 2);
    constexpr int types[] = {0, grey, grey_alpha, rgb, rgb_alpha};
    spng_ihdr head{};
    head.width = static_cast<std::uint32_t>(layout.size.width), head.height = static_cast<std::uint32_t>(layout.size.height);
    head.bit_depth = static_cast<std::uint8_t>(layout.depth);
    head.color_type = static_cast<std::uint8_t>(types[layout.channels]);
    if (const int code = spng_set_ihdr(context, &head)) return code;
    if (layout.mark == ColourMark::srgb) spng_set_srgb(context, 0);
    char name[] = "Keen Loom";
    spng_text software{};
    std::copy_n("Software", 9, software.keyword);
    software.type = SPNG_TEXT, software.text = name, software.length = sizeof name - 1;
    spng_set_text(context, &software, 1);
    return spng_encode_image(context, nullptr, 0, SPNG_FMT_PNG, SPNG_ENCODE_PROGRESSIVE | SPNG_ENCODE_FINALIZE);
}

Result<Done> PngWriter::add(const float* values) {
    State& state = *state_;
    if (state.code != 0) return state.done();
    const auto count = static_cast<std::size_t>(state.layout.size.width) * static_cast<std::size_t>(state.layout.channels);
    state.row.resize(count * static_cast<std::size_t>(state.layout.depth / 8));
    if (state.layout.depth == 16)
        put_samples<std::uint16_t>(values, count, state.row);
    else
        put_samples<std::uint8_t>(values, count, state.row);
    state.code = spng_encode_row(state.context.get(), state.row.data(), state.row.size());
    return state.done();
}

Result<Done> PngWriter::finish() const {
    if (state_->error || state_->code == SPNG_EOI) return state_->done();
    return state_->code != 0 ? refused(state_->code) : Error{Fault::file, "cannot write a PNG: rows are missing"};
}

}  // namespace loom
