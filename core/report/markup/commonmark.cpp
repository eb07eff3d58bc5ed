// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/markup/commonmark.h"

#include <array>
#include <cctype>
#include <utility>
#include <vector>

#include "model/text.h"

namespace ash {
namespace {

constexpr std::array<std::pair<std::string_view, std::string_view>, 5> kEntities = {
    {{"&amp;", "&"}, {"&lt;", "<"}, {"&gt;", ">"}, {"&quot;", "\""}, {"&#39;", "'"}}};

// What escaped() made of a text, back again.
std::string unescaped(std::string_view text) {
  std::string plain;
  while (!text.empty()) {
    size_t width = 1;
    std::string_view character = text.substr(0, 1);
    for (const auto& [entity, sign] : kEntities) {
      if (!text.starts_with(entity)) continue;
      width = entity.size();
      character = sign;
    }
    plain += character;
    text.remove_prefix(width);
  }
  return plain;
}

// A tag as Element writes it: name and attributes as they stand.
struct Tag {
  std::string name;
  std::string_view attributes;
  bool closes = false;
  std::string_view value(std::string_view attribute) const {
    for (const char quote : {'"', '\''}) {
      const std::string begin = " " + std::string(attribute) + "=" + quote;
      const size_t at = attributes.find(begin);
      if (at == std::string_view::npos) continue;
      const std::string_view rest = attributes.substr(at + begin.size());
      return rest.substr(0, rest.find(quote));
    }
    return {};
  }
};

Tag tagOf(std::string_view inside) {
  Tag tag;
  tag.closes = inside.starts_with('/');
  if (tag.closes) inside.remove_prefix(1);
  const size_t end = inside.find_first_of(" /");
  tag.name = inside.substr(0, end);
  if (end != std::string_view::npos) tag.attributes = inside.substr(end);
  return tag;
}

// Where a link leads, between angle brackets.
std::string escapedDestination(const std::string& destination) {
  std::string text;
  for (const char c : withoutControls(destination)) {
    if (c == '<' || c == '>' || c == '\\') text += '\\';
    text += c;
  }
  return text;
}

// Walks the elements and writes what they are in CommonMark.
class Writer {
 public:
  explicit Writer(const PictureOf& picture) : m_picture(picture) {}

  std::string write(std::string_view html) {
    while (!html.empty()) {
      const size_t open = html.find('<');
      addText(html.substr(0, open));
      if (open == std::string_view::npos) break;
      html.remove_prefix(open);
      if (html.starts_with("<svg")) {
        const size_t end = html.find("</svg>") + std::string_view("</svg>").size();
        addPicture(html.substr(0, end));
        html.remove_prefix(end);
        continue;
      }
      const size_t close = html.find('>');
      take(tagOf(html.substr(1, close - 1)));
      html.remove_prefix(close + 1);
    }
    endBlock();
    return std::move(m_text);
  }

 private:
  void addText(std::string_view escapedText) {
    if (m_isHead) {
      if (!m_isHeadNamed) m_heads.back() += unescaped(escapedText);
      return;
    }
    const std::string words = unescaped(escapedText);
    // Line ends and blanks between elements are those of the source.
    for (const char c : words) {
      const bool isBlank = c == '\n' || c == ' ';
      if (isBlank && (m_line.empty() ? m_block.empty() || m_block.back() == ' ' : m_line.back() == ' ')) continue;
      m_line += isBlank ? ' ' : c;
    }
  }

  // The line so far means itself, except the marks that were put around parts of it.
  void mark(std::string_view sign) {
    flushLine();
    m_block += sign;
  }
  void flushLine() {
    m_block += commonMarkText(m_line, m_block.empty());
    m_line.clear();
  }

  void endBlock() {
    flushLine();
    while (m_block.ends_with(' ')) m_block.pop_back();
    if (!m_block.empty()) m_text += (m_text.empty() ? "" : m_isItem && m_wasItem ? "\n" : "\n\n") + m_prefix + m_block;
    if (!m_block.empty()) m_wasItem = m_isItem;
    m_block.clear();
  }

  void beginBlock(std::string prefix, bool isItem = false) {
    endBlock();
    m_prefix = std::move(prefix);
    m_isItem = isItem;
  }

  void addPicture(std::string_view svg) {
    const Tag tag = tagOf(svg.substr(1, svg.find('>') - 1));
    const std::string words = unescaped(tag.value("aria-label"));
    if (tag.value("class") == "mark") return;
    const std::string file = m_picture(std::string(svg), words);
    if (file.empty()) return;
    beginBlock("");
    m_block = "![" + commonMarkText(words) + "](<" + escapedDestination(file) + ">)";
    beginBlock("");
  }

  // Within the page there is nothing to lead to: CommonMark has no anchors.
  void addLink(const Tag& tag) {
    if (!tag.closes) m_link = unescaped(tag.value("href"));
    if (m_link.starts_with('#')) return;
    if (!tag.closes) return mark("[");
    mark("](<" + escapedDestination(m_link) + ">)");
  }

  void take(const Tag& tag) {
    if (tag.name == "b" || tag.name == "label") return tag.name == "b" ? mark("**") : beginBlock("");
    if (tag.name == "h1" || tag.name == "h2" || tag.name == "h3")
      return beginBlock(tag.closes ? "" : std::string(static_cast<size_t>(tag.name[1] - '0'), '#') + " ");
    if (tag.name == "p") return beginBlock(tag.closes ? "" : tag.value("class") == "answer" ? "> " : "");
    if (tag.name == "li") return beginBlock(tag.closes ? "" : "- ", !tag.closes);
    if (tag.name == "br") {
      // Below a setup's name stands how often it was run.
      if (m_isHead) m_isHeadNamed = true;
      if (!m_isHead && m_cell == kNoCell) m_line += ' ';
      return;
    }
    if (tag.name == "small" && !tag.closes) m_line += ", ";
    if (tag.name == "ul" || tag.name == "ol") m_wasItem = false;
    if (tag.name == "em") return mark("*");
    if (tag.name == "a") return addLink(tag);
    if (tag.name == "pre") return beginBlock("");
    // Of a figure's name, its unit.
    if (tag.name == "span" && m_cell == 0 && !m_isInHead) m_line += tag.closes ? ")" : "(";
    takeTable(tag);
  }

  void takeTable(const Tag& tag) {
    if (tag.name == "thead") {
      m_isInHead = !tag.closes;
      if (m_isInHead) m_heads.clear();
    } else if (tag.name == "tr" && !m_isInHead) {
      if (std::exchange(m_isGroup, false)) mark("**");
      if (tag.closes)
        beginBlock("");
      else
        beginBlock("- ", true);
      m_cell = kNoCell;
    } else if (tag.name == "th" || tag.name == "td") {
      takeCell(tag);
    } else if (tag.name == "table" && tag.closes) {
      m_heads.clear();
      m_wasItem = false;
    }
  }

  void takeCell(const Tag& tag) {
    if (m_isInHead) {
      m_isHead = !tag.closes;
      m_isHeadNamed = false;
      if (m_isHead) m_heads.emplace_back();
      return;
    }
    if (tag.closes) return;
    if (tag.value("class") == "group") {
      beginBlock("");
      mark("**");
      m_isGroup = true;
      return;
    }
    ++m_cell;
    if (m_cell == 0) return;
    m_line += m_cell == 1 ? ": " : "; ";
    const auto at = static_cast<size_t>(m_cell);
    if (at < m_heads.size() && !m_heads[at].empty()) m_line += headName(m_heads[at]) + " ";
  }

  // "■ Mesh" less its square and the repeats below it.
  static std::string headName(std::string head) {
    constexpr std::string_view kSquare = "■";
    if (head.starts_with(kSquare)) head = std::string(trimmed(std::string_view(head).substr(kSquare.size())));
    return head;
  }

  static constexpr int kNoCell = -1;
  const PictureOf& m_picture;
  std::string m_text, m_block, m_line, m_prefix, m_link;
  std::vector<std::string> m_heads;
  int m_cell = kNoCell;
  bool m_isItem = false, m_wasItem = false, m_isInHead = false, m_isHead = false, m_isHeadNamed = false,
       m_isGroup = false;
};

}  // namespace

std::string commonMarkText(std::string_view words, bool isLineStart) {
  constexpr std::string_view kMarks = "\\`*_[]<>#&|~!";
  std::string text;
  const std::string plain = withoutControls(words);
  for (size_t i = 0; i < plain.size(); ++i) {
    const char c = plain[i];
    const bool isFirst = isLineStart && text.empty();
    // A list or a heading begins only at the start of a line: a dash, a plus, or a number with its full stop.
    const bool beginsList = isFirst && (c == '-' || c == '+' || c == '=');
    const bool endsNumber =
        isLineStart && (c == '.' || c == ')') && i > 0 && plain.find_first_not_of("0123456789") == i;
    if (kMarks.find(c) != std::string_view::npos || beginsList || endsNumber) text += '\\';
    text += c;
  }
  return text;
}

std::string commonMarkOf(const Markup& markup, const PictureOf& picture) { return Writer(picture).write(markup.str()); }

}  // namespace ash
