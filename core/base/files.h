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

/// The same of a regular file that is open already, and is closed; `path` stands in messages.
Result<std::string> read_open_file(int file, const std::string& path, std::size_t most_bytes);

/// The first `count` bytes of a file, or as many as it has.
Result<std::string> read_start(const std::string& path, std::size_t count);

/// A file that is written piece by piece beside its place and takes it in finish(). Links are followed; mode and owner of the
/// file that is replaced are kept; devices and pipes are written to directly. What a killed process left in the folder (names
/// that begin with part_prefix and that nobody holds) is removed when the next file is opened there.
class FileWriter {
public:
    static constexpr std::string_view part_prefix = ".keen-loom-part-";

    static Result<FileWriter> open(const std::string& path);
    /// A regular file, or a new one, of this name in an open folder; `path` stands in messages. Links are replaced, not followed.
    static Result<FileWriter> open_in(int folder, const std::string& name, const std::string& path);
    FileWriter(FileWriter&& other) noexcept;
    FileWriter& operator=(FileWriter&&) = delete;
    /// Without finish() nothing is left behind.
    ~FileWriter();

    Result<Done> write(std::string_view bytes);
    /// Whether write_at may be used: not with devices and pipes.
    bool goes_back() const { return !direct_; }
    Result<Done> write_at(std::size_t offset, std::string_view bytes);
    /// All of it is on the disk, but not in its place.
    Result<Done> sync();
    /// The file is synced and closed, takes its place, and the folder is synced.
    Result<Done> finish();
    /// Instead of finish(), after sync(): it takes its place, and what was there is kept beside until settle() or take_back().
    Result<Done> take_place();
    /// What was there before is gone, and the folder synced.
    void settle();
    /// As it was before take_place().
    Result<Done> take_back();
    const std::string& path() const { return path_; }
    /// Written so far; 0 of devices and pipes.
    std::size_t bytes() const;

private:
    explicit FileWriter(std::string path) : path_(std::move(path)) {}
    Result<Done> failed(int system_error) const;
    Result<Done> open_beside(bool exists, unsigned mode, unsigned owner, unsigned group);
    int open_part();
    void sync_folder() const;
    void close_all();

    std::string path_;  ///< as it was asked for, for messages
    std::string name_;  ///< in the folder, links followed
    std::string part_;  ///< what is written, beside; what was there, once this has taken its place; "" if there is neither
    int folder_ = -1, file_ = -1;
    int before_ = -1;  ///< what was there, locked while it is kept
    bool in_place_ = false, direct_ = false;
};

/// Files that are whole and wait for each other, so that all of them take their places or none does. Only a machine that
/// stops while they do leaves some of both; each of them is whole then too.
class FilesTogether {
public:
    FilesTogether();
    Result<Done> add(FileWriter file);
    Result<Done> add(const std::string& path, std::string_view bytes);
    /// After an error everything is as it was before. Only where that fails too (the disk went away) the error says so.
    Result<Done> finish();
    const std::vector<FileWriter>& files() const { return files_; }

private:
    std::vector<FileWriter> files_;
};

Result<Done> write_file(const std::string& path, std::string_view bytes);

/// "cannot ... 'path': reason (what to do)" from the system's last error.
Error file_error(std::string_view what, const std::string& path, int system_error);

}  // namespace loom
