// SPDX-License-Identifier: GPL-3.0-or-later
// The load `integer`.
#include "load/flip_bit.h"
#include "load/integer_kernel.h"
#include "load/load_kinds.h"

namespace ash {
namespace {

constexpr double kWorkPerBlock = kIntegerOperations * static_cast<double>(kIntegerRounds) / 1e9;

class IntegerThread : public LoadThread {
 public:
  BlockResult block(bool flip) override {
    IntegerState state;
    if (flip) flipBit(&state.left, 40);
    runInteger(state, kIntegerRounds);
    const bool isRight = state.digest() == kIntegerExpected;
    return {isRight ? kWorkPerBlock : 0, isRight ? 0 : 1, {}};
  }
};

class IntegerLoad : public LoadPart {
 public:
  IntegerLoad() {
    unit = "Gop/s";
    variant = "portable";
    workPerBlock = kWorkPerBlock;
  }
  Result<std::unique_ptr<LoadThread>> makeThread(int, const std::stop_token&) override {
    return std::unique_ptr<LoadThread>(std::make_unique<IntegerThread>());
  }
};

Result<std::unique_ptr<LoadPart>> makeInteger(const LoadOptions&) {
  return std::unique_ptr<LoadPart>(std::make_unique<IntegerLoad>());
}

}  // namespace

extern const LoadKindRow kIntegerLoad;
constinit const LoadKindRow kIntegerLoad = {LoadKind::Integer, makeInteger};

}  // namespace ash
