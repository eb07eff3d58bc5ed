// SPDX-License-Identifier: GPL-3.0-or-later
// A file of instruments: what is taken can be written and is taken again as the same.
#include "instruments/instrument_file.h"
#include "tests/fuzz/fuzz.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const std::string text(reinterpret_cast<const char*>(data), size);
  const auto list = ash::parseInstruments(text, "f");
  if (!list) return 0;
  ash::Json document = {{"instruments", 1}, {"list", ash::Json::array()}};
  for (const ash::Instrument& one : *list) document["list"].push_back(ash::instrumentToJson(one));
  const auto again = ash::parseInstruments(document.dump(-1, ' ', false, ash::Json::error_handler_t::replace), "f");
  ash::fuzz::mustHold(again && again->size() == list->size());
  for (size_t i = 0; i < list->size(); ++i)
    ash::fuzz::mustHold(ash::instrumentToJson((*again)[i]) == ash::instrumentToJson((*list)[i]));
  return 0;
}
