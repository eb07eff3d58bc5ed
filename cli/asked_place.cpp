// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/asked_place.h"

#include "load/load_text.h"
#include "model/load_way.h"

namespace ash {
namespace {

// With the fields of the setup in it.
Result<LoadOptions> filled(const AskedPlace& asked, const LoadOptions& typed, const std::string& setup) {
  const auto spec = specOf(asked.place.study, Load{asked.loadName, loadToJson(typed), 0}, setup);
  return spec ? loadFromJson("", *spec) : Result<LoadOptions>(spec.error());
}

// What was typed has been seen.
void takeTyped(AskedPlace& asked, const LoadOptions& typed, LoadOptions load) {
  if (loadToJson(typed) != loadToJson(load)) asked.loadRow = loadToJson(typed);
  asked.load = std::move(load);
  asked.isTyped = true;
  std::erase_if(asked.place.active, [&](const ActivePart& part) { return part.where == "load " + asked.loadName; });
}

Result<AskedPlace> placeNamed(const std::string& book, const std::string& study, const std::string& setup,
                              const std::string& load) {
  auto place = findPlace(book, study, setup, load);
  if (!place) return place.error();
  return AskedPlace{std::move(*place), load, {}, {}, false};
}

// "Mixdown = graphics work=900000".
Result<AskedPlace> askedByNameAndLine(const std::string& book, const std::string& study, const std::string& setup,
                                      const std::string& load) {
  const auto named = parseNamedLoad(load);
  if (!named) return named.error();
  auto asked = placeNamed(book, study, setup, named->name);
  if (!asked) return asked;
  auto own = filled(*asked, named->load, setup);
  if (!own) return own.error();
  takeTyped(*asked, named->load, std::move(*own));
  return asked;
}

}  // namespace

Result<AskedPlace> askedPlace(const std::string& book, const std::string& study, const std::string& setup,
                              const std::string& load, bool asPlanned) {
  auto asked = placeNamed(book, study, setup, load);
  if (!asked) return asked;
  const Json& known = asked->place.loadSpec;
  const bool isName = asPlanned || load.find_first_of("+= ") == std::string::npos;
  if (!isName && known.empty() && load.find(" = ") != std::string::npos)
    return askedByNameAndLine(book, study, setup, load);
  if (!isName) {
    const auto typed = parseLoadText(load);
    auto own = typed ? filled(*asked, *typed, setup) : typed;
    if (own && (known.empty() || loadToJson(*own) == known)) {
      takeTyped(*asked, *typed, std::move(*own));
      return asked;
    }
    if (known.empty()) return own.error();
  }
  auto ofBook = loadFromJson(load, known);
  if (!ofBook) return ofBook.error();
  asked->load = std::move(*ofBook);
  return asked;
}

}  // namespace ash
