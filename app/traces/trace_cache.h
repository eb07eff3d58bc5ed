// SPDX-License-Identifier: GPL-3.0-or-later
// What is drawn of runs, made once for as long as neither the runs nor what is chosen of them change: a day of readings
// is not smoothed anew because another run has been worked out.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "analysis/series/pyramid.h"
#include "app/traces/trace_groups.h"

namespace ash {

/// A group in a lane; low and high are those of a band only.
struct TracedGroup {
  Pyramid mean, low, high;
};

class TraceCache {
 public:
  /// Between these everything that is drawn is asked for; what was not is forgotten at the end.
  void begin() { m_used.clear(); }
  void end() { m_known = std::exchange(m_used, {}); }

  /// `runs` are those it is made of, in order, and are held as long as it is known; `key` is all else that it depends
  /// on. `make` is called when it is not known.
  std::shared_ptr<const TracedGroup> of(const std::vector<std::shared_ptr<const AnalyzedRun>>& runs,
                                        const std::string& key, const std::function<TracedGroup()>& make);

 private:
  struct Entry {
    std::vector<std::shared_ptr<const AnalyzedRun>> runs;  // so that none of their places is used again
    std::shared_ptr<const TracedGroup> traced;
  };
  std::map<std::string, Entry> m_known, m_used;
};

}  // namespace ash
