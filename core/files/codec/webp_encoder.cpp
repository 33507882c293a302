// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/codec/webp_encoder.h"

#include <webp/encode.h>
#include <webp/mux.h>

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/files/packing/samples_kernel.h"

namespace loom {

namespace {

constexpr float quality = 95;
/// Of 0, fastest, to 6, smallest, as the library counts.
constexpr int effort = 2;

class WebpEncoder final : public PictureEncoder {
public:
    WebpEncoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) : layout_(layout), sink_(sink) {
        if (layout.size.width > WEBP_MAX_DIMENSION || layout.size.height > WEBP_MAX_DIMENSION)
            failure.words =
                "a WebP has at most " + std::to_string(WEBP_MAX_DIMENSION) + " pixels on a side; choose another format";
        bytes_.reserve(row_length() * static_cast<std::size_t>(layout.size.height));
    }

    CodecFailure add(int rows, const LayRow& lay) override {
        std::vector<float> row(row_length());
        for (int k = 0; k < rows; ++k) {
            lay(k, row.data());
            bytes_.resize(bytes_.size() + row.size());
            samples_to_bytes(row.data(), row.size(), bytes_.data() + bytes_.size() - row.size());
        }
        return {};
    }

    CodecFailure finish() override {
        if (bytes_.size() != row_length() * static_cast<std::size_t>(layout_.size.height)) return {"rows are missing"};
        WebPConfig config;
        if (!WebPConfigPreset(&config, WEBP_PRESET_DEFAULT, quality)) return {"the library does not fit"};
        config.method = effort, config.thread_level = 1;
        WebPPicture picture;
        if (!WebPPictureInit(&picture)) return {"the library does not fit"};
        picture.width = layout_.size.width, picture.height = layout_.size.height;
        picture.custom_ptr = this;
        picture.writer = [](const std::uint8_t* data, std::size_t count, const WebPPicture* of) {
            static_cast<WebpEncoder*>(of->custom_ptr)->encoded_.append(reinterpret_cast<const char*>(data), count);
            return 1;
        };
        const int stride = static_cast<int>(row_length());
        const bool taken = layout_.channels == 4 ? WebPPictureImportRGBA(&picture, bytes_.data(), stride)
                                                 : WebPPictureImportRGB(&picture, bytes_.data(), stride);
        const bool encoded = taken && WebPEncode(&config, &picture);
        WebPPictureFree(&picture);
        return encoded && put() ? CodecFailure{} : not_put_there();
    }

private:
    /// The picture with its profile beside it (WebP container, ICCP chunk).
    bool put() {
        if (layout_.profile.empty()) return sink_.write_at(0, encoded_);
        const WebPData picture{reinterpret_cast<const std::uint8_t*>(encoded_.data()), encoded_.size()},
            profile{reinterpret_cast<const std::uint8_t*>(layout_.profile.data()), layout_.profile.size()};
        const std::unique_ptr<WebPMux, void (*)(WebPMux*)> mux(WebPMuxCreate(&picture, 0), WebPMuxDelete);
        WebPData whole{};
        if (!mux || WebPMuxSetChunk(mux.get(), "ICCP", &profile, 0) != WEBP_MUX_OK ||
            WebPMuxAssemble(mux.get(), &whole) != WEBP_MUX_OK)
            return false;
        const bool written = sink_.write_at(0, {reinterpret_cast<const char*>(whole.bytes), whole.size});
        WebPDataClear(&whole);
        return written;
    }

    std::size_t row_length() const {
        return static_cast<std::size_t>(layout_.size.width) * static_cast<std::size_t>(layout_.channels);
    }

    PictureLayout layout_;
    ByteSink& sink_;
    std::vector<std::uint8_t> bytes_;
    std::string encoded_;
};

}  // namespace

std::unique_ptr<PictureEncoder> webp_encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) {
    return std::make_unique<WebpEncoder>(layout, sink, failure);
}

}  // namespace loom
