// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/markup/page_parts.h"

namespace ash {

Markup scrolledTable(const Element& head, const Markup& rows, const std::string& ofClass) {
  Element table("table");
  if (!ofClass.empty()) table.set("class", ofClass);
  table.set("cellspacing", "0").set("cellpadding", "4").add(Element("thead").add(head));
  table.add(Element("tbody").lineEnd().add(rows));
  return Element("div").set("class", "scroll").add(table).whole().lineEnd();
}

Markup softLine(const std::string& words) { return Element("p").set("class", "soft").text(words).whole().lineEnd(); }

Markup folded(const std::string& id, const std::string& heading, const Markup& inside) {
  Markup text;
  text.add(Element("input").set("type", "checkbox").set("class", "fold").set("id", id).alone());
  text.add(Element("label").set("for", id).text(heading)).lineEnd();
  return text.add(Element("div").set("class", "folded").add(inside)).lineEnd();
}

void ItemList::add(const std::string& text) { add(Markup::ofText(text)); }

void ItemList::add(const Markup& item) {
  if (m_told.insert(item.str()).second) m_items.add(Element("li").add(item)).lineEnd();
}

Markup ItemList::html() const { return Element("ul").lineEnd().add(m_items).whole().lineEnd(); }

}  // namespace ash
