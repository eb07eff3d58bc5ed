// SPDX-License-Identifier: GPL-3.0-or-later
// The load `vector`: the processor's multiply-add units, every result compared bit by bit.
#include <fmt/format.h>

#include <cstring>

#include "load/flip_bit.h"
#include "load/load_kinds.h"
#include "load/vector_kernel.h"

namespace ash {
namespace {

class VectorThread : public LoadThread {
 public:
  VectorThread(const VectorVariant& variant, const VectorLanes& expected) : m_variant(variant), m_expected(expected) {}

  BlockResult block(bool flip) override {
    VectorLanes lanes = vectorStart();
    if (flip) flipBit(&lanes[17], 20);
    m_variant.run(lanes, kVectorRounds);
    const bool isRight = std::memcmp(lanes.data(), m_expected.data(), sizeof lanes) == 0;
    return {isRight ? vectorFlops(kVectorRounds) / 1e9 : 0, isRight ? 0 : 1, {}};
  }

 private:
  const VectorVariant m_variant;
  const VectorLanes m_expected;
};

class VectorLoad : public LoadPart {
 public:
  explicit VectorLoad(VectorVariant chosen)
      : m_variant(std::move(chosen)), m_expected(vectorReference(kVectorRounds, m_variant.isFused)) {
    unit = "GFLOP/s";
    variant = m_variant.name;
    precision = "fp64";
    workPerBlock = vectorFlops(kVectorRounds) / 1e9;
  }
  Result<std::unique_ptr<LoadThread>> makeThread(int, const std::stop_token&) override {
    return std::unique_ptr<LoadThread>(std::make_unique<VectorThread>(m_variant, m_expected));
  }

 private:
  VectorVariant m_variant;
  VectorLanes m_expected;
};

Result<std::unique_ptr<LoadPart>> makeVector(const LoadOptions& options) {
  std::string names;
  for (const VectorVariant& variant : usableVectorVariants()) {
    if (options.variant.empty() || options.variant == variant.name)
      return std::unique_ptr<LoadPart>(std::make_unique<VectorLoad>(variant));
    names += (names.empty() ? "" : ", ") + variant.name;
  }
  return Error::badInput(
      fmt::format("This processor has no instruction set \"{}\" for the load; it has: {}.", options.variant, names));
}

}  // namespace

extern const LoadKindRow kVectorLoad;
constinit const LoadKindRow kVectorLoad = {LoadKind::Vector, makeVector};

}  // namespace ash
