// SPDX-License-Identifier: GPL-3.0-or-later
// Every field of every message comes out at the other end of the socket as it went in.
#include "runner/run_messages.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "model/entry_line.h"
#include "tests/support/recording.h"

using namespace ash;

namespace {

// As it comes over the wire.
Json sent(const Json& message) { return parseQuietly(jsonText(message)); }

class TwoReadings : public tests::FakeBench {
 public:
  TwoReadings() {
    Reading named, unnamed;
    named.id = "chip/temp1";
    named.role = "cpu.temp";
    named.unit = "°C";
    named.device = "a chip";
    named.limits = {{"throttle", 95}, {"critical", 105}};
    named.origins = {{"throttle", "typed"}};
    named.step = 0.125;
    named.accuracy = 1.5;
    named.refreshS = 2;
    named.place = "50 cm";
    named.meaning = "hottest of 8 cores";
    unnamed.id = "chip/in0";
    unnamed.unit = "V";
    m_infos = {{"chip", {named, unnamed}}};
  }
  const std::vector<SourceInfo>& sources() const override { return m_infos; }
  double speed() const override { return 60; }

 private:
  std::vector<SourceInfo> m_infos;
};

}  // namespace

TEST_CASE("whatARunIsComesThroughWhole") {
  RunInfo info;
  info.id = "r1";
  info.study = "panels";
  info.setup = "mesh";
  info.load = "All cores";
  info.repeat = 3;
  info.started = "2026-11-28T18:00:00+00:00";
  info.procedure = *parsePhases("idle 1min, soak settled 5min..40min");
  info.intervalS = 0.25;
  info.watched = "cpu.temp";
  info.machine = {{"name", "bench \xff pc"}};
  RunPlan plan;
  plan.bookPath = "/tmp/b\xff.ashbook";
  const TwoReadings bench;
  const LiveRunInfo told = infoFromHello(sent(helloMessage(info, plan, bench)));
  CHECK(told.id == "r1");
  CHECK(told.study == "panels");
  CHECK(told.setup == "mesh");
  CHECK(told.load == "All cores");
  CHECK(told.repeat == 3);
  CHECK(told.started == info.started);
  CHECK(phasesText(told.procedure) == phasesText(info.procedure));
  CHECK(told.intervalS == 0.25);
  CHECK(told.watched == "cpu.temp");
  CHECK(told.speed == 60);
  // Bytes that are no text are shown with a stand-in and stop nothing.
  CHECK(told.book == "/tmp/b\uFFFD.ashbook");
  CHECK(told.machine == "bench \uFFFD pc");
  CHECK(told.columns == std::vector<std::vector<std::string>>{{"cpu.temp", "chip/in0"}});
  const Reading& reading = told.readings.at("cpu.temp");
  CHECK(reading.id == "chip/temp1");
  CHECK(reading.unit == "°C");
  CHECK(reading.quantity == Quantity::Temperature);
  CHECK(reading.device == "a chip");
  CHECK(reading.limits == std::map<std::string, double>{{"throttle", 95}, {"critical", 105}});
  CHECK(reading.origins.at("throttle") == "typed");
  CHECK(reading.step == 0.125);
  CHECK(reading.accuracy == 1.5);
  CHECK(reading.refreshS == 2);
  CHECK(reading.place == "50 cm");
  CHECK(reading.meaning == "hottest of 8 cores");
}

TEST_CASE("anEventComesThroughWithPlaceUpperValueAndAllElse") {
  const Event event = eventOf(*parseEntry("noise 38..44 100cm"), 12.5);
  REQUIRE(std::isfinite(event.valueHigh));
  REQUIRE(event.extra.contains("place"));
  const Event told = eventFromMessage(sent(eventMessage(event)));
  CHECK(told.atS == 12.5);
  CHECK(told.kind == event.kind);
  CHECK(told.text == event.text);
  CHECK(told.role == "noise");
  CHECK(told.value == event.value);
  CHECK(told.valueHigh == event.valueHigh);
  CHECK(told.extra == event.extra);
  // A reading still to take at 50 cm is not ticked off by one at 100 cm, live as from the book.
  Event later;
  later.kind = EventKind::Note;
  const Event empty = eventFromMessage(sent(eventMessage(later)));
  CHECK(std::isnan(empty.atS));
  CHECK(std::isnan(empty.value));
  CHECK(std::isnan(empty.valueHigh));
  CHECK(empty.role.empty());
  CHECK(empty.extra.is_object());
}

TEST_CASE("samplesPhasesStateOutcomeAndAnswerComeThrough") {
  const auto samples = samplesFromMessage(sent(samplesMessage(1, 3.5, {41.25, kMissing})));
  REQUIRE(samples);
  CHECK(samples->source == 1);
  CHECK(samples->timeS == 3.5);
  REQUIRE(samples->values.size() == 2);
  CHECK(samples->values[0] == 41.25);
  CHECK(std::isnan(samples->values[1]));

  PhaseMachine phases(*parsePhases("idle 1s, soak 2s"), 0.5);
  for (double t = 0; t < 1; t += 0.5) {
    PhaseMachine::Moment moment;
    moment.timeS = t;
    phases.take(moment);
  }
  const auto phase = phaseFromMessage(sent(phaseMessage(phases, 1)));
  REQUIRE(phase);
  CHECK(phase->index == 1);
  CHECK(phase->kind == PhaseKind::Soak);
  CHECK(phase->startS == 1);
  CHECK(phase->words == phaseWords(phases.phase()));
  CHECK(phase->lastEnd == "its time was up");

  RunProgress progress;
  progress.timeS = 61;
  progress.phaseIndex = 1;
  progress.phaseS = 31;
  progress.longestRunLeftS = 120;
  progress.settling.isSettled = true;
  progress.settling.forecast = 81.3;
  progress.settling.forecastLow = 81.0;
  progress.settling.forecastHigh = 81.6;
  progress.settling.remainingK = 0.1;
  progress.settlesAtS = 400;
  progress.drainedInS = {3720, 3600, 4000};
  RuleState rule{*parseStopRule("cpu.temp > 98 for 3s"), 90, 1.5, true};
  rule.rule.isDefault = true;
  const LiveState state = stateFromMessage(sent(stateMessage(progress, {rule}, true)));
  CHECK(state.timeS == 61);
  CHECK(state.phase == 1);
  CHECK(state.phaseS == 31);
  CHECK(state.longestLeftS == 120);
  CHECK(state.drainedInS.value == 3720);
  CHECK(state.drainedInS.low == 3600);
  CHECK(state.drainedInS.high == 4000);
  CHECK(state.isLoadOn);
  CHECK(state.forecast.isSettled);
  CHECK(state.forecast.value == 81.3);
  CHECK(state.forecast.low == 81.0);
  CHECK(state.forecast.high == 81.6);
  CHECK(state.forecast.remainingK == 0.1);
  CHECK(state.forecast.settlesAtS == 400);
  REQUIRE(state.rules.size() == 1);
  CHECK(state.rules[0].text == "cpu.temp > 98 for 3s");
  CHECK(state.rules[0].role == "cpu.temp");
  CHECK(state.rules[0].threshold == 98);
  CHECK(state.rules[0].value == 90);
  CHECK(state.rules[0].distance == 8);
  CHECK(state.rules[0].heldS == 1.5);
  CHECK(state.rules[0].hasTripped);
  CHECK(state.rules[0].isDefault);

  const LiveOutcome outcome = outcomeFromMessage(sent(outcomeMessage({"r1", Outcome::StoppedByRule, "too hot", {}})));
  CHECK(outcome.run == "r1");
  CHECK(outcome.outcome == Outcome::StoppedByRule);
  CHECK(outcome.reason == "too hot");
  const LiveAnswer answer = answerFromMessage({{"type", "answer"}, {"ok", false}, {"why", "no"}, {"kept", "as"}});
  CHECK_FALSE(answer.isDone);
  CHECK(answer.why == "no");
  CHECK(answer.kept == "as");
}

TEST_CASE("messagesOfAnyShapeAreSurvived") {
  CHECK(infoFromHello(Json::object()).id.empty());
  CHECK(infoFromHello({{"run", 5}, {"watched", nullptr}, {"procedure", "nonsense"}, {"machine", 7}, {"sources", "x"}})
            .procedure.phases.empty());
  CHECK(std::isnan(stateFromMessage({{"forecast", {{"value", nullptr}}}}).forecast.value));
  CHECK(stateFromMessage({{"forecast", 5}, {"rules", 7}}).rules.empty());
  CHECK(std::isnan(stateFromMessage({{"drained_in", "soon"}}).drainedInS.value));
  CHECK(eventFromMessage({{"at_s", "soon"}, {"extra", {1, 2}}}).extra.is_object());
  CHECK_FALSE(samplesFromMessage({{"source", -1}, {"t", 1}, {"values", Json::array()}}));
  CHECK_FALSE(samplesFromMessage({{"source", 0}, {"t", "x"}, {"values", Json::array()}}));
  CHECK_FALSE(samplesFromMessage({{"source", 0}, {"t", 1}, {"values", "x"}}));
  CHECK_FALSE(phaseFromMessage({{"kind", "dance"}}));
  CHECK(outcomeFromMessage(Json::object()).outcome == Outcome::RecorderDied);
}
