// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/markup/comment_text.h"

#include <cmark.h>

#include <array>
#include <memory>
#include <string_view>

namespace ash {
namespace {

constexpr size_t kLongest = size_t{64} * 1024;
constexpr int kDeepest = 16;

struct FreeNode {
  void operator()(cmark_node* node) const { cmark_node_free(node); }
};
using Document = std::unique_ptr<cmark_node, FreeNode>;

std::string literalOf(cmark_node* node) {
  const char* text = cmark_node_get_literal(node);
  return text == nullptr ? "" : text;
}

bool mayBeLinked(std::string_view url) {
  constexpr std::array<std::string_view, 3> kSchemes = {"https://", "http://", "mailto:"};
  for (const std::string_view scheme : kSchemes) {
    if (url.starts_with(scheme)) return true;
  }
  return false;
}

Markup elementsIn(cmark_node* node, int depth);

Markup wrapped(const char* name, cmark_node* node, int depth) {
  return Element(name).add(elementsIn(node, depth)).whole();
}

Markup linkOf(cmark_node* node, int depth) {
  const char* url = cmark_node_get_url(node);
  if (url == nullptr || !mayBeLinked(url)) return elementsIn(node, depth);
  return Element("a").set("href", url).set("rel", "noopener nofollow").add(elementsIn(node, depth)).whole();
}

Markup elementOf(cmark_node* node, int depth) {
  switch (cmark_node_get_type(node)) {
    case CMARK_NODE_PARAGRAPH:
      return wrapped("p", node, depth).lineEnd();
    case CMARK_NODE_HEADING:
      return Element("p").add(wrapped("b", node, depth)).whole().lineEnd();
    case CMARK_NODE_BLOCK_QUOTE:
      return wrapped("blockquote", node, depth).lineEnd();
    case CMARK_NODE_LIST:
      return wrapped(cmark_node_get_list_type(node) == CMARK_ORDERED_LIST ? "ol" : "ul", node, depth).lineEnd();
    case CMARK_NODE_ITEM:
      return wrapped("li", node, depth);
    case CMARK_NODE_EMPH:
      return wrapped("em", node, depth);
    case CMARK_NODE_STRONG:
      return wrapped("b", node, depth);
    case CMARK_NODE_LINK:
      return linkOf(node, depth);
    case CMARK_NODE_CODE:
      return Element("code").text(literalOf(node)).whole();
    case CMARK_NODE_CODE_BLOCK:
      return Element("pre").text(literalOf(node)).whole().lineEnd();
    case CMARK_NODE_HTML_BLOCK:
      return Element("p").text(literalOf(node)).whole().lineEnd();
    case CMARK_NODE_TEXT:
    case CMARK_NODE_HTML_INLINE:
      return Markup::ofText(literalOf(node));
    case CMARK_NODE_SOFTBREAK:
      return Markup::ofText(" ");
    case CMARK_NODE_LINEBREAK:
      return Element("br").alone();
    case CMARK_NODE_THEMATIC_BREAK:
      return Element("hr").alone().lineEnd();
    default:
      return elementsIn(node, depth);
  }
}

Markup elementsIn(cmark_node* node, int depth) {
  if (depth >= kDeepest) return Markup::ofText("(nested too deep)");
  Markup inside;
  for (cmark_node* child = cmark_node_first_child(node); child != nullptr; child = cmark_node_next(child))
    inside.add(elementOf(child, depth + 1));
  return inside;
}

}  // namespace

Markup commentOf(const std::string& commonMark) {
  if (commonMark.size() > kLongest) return Element("p").text(commonMark).whole().lineEnd();
  const Document document(cmark_parse_document(commonMark.data(), commonMark.size(), CMARK_OPT_VALIDATE_UTF8));
  return elementsIn(document.get(), 0);
}

}  // namespace ash
