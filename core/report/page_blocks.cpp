// SPDX-License-Identifier: GPL-3.0-or-later
// The text of each block of the page.
#include "report/page_blocks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/text.h"
#include "report/answer/accepted_check.h"
#include "report/answer/answer.h"
#include "report/answer/question_answer.h"
#include "report/answer/side_effects.h"
#include "report/effect_table.h"
#include "report/figure_mention.h"
#include "report/figure_table.h"
#include "report/instrument_table.h"
#include "report/markup/page_parts.h"
#include "report/notes.h"
#include "report/page_charts.h"
#include "report/picture_block.h"
#include "report/stated_table.h"

namespace ash {
namespace {

Markup html(const StudyReport& report, const std::vector<Sentence>& sentences) {
  Markup text;
  for (const Sentence& sentence : sentences) {
    if (!text.isEmpty()) text.text(" ");
    for (const AnswerPart& part : sentence) {
      if (part.row == nullptr) {
        text.text(part.text);
        continue;
      }
      Element figure("b");
      figure.set("class", "figure");
      traceTo(report, *part.row, *part.metric, part.isDifference, figure);
      text.add(figure.add(linkedNumber(report, *part.row, *part.metric, part.text)));
    }
  }
  return text;
}

Markup answerParagraph(const Markup& inside) {
  return Element("p").set("class", "answer").add(inside).whole().lineEnd();
}

Markup sentenceList(const StudyReport& report, const std::vector<Sentence>& sentences) {
  Element list("ul");
  list.lineEnd();
  for (const Sentence& sentence : sentences) list.add(Element("li").add(html(report, {sentence}))).lineEnd();
  return list.whole().lineEnd();
}

// Below the answer to a question: how the setups compare, which it rests on; below a crowded comparison each pair.
Markup restsOn(const StudyReport& report, const LoadStanding& load) {
  Markup text;
  if (report.plan.asks.isAsked()) {
    std::vector<Sentence> sentences = detailSentences(report, load);
    const std::vector<Sentence> verdict = verdictSentences(report, load);
    sentences.insert(sentences.end(), verdict.begin(), verdict.end());
    return text.add(softLine("What it rests on:")).add(sentenceList(report, sentences));
  }
  return isCrowded(load) ? sentenceList(report, pairSentences(report, load)) : text;
}

Markup answer(const StudyReport& report, PageForm form) {
  if (report.loads.empty()) return answerParagraph(Markup::ofText("There is no run to answer from yet."));
  Markup text;
  for (const LoadStanding& load : report.loads) {
    Markup inside;
    if (report.loads.size() > 1) inside.add(Element("b").text(load.load + ".")).text(" ");
    text.add(answerParagraph(inside.add(html(report, leadSentences(report, load)))));
  }
  for (const LoadStanding& load : report.loads)
    text.add(pageChart(rankChart(report, load), form)).add(restsOn(report, load));
  return text;
}

Markup result(const StudyReport& report, PageForm form) {
  Markup text;
  for (const LoadStanding& load : report.loads) {
    text.add(figureTables(report, load, form)).add(effectTable(report, load));
    const std::vector<Sentence> effects = sideEffectSentences(report, load);
    if (effects.empty()) continue;
    text.add(Element("h3").text("What else changes under " + load.load)).lineEnd();
    text.add(sentenceList(report, effects));
  }
  return text;
}

Markup warmUps(const StudyReport& report, PageForm form) {
  Markup text;
  for (const LoadStanding& load : report.loads) text.add(pageChart(warmUpChart(report, load), form));
  return text.isEmpty() ? softLine("No temperature was logged under load, so there is no warm-up to draw.") : text;
}

Markup method(const StudyReport& report) {
  ItemList items;
  for (const RunSummary& run : report.summaries) {
    const RunInfo& info = run.info;
    items.add(fmt::format("Load {}, phases: {}; a sample every {:g} s.", info.load, phasesText(info.procedure),
                          info.intervalS));
    const std::string machine = valueIn(info.machine, "name", std::string());
    items.add(isSimulated(info.bench) ? fmt::format("Simulated bench \"{}\": no real machine was measured.", machine)
                                      : fmt::format("Machine {} with kernel {}.", machine,
                                                    valueIn(info.machine, "kernel", std::string("unknown"))));
  }
  for (const LoadStanding& load : report.loads) {
    const ComparisonRow* reference = referenceRow(load.comparison);
    for (const ComparisonRow& row : load.comparison.rows) {
      if (row.way.empty() || reference == nullptr) continue;
      items.add(fmt::format("{} carries {} out by {}.", reference->setup, load.load, row.referenceWay));
      items.add(fmt::format("{} carries {} out by {}.", row.setup, load.load, row.way));
    }
  }
  for (const auto& run : report.runs) {
    if (run->figures.window)
      items.add(fmt::format("Figures come from the window “{}” of each run.", run->figures.window->reason));
  }
  if (report.plan.marginK)
    items.add(fmt::format("Differences of temperature below {:g} K are taken as negligible.", *report.plan.marginK));
  if (report.plan.isUntilDecided)
    items.add(
        fmt::format("Run until decided, at most {} repeats: each look was surer than 95 %, so that all looks "
                    "together are wrong in at most 5 of 100 studies.",
                    report.plan.repeats));
  items.add(fmt::format(
      "Figures by method {}: means with the autocorrelation of the samples in their uncertainty, settling by a fit of "
      "one or two exponentials, repeats by Welch's interval.",
      kFiguresMethod));
  if (!report.plan.writeUp.licence.empty())
    items.add("Licence of text, figures and charts: " + report.plan.writeUp.licence + ".");
  return items.html();
}

Markup conditions(const StudyReport& report) {
  Markup text, held;
  for (const HeldCondition& condition : report.plan.held) {
    const std::string words = fieldTitle(condition.field) + " " + fieldText(condition.field, condition.target);
    held.add(Element("li").text(words + ", " + toleranceText(condition.field, condition.target, condition.tolerance)));
    held.lineEnd();
  }
  const auto listUnder = [&text](const char* heading, const Markup& items) {
    text.add(Element("p").text(heading)).lineEnd();
    text.add(Element("ul").lineEnd().add(items)).lineEnd();
  };
  if (!held.isEmpty()) listUnder("Held equal:", held);
  Markup setups;
  for (const Setup& setup : report.study.setups) {
    std::string fields;
    for (const auto& [field, value] : setup.conditions.items())
      fields += (fields.empty() ? "" : ", ") + fieldTitle(field) + " " + fieldText(field, value);
    setups.add(Element("li").text(setup.name + ": " + (fields.empty() ? "nothing stated" : fields))).lineEnd();
  }
  listUnder("As stated for each setup:", setups);
  return text;
}

// What the plan shows beside its own: each by the figure asked for, with what stands against comparing it.
Markup earlierWork(const StudyReport& report) {
  Element head("tr");
  for (const char* title : {"Setup", "Load", "Figure", "Value", "Against the reference", "Like for like"})
    head.add(Element("th").text(title));
  Markup rows;
  for (const LoadStanding& load : report.loads) {
    const Figure figure = leadingMetric(report, load.comparison);
    for (const EarlierRow& earlier : load.earlier) {
      if (!earlier.row.metrics.contains(figure)) continue;
      Element line("tr");
      for (const std::string& words : {earlier.label, load.load, figure.title(), valueAndMargin(earlier.row, figure),
                                       differenceText(earlier.row, figure),
                                       earlier.checks.empty() ? std::string("yes") : earlier.checks.front().text})
        line.add(Element("td").text(words));
      rows.add(line).lineEnd();
    }
  }
  Markup all = rows.isEmpty() ? Markup() : scrolledTable(head, rows);
  for (const EarlierSetup& earlier : report.earlier) {
    if (!earlier.problem.empty()) all.add(Element("p").text(earlier.label + ": " + earlier.problem)).lineEnd();
  }
  return all.isEmpty() ? softLine("None of it has a run under these loads.") : all;
}

ItemList caveatItems(const StudyReport& report) {
  ItemList items;
  for (const Severity severity : {Severity::Block, Severity::Warn, Severity::Info}) {
    for (const LoadStanding& load : report.loads) {
      for (const ComparisonCheck& check : load.comparison.checks) {
        if (check.severity != severity) continue;
        const AcceptedCheck* accepted = acceptanceOf(report.plan, check);
        const std::string end = accepted == nullptr ? "" : " (" + acceptedWords(*accepted) + ")";
        items.add(load.load + ": " + check.text + end);
      }
    }
  }
  for (const auto& run : report.runs) {
    for (const Problem& problem : run->figures.problems)
      items.add(fmt::format("{} ({}): {}", run->run.facts.setup, run->run.name, problem.text));
  }
  return items;
}

ItemList unfinishedItems(const StudyReport& report) {
  ItemList items;
  for (const RunSummary& run : report.summaries) {
    if (ranWhole(run.info.outcome)) continue;
    items.add(fmt::format("{}, {}, repeat {} ({}): {} after {}.{}", run.info.setup, run.info.load, run.info.repeat,
                          run.info.id, outcomeText(run.info.outcome), clockText(run.lastSampleS),
                          run.info.reason.empty() ? "" : " " + run.info.reason));
  }
  return items;
}

// "2026-09-24 10:00", by the clock of where it ran.
std::string startedWords(const std::string& iso) {
  constexpr size_t kDay = 10, kToTheMinute = 16;
  return iso.size() < kToTheMinute ? iso : iso.substr(0, kDay) + " " + iso.substr(kDay + 1, kToTheMinute - kDay - 1);
}

Markup runList(const StudyReport& report) {
  Element head("tr");
  for (const char* title : {"Run", "Setup", "Load", "Repeat", "Started", "Window", "Outcome"})
    head.add(Element("th").text(title));
  Markup rows;
  for (size_t i = 0; i < report.runs.size(); ++i) {
    const RunInfo& info = report.summaries[i].info;
    const auto& window = report.runs[i]->figures.window;
    Element line("tr");
    line.set("id", runAnchor(info.id));
    for (const std::string& words :
         {info.id, info.setup, info.load, std::to_string(info.repeat), startedWords(info.started),
          window ? clockText(window->span.startS) + " to " + clockText(window->span.endS) : std::string("–"),
          std::string(outcomeText(info.outcome)) + (info.reason.empty() ? "" : ": " + info.reason)})
      line.add(Element("td").text(words));
    rows.add(line).lineEnd();
  }
  return scrolledTable(head, rows);
}

// Blocks that were moved come first in their order, the others after them as they are; the question always leads.
void arrange(const StudyReport& report, std::vector<PageBlock>& blocks) {
  const auto& order = report.plan.writeUp.order;
  const auto place = [&](const PageBlock& block) {
    const auto found = std::find(order.begin(), order.end(), block.id);
    return block.leads() ? std::ptrdiff_t{-1} : found - order.begin();
  };
  std::stable_sort(blocks.begin(), blocks.end(),
                   [&](const PageBlock& a, const PageBlock& b) { return place(a) < place(b); });
}

}  // namespace

std::vector<PageBlock> pageBlocks(const StudyReport& report, PageForm form) {
  const std::string title = report.study.question.empty() ? report.study.name : report.study.question;
  const ItemList caveats = caveatItems(report);
  const ItemList unfinished = unfinishedItems(report);
  const size_t runCount = report.runs.size();
  std::vector<PageBlock> blocks = {
      {PageBlock::kQuestion, "Question", "from the plan", false, false, "",
       Element("h1").text(title).whole().lineEnd()},
      {PageBlock::kAnswer, "Answer", "the figure that was asked for", false, false, "", answer(report, form)},
      {"warm-up", "Warm-up", "every run over time", true, false, "", warmUps(report, form)},
      {"result", "Result", "columns and figures", true, false, "", result(report, form)},
      {"charts", "More charts", "power, clock, noise", true, false, "", pageCharts(furtherCharts(report), form)},
      {"method", "Method", "procedure, windows, margins", true, false, "", method(report)},
      {"conditions", "Conditions", fmt::format("{} held equal", report.plan.held.size()), true, false, "",
       conditions(report)},
      {"caveats", "Caveats", caveats.isEmpty() ? "none was found" : fmt::format("{} to read with care", caveats.size()),
       false, false, "", caveats.isEmpty() ? Element("p").text("None was found.").whole().lineEnd() : caveats.html()}};
  std::erase_if(blocks, [](const PageBlock& block) { return block.id == "charts" && block.body.isEmpty(); });
  if (const Markup pictures = picturesOfSetups(report, form); !pictures.isEmpty())
    blocks.push_back(
        {"pictures", "Pictures", fmt::format("{} of the setups", report.pictures.size()), true, false, "", pictures});
  if (const Markup stated = statedTable(report); !stated.isEmpty())
    blocks.push_back(
        {"stated", "Expected and claimed", "said before, or by others; not measured", true, false, "", stated});
  if (!report.earlier.empty())
    blocks.push_back({"earlier", "Beside earlier work", "read only, not ranked", true, false, "", earlierWork(report)});
  if (!unfinished.isEmpty()) {
    blocks.push_back({"unfinished", "Runs that did not finish",
                      fmt::format("{}, with their reasons", unfinished.size()), false, false, "", unfinished.html()});
  }
  if (const Markup instruments = instrumentTable(report); !instruments.isEmpty())
    blocks.push_back({"instruments", "Instruments", "what measured, and what it may be off by", true, false, "",
                      folded("instruments", "All readings of the runs", instruments)});
  blocks.push_back({kRunsBlock, "Runs", runCount == 1 ? "1 run" : fmt::format("{} runs", runCount), true, false, "",
                    runList(report)});
  if (const size_t count = noteCount(report); count > 0)
    blocks.push_back({kNotesBlock, "Notes", fmt::format("where the numbers of {} figures come from", count), true,
                      false, "", notes(report)});
  const WriteUpPlan& plan = report.plan.writeUp;
  for (PageBlock& block : blocks) {
    block.isLeftOut =
        block.canLeaveOut && std::find(plan.leftOut.begin(), plan.leftOut.end(), block.id) != plan.leftOut.end();
    if (const auto comment = plan.comments.find(block.id); comment != plan.comments.end())
      block.comment = comment->second;
    if (!block.comment.empty()) block.commentBody = commentWithFigures(report, block.comment);
  }
  arrange(report, blocks);
  return blocks;
}

}  // namespace ash
