// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/stand_in_files.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>
#include <filesystem>
#include <fstream>

namespace ash::sim {
namespace fs = std::filesystem;
namespace {

constexpr int kNumberWidth = 14;  // leading blanks are allowed before a kernel number

Status makeFolders(const std::string& file) {
  std::error_code error;
  fs::create_directories(fs::path(file).parent_path(), error);
  if (error) return Error::io("make the folder of", file, error.value());
  return {};
}

}  // namespace

Result<std::unique_ptr<NumberFile>> NumberFile::create(const std::string& path) {
  if (Status made = makeFolders(path); !made) return made.error();
  const int descriptor = ::open(path.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
  if (descriptor < 0) return Error::io("write", path, errno);
  return std::unique_ptr<NumberFile>(new NumberFile(path, descriptor));
}

NumberFile::~NumberFile() { ::close(m_descriptor); }

Status NumberFile::write(long long value) {
  const std::string text = fmt::format("{:>{}}\n", value, kNumberWidth);
  if (::pwrite(m_descriptor, text.data(), text.size(), 0) != static_cast<ssize_t>(text.size())) {
    return Error::io("write", m_path, errno);
  }
  return {};
}

Status FileTree::text(const std::string& file, const std::string& text) const {
  if (Status made = makeFolders(path(file)); !made) return made;
  std::ofstream out(path(file), std::ios::trunc);
  out << text << '\n';
  if (!out.flush()) return Error::io("write", path(file), errno);
  return {};
}

Status FileTree::texts(const std::string& folder, const std::vector<std::pair<std::string, std::string>>& texts) const {
  for (const auto& [file, content] : texts) {
    if (Status written = text(fmt::format("{}/{}", folder, file), content); !written) return written;
  }
  return {};
}

Status FileTree::link(const std::string& from, const std::string& to) const {
  if (Status made = makeFolders(path(from)); !made) return made;
  std::error_code error;
  const fs::path place = fs::path(from).parent_path();
  fs::remove(path(from), error);
  fs::create_directory_symlink(fs::path(to).lexically_relative(place), path(from), error);
  if (error) return Error::io("make the link", path(from), error.value());
  return {};
}

long long knobValueOf(const std::string& text, long long before) { return parseKernelInteger(text).value_or(before); }

std::string knobValueOf(const std::string& text, const std::string& before) {
  static_cast<void>(before);
  return text;
}

}  // namespace ash::sim
