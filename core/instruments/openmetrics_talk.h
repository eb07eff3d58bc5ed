// SPDX-License-Identifier: GPL-3.0-or-later
// Another machine's page of readings over HTTP or HTTPS (libcurl).
#pragma once

#include <deque>
#include <map>
#include <memory>
#include <string>

#include "instruments/openmetrics_text.h"
#include "instruments/talk.h"

namespace ash {

/// One page answers all readings. A token comes from a file, goes to the address only and follows no redirect. A
/// sample's own stamp is honoured: what is more than 60 s apart from its arrival, once the clocks' steady offset is
/// taken off, or does not move for 3 intervals, is stale and missing. The offset comes from its own
/// clock where it tells that (ash_clock_seconds, at half of the round trip), else from the stamps. Counters become
/// rates unless the role is an energy counter.
class OpenMetricsTalk : public Talk {
 public:
  explicit OpenMetricsTalk(const Instrument& instrument);
  ~OpenMetricsTalk() override;
  Status open() override;
  Status ask(std::vector<Answer>& answers) override;
  double clockOffsetS() const override { return m_clockOffsetS; }

 private:
  struct Transfer;
  /// What was seen of one reading before.
  struct Seen {
    double value = kMissing, atS = kMissing, ownS = kMissing;  // of a counter, by this clock and by its own
    double stampS = kMissing, stampMovedS = kMissing;          // its own stamp, and when it last moved
  };
  struct Fetched {
    std::string text, type;
    double arrivedS = kMissing, roundTripS = kMissing;
  };
  Result<Fetched> fetch();
  Answer read(size_t reading, const MetricsPage& page, const Fetched& fetched);
  void compareClocks(const MetricsPage& page, double roundTripS);
  double offsetS() const;
  std::string staleness(const MetricSample& sample, Seen& seen, double arrivedS);
  double rateOf(const MetricSample& sample, Seen& seen, double atS) const;

  const Instrument& m_instrument;
  std::unique_ptr<Transfer> m_transfer;
  std::vector<Seen> m_seen;          // by reading
  std::deque<double> m_offsetsS;     // other clock less this one, of late pages
  double m_clockOffsetS = kMissing;  // the same where it tells its clock itself
};

}  // namespace ash
