// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/traces/trace_cache.h"

#include <fmt/format.h>

namespace ash {

std::shared_ptr<const TracedGroup> TraceCache::of(const std::vector<std::shared_ptr<const AnalyzedRun>>& runs,
                                                  const std::string& key, const std::function<TracedGroup()>& make) {
  std::string whole = key;
  for (const auto& run : runs) whole += fmt::format("|{}", static_cast<const void*>(run.get()));
  if (const auto used = m_used.find(whole); used != m_used.end()) return used->second.traced;
  const auto known = m_known.find(whole);
  Entry entry = known != m_known.end() ? known->second : Entry{runs, std::make_shared<const TracedGroup>(make())};
  return m_used.emplace(whole, std::move(entry)).first->second.traced;
}

}  // namespace ash
