// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Whole files in and out. What was there stays until the new file is whole and on the disk.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace loom {

/// Reads a file of at most `most_bytes`.
Result<std::string> read_file(const std::string& path, std::size_t most_bytes);

/// The first `count` bytes of a file, or as many as it has.
Result<std::string> read_start(const std::string& path, std::size_t count);

/// A file that is written piece by piece beside its place and takes it in finish(). Links are followed; mode and owner of the
/// file that is replaced are kept; devices and pipes are written to directly. What a killed process left in the folder (names
/// that begin with part_prefix and that nobody holds) is removed when the next file is opened there.
class FileWriter {
public:
    static constexpr std::string_view part_prefix = ".keen-loom-part-";

    static Result<FileWriter> open(const std::string& path);
    FileWriter(FileWriter&& other) noexcept;
    FileWriter& operator=(FileWriter&&) = delete;
    /// Without finish() nothing is left behind.
    ~FileWriter();

    Result<Done> write(std::string_view bytes);
    /// Whether write_at may be used: not with devices and pipes.
    bool goes_back() const { return !part_.empty(); }
    Result<Done> write_at(std::size_t offset, std::string_view bytes);
    /// All of it is on the disk, but not in its place.
    Result<Done> sync();
    /// The file is synced and closed, takes its place, and the folder is synced.
    Result<Done> finish();
    const std::string& path() const { return path_; }
    /// Written so far; 0 of devices and pipes.
    std::size_t bytes() const;

private:
    FileWriter(std::string path, std::string target) : path_(std::move(path)), target_(std::move(target)) {}
    Result<Done> failed(int system_error);
    int open_part(const std::string& folder);

    std::string path_;    ///< as it was asked for, for messages
    std::string target_;  ///< links followed
    std::string part_;    ///< "" while written to directly
    int file_ = -1;
};

/// Files that are whole and wait for each other, so that all of them take their places or none does.
class FilesTogether {
public:
    FilesTogether();
    Result<Done> add(FileWriter file);
    Result<Done> add(const std::string& path, std::string_view bytes);
    /// After an error, those that were new are gone again.
    Result<Done> finish();
    const std::vector<FileWriter>& files() const { return files_; }

private:
    std::vector<FileWriter> files_;
};

Result<Done> write_file(const std::string& path, std::string_view bytes);

/// "cannot ... 'path': reason (what to do)" from the system's last error.
Error file_error(std::string_view what, const std::string& path, int system_error);

}  // namespace loom
