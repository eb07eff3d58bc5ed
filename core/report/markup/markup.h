// SPDX-License-Identifier: GPL-3.0-or-later
// HTML and SVG put together of elements: text and attributes are escaped on their way in, so nothing that a book holds
// can become an element.
#pragma once

#include <string>
#include <string_view>

namespace ash {

class Element;

/// Markup that is safe by the way it was made. There is no way in for text but through an escape.
class Markup {
 public:
  Markup() = default;
  static Markup ofText(std::string_view words) { return std::move(Markup().text(words)); }

  /// Words of anybody: &, <, >, and quotes become entities.
  Markup& text(std::string_view words);
  Markup& add(const Markup& other);
  Markup& add(const Element& element);
  /// A line end, for whoever reads the source.
  Markup& lineEnd();
  bool isEmpty() const { return m_text.empty(); }
  const std::string& str() const { return m_text; }

 private:
  friend class Element;
  friend Markup styleSheet(const char* css);
  std::string m_text;
};

/// One element with its attributes and what is inside. `name` and the attributes' names are ours.
class Element {
 public:
  /// Of HTML, its attributes in double quotes.
  explicit Element(std::string_view name) : m_name(name) {}
  /// Of SVG, its attributes in single quotes; without anything inside it closes itself.
  static Element svg(std::string_view name);

  Element& set(std::string_view attribute, std::string_view value);
  /// A number as it is, without rounding.
  Element& set(std::string_view attribute, double value);
  /// A length or place of a drawing, to a tenth.
  Element& at(std::string_view attribute, double value);
  Element& text(std::string_view words);
  Element& add(const Markup& inside);
  Element& add(const Element& inside);
  Element& lineEnd();

  /// The element whole: its tags and what is between them.
  Markup whole() const;
  /// An element of HTML that has no end: <br>.
  Markup alone() const;

 private:
  std::string openTag() const;
  std::string m_name, m_attributes;
  char m_quote = '"';
  Markup m_inside;
};

/// <style> with a sheet of our own.
Markup styleSheet(const char* css);

/// &, <, > and quotes made safe for text and attributes.
std::string escaped(std::string_view text);

}  // namespace ash
