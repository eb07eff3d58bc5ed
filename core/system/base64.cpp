// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/base64.h"

#include <openssl/evp.h>

#include <algorithm>

namespace ash {

std::string base64Of(std::string_view bytes) {
  // The library counts in int and ends each block with a zero; three bytes become four letters.
  constexpr size_t kBlock = 3U << 20, kLetters = 4U << 20;
  std::string all;
  all.reserve(bytes.size() / 3 * 4 + 4);
  for (size_t at = 0; at < bytes.size(); at += kBlock) {
    const std::string_view block = bytes.substr(at, kBlock);
    std::string letters(kLetters + 1, '\0');
    const int length =
        EVP_EncodeBlock(reinterpret_cast<unsigned char*>(letters.data()),
                        reinterpret_cast<const unsigned char*>(block.data()), static_cast<int>(block.size()));
    all.append(letters, 0, static_cast<size_t>(std::max(0, length)));
  }
  return all;
}

}  // namespace ash
