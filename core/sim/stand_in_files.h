// SPDX-License-Identifier: GPL-3.0-or-later
// Files of a simulated kernel: numbers that are never seen half written, texts, links, and knobs that are read back.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include "model/result.h"

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
  Result<std::unique_ptr<NumberFile>> number(const std::string& file) const { return NumberFile::create(path(file)); }
  /// A link in the tree to a place in the tree, as the kernel makes them.
  Status link(const std::string& from, const std::string& to) const;

 private:
  std::string m_folder;
};

/// A file that others may write into, as into the kernel's: what was written is taken once, and what was made of it is
/// written back.
class Knob {
 public:
  static Result<std::unique_ptr<Knob>> create(const FileTree& tree, const std::string& file, long long value);
  /// The new value, when another one stands in the file than before and it is a number; nothing otherwise.
  std::optional<long long> take();
  /// What the machine made of it (clamped to what it can do).
  Status answer(long long value);
  long long value() const { return m_value; }

 private:
  Knob(std::string path, long long value) : m_path(std::move(path)), m_value(value) {}
  std::string m_path;
  long long m_value;
  std::optional<long long> m_taken;  // what was read and has not been answered yet
};

}  // namespace ash::sim
