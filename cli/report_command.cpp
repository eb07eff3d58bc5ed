// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg report`: the write-up of a study, in its formats.
#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <memory>

#include "book/book.h"
#include "cli/command.h"
#include "package/package.h"
#include "report/report_files.h"
#include "system/short_process.h"
#include "system/whole_file.h"

namespace ash::cli {
namespace {

struct ReportArguments {
  std::string study, book, folder, format = "html", reference, paper = "a4", name, sizes = "page";
  bool isDark = false, tells = false;
};

// A line at a time, for whoever waits.
void tellProgress(const std::string& words) { std::fputs((words + "\n").c_str(), stderr); }

StudyProgress progressOf(const ReportArguments& options) {
  if (!options.tells) return {};
  return [](size_t done, size_t all) { tellProgress(fmt::format("{} of {} runs worked out …", done, all)); };
}

Status writeOwn(const ReportArguments& options, const StudyReport& report, const ReportWish& wish) {
  for (const ReportFile& file : reportFiles(report, wish)) {
    const std::string path = options.folder + "/" + file.name;
    if (Status written = writeWholeFile(file.bytes, path); !written) return written.error();
    std::puts(path.c_str());
  }
  return {};
}

// All runs of the study that have ended, beside the target and moved into its place.
Status writeRuns(const ReportArguments& options, const StudyReport& report, const std::string& name) {
  PackageWishes wishes;
  wishes.title = options.study;
  wishes.license = report.plan.writeUp.licence;
  for (const auto& run : report.runs) wishes.runs.push_back(run->run.name);
  // As old as what it holds, so that the same book gives the same bytes.
  for (const RunSummary& run : report.summaries) wishes.created = std::max(wishes.created, run.info.started);
  const std::string path = options.folder + "/" + name + ".zip", beside = options.folder + "/." + name + ".new.zip";
  std::error_code error;
  std::filesystem::remove(beside, error);
  if (Status written = writePackage(options.book, wishes, beside); !written) return written.error();
  std::filesystem::rename(beside, path, error);
  if (error) return Error::io("write", path, error.value());
  std::puts(path.c_str());
  return {};
}

// What needs the toolkit is drawn by the window's program, which lies beside this one.
int drawByWindow(const ReportArguments& options, const std::string& name, const std::string& formats) {
  const std::string program = programBeside("ash-gauge");
  if (program.empty())
    return fail(Error::environment("The program ash-gauge, which draws " + formats +
                                   ", is not installed: install the package of that name, or ask for other formats."));
  if (options.tells) tellProgress("Drawing " + formats + " …");
  ShortProcess drawing{
      program,
      {"--render", "--book", options.book, "--study", options.study, "--reference", options.reference, "--to",
       options.folder, "--name", name, "--format", formats, "--paper", options.paper, "--size", options.sizes}};
  if (options.isDark) drawing.arguments.push_back("--dark");
  constexpr double kMostS = 600;
  drawing.mostS = kMostS;
  const auto answer = answerOf(drawing, "");
  if (!answer) return fail(answer.error());
  std::fputs(answer->output.c_str(), stdout);
  if (answer->isLate) return fail(Error::environment("ash-gauge took more than ten minutes to draw " + formats + "."));
  if (answer->status < 0) return fail(Error::environment("ash-gauge ended before it had drawn " + formats + "."));
  return answer->status;
}

int carryOutReport(const ReportArguments& options) {
  if (options.name.find('/') != std::string::npos || options.name.starts_with('.'))
    return fail(Error::badInput("--name is that of a file without its ending, in the folder of --to."));
  const auto formats = parseReportFormats(options.format);
  if (!formats) return fail(formats.error());
  const auto sizes = parseChartSizes(options.sizes);
  if (!sizes) return fail(sizes.error());
  const auto book = Book::open(options.book, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto report = gatherStudy(*book, options.study, options.reference, progressOf(options));
  if (!report) return fail(report.error());
  std::error_code error;
  std::filesystem::create_directories(options.folder, error);
  if (error) return fail(Error::io("make the folder", options.folder, error.value()));
  const auto studies = book->studies();
  if (!studies) return fail(studies.error());
  const std::string name = options.name.empty() ? pageFileName(options.study, *studies) : options.name;
  ReportWish wish{name, *formats, *sizes, options.isDark};
  if (Status written = writeOwn(options, *report, wish); !written) return fail(written.error());
  std::string drawn;
  for (const ReportFormat format : *formats) {
    if (infoOf(format).needsToolkit) drawn += (drawn.empty() ? "" : ",") + std::string(infoOf(format).word);
    if (format != ReportFormat::Package) continue;
    if (options.tells) tellProgress("Packing the runs …");
    if (Status written = writeRuns(options, *report, name); !written) return fail(written.error());
  }
  std::fflush(stdout);
  return drawn.empty() ? kDone : drawByWindow(options, name, drawn);
}

}  // namespace

void addReportCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("report", "Write a study up; prints the path of each file");
  auto options = std::make_shared<ReportArguments>();
  command->add_option("study", options->study, "The study's name")->required();
  command->add_option("--book", options->book, "The book")->required();
  command->add_option("--to", options->folder, "Folder for the files; made when missing")->required();
  std::string help = "With commas";
  for (const ReportFormatInfo& one : reportFormats()) help += fmt::format("; {}: {}", one.word, one.means);
  command->add_option("--format", options->format, help)->capture_default_str();
  command->add_option("--name", options->name, "Of the files, without ending; by the study's name when not given");
  std::string sizes = "Of charts that are files of their own, with commas";
  for (const ChartSizeInfo& one : chartSizes()) sizes += fmt::format("; {}: {}", one.word, one.means);
  command->add_option("--size", options->sizes, sizes)->capture_default_str();
  command->add_flag("--dark", options->isDark, "Charts that are files of their own on a dark ground");
  command->add_flag("--progress", options->tells, "Tells on stderr how far it is, a line each time");
  command->add_option("--paper", options->paper, "Of the PDF")
      ->check(CLI::IsMember({"a4", "letter"}))
      ->capture_default_str();
  command->add_option("--reference", options->reference,
                      "Run that the others are held against; the first when not given");
  command->callback([options, &action] { action = [options] { return carryOutReport(*options); }; });
}

}  // namespace ash::cli
