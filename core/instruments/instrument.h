// SPDX-License-Identifier: GPL-3.0-or-later
// An instrument as the person describes it: where it is, how it is asked, what its answers mean. It belongs to the
// bench and never to a book (docs/instruments.md).
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "model/accuracy_text.h"
#include "model/reading.h"
#include "model/role.h"
#include "model/unit.h"

namespace ash {

enum class InstrumentKind { Scpi, OpenMetrics, Mqtt, Command, Sound };

/// What a reading of a microphone tells of each interval.
enum class SoundMeasure {
  Equivalent,   ///< its equivalent level, A-weighted
  FastMaximum,  ///< its loudest moment, A-weighted, time weighting F
  Band,         ///< the level of a third of an octave
  Tone,         ///< the frequency of a tone that stands out
  ToneOver,     ///< by how much it does
};

/// "scpi", "openmetrics", "mqtt", "command", "sound".
std::string_view instrumentKindText(InstrumentKind kind);
std::optional<InstrumentKind> instrumentKindFrom(std::string_view text);
/// All of them, for messages: "scpi, openmetrics, mqtt, command or sound".
std::string instrumentKindWords();

/// One reading of an instrument. What is asked for is a query (scpi), a metric with labels (openmetrics), a topic
/// and a pointer into its messages (mqtt), a pattern with one group (command), or a measure (sound).
struct InstrumentReading {
  Role role;         ///< empty when it has none
  std::string name;  ///< its own, when it has no role
  std::string query, metric, topic, pointer, pattern;
  std::map<std::string, std::string> labels;
  SoundMeasure measure = SoundMeasure::Equivalent;  ///< sound
  size_t measureIndex = 0;                          ///< which band, which tone
  bool isOfSpectrum = false;                        ///< it comes with the instrument's spectrum and is not written down
  std::string unitText;                             ///< as written; empty = the role's, or what the answer says
  UnitMatch unit;                                   ///< from it
  StatedAccuracy accuracy;
  std::string accuracyAsWritten;
  std::string place;

  /// Its role's text, else its name.
  const std::string& title() const { return role.empty() ? name : role.text(); }
  /// The unit it is kept in: that of its quantity, else as written.
  std::string storedUnit() const;
};

struct Instrument {
  std::string name;
  InstrumentKind kind = InstrumentKind::Scpi;
  std::string address;      ///< host:port, or a URL
  std::string command;      ///< a line for /bin/sh
  bool isFollowed = false;  ///< command: left running and printing lines, instead of run at each interval
  double intervalS = 1, timeoutS = 1, delayS = 0;
  std::vector<std::string> setup;  ///< scpi: sent once connected
  std::string tokenFile, tlsCa;
  std::string user, passwordFile;   ///< mqtt
  int qos = 0;                      ///< mqtt: 0 or 1
  std::string device = "default";   ///< sound: its ALSA name
  double calibrationDb = kMissing;  ///< sound: the level of a full-scale sine; missing = not calibrated
  bool hasSpectrum = false;         ///< sound: bands and tones, too
  std::vector<InstrumentReading> readings;

  /// What it is reached by: its address, its command, or its device.
  const std::string& where() const;
};

/// For how long an answer counts: two of its intervals, at least 1 s, at most 3 s.
double answerHoldsS(const Instrument& instrument);

}  // namespace ash
