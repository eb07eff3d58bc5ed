// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/markup/markup.h"

#include <fmt/format.h>

namespace ash {

std::string escaped(std::string_view text) {
  std::string safe;
  for (const char c : text) {
    switch (c) {
      case '&':
        safe += "&amp;";
        break;
      case '<':
        safe += "&lt;";
        break;
      case '>':
        safe += "&gt;";
        break;
      case '"':
        safe += "&quot;";
        break;
      case '\'':
        safe += "&#39;";
        break;
      default:
        // No other control character may stand in HTML.
        safe += (static_cast<unsigned char>(c) < ' ' && c != '\n' && c != '\t') || c == '\x7f' ? ' ' : c;
    }
  }
  return safe;
}

Markup& Markup::text(std::string_view words) {
  m_text += escaped(words);
  return *this;
}

Markup& Markup::add(const Markup& other) {
  m_text += other.m_text;
  return *this;
}

Markup& Markup::add(const Element& element) { return add(element.whole()); }

Markup& Markup::lineEnd() {
  m_text += '\n';
  return *this;
}

Element Element::svg(std::string_view name) {
  Element element(name);
  element.m_quote = '\'';
  return element;
}

Element& Element::set(std::string_view attribute, std::string_view value) {
  m_attributes += fmt::format(" {}={}{}{}", attribute, m_quote, escaped(value), m_quote);
  return *this;
}

Element& Element::set(std::string_view attribute, double value) {
  return set(attribute, std::string_view(fmt::format("{}", value)));
}

Element& Element::at(std::string_view attribute, double value) {
  return set(attribute, std::string_view(fmt::format("{:.1f}", value)));
}

Element& Element::text(std::string_view words) {
  m_inside.text(words);
  return *this;
}

Element& Element::add(const Markup& inside) {
  m_inside.add(inside);
  return *this;
}

Element& Element::add(const Element& inside) { return add(inside.whole()); }

Element& Element::lineEnd() {
  m_inside.lineEnd();
  return *this;
}

std::string Element::openTag() const { return "<" + m_name + m_attributes; }

Markup Element::whole() const {
  Markup markup;
  const bool closesItself = m_quote == '\'' && m_inside.isEmpty();
  markup.m_text = closesItself ? openTag() + "/>" : openTag() + ">" + m_inside.m_text + "</" + m_name + ">";
  return markup;
}

Markup Element::alone() const {
  Markup markup;
  markup.m_text = openTag() + ">";
  return markup;
}

Markup styleSheet(const char* css) {
  Markup markup;
  markup.m_text = std::string("<style>") + css + "</style>";
  return markup;
}

}  // namespace ash
