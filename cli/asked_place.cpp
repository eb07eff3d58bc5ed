// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/asked_place.h"

#include "load/load_text.h"

namespace ash {
namespace {

void takeTyped(AskedPlace& asked, LoadOptions load) {
  asked.load = std::move(load);
  asked.isTyped = true;
  std::erase_if(asked.place.active, [&](const ActivePart& part) { return part.where == "load " + asked.loadName; });
}

}  // namespace

Result<AskedPlace> askedPlace(const std::string& book, const std::string& study, const std::string& setup,
                              const std::string& load, bool asPlanned) {
  auto place = findPlace(book, study, setup, load);
  if (!place) return place.error();
  AskedPlace asked{std::move(*place), load, {}, false};
  const bool isKnown = !asked.place.loadSpec.empty();
  const bool isName = asPlanned || load.find_first_of("+= ") == std::string::npos;
  if (!isName && !isKnown && load.find(" = ") != std::string::npos) {
    auto named = parseNamedLoad(load);
    if (!named) return named.error();
    place = findPlace(book, study, setup, named->name);
    if (!place) return place.error();
    asked = {std::move(*place), named->name, {}, false};
    takeTyped(asked, std::move(named->load));
    return asked;
  }
  auto typed = isName ? loadFromJson(load, asked.place.loadSpec) : parseLoadText(load);
  const bool isOfBook = !isName && isKnown && (!typed || loadToJson(*typed) != asked.place.loadSpec);
  if (isOfBook) typed = loadFromJson(load, asked.place.loadSpec);
  if (!typed) return typed.error();
  if (isName || isOfBook)
    asked.load = std::move(*typed);
  else
    takeTyped(asked, std::move(*typed));
  return asked;
}

}  // namespace ash
