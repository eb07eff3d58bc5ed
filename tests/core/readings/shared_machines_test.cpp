// SPDX-License-Identifier: GPL-3.0-or-later
// The mock machines that come with the project's reference: everything of hwmon, cpufreq and /proc/stat that a perfect
// reader reports. Needs ../shared/machines and python3; says so where they are missing.
#include <catch2/catch.hpp>
#include <cmath>
#include <cstdlib>
#include <map>

#include "model/json.h"
#include "readings/linux_machine.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

bool isOurs(const std::string& path) {
  return path.find("/hwmon/hwmon") != std::string::npos || path.find("nvme0/hwmon") != std::string::npos ||
         path.find("/cpufreq/policy") != std::string::npos;
}

void checkMachine(const std::string& root) {
  const Json expected = Json::parse(tests::readFile(root + "/expected.json"));
  LinuxMachine machine = openLinuxMachine(root);
  std::map<std::string, double> values;
  std::map<std::string, const Reading*> readings;
  for (auto& source : machine.sources) {
    const Sweep sweep = source->sweep();
    for (size_t i = 0; i < sweep.values.size(); ++i) {
      values[source->info().readings[i].path] = sweep.values[i];
      readings[source->info().readings[i].path] = &source->info().readings[i];
    }
  }
  int checked = 0;
  for (const Json& wanted : expected["readings"]) {
    const std::string path = wanted["path"].get<std::string>().substr(1);
    if (!isOurs("/" + path) || path.find('#') != std::string::npos || wanted["kind"] == "flag") continue;
    INFO(path);
    REQUIRE(values.contains(path));
    CHECK(values[path] == Approx(wanted["value"].get<double>()).margin(0.06));
    CHECK(readings[path]->kind == wanted["kind"]);
    const Json limit = wanted.value("limit", Json::object());
    if (limit.contains("crit") && readings[path]->driver != "amdgpu")
      CHECK(readings[path]->limits.at("critical") == Approx(limit["crit"].get<double>()));
    ++checked;
  }
  CHECK(checked >= 20);
  for (const char* group : {"suspect", "must_not_report"}) {
    for (const Json& wrong : expected[group]) {
      const std::string path = wrong["path"].get<std::string>().substr(1);
      INFO(path);
      CHECK_FALSE(values.contains(path));
    }
  }
}

}  // namespace

TEST_CASE("theMockMachinesAreReadAsExpected") {
  if (!std::filesystem::exists(SHARED_MACHINES "/make_machines.py") || std::system("python3 -c '' 2>/dev/null") != 0) {
    WARN("left out: put the reference machines at ../shared/machines and install python3 to run this");
    return;
  }
  const tests::TempFolder folder;
  REQUIRE(std::system(("python3 " SHARED_MACHINES "/make_machines.py " + folder.path() + " >/dev/null").c_str()) == 0);
  SECTION("tower") { checkMachine(folder.path("tower")); }
  SECTION("notebook") { checkMachine(folder.path("notebook")); }
}
