// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg report`: the write-up of a study, in its formats.
#include <fmt/format.h>

#include <cstdio>
#include <filesystem>
#include <memory>

#include "book/book.h"
#include "cli/command.h"
#include "report/report_files.h"
#include "system/whole_file.h"

namespace ash::cli {
namespace {

struct ReportArguments {
  std::string study, book, folder, format = "html", reference;
};

int carryOutReport(const ReportArguments& options) {
  const auto formats = parseReportFormats(options.format);
  if (!formats) return fail(formats.error());
  const auto book = Book::open(options.book, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto report = gatherStudy(*book, options.study, options.reference);
  if (!report) return fail(report.error());
  std::error_code error;
  std::filesystem::create_directories(options.folder, error);
  if (error) return fail(Error::io("make the folder", options.folder, error.value()));
  const auto studies = book->studies();
  if (!studies) return fail(studies.error());
  for (const ReportFile& file : reportFiles(*report, pageFileName(options.study, *studies), *formats)) {
    const std::string path = options.folder + "/" + file.name;
    if (Status written = writeWholeFile(file.bytes, path); !written) return fail(written.error());
    std::puts(path.c_str());
  }
  return kDone;
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
  command->add_option("--reference", options->reference,
                      "Run that the others are held against; the first when not given");
  command->callback([options, &action] { action = [options] { return carryOutReport(*options); }; });
}

}  // namespace ash::cli
