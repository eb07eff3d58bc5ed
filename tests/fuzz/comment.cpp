// SPDX-License-Identifier: GPL-3.0-or-later
// A comment of anybody becomes elements that are well nested, load nothing and run nothing, and CommonMark again.
#include "report/markup/comment_text.h"

#include <array>
#include <vector>

#include "report/markup/commonmark.h"
#include "tests/fuzz/fuzz.h"

using namespace ash;

namespace {

bool isWellNested(const std::string& html) {
  std::vector<std::string> open;
  for (size_t at = html.find('<'); at != std::string::npos; at = html.find('<', at + 1)) {
    const size_t end = html.find('>', at);
    if (end == std::string::npos) return false;
    std::string name = html.substr(at + 1, html.find_first_of(" >", at) - at - 1);
    if (name == "br" || name == "hr") continue;
    if (!name.starts_with('/')) {
      open.push_back(name);
      continue;
    }
    if (open.empty() || open.back() != name.substr(1)) return false;
    open.pop_back();
  }
  return open.empty();
}

}  // namespace

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const Markup comment = commentOf(fuzz::textOf(data, size));
  fuzz::mustHold(isWellNested(comment.str()));
  for (const char* loads :
       {"<img", "<script", "<style", "<iframe", " src=", " on", "href=\"javascript", "href=\"data"}) {
    // Text has its angle brackets and quotes escaped, so an attribute can only be one of ours.
    for (size_t at = comment.str().find(loads); at != std::string::npos; at = comment.str().find(loads, at + 1)) {
      const size_t tag = comment.str().rfind('<', at), end = comment.str().rfind('>', at);
      const bool isInTag = loads[0] == '<' || (tag != std::string::npos && (end == std::string::npos || end < tag));
      const bool isInValue = isInTag && loads[0] == ' ' && comment.str().find('"', tag) < at;
      fuzz::mustHold(!isInTag || isInValue);
    }
  }
  const std::string again = commonMarkOf(comment, [](const std::string&, const std::string&) { return std::string(); });
  fuzz::mustHold(again.size() <= 8 * (size + 64));
  return 0;
}
