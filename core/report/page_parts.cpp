// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/page_parts.h"

namespace ash {

Markup scrolledTable(const Element& head, const Markup& rows, const std::string& ofClass) {
  Element table("table");
  if (!ofClass.empty()) table.set("class", ofClass);
  table.set("cellspacing", "0").set("cellpadding", "4").add(Element("thead").add(head));
  table.add(Element("tbody").lineEnd().add(rows));
  return Element("div").set("class", "scroll").add(table).whole().lineEnd();
}

Markup softLine(const std::string& words) { return Element("p").set("class", "soft").text(words).whole().lineEnd(); }

void ItemList::add(const std::string& text) { add(Markup::ofText(text)); }

void ItemList::add(const Markup& item) {
  if (m_told.insert(item.str()).second) m_items.add(Element("li").add(item)).lineEnd();
}

Markup ItemList::html() const { return Element("ul").lineEnd().add(m_items).whole().lineEnd(); }

}  // namespace ash
