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

// Twice the size of the drawing, for screens of today.
Result<std::string> pngOf(const std::string& svg) {
  constexpr double kScale = 2;
  QSvgRenderer renderer(QByteArray::fromStdString(svg));
  const QSizeF size = renderer.viewBoxF().size() * kScale;
  QImage image(size.toSize(), QImage::Format_RGB32);
  if (image.isNull()) return Error::badInput("A chart cannot be drawn.");
  image.fill(QColor(0xFB, 0xFA, 0xF8));
  QPainter painter(&image);
  renderer.render(&painter, QRectF(QPointF(), size));
  painter.end();
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  if (!image.save(&buffer, "PNG")) return Error::badInput("A chart cannot be written as PNG.");
  return bytes.toStdString();
}

struct Wish {
  std::string book, study, reference, folder, name;
  std::vector<ReportFormat> formats;
  Paper paper = Paper::A4;
  bool has(ReportFormat format) const { return std::find(formats.begin(), formats.end(), format) != formats.end(); }
};

Result<std::vector<ReportFile>> filesOf(const StudyReport& report, const Wish& wish) {
  std::vector<ReportFile> files;
  if (wish.has(ReportFormat::Pdf)) {
    auto pdf = pagePdf(report, wish.paper);
    if (!pdf) return pdf.error();
    files.push_back({wish.name + ".pdf", pdf->toStdString()});
  }
  if (!wish.has(ReportFormat::Picture)) return files;
  for (const ReportFile& drawing :
       reportFiles(report, wish.name, {ReportFormat::Drawings}, pageFont(12).family().toStdString())) {
    auto png = pngOf(drawing.bytes);
    if (!png) return png.error();
    files.push_back(
        {drawing.name.substr(0, drawing.name.size() - std::string_view("svg").size()) + "png", std::move(*png)});
  }
  return files;
}

int render(const Wish& wish) {
  const auto book = Book::open(wish.book, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto report = gatherStudy(*book, wish.study, wish.reference);
  if (!report) return fail(report.error());
  const auto files = filesOf(*report, wish);
  if (!files) return fail(files.error());
  for (const ReportFile& file : *files) {
    const std::string path = wish.folder + "/" + file.name;
    if (Status written = writeWholeFile(file.bytes, path); !written) return fail(written.error());
    std::puts(path.c_str());
  }
  return kDone;
}

Result<Wish> wishOf(const QCommandLineParser& parser) {
  const auto value = [&](const char* name) { return parser.value(QLatin1String(name)).toStdString(); };
  auto formats = parseReportFormats(value("format"));
  if (!formats) return formats.error();
  Wish wish{value("book"), value("study"), value("reference"), value("to"), value("name"), std::move(*formats)};
  if (wish.book.empty() || wish.study.empty() || wish.folder.empty() || wish.name.empty())
    return Error::badInput("--render needs --book, --study, --to and --name.");
  if (value("paper") == "letter") wish.paper = Paper::Letter;
  return wish;
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
  for (const char* name : {"book", "study", "reference", "to", "name", "format", "paper"})
    parser.addOption({QLatin1String(name), QString(), QLatin1String(name)});
  parser.addOption({QStringLiteral("render"), QString()});
  parser.process(app);
  const auto wish = wishOf(parser);
  return wish ? render(*wish) : fail(wish.error());
}

}  // namespace ash
