// SPDX-License-Identifier: GPL-3.0-or-later
// Settling, live: collects the watched temperature, room and power and asks the question of the analysis
// (warm_up/settling.h) again and again as a load goes on.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "analysis/warm_up/settling.h"
#include "runner/settling_thread.h"

namespace ash {

/// What a soak is short of when it ends before it has settled: "2.3 K short of where it settles". In words, too, where
/// nothing can be told.
std::string shortOfSettledWords(double remainingK);
/// Of a device at its limit, by what it delivers: "held at its limit, with 1.4 % more than it will hold".
std::string shortOfHeldWords(double remainingPercent);
/// The same of a verdict; a device at its limit says nothing by its temperature.
std::string shortOfSettledWords(const SettlingVerdict& verdict);

class SettlingWatch {
 public:
  struct Settings {
    double stepK = 0;                      ///< of the watched sensor, 0 when unknown
    std::optional<double> limitC{};        ///< where its governor holds it
    double fitEveryS = 1;                  ///< bench seconds between two fits
    double leastS = 0;                     ///< earlier runs took so long: not settled before
    std::vector<std::string> delivered{};  ///< what the device delivers, in the order in which it decides (settling.h)
    bool isBeside = false;                 ///< on a thread of its own: take() waits for no fit, the verdict comes later
    std::function<SettlingVerdict(const SettlingQuestion&)> judge = judgeSettling;
  };
  /// One moment; what is missing is NaN.
  struct Moment {
    double timeS = 0, watchedC = kMissing, roomC = kMissing, powerW = kMissing;
    std::vector<double> delivered{};  ///< in the order of the settings
  };

  explicit SettlingWatch(Settings settings);

  /// The load begins with the next moment; room and power of the rest before are kept.
  void beginLoad();
  /// Forgets everything, and a load begins: nobody knows what was before.
  void restart();
  /// Takes a moment under load; without a watched temperature it is left out. Fits anew when it is time.
  void take(const Moment& moment);
  /// Takes a moment of rest: what the load's power is counted from.
  void takeRest(const Moment& moment);

  /// The last fit; invalid until there are enough readings.
  const SettlingVerdict& verdict() const { return m_verdict; }
  /// True when the fits agreed over some time that it has settled: one lucky fit does not end a phase.
  bool hasSettled() const { return m_fitsThatAgree >= kFitsThatMustAgree && m_agreedS >= kAgreeS; }
  /// When it will have settled by the last fit (bench seconds), missing when unknown.
  double settlesAtS() const { return m_verdict.fit.isValid ? ash::settlesAtS(m_verdict, m_settings.stepK) : kMissing; }
  /// Counts fits, so that a listener sees a new one.
  long long fitCount() const { return m_fitCount; }

 private:
  static constexpr int kFitsThatMustAgree = 3;
  static constexpr double kAgreeS = 10;
  static constexpr size_t kMostReadings = 8'000;

  struct Readings {
    Series watched, room, power;
    std::vector<Series> delivered;
  };
  /// What is fitted: the last moment, under load for so long.
  struct Asked {
    double atS = kMissing, underLoadS = 0;
  };
  static SettlingVerdict judged(const Readings& readings, const Settings& settings);
  SettlingWatch anew();
  void takeSurroundings(const Moment& moment);
  bool mayFit(double timeS, double underLoadS) const;
  void takeVerdict(SettlingVerdict verdict);

  Settings m_settings;
  Readings m_readings;
  SettlingVerdict m_verdict;
  Asked m_asked;
  double m_agreedSinceS = kMissing, m_agreedS = 0;
  int m_fitsThatAgree = 0;
  long long m_fitCount = 0;
  std::unique_ptr<SettlingThread> m_beside;
};

}  // namespace ash
