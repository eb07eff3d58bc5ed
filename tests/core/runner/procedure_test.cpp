// SPDX-License-Identifier: GPL-3.0-or-later
// Procedures with pauses, passes, work, temperatures and groups: as the phase machine decides, and as a recorder
// carries them out.
#include <catch2/catch.hpp>
#include <cmath>
#include <thread>

#include "runner/message_type.h"
#include "runner/phase_machine.h"
#include "runner/run_client.h"
#include "tests/support/recording.h"

using namespace ash;
using namespace ash::tests;

namespace {

PhaseMachine::Moment momentAt(double timeS, double watchedC = kMissing) {
  PhaseMachine::Moment moment;
  moment.timeS = timeS;
  moment.watchedC = watchedC;
  return moment;
}

/// When the first phase ends at samples a second apart, and why.
std::pair<double, std::string> endOf(const std::string& phases, double (*watchedC)(double)) {
  PhaseMachine machine(*parsePhases(phases), 1);
  for (double t = 0; t < 10'000; ++t) {
    if (machine.take(momentAt(t, watchedC(t)))) return {t + 1, machine.lastEnd()};
  }
  return {kMissing, {}};
}

/// What of the events of a run says what became of its phases.
std::vector<std::string> phaseTexts(const RunLog& run) {
  std::vector<std::string> texts;
  for (const Event& event : run.facts.events) {
    if (event.kind == EventKind::Phase) texts.push_back(event.text);
  }
  return texts;
}

std::string kindsOf(const RunLog& run) {
  std::string kinds;
  for (const PhaseSpan& phase : run.facts.phases) kinds += std::string(phaseKindText(phase.kind)) + " ";
  return kinds;
}

/// A bench that writes down which loads were started, and whose task is done after so many seconds of load.
class TaskBench : public FakeBench {
 public:
  void begin(double intervalS) override {
    m_everyS = intervalS;
    FakeBench::begin(intervalS);
  }
  std::optional<Tick> next(double patienceS) override {
    if (isLoadOn) m_loadS += m_everyS;
    return FakeBench::next(patienceS);
  }
  Status startLoad(const LoadOptions& options) override {
    started.push_back(options);
    m_loadS = 0;
    return FakeBench::startLoad(options);
  }
  double taskDoneS() override {
    const LoadOptions& load = started.back();
    const double task = load.passes > 0 ? 4.0 * load.passes : load.work;
    return isLoadOn && m_loadS >= task ? task : kMissing;
  }
  std::vector<LoadOptions> started;

 private:
  double m_everyS = 0.5, m_loadS = 0;
};

}  // namespace

TEST_CASE("aPhaseEndsAboveOrBelowATemperatureWithinItsTimes") {
  const auto rising = [](double t) { return 40 + t; };
  const auto falling = [](double t) { return 80 - t; };
  const auto still = [](double) { return 50.0; };
  // 40 + 31 is the first above 70; the phase holds the samples before the next.
  CHECK(endOf("soak above 70", rising) == std::make_pair(32.0, std::string("warmed up")));
  CHECK(endOf("soak above 70 ..20s", rising) == std::make_pair(20.0, std::string("its most time was up")));
  CHECK(endOf("cool below 60", falling) == std::make_pair(22.0, std::string("cooled down")));
  CHECK(endOf("cool below 60 1min..5min", falling) == std::make_pair(60.0, std::string("cooled down")));
  CHECK(endOf("cool below 40 ..90s", still) == std::make_pair(90.0, std::string("its most time was up")));
  CHECK(endOf("soak above 60", still).first == kLongestRecoverS);
}

TEST_CASE("aPauseEndsWhenItIsAnsweredOrItsMostIsOver") {
  PhaseMachine machine(*parsePhases("soak 5s, pause \"look\", pause \"look again\" at most 10s, cool 5s"), 1);
  CHECK_FALSE(machine.answer());  // nothing is asked yet
  double t = 0;
  while (!machine.take(momentAt(t++))) continue;
  CHECK(machine.isPaused());
  CHECK(machine.longestLeftS(t) == kNoMost);
  for (int i = 0; i < 5000; ++i) CHECK_FALSE(machine.take(momentAt(t++)));
  CHECK(machine.answer());
  CHECK(machine.take(momentAt(t++)));
  CHECK(machine.lastEnd() == "answered");
  CHECK(machine.isPaused());
  const double fromS = t;
  CHECK(machine.longestRunLeftS(t) == 15);
  while (!machine.take(momentAt(t++))) continue;
  CHECK(t - fromS == 10);
  CHECK(machine.lastEnd() == "nobody has answered within its time");
  CHECK_FALSE(machine.isPaused());
}

TEST_CASE("aPauseLeavesTheLoadAndIsKeptInTheRun") {
  const Place place;
  FakeBench bench;
  const auto result = record(plan(place,
                                  "pause \"close the lid\" at most 5s, soak 10s, pause \"look\" at most 8s, "
                                  "measure 5s, cool 5s, pause \"open it\" at most 5s"),
                             bench);
  CHECK(result.outcome == Outcome::Completed);
  const RunLog run = readBack(place, result.runId);
  CHECK(kindsOf(run) == "pause soak pause measure cool pause ");
  CHECK(run.facts.phases[2].startS == 15);
  CHECK(run.facts.phases[3].startS == 23);
  const auto texts = phaseTexts(run);
  REQUIRE(texts.size() == 9);
  CHECK(texts[0] == "Pause: close the lid.");
  CHECK(texts[1] == "Pause ended: nobody has answered within its time.");
  CHECK(texts[3] == "Pause: look.");
}

TEST_CASE("theLoadGoesOnThroughAPauseAndStaysOffInOne") {
  const Place place;
  FakeBench bench;
  std::vector<bool> isOn;  // each second
  bench.beforeTick = [&](double t) {
    if (t == std::floor(t)) isOn.push_back(bench.isLoadOn);
  };
  record(plan(place, "pause \"a\" at most 3s, soak 4s, pause \"b\" at most 3s, cool 2s, pause \"c\" at most 2s"),
         bench);
  std::string loads;
  for (const bool on : isOn) loads += on ? '#' : '.';
  CHECK(loads.substr(0, 14) == "...#######....");
}

TEST_CASE("anAnswerGoesOnAndWhatWasFoundIsAReading") {
  const Place place;
  FakeBench bench;
  RunPlan asked = plan(place, "soak 2s, pause \"read the sound meter\", measure 2s");
  asked.runId = "rpause";
  bool isAnswered = false;
  std::thread person;
  bench.beforeTick = [&](double t) {
    std::this_thread::sleep_for(std::chrono::milliseconds(1));
    if (t < 30 || isAnswered) return;
    isAnswered = true;
    person = std::thread([] {
      const Json no = *askRun("rpause", {{"do", "answer"}, {"text", "noise very loud"}});
      CHECK_FALSE(valueIn(no, "ok", true));  // no reading, and the pause goes on
      const Json yes = *askRun("rpause", {{"do", "answer"}, {"text", "noise 38.5 50cm"}});
      CHECK(valueIn(yes, "ok", false));
    });
  };
  const RunResult result = record(asked, bench);
  person.join();
  CHECK(result.outcome == Outcome::Completed);
  const RunLog run = readBack(place, "rpause");
  const auto noise = std::find_if(run.facts.events.begin(), run.facts.events.end(),
                                  [](const Event& event) { return event.role == Role("noise"); });
  REQUIRE(noise != run.facts.events.end());
  CHECK(noise->value == 38.5);
  CHECK(noise->atS >= 30);
  CHECK(phaseTexts(run).back() == "Measure ended: its time was up.");
  CHECK(run.facts.phases[2].startS >= 30);
}

TEST_CASE("passesAndWorkBelongToTheirPhaseAndBeginWithAFreshLoad") {
  const Place place;
  TaskBench bench;
  RunPlan asked = plan(place, "idle 2s, 2 x (pass x3, idle 1s), soak work 5, measure 3s");
  asked.load.passWork = 10;
  const RunResult result = record(asked, bench);
  CHECK(result.outcome == Outcome::Completed);
  REQUIRE(bench.started.size() == 4);
  CHECK(bench.started[0].passes == 3);
  CHECK(bench.started[1].passes == 3);
  CHECK(bench.started[2].work == 5);
  CHECK(bench.started[3].passes == 0);
  CHECK(std::isinf(bench.started[3].work));
  const RunLog run = readBack(place, result.runId);
  CHECK(kindsOf(run) == "idle pass idle pass idle soak measure ");
  // Three passes of 4 s, then 5 s of work: a sample more or less.
  CHECK(run.facts.phases[2].startS - run.facts.phases[1].startS == Approx(12).margin(1));
  CHECK(run.facts.phases[6].startS - run.facts.phases[5].startS == Approx(5).margin(1));
  const auto texts = phaseTexts(run);
  CHECK(std::count(texts.begin(), texts.end(), "Passes ended: its passes were made.") == 2);
  CHECK(std::count_if(texts.begin(), texts.end(),
                      [](const std::string& text) { return text.starts_with("Soak ended: its work was done"); }) == 1);
}

TEST_CASE("whatAProcedureCannotHaveIsSaidBeforeTheRun") {
  const Place place;
  FakeBench bench;
  for (const auto& [phases, why] : {std::pair("idle 1s, pass x3", "needs a load with passes"),
                                    std::pair("set cpu.power.limit 65, soak 5s", "no knob \"cpu.power.limit\" here")}) {
    RunRecorder recorder(plan(place, phases), bench);
    const auto result = recorder.run([](const RunProgress&) {});
    REQUIRE_FALSE(result);
    CHECK(result.error().message.find(why) != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(place.book()));
  }
}
