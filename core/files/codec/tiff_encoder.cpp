// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/codec/tiff_encoder.h"

#include <tiffio.h>

#include <algorithm>
#include <cstdint>
#include <optional>
#include <vector>

#include "core/files/packing/deflate.h"
#include "core/files/packing/samples_kernel.h"

namespace loom {

namespace {

constexpr std::size_t strip_bytes = std::size_t{384} << 10;

/// The sink as a file that libtiff writes to.
struct SinkFile {
    ByteSink& sink;
    std::size_t at = 0, size = 0;

    static SinkFile& of(thandle_t handle) { return *static_cast<SinkFile*>(handle); }
    static tmsize_t write(thandle_t handle, void* data, tmsize_t count) {
        SinkFile& file = of(handle);
        if (!file.sink.write_at(file.at, {static_cast<const char*>(data), static_cast<std::size_t>(count)})) return 0;
        file.at += static_cast<std::size_t>(count), file.size = std::max(file.size, file.at);
        return count;
    }
    static toff_t seek(thandle_t handle, toff_t offset, int origin) {
        SinkFile& file = of(handle);
        file.at = (origin == SEEK_CUR ? file.at : origin == SEEK_END ? file.size : 0) + static_cast<std::size_t>(offset);
        return file.at;
    }
    static tmsize_t read(thandle_t, void*, tmsize_t) { return 0; }
    static int close(thandle_t) { return 0; }
    static toff_t length(thandle_t handle) { return of(handle).size; }
};

class TiffEncoder final : public PictureEncoder {
public:
    TiffEncoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) : layout_(layout), file_{sink} {
        TIFFSetErrorHandler(nullptr), TIFFSetWarningHandler(nullptr);
        tiff_.reset(TIFFClientOpen("sink", "w", &file_, SinkFile::read, SinkFile::write, SinkFile::seek, SinkFile::close,
                                   SinkFile::length, nullptr, nullptr));
        if (!tiff_) {
            failure = not_put_there();
            return;
        }
        const RowStrips::Shape shape{layout.size.height, static_cast<int>(std::max<std::size_t>(1, strip_bytes / (values() * 2))),
                                     values(), values() * 2};
        set(TIFFTAG_IMAGEWIDTH, layout.size.width);
        set(TIFFTAG_IMAGELENGTH, layout.size.height);
        set(TIFFTAG_BITSPERSAMPLE, 16);
        set(TIFFTAG_SAMPLESPERPIXEL, layout.channels);
        set(TIFFTAG_PHOTOMETRIC, layout.channels < 3 ? PHOTOMETRIC_MINISBLACK : PHOTOMETRIC_RGB);
        set(TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
        set(TIFFTAG_ORIENTATION, ORIENTATION_TOPLEFT);
        set(TIFFTAG_COMPRESSION, COMPRESSION_ADOBE_DEFLATE);
        set(TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
        set(TIFFTAG_SOFTWARE, "Keen Loom");
        set(TIFFTAG_ROWSPERSTRIP, shape.strip_rows);
        if (!layout.profile.empty())
            TIFFSetField(tiff_.get(), TIFFTAG_ICCPROFILE, static_cast<std::uint32_t>(layout.profile.size()),
                         layout.profile.data());
        std::uint16_t straight = EXTRASAMPLE_UNASSALPHA;
        if (layout.channels % 2 == 0) TIFFSetField(tiff_.get(), TIFFTAG_EXTRASAMPLES, 1, &straight);
        strips_.emplace(
            shape,
            [this](float* row, std::uint8_t* out) { samples_to_words(row, values(), reinterpret_cast<std::uint16_t*>(out)); },
            [this](const RowStrips::Strip& strip) { return encoded(strip); },
            [this, rows = shape.strip_rows](const RowStrips::Strip& strip, std::string bytes) {
                return TIFFWriteRawStrip(tiff_.get(), static_cast<std::uint32_t>(strip.first / rows), bytes.data(),
                                         static_cast<tmsize_t>(bytes.size())) >= 0;
            });
    }

    CodecFailure add(int rows, const LayRow& lay) override { return strips_->add(rows, lay) ? CodecFailure{} : not_put_there(); }

    CodecFailure finish() override {
        const bool written = strips_->whole() && TIFFFlush(tiff_.get()) == 1;
        tiff_.reset();
        return written ? CodecFailure{} : not_put_there();
    }

private:
    std::size_t values() const {
        return static_cast<std::size_t>(layout_.size.width) * static_cast<std::size_t>(layout_.channels);
    }
    std::string encoded(const RowStrips::Strip& strip) const {
        std::vector<std::uint16_t> differences(values() * static_cast<std::size_t>(strip.rows));
        for (std::size_t k = 0; k < static_cast<std::size_t>(strip.rows); ++k)
            tiff_differences(reinterpret_cast<const std::uint16_t*>(strip.bytes) + k * values(), values(),
                             static_cast<std::size_t>(layout_.channels), differences.data() + k * values());
        return zlib_stream({reinterpret_cast<const char*>(differences.data()), differences.size() * 2});
    }
    template <class T>
    void set(std::uint32_t tag, T value) {
        TIFFSetField(tiff_.get(), tag, value);
    }
    struct Close {
        void operator()(TIFF* tiff) const { TIFFClose(tiff); }
    };

    PictureLayout layout_;
    SinkFile file_;
    std::optional<RowStrips> strips_;
    std::unique_ptr<TIFF, Close> tiff_;
};

}  // namespace

std::unique_ptr<PictureEncoder> tiff_encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) {
    return std::make_unique<TiffEncoder>(layout, sink, failure);
}

}  // namespace loom
