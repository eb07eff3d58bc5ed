// SPDX-License-Identifier: GPL-3.0-or-later
// A page of another machine, in either format: samples with names and finite or missing values, or a sentence with a
// line.
#include <cmath>

#include "instruments/openmetrics_text.h"
#include "tests/fuzz/fuzz.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  if (size < 1) return 0;
  const std::string text(reinterpret_cast<const char*>(data) + 1, size - 1);
  const auto page = ash::parseMetrics(text, data[0] % 2 == 0);
  if (!page) {
    ash::fuzz::mustHold(!page.error().message.empty());
    return 0;
  }
  for (const ash::MetricSample& sample : page->samples) {
    ash::fuzz::mustHold(!sample.name.empty() && !std::isinf(sample.value) && sample.labels.size() <= 101);
    static_cast<void>(ash::unitOfMetric(sample.name));
  }
  return 0;
}
