// SPDX-License-Identifier: GPL-3.0-or-later
// Files of a simulated kernel: numbers that are never seen half written, texts, links, and knobs that are read back.
#pragma once

#include <fmt/format.h>

#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "model/result.h"
#include "readings/gauges/sysfs_file.h"

namespace ash::sim {

/// A number in a file: held open, always written in one piece and with the same width, so that a reader never sees
/// half.
class NumberFile {
 public:
  /// Makes the file and the folders above it.
  static Result<std::unique_ptr<NumberFile>> create(const std::string& path);
  ~NumberFile();
  NumberFile(const NumberFile&) = delete;
  NumberFile& operator=(const NumberFile&) = delete;
  Status write(long long value);

 private:
  NumberFile(std::string path, int descriptor) : m_path(std::move(path)), m_descriptor(descriptor) {}
  std::string m_path;
  int m_descriptor;
};

/// The tree that the files are made in. Paths are relative to it.
class FileTree {
 public:
  explicit FileTree(std::string folder) : m_folder(std::move(folder)) {}
  std::string path(const std::string& file) const { return m_folder + "/" + file; }
  Status text(const std::string& file, const std::string& text) const;
  /// Several in one folder: name and text.
  Status texts(const std::string& folder, const std::vector<std::pair<std::string, std::string>>& texts) const;
  Result<std::unique_ptr<NumberFile>> number(const std::string& file) const { return NumberFile::create(path(file)); }
  /// A link in the tree to a place in the tree, as the kernel makes them.
  Status link(const std::string& from, const std::string& to) const;

 private:
  std::string m_folder;
};

/// What a file holds that others may write into: a number, or one of some words.
long long knobValueOf(const std::string& text, long long before);
std::string knobValueOf(const std::string& text, const std::string& before);

/// A file that others may write into, as into the kernel's: what was written is taken once, and what was made of it is
/// written back. `T` is a whole number or a word.
template <typename T>
class KnobFile {
 public:
  static Result<std::unique_ptr<KnobFile>> create(const FileTree& tree, const std::string& file, T value) {
    if (Status written = tree.text(file, fmt::format("{}", value)); !written) return written.error();
    return std::unique_ptr<KnobFile>(new KnobFile(tree.path(file), std::move(value)));
  }
  /// The new value, when another one stands in the file than before and can be understood; nothing otherwise.
  std::optional<T> take() {
    const auto text = readSmallFile(m_path);
    if (!text || text->empty()) return std::nullopt;
    T now = knobValueOf(*text, m_value);
    if (now == m_value) return std::nullopt;
    m_taken = now;
    return now;
  }
  /// What the machine made of it (clamped to what it can do). What stands there already is not written again: somebody
  /// may be turning it on just now.
  Status answer(const T& value) {
    const bool isThere = std::exchange(m_taken, std::nullopt) == value;
    m_value = value;
    return isThere ? Status() : overwriteSmallFile(m_path, fmt::format("{}", value));
  }
  const T& value() const { return m_value; }

 private:
  KnobFile(std::string path, T value) : m_path(std::move(path)), m_value(std::move(value)) {}
  std::string m_path;
  T m_value;
  std::optional<T> m_taken;  // what was read and has not been answered yet
};

using NumberKnob = KnobFile<long long>;
using WordKnob = KnobFile<std::string>;

}  // namespace ash::sim
