// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Rows of a file as they are decoded, made planes: upright, in sRGB, premultiplied. Private to core/files.
#pragma once

#include <optional>
#include <vector>

#include "core/files/colour_profile.h"
#include "core/files/picture_codec.h"
#include "core/image/bundle.h"

namespace loom {

/// Planes are counted where they are made, so that a picture cannot take more than the process may have; what is too large is
/// refused before the first row.
class PictureBuilder final : public PictureRows {
public:
    explicit PictureBuilder(const Job& job) : job_(job) {}

    bool begin(const PictureHead& head) override;
    void add(int rows, const float* values) override;
    void check() const override { job_.check(); }
    unsigned char* room(std::size_t bytes) override;

    /// Why begin() did not want it.
    const std::optional<Error>& error() const { return error_; }
    /// After the last row.
    Bundle picture() &&;

private:
    /// Row `y` as it is stored, one array for each channel, straight or not as it came.
    void take_row(int y, const float* values);

    const Job& job_;
    PictureHead head_;
    int colours_ = 0, next_ = 0;
    bool alpha_ = false, linear_ = false;
    std::shared_ptr<const ToSrgb> profile_;
    std::vector<Plane> planes_;
    Plane room_;
    std::optional<Error> error_;
};

}  // namespace loom
