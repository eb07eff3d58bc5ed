// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <filesystem>
#include <memory>

#include "analysis/analyze.h"
#include "analysis/figures_json.h"
#include "book/book.h"
#include "cli/asked_place.h"
#include "cli/command.h"
#include "cli/figures_text.h"
#include "cli/instruments_option.h"
#include "cli/progress_line.h"
#include "cli/run_manners.h"
#include "cli/signals.h"
#include "cli/speaker.h"
#include "knobs/turner.h"
#include "model/text.h"
#include "runner/kernel_bench.h"
#include "runner/planned_run.h"
#include "runner/reading_choices.h"
#include "runner/run_recorder.h"
#include "runner/sim_bench.h"
#include "sim/bench_spec.h"
#include "system/confirmed.h"
#include "system/machine_claim.h"

namespace ash::cli {
namespace {

constexpr const char* kDefaultPhases = "idle 1min, soak settled 5min..40min, measure 5min, cool 1min";

struct RunArguments {
  std::string book, runId, study, setup, load = "vector", phases, procedure, root, sim, unwatched;
  double speed = 1;
  double intervalS = 0.5;
  double roomC = NAN;
  std::optional<double> duty;
  int threads = 0;
  uint64_t seed = 1;
  std::vector<std::string> rules;
  bool besideOthers = false;
  bool asPlanned = false;  // names come from the book and not from a person's hands
  std::string instruments;
  bool json = false;
  bool isBrief = false;
};

/// The run as asked for, and what the book knows of its place.
struct Request {
  RunPlan plan;
  PlannedPlace place;
  bool isTyped = false;  ///< the load was typed as a line
};

// Names are kept in the book and told as text; a book's own path may hold any bytes.
Status checkNames(const RunArguments& options) {
  const std::pair<const char*, const std::string*> names[] = {{"--study", &options.study},
                                                              {"--setup", &options.setup},
                                                              {"--load", &options.load},
                                                              {"--unwatched", &options.unwatched}};
  constexpr size_t kLongest = 1000;
  for (const auto& [option, name] : names) {
    if (!isUtf8(*name))
      return Error::badInput(fmt::format("{} is no UTF-8 text (“{}”); type it on a terminal with a UTF-8 locale.",
                                         option, withoutControls(asUtf8(*name))));
    if (option != names[2].first && name->size() > kLongest)
      return Error::badInput(fmt::format("{} is longer than {} bytes; give it a shorter name.", option, kLongest));
  }
  return {};
}

// A book that is not there yet has none of its own, but those that ship.
Result<NamedProcedure> procedureCalled(const std::string& bookPath, const std::string& name) {
  if (const auto preset = shippedProcedure(name); preset && !std::filesystem::exists(bookPath)) return *preset;
  const auto book = Book::open(bookPath, BookAccess::ReadOnly);
  if (!book) return book.error();
  return book->procedure(name);
}

// What is given counts; what is not comes from the study's plan, else it has its default.
Result<Request> makeRequest(const RunArguments& options) {
  if (Status checked = checkNames(options); !checked) return checked.error();
  Request request;
  RunPlan& plan = request.plan;
  plan.bookPath = std::filesystem::absolute(options.book).string();
  auto asked = askedPlace(plan.bookPath, options.study, options.setup, options.load, options.asPlanned);
  if (!asked) return asked.error();
  const PlannedPlace* place = &asked->place;
  request.place = asked->place;
  request.isTyped = asked->isTyped;
  // A bench of the plan that is not used does nothing here.
  std::erase_if(request.place.active,
                [&](const ActivePart& part) { return part.kind == ActiveKind::Bench && part.text != options.sim; });
  const std::string planned = place->hasPlan ? place->plan.phases : kDefaultPhases;
  auto procedure = parsePhases(!options.phases.empty() ? options.phases : planned);
  if (!options.procedure.empty()) {
    const auto named = procedureCalled(plan.bookPath, options.procedure);
    if (!named) return named.error();
    procedure = parsePhases(named->text);
    if (!procedure) return procedure.error();
    // One of the book, whatever its name, has to be confirmed when it turns knobs; those that ship turn none.
    if (auto part = activePart("procedure " + options.procedure, phasesText(*procedure)))
      request.place.active.push_back(std::move(*part));
  }
  // Knobs of the plan's phases count only where those are followed.
  std::erase_if(request.place.active, [&](const ActivePart& part) {
    return part.where == "plan" && part.kind == ActiveKind::Knob && part.body.contains("phases") &&
           !(options.phases.empty() && options.procedure.empty());
  });
  if (!procedure) return procedure.error();
  if (!options.runId.empty() && !isPlainId(options.runId)) {
    return Error::badInput("--run-id takes letters, digits, - and _, at most 64.");
  }
  plan.runId = options.runId;
  plan.study = options.study;
  plan.setup = options.setup;
  plan.load = std::move(asked->load);
  plan.loadName = std::move(asked->loadName);
  plan.loadRow = std::move(asked->loadRow);
  if (options.threads > 0) plan.load.threads = options.threads;
  if (options.duty) plan.load.dutyPercent = *options.duty;
  plan.procedure = *procedure;
  plan.unwatchedReason = options.unwatched;
  plan.intervalS = options.intervalS;
  if (std::isfinite(options.roomC)) plan.conditions["room_c"] = options.roomC;
  auto rules = stopRulesOf(place->plan);
  if (!rules) return rules.error();
  plan.rules = std::move(*rules);
  for (const std::string& text : options.rules) {
    auto rule = parseStopRule(text);
    if (!rule) return rule.error();
    plan.rules.push_back(*rule);
  }
  return request;
}

Result<std::unique_ptr<RunBench>> makeBench(const RunArguments& options, Request& request) {
  if (options.sim.empty()) {
    if (options.speed != 1)
      return Error::badInput("--speed needs a simulated bench (--sim): real time cannot be hurried.");
    if (std::string left = putBackLeft(options.root); !left.empty()) request.plan.remarks.push_back(std::move(left));
    const std::string program = std::filesystem::read_symlink("/proc/self/exe").string();
    Json asked = request.place.conditions;
    for (const auto& [field, value] : request.plan.conditions.items()) asked[field] = value;
    auto choices = choicesFor(request.plan.bookPath, options.root);
    if (!choices) return choices.error();
    if (const std::string proposal = proposalSentence(*choices); !proposal.empty())
      request.plan.remarks.push_back(proposal);
    auto instruments = readInstruments(options.instruments);
    if (!instruments) return instruments.error();
    auto machine =
        MachineSources::open({options.root, choices->accepted, request.plan.load, {}, std::move(*instruments)});
    return std::unique_ptr<RunBench>(std::make_unique<KernelRunBench>(std::move(machine), program, std::move(asked)));
  }
  auto spec = sim::loadBench(options.sim, options.setup, request.place.conditions);
  if (!spec) return spec.error();
  std::vector<std::string> kinds = {std::string(request.plan.load.kind.text())};
  for (const LoadOptions& other : request.plan.load.also) kinds.emplace_back(other.kind.text());
  for (const std::string& kind : kinds) {
    if (spec->loads.contains(kind)) continue;
    std::string known;
    for (const auto& [name, activities] : spec->loads) known += (known.empty() ? "" : ", ") + name;
    return Error::badInput(fmt::format("The bench {} knows no load \"{}\"; it has: {}.", options.sim, kind, known));
  }
  if (!options.instruments.empty() && options.instruments != kNoInstruments)
    return Error::badInput("--instruments are read beside a machine; a simulated bench has a time of its own.");
  spec->stepFor(options.intervalS);
  return std::unique_ptr<RunBench>(
      std::make_unique<SimRunBench>(SimulatedMachine{std::move(*spec), options.sim, options.seed}, options.speed));
}

// Two recordings on one machine would measure each other; simulated benches do not.
Result<std::optional<MachineClaim>> claimMachine(const RunArguments& options, const RunPlan& plan) {
  if (!options.sim.empty() || options.besideOthers) return std::optional<MachineClaim>();
  auto claim = MachineClaim::take(options.root, fmt::format("(of {} / {}, process {})", withoutControls(plan.study),
                                                            withoutControls(plan.setup), getpid()));
  if (!claim) return claim.error();
  return std::optional<MachineClaim>(std::move(*claim));
}

// The conditions of the setup that turn knobs, apart from all else.
std::vector<ActivePart> takeKnobsOfSetup(std::vector<ActivePart>& active) {
  const auto others = std::stable_partition(active.begin(), active.end(), [](const ActivePart& part) {
    return part.kind != ActiveKind::Knob || !part.where.starts_with("setup ");
  });
  std::vector<ActivePart> knobs(others, active.end());
  active.erase(others, active.end());
  return knobs;
}

// What came with a book and would do something here must have been seen and confirmed by a person first.
Status checkAllowed(const std::vector<ActivePart>& active, const std::string& book) {
  constexpr size_t kShown = 2000;
  for (const ActivePart& part : unconfirmedOf(active)) {
    std::string whole;
    for (const std::string& line : detailLines(part)) whole += (whole.empty() ? "" : "; ") + line;
    if (whole.size() > kShown) whole = asUtf8(whole.substr(0, kShown)) + " …";
    return Error::badInput(
        fmt::format("The {} of this book has a {} that nobody has confirmed on this machine ({}); see `ashg book allow "
                    "{}` and confirm with --all.",
                    withoutControls(part.where), part.kind.text(), whole, withoutControls(asUtf8(book))));
  }
  return {};
}

// A command that was typed has been confirmed by that, for later runs out of the book as well.
void confirmTyped(const Request& request) {
  if (!request.isTyped) return;
  const auto parts = activeParts(Load{request.plan.loadName, loadToJson(request.plan.load), 0});
  // A folder of settings that cannot be written costs only the next question.
  if (!parts.empty()) static_cast<void>(confirm(parts).operator bool());
}

// A setup the simulated bench does not describe runs all the same, but the person should know that it changes nothing.
void tellUnknownSetup(const RunArguments& options, const Json& conditions, Speaker& speaker) {
  if (options.sim.empty()) return;
  const auto spec = sim::loadBench(options.sim, options.setup, conditions);
  // Stated conditions are followed where the bench can; then nothing need be said.
  if (!spec || spec->knowsSetup || spec->setupNames.empty() || !conditions.empty()) return;
  std::string names;
  for (const std::string& name : spec->setupNames) names += (names.empty() ? "" : ", ") + name;
  speaker.say(fmt::format("The bench {} describes no setup \"{}\" (it has: {}); it runs as it stands.\n", options.sim,
                          options.setup, names));
}

Status checkRun(const RunPlan& plan, RunBench& bench) {
  if (Status checked = checkOnBench(plan, bench); !checked) return checked;
  for (const StopRule& rule : plan.rules) {
    if (rule.role.empty()) continue;
    bool isThere = false;
    for (const SourceInfo& source : bench.sources()) {
      for (const Reading& reading : source.readings) isThere |= reading.role == rule.role;
    }
    if (!isThere) {
      return Error::badInput(fmt::format("Stop rule \"{}\": there is no reading {} here; `ashg readings` lists them.",
                                         stopRuleText(rule), rule.role.text()));
    }
  }
  return isSimulated(bench.description()) ? Status() : checkLoadOptions(plan.load);
}

int printResult(const RunArguments& options, const RunPlan& plan, const RunResult& result, Speaker& speaker) {
  auto book = Book::open(plan.bookPath, BookAccess::ReadOnly);
  auto run = book ? book->readRun(result.runId) : Result<RunLog>(book.error());
  if (!run) return fail(run.error());
  const Figures figures = analyzeRun(*run);
  const bool isNo = result.outcome != Outcome::Completed && result.outcome != Outcome::StoppedByHand;
  if (options.json) {
    printJson({{"contract", 1},
               {"run", result.runId},
               {"outcome", outcomeText(result.outcome)},
               {"reason", result.reason.empty() ? Json(nullptr) : Json(result.reason)},
               {"problems", result.problems},
               {"figures", figuresToJson(figures)}});
  } else {
    speaker.say(figuresText(*run, figures));
    speaker.drain();
    std::puts(result.runId.c_str());
  }
  return isNo ? kAnswerIsNo : kDone;
}

const char* signalReason(int signal) {
  if (signal == SIGINT) return "Stopped by hand (Ctrl-C).";
  return signal == SIGHUP ? "The terminal was closed." : "Stopped by hand (the recorder was told to end).";
}

int carryOutRun(const RunArguments& options) {
  auto request = makeRequest(options);
  if (!request) return fail(request.error());
  const RunPlan* plan = &request->plan;
  std::atomic<RunRecorder*> recorderOfSignals{nullptr};
  std::atomic<const char*> earlyReason{nullptr};
  const SignalWatch signals([&](int signal) {
    if (RunRecorder* recorder = recorderOfSignals)
      recorder->requestStop(signalReason(signal));
    else
      earlyReason = signalReason(signal);
  });
  const std::vector<ActivePart> knobs = takeKnobsOfSetup(request->place.active);
  if (Status allowed = checkAllowed(request->place.active, options.book); !allowed) return fail(allowed.error());
  const auto claim = claimMachine(options, *plan);
  if (!claim) return fail(claim.error());
  auto bench = makeBench(options, *request);
  if (!bench) return fail(bench.error());
  // Those of a simulated bench turn nothing on this machine.
  if (Status allowed = checkAllowed(options.sim.empty() ? knobs : std::vector<ActivePart>(), options.book); !allowed)
    return fail(allowed.error());
  if (Status arranged = arrangeKnobs(request->place.conditions, request->plan, **bench); !arranged)
    return fail(arranged.error());
  if (Status checked = checkRun(*plan, **bench); !checked) return fail(checked.error());
  confirmTyped(*request);
  // From here on nothing that is printed can hold the run up, or end it.
  Speaker speaker(STDERR_FILENO);
  tellUnknownSetup(options, request->place.conditions, speaker);
  for (const std::string& sentence : (*bench)->missing()) speaker.say(sentence + "\n");
  for (const std::string& sentence : (*bench)->notAsAsked()) speaker.say(sentence + "\n");
  RunManners manners(plan->setup + " / " + plan->loadName, request->place.plan, options.sim.empty());
  request->plan.onWarning = [&](const std::string& sentence) { manners.warn(sentence); };
  for (std::string& remark : drivesRemarks(*plan, request->place)) request->plan.remarks.push_back(std::move(remark));
  for (const std::string& sentence : plan->remarks) speaker.say(sentence + "\n");
  RunRecorder recorder(*plan, **bench);
  recorderOfSignals = &recorder;
  if (const char* reason = earlyReason) recorder.requestStop(reason);
  ProgressLine line(plan->procedure, speaker);
  const auto result = recorder.run([&](const RunProgress& progress) {
    line.show(progress);
    manners.follow(progress);
  });
  line.finish();
  recorderOfSignals = nullptr;
  if (!result) return fail(result.error());
  manners.end(*result);
  speaker.say(fmt::format("Run {}: {}.{}{}\n", result->runId, outcomeText(result->outcome),
                          result->reason.empty() ? "" : " ", result->reason));
  if (options.isBrief) return result->outcome == Outcome::Completed ? kDone : kAnswerIsNo;
  return printResult(options, *plan, *result, speaker);
}

}  // namespace

void addRunCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("run", "Carry out a procedure and record it; prints the run's id");
  auto options = std::make_shared<RunArguments>();
  command->add_option("--book", options->book, "The book; made when missing")->required();
  command->add_option("--study", options->study, "The study; made when missing")->required();
  command->add_option("--setup", options->setup, "The setup; made when missing")->required();
  command
      ->add_option(
          "--load", options->load,
          "The load: one of the study by its name, a kind, a line such as \"vector + graphics\", or a name with "
          "a line, \"Mixdown = graphics work=900\", that is carried out so in this run")
      ->capture_default_str();
  auto* phases = command->add_option(
      "--phases", options->phases,
      std::string("Phases and their ends; when not given those of the study's plan, else \"") + kDefaultPhases + "\"");
  command->add_option("--procedure", options->procedure, "A procedure by its name; `ashg procedure list` shows them")
      ->excludes(phases);
  auto* root = command->add_option("--root", options->root, "Read a tree that looks like a machine's root")
                   ->check(CLI::ExistingDirectory);
  addInstrumentsOption(*command, options->instruments);
  command->add_option("--sim", options->sim, "A simulated bench: one that ships (larch12, wren) or a JSON file")
      ->excludes(root);
  command->add_option("--speed", options->speed, "How many bench seconds pass in a second, with --sim")
      ->check(CLI::Range(0.01, 1e6));
  command->add_option("--seed", options->seed, "Seed of the simulated bench's noise")->capture_default_str();
  command->add_option("--stop-rule", options->rules, "e.g. \"cpu.temp > 98 for 3s\"; may be given several times")
      ->take_all();
  command->add_option("--unwatched", options->unwatched,
                      "Switch the default stop rules off, with a reason that is kept");
  command->add_option("--interval", options->intervalS, "Seconds between samples")
      ->check(CLI::Range(0.005, 60.0))
      ->capture_default_str();
  command->add_option("--room", options->roomC, "Room temperature in °C where none is read")
      ->check(CLI::Range(-40.0, 60.0));
  command->add_option("--threads", options->threads, "Threads of the load")->check(CLI::Range(1, 4096));
  command->add_option("--duty", options->duty, "Duty of the load in percent")->check(CLI::Range(0.1, 100.0));
  command->add_option("--run-id", options->runId, "The id the run is to have, for the window that starts it")
      ->group("");
  command->add_flag("--as-planned", options->asPlanned, "The load is one of the study and never a typed line")
      ->group("");
  command->add_flag("--brief", options->isBrief, "No figures at the end, for a program that reads the book")->group("");
  command->add_flag("--beside-others", options->besideOthers,
                    "Record although another recording is at work on this machine");
  command->add_flag("--json", options->json, "One JSON document with the figures at the end");
  command->callback([options, &action] { action = [options] { return carryOutRun(*options); }; });
}

}  // namespace ash::cli
