// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A folder that came from somewhere else: files in it are read and written without ever leaving it.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace loom {

/// Why a name is none for a file in a folder of somebody else ("it begins with a dot"); "" if it is one: no path, no control
/// characters, at most 255 bytes, not hidden.
std::string plain_name_fault(std::string_view name);

/// A name as it may stand in a line of text.
std::string name_in_words(std::string_view name);

/// Held open, so that it stays the same whatever becomes of its path. Links within it are refused, read or written; so is what
/// is neither a regular file nor a folder. Errors name the file.
class OwnFolder {
public:
    /// The path itself may lead over links.
    static Result<OwnFolder> open(const std::string& path);
    /// A folder within this one; `make` it if it is not there.
    Result<OwnFolder> folder(const std::string& name, bool make = false) const;

    enum class There { nothing, file, folder, other };
    /// What has this name; links and devices are `other`.
    There there(const std::string& name) const;
    /// Of a regular file; 0 if it is none.
    std::size_t bytes_of(const std::string& name) const;
    /// All names but hidden ones, in order.
    Result<std::vector<std::string>> names() const;
    Result<std::string> read(const std::string& name, std::size_t most_bytes) const;
    /// Whole or not at all.
    Result<Done> write(const std::string& name, std::string_view bytes) const;
    void remove(const std::string& name) const;

private:
    OwnFolder(std::string path, int file);
    std::string path_of(const std::string& name) const { return path_ + "/" + name; }

    std::string path_;  ///< for messages
    std::shared_ptr<const int> file_;
};

}  // namespace loom
