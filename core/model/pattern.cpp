// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/pattern.h"

#include <fmt/format.h>
#include <re2/re2.h>

#include "model/text.h"

namespace ash {
namespace {

constexpr int64_t kMostMemoryB = 1024 * 1024;

std::shared_ptr<const re2::RE2> engineFor(const std::string& text) {
  re2::RE2::Options options;
  options.set_log_errors(false);
  options.set_max_mem(kMostMemoryB);
  return std::make_shared<const re2::RE2>(text, options);
}

std::optional<std::vector<std::string_view>> groupsOf(const re2::RE2& engine, std::string_view text,
                                                      re2::RE2::Anchor anchor) {
  const auto count = static_cast<size_t>(engine.NumberOfCapturingGroups()) + 1;
  std::vector<re2::StringPiece> found(count);
  if (!engine.Match(re2::StringPiece(text.data(), text.size()), 0, text.size(), anchor, found.data(),
                    static_cast<int>(count)))
    return std::nullopt;
  std::vector<std::string_view> groups;
  for (const re2::StringPiece& group : found) groups.emplace_back(group.data(), group.size());
  return groups;
}

}  // namespace

Result<Pattern> Pattern::compile(const std::string& text) {
  if (text.size() > kLongestPattern)
    return Error::badInput(
        fmt::format("A pattern may have {} characters; this one has {}.", kLongestPattern, text.size()));
  auto engine = engineFor(text);
  if (!engine->ok())
    return Error::badInput(fmt::format("\"{}\" is no pattern: {}.", withoutControls(asUtf8(text)),
                                       withoutControls(asUtf8(engine->error()))));
  return Pattern(std::move(engine));
}

Pattern Pattern::own(const char* text) { return Pattern(engineFor(text)); }

int Pattern::groupCount() const { return m_engine->NumberOfCapturingGroups(); }

std::optional<std::vector<std::string_view>> Pattern::find(std::string_view text) const {
  return groupsOf(*m_engine, text, re2::RE2::UNANCHORED);
}

std::optional<std::vector<std::string_view>> Pattern::matchWhole(std::string_view text) const {
  return groupsOf(*m_engine, text, re2::RE2::ANCHOR_BOTH);
}

}  // namespace ash
