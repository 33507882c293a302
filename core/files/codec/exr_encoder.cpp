// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/codec/exr_encoder.h"

#include <openexr.h>

#include <cstdint>
#include <cstring>
#include <optional>
#include <vector>

#include "core/files/packing/deflate.h"
#include "core/files/packing/samples_kernel.h"

namespace loom {

namespace {

class ExrEncoder final : public PictureEncoder {
public:
    ExrEncoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure)
        : layout_(layout), sink_(sink), half_(layout.format == PictureFormat::exr) {
        exr_context_initializer_t with = EXR_DEFAULT_CONTEXT_INITIALIZER;
        with.user_data = this, with.write_fn = &ExrEncoder::write;
        with.error_handler_fn = [](exr_const_context_t, exr_result_t, const char*) {};
        if (exr_start_write(&file_, "picture.exr", EXR_WRITE_FILE_DIRECTLY, &with) != EXR_ERR_SUCCESS || !begin()) {
            failure = not_put_there();
            return;
        }
        const std::size_t values = static_cast<std::size_t>(layout.size.width) * static_cast<std::size_t>(layout.channels);
        const RowStrips::Shape shape{layout.size.height, lines, values, values * sample_bytes()};
        strips_.emplace(
            shape, [this](float* row, std::uint8_t* out) { pack(row, out); },
            [length = shape.row_bytes](const RowStrips::Strip& strip) { return encoded(strip, length); },
            [this](const RowStrips::Strip& strip, const std::string& bytes) {
                return exr_write_scanline_chunk(file_, part_, strip.first, bytes.data(), bytes.size()) == EXR_ERR_SUCCESS;
            });
    }
    ~ExrEncoder() override {
        if (file_) exr_finish(&file_);
    }
    ExrEncoder(const ExrEncoder&) = delete;

    CodecFailure add(int rows, const LayRow& lay) override { return strips_->add(rows, lay) ? CodecFailure{} : not_put_there(); }

    CodecFailure finish() override {
        const bool whole = strips_->whole();
        return exr_finish(&file_) == EXR_ERR_SUCCESS && whole ? CodecFailure{} : not_put_there();
    }

private:
    static constexpr int lines = 16;  ///< of a chunk with this compression

    static std::int64_t write(exr_const_context_t, void* user, const void* bytes, std::uint64_t count, std::uint64_t offset,
                              exr_stream_error_func_ptr_t) {
        const bool written = static_cast<ExrEncoder*>(user)->sink_.write_at(offset, {static_cast<const char*>(bytes), count});
        return written ? static_cast<std::int64_t>(count) : -1;
    }
    std::size_t sample_bytes() const { return half_ ? 2 : 4; }

    bool begin() {
        const bool colour = layout_.channels >= 3, alpha = layout_.channels % 2 == 0;
        bool well = exr_add_part(file_, nullptr, EXR_STORAGE_SCANLINE, &part_) == EXR_ERR_SUCCESS &&
                    exr_initialize_required_attr_simple(file_, part_, layout_.size.width, layout_.size.height,
                                                        EXR_COMPRESSION_ZIP) == EXR_ERR_SUCCESS;
        const auto channel = [&](const char* name) {
            return exr_add_channel(file_, part_, name, half_ ? EXR_PIXEL_HALF : EXR_PIXEL_FLOAT, EXR_PERCEPTUALLY_LOGARITHMIC, 1,
                                   1) == EXR_ERR_SUCCESS;
        };
        // In the order of the alphabet, as in the chunks.
        if (alpha) well = well && channel("A");
        if (colour)
            for (const char* name : {"B", "G", "R"}) well = well && channel(name);
        else
            well = well && channel("Y");
        const char* space = layout_.mark == ColourMark::data ? "Raw" : "Linear";
        well = well && exr_attr_set_string(file_, part_, "oiio:ColorSpace", space) == EXR_ERR_SUCCESS;
        // What the numbers of a colour are the light of: the primaries and the white of ITU-R BT.709, which are sRGB's.
        constexpr exr_attr_chromaticities_t primaries{0.64f, 0.33f, 0.30f, 0.60f, 0.15f, 0.06f, 0.3127f, 0.3290f};
        if (layout_.mark == ColourMark::linear)
            well = well && exr_attr_set_chromaticities(file_, part_, "chromaticities", &primaries) == EXR_ERR_SUCCESS;
        well = well && exr_attr_set_string(file_, part_, "software", "Keen Loom") == EXR_ERR_SUCCESS;
        return well && exr_write_header(file_) == EXR_ERR_SUCCESS;
    }

    /// A line: channel after channel, the last one, alpha, first.
    void pack(const float* row, std::uint8_t* out) const {
        const auto width = static_cast<std::size_t>(layout_.size.width), step = static_cast<std::size_t>(layout_.channels);
        std::vector<float> line(width);
        for (std::size_t c = step; c-- > 0; out += width * sample_bytes()) {
            for (std::size_t x = 0; x < width; ++x) line[x] = row[x * step + c];
            if (half_)
                samples_to_halves(line.data(), width, reinterpret_cast<std::uint16_t*>(out));
            else
                std::memcpy(out, line.data(), width * sizeof(float));
        }
    }
    static std::string encoded(const RowStrips::Strip& strip, std::size_t row_bytes) {
        const std::size_t count = row_bytes * static_cast<std::size_t>(strip.rows);
        std::vector<std::uint8_t> scratch(count), shuffled(count);
        exr_shuffled(strip.bytes, count, scratch.data(), shuffled.data());
        std::string packed = zlib_stream({reinterpret_cast<const char*>(shuffled.data()), count});
        // A chunk that does not become smaller is written as it is.
        return packed.size() < count ? packed : std::string(reinterpret_cast<const char*>(strip.bytes), count);
    }

    PictureLayout layout_;
    ByteSink& sink_;
    bool half_;
    int part_ = 0;
    exr_context_t file_ = nullptr;
    std::optional<RowStrips> strips_;
};

}  // namespace

std::unique_ptr<PictureEncoder> exr_encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) {
    return std::make_unique<ExrEncoder>(layout, sink, failure);
}

}  // namespace loom
