// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/instrument.h"

#include <algorithm>
#include <array>

namespace ash {
namespace {

struct KindRow {
  InstrumentKind kind;
  std::string_view text;
};
constexpr std::array kKinds = {KindRow{InstrumentKind::Scpi, "scpi"},
                               KindRow{InstrumentKind::OpenMetrics, "openmetrics"},
                               KindRow{InstrumentKind::Mqtt, "mqtt"}, KindRow{InstrumentKind::Command, "command"},
                               KindRow{InstrumentKind::Sound, "sound"}};

}  // namespace

std::string_view instrumentKindText(InstrumentKind kind) {
  const auto row = std::find_if(kKinds.begin(), kKinds.end(), [&](const KindRow& one) { return one.kind == kind; });
  return row->text;
}

std::optional<InstrumentKind> instrumentKindFrom(std::string_view text) {
  const auto row = std::find_if(kKinds.begin(), kKinds.end(), [&](const KindRow& one) { return one.text == text; });
  return row == kKinds.end() ? std::nullopt : std::optional(row->kind);
}

std::string instrumentKindWords() {
  std::string words;
  for (size_t i = 0; i < kKinds.size(); ++i) {
    if (i > 0) words += i + 1 == kKinds.size() ? " or " : ", ";
    words += kKinds[i].text;
  }
  return words;
}

const std::string& Instrument::where() const {
  if (kind == InstrumentKind::Sound) return device;
  return kind == InstrumentKind::Command ? command : address;
}

std::string InstrumentReading::storedUnit() const {
  const std::string_view known = unitOf(unit.quantity);
  return known.empty() ? unitText : std::string(known);
}

double answerHoldsS(const Instrument& instrument) { return std::clamp(2 * instrument.intervalS, 1.0, 3.0); }

}  // namespace ash
