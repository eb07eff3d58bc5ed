// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/markup/comment_text.h"

#include <cmark.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <memory>
#include <string_view>
#include <vector>

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

// Where a figure stands in a text while it is read: two characters of Unicode's private use with its number between.
constexpr std::string_view kFigureFrom = "\uE000", kFigureTo = "\uE001";

// What nobody else may write: such characters of the comment itself are left out.
void appendPlain(std::string& text, std::string_view words) {
  for (size_t at = 0; at < words.size();) {
    if (words.substr(at).starts_with(kFigureFrom) || words.substr(at).starts_with(kFigureTo))
      at += kFigureFrom.size();
    else
      text += words[at++];
  }
}

class CommentReader {
 public:
  explicit CommentReader(const FigureNamed& figure) : m_figure(figure) {}

  Markup read(const std::string& commonMark) {
    const std::string marked = withPlaces(commonMark);
    const Document document(cmark_parse_document(marked.data(), marked.size(), CMARK_OPT_VALIDATE_UTF8));
    return elementsIn(document.get(), 0);
  }

 private:
  // Each figure that is named becomes its place, so that no mark in a name is read as one.
  std::string withPlaces(const std::string& commonMark) {
    std::string text;
    size_t from = 0;
    for (size_t at = commonMark.find('{'); m_figure && at != std::string::npos;
         at = commonMark.find('{', std::max(from, at + 1))) {
      const size_t end = endOfFigure(commonMark, at);
      if (end == std::string::npos) continue;
      appendPlain(text, std::string_view(commonMark).substr(from, at - from));
      text += std::string(kFigureFrom) + std::to_string(m_places.size() - 1) + std::string(kFigureTo);
      from = end;
    }
    appendPlain(text, std::string_view(commonMark).substr(from));
    return text;
  }

  // Behind the brace that closes it, as a name may hold one, too; npos where none is named. It is kept.
  size_t endOfFigure(const std::string& text, size_t at) {
    constexpr size_t kLongestName = 400, kMostBraces = 4;
    size_t end = at;
    for (size_t brace = 0; brace < kMostBraces; ++brace) {
      end = text.find('}', end + 1);
      if (end == std::string::npos || end - at > kLongestName) break;
      if (std::optional<Markup> figure = m_figure(text.substr(at, end + 1 - at))) {
        m_places.push_back(std::move(*figure));
        return end + 1;
      }
    }
    return std::string::npos;
  }

  // Words with the figures among them.
  Markup textOf(const std::string& words) const {
    Markup text;
    size_t from = 0;
    for (size_t at = words.find(kFigureFrom); at != std::string::npos; at = words.find(kFigureFrom, from)) {
      text.text(std::string_view(words).substr(from, at - from));
      const size_t number = at + kFigureFrom.size(), end = words.find(kFigureTo, number);
      from = end == std::string::npos ? words.size() : end + kFigureTo.size();
      const auto place = static_cast<size_t>(std::strtoul(words.c_str() + number, nullptr, 10));
      if (place < m_places.size()) text.add(m_places[place]);
    }
    return text.text(std::string_view(words).substr(from));
  }

  Markup wrapped(const char* name, cmark_node* node, int depth) const {
    return Element(name).add(elementsIn(node, depth)).whole();
  }

  Markup linkOf(cmark_node* node, int depth) const {
    const char* url = cmark_node_get_url(node);
    if (url == nullptr || !mayBeLinked(url) || std::string_view(url).find(kFigureFrom) != std::string_view::npos)
      return elementsIn(node, depth);
    return Element("a").set("href", url).set("rel", "noopener nofollow").add(elementsIn(node, depth)).whole();
  }

  Markup elementOf(cmark_node* node, int depth) const {
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
        return Element("code").add(textOf(literalOf(node))).whole();
      case CMARK_NODE_CODE_BLOCK:
        return Element("pre").add(textOf(literalOf(node))).whole().lineEnd();
      case CMARK_NODE_HTML_BLOCK:
        return Element("p").add(textOf(literalOf(node))).whole().lineEnd();
      case CMARK_NODE_TEXT:
      case CMARK_NODE_HTML_INLINE:
        return textOf(literalOf(node));
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

  Markup elementsIn(cmark_node* node, int depth) const {
    if (depth >= kDeepest) return Markup::ofText("(nested too deep)");
    Markup inside;
    for (cmark_node* child = cmark_node_first_child(node); child != nullptr; child = cmark_node_next(child))
      inside.add(elementOf(child, depth + 1));
    return inside;
  }

  const FigureNamed& m_figure;
  std::vector<Markup> m_places;
};

}  // namespace

Markup commentOf(const std::string& commonMark, const FigureNamed& figure) {
  if (commonMark.size() > kLongest) return Element("p").text(commonMark).whole().lineEnd();
  return CommentReader(figure).read(commonMark);
}

}  // namespace ash
