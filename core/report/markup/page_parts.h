// SPDX-License-Identifier: GPL-3.0-or-later
// Small parts that several blocks of the page are made of.
#pragma once

#include <set>
#include <string>

#include "report/markup/markup.h"

namespace ash {

/// A table that is scrolled sideways where it is wider than the page; `rows` is what stands in its body.
Markup scrolledTable(const Element& head, const Markup& rows, const std::string& ofClass = {});

/// <p class="soft">…</p>
Markup softLine(const std::string& words);

/// What is folded away on a screen until its heading is chosen, and always there in print; `id` is unique on the page.
/// By a box to tick, as an element that is closed stays closed on paper in browsers of some years.
Markup folded(const std::string& id, const std::string& heading, const Markup& inside);

/// A list without repetitions.
class ItemList {
 public:
  void add(const std::string& text);
  void add(const Markup& item);
  bool isEmpty() const { return m_told.empty(); }
  size_t size() const { return m_told.size(); }
  Markup html() const;

 private:
  std::set<std::string> m_told;
  Markup m_items;
};

}  // namespace ash
