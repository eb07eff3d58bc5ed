// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/sha256.h"

#include <fmt/format.h>
#include <openssl/evp.h>

#include <array>

namespace ash {

std::string sha256Hex(std::string_view bytes) {
  std::array<unsigned char, EVP_MAX_MD_SIZE> digest{};
  unsigned length = 0;
  EVP_Digest(bytes.data(), bytes.size(), digest.data(), &length, EVP_sha256(), nullptr);
  std::string hex;
  for (unsigned i = 0; i < length; ++i) hex += fmt::format("{:02x}", digest[i]);
  return hex;
}

}  // namespace ash
