// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Picture files in and out: PNG through libspng, all others through the module with OpenImageIO.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/files.h"
#include "core/base/result.h"
#include "core/catalogue/picture_format.h"
#include "core/image/bundle.h"

namespace loom {

/// By the path's extension; ".png" is 8 bit, ".exr" half.
std::optional<PictureFormat> format_of_path(std::string_view path);

/// Reads PNG, TIFF, EXR, JPEG, WebP and whatever else OpenImageIO knows: upright, as Exif says how the camera was held, and in
/// sRGB, whatever profile or primaries the file has; linear light (EXR) is encoded. Row by row into planes, so that nothing but
/// the picture takes memory; refused where that would be more than the process may have, and cancelled with the job.
Result<Bundle> read_picture(const std::string& path, const Job& job = Job());

/// The same from the bytes of a file; errors without a path.
Result<Bundle> decode_picture(std::string_view file, const Job& job = Job());
/// Its size as it is shown, from the head; refused beyond `greatest` pixels on a side.
Result<Size> decode_size(std::string_view file, int greatest);

/// What a picture's numbers are.
enum class Meaning {
    colour,  ///< premultiplied by its coverage; marked sRGB (EXR is written linear). JPEG has no coverage: it is laid over white
    packed,  ///< the same, but what stands as coverage is a channel like the others, and nothing is multiplied by it
    data,    ///< as `packed`, marked as data and never made linear
};

/// Writes atomically.
Result<Done> write_picture(const std::string& path, const Bundle& picture, PictureFormat format,
                           Meaning meaning = Meaning::colour);

/// The same in bands: rows come from top to bottom, as many as the size has, go to the disk as they come, and the file takes its
/// place in finish(). Only WebP is gathered whole, JPEG once it is encoded, and so is what goes to devices and pipes, except PNG.
class PictureWriter {
public:
    static Result<PictureWriter> open(const std::string& path, Size size, PictureFormat format,
                                      Meaning meaning = Meaning::colour);
    /// Into memory: what would be the file comes from taken() after finish().
    static Result<PictureWriter> open(Size size, PictureFormat format, Meaning meaning);
    PictureWriter(PictureWriter&&) noexcept;
    PictureWriter& operator=(PictureWriter&&) noexcept;
    ~PictureWriter();

    /// All bands have coverage, or none; all are grey, or none.
    Result<Done> add(const Bundle& band);
    Result<Done> finish();
    /// Everything is in the file, which goes to where it takes its place later; nothing if it is in memory.
    Result<std::optional<FileWriter>> end();
    std::string taken();
    /// Of the file's pixels, with alpha; 0 until the first band came.
    int channels() const;

private:
    struct State;
    static Result<PictureWriter> opened(std::unique_ptr<State> state, Size size, PictureFormat format, Meaning meaning);
    explicit PictureWriter(std::unique_ptr<State> state);
    std::unique_ptr<State> state_;
};

/// 8-bit pixels, straight alpha, as "rgba" rows for screens; `channels` 3 or 4.
std::vector<unsigned char> to_bytes(const Bundle& picture, int channels);

constexpr int preview_size = 256;  ///< pixels of the longer side of a recipe file's picture

/// A PNG in memory, at most `longest` pixels on its longer side.
Result<std::string> encode_preview(const Bundle& picture, int longest);

/// The name of a picture of a recipe: "carriage-oak-colour.png".
std::string picture_name(std::string_view recipe_name, std::string_view map, PictureFormat format);

}  // namespace loom
