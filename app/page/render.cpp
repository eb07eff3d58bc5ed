// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/page/render.h"

#include <QBuffer>
#include <QCommandLineParser>
#include <QGuiApplication>
#include <QHashFunctions>
#include <QImage>
#include <QPainter>
#include <QSvgRenderer>
#include <cstdio>

#include "app/page/page_pdf.h"
#include "book/book.h"
#include "report/report_files.h"
#include "system/whole_file.h"

namespace ash {
namespace {

// The exit statuses of `ashg` (docs/command-line.md).
constexpr int kDone = 0, kBadInput = 2, kEnvironment = 3;

int fail(const Error& error) {
  std::fprintf(stderr, "ash-gauge: %s\n", error.message.c_str());
  return error.kind == ErrorKind::BadInput ? kBadInput : kEnvironment;
}

// A drawing brings its ground along.
Result<std::string> pngOf(const std::string& svg, double scale) {
  QSvgRenderer renderer(QByteArray::fromStdString(svg));
  const QSizeF size = renderer.viewBoxF().size() * scale;
  QImage image(size.toSize(), QImage::Format_RGB32);
  if (image.isNull()) return Error::badInput("A chart cannot be drawn.");
  image.fill(Qt::white);
  QPainter painter(&image);
  renderer.render(&painter, QRectF(QPointF(), size));
  painter.end();
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  if (!image.save(&buffer, "PNG")) return Error::badInput("A chart cannot be written as PNG.");
  return bytes.toStdString();
}

struct RenderArguments {
  std::string book, study, reference, folder;
  ReportWish wish;
  Paper paper = Paper::A4;
};

Result<std::vector<ReportFile>> filesOf(const StudyReport& report, const RenderArguments& asked) {
  std::vector<ReportFile> files;
  if (asked.wish.has(ReportFormat::Pdf)) {
    auto pdf = pagePdf(report, asked.paper);
    if (!pdf) return pdf.error();
    files.push_back({asked.wish.name + ".pdf", pdf->toStdString()});
  }
  if (!asked.wish.has(ReportFormat::Picture)) return files;
  ReportWish wish = asked.wish;
  wish.family = pageFont(12).family().toStdString();
  for (const DrawnChart& chart : drawnCharts(report, wish)) {
    auto png = pngOf(chart.file.bytes, chart.pictureScale);
    if (!png) return png.error();
    const std::string& name = chart.file.name;
    files.push_back({name.substr(0, name.size() - std::string_view("svg").size()) + "png", std::move(*png)});
  }
  return files;
}

int render(const RenderArguments& asked) {
  const auto book = Book::open(asked.book, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto report = gatherStudy(*book, asked.study, asked.reference);
  if (!report) return fail(report.error());
  const auto files = filesOf(*report, asked);
  if (!files) return fail(files.error());
  for (const ReportFile& file : *files) {
    const std::string path = asked.folder + "/" + file.name;
    if (Status written = writeWholeFile(file.bytes, path); !written) return fail(written.error());
    std::puts(path.c_str());
  }
  return kDone;
}

Result<RenderArguments> argumentsOf(const QCommandLineParser& parser) {
  const auto value = [&](const char* name) { return parser.value(QLatin1String(name)).toStdString(); };
  auto formats = parseReportFormats(value("format"));
  if (!formats) return formats.error();
  auto sizes = parseChartSizes(value("size").empty() ? "page" : value("size"));
  if (!sizes) return sizes.error();
  RenderArguments asked{value("book"), value("study"), value("reference"), value("to"), {}};
  asked.wish = {value("name"), std::move(*formats), std::move(*sizes), parser.isSet(QStringLiteral("dark"))};
  if (asked.book.empty() || asked.study.empty() || asked.folder.empty() || asked.wish.name.empty())
    return Error::badInput("--render needs --book, --study, --to and --name.");
  if (value("paper") == "letter") asked.paper = Paper::Letter;
  return asked;
}

}  // namespace

bool asksToRender(int argc, char** argv) {
  for (int i = 1; i < argc; ++i) {
    if (qstrcmp(argv[i], "--render") == 0) return true;
  }
  return false;
}

int renderReport(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  // Nothing of the person's desktop has a say in what is drawn.
  qputenv("QT_QPA_PLATFORMTHEME", "");
  qunsetenv("QT_SCALE_FACTOR");
  // Fonts are written in the order of a hash: without this it is another one each time.
  QHashSeed::setDeterministicGlobalSeed();
  const QGuiApplication app(argc, argv);
  QCommandLineParser parser;
  for (const char* name : {"book", "study", "reference", "to", "name", "format", "paper", "size"})
    parser.addOption({QLatin1String(name), QString(), QLatin1String(name)});
  for (const char* name : {"render", "dark"}) parser.addOption({QLatin1String(name), QString()});
  parser.process(app);
  const auto asked = argumentsOf(parser);
  return asked ? render(*asked) : fail(asked.error());
}

}  // namespace ash
