// SPDX-License-Identifier: GPL-3.0-or-later
// `picture-reader`: decodes one picture for a program that does not want to be in one process with what it may do.
// `picture-reader keep` writes it anew, `picture-reader draw W H` gives its pixels; docs/attachments.md.
#include <sys/prctl.h>
#include <sys/resource.h>

#include <QBuffer>
#include <QColorSpace>
#include <QCoreApplication>
#include <QImage>
#include <QImageReader>
#include <QImageWriter>
#include <QtEndian>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <iostream>
#include <iterator>

#include "app/picture/picture_tags.h"
#include "attach/picture_reader.h"
#include "model/json.h"

namespace {

using namespace ash;

constexpr int kJpegQuality = 92;
constexpr int kMostDecodedMiB = 1100;  // 250 million pixels of four bytes
constexpr rlim_t kMostMemoryB = 4ull << 30, kMostFileB = 100ull << 20, kMostCpuS = 20, kMostFiles = 32;

// What it can take of the machine, whatever the picture makes of it. It ends with the program that asked.
void limitSelf() {
  const auto limit = [](auto what, rlim_t most) {
    const rlimit both{most, most};
    setrlimit(what, &both);
  };
  limit(RLIMIT_AS, kMostMemoryB);
  limit(RLIMIT_FSIZE, kMostFileB);
  limit(RLIMIT_CPU, kMostCpuS);
  limit(RLIMIT_NOFILE, kMostFiles);
  limit(RLIMIT_CORE, 0);
  prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
  prctl(PR_SET_PDEATHSIG, SIGKILL);
}

// A decoder that has not found the end of its file fills up with grey and says so in a message only.
bool& isCutOff() {
  static bool isTold = false;
  return isTold;
}

void hear(QtMsgType, const QMessageLogContext&, const QString& message) {
  for (const char* sign : {"Premature end", "Unexpected EOF", "Read Error"}) {
    if (message.contains(QLatin1String(sign), Qt::CaseInsensitive)) isCutOff() = true;
  }
}

int refuse(const std::string& why) {
  std::cout << jsonText({{"refused", why}}) << "\n";
  return 1;
}

void tell(const Json& head, const char* bytes, size_t size) {
  std::cout << jsonText(head) << "\n";
  std::cout.write(bytes, static_cast<std::streamsize>(size));
}

/// One picture of the kinds that file_kind.h calls pictures, turned as its camera was held.
class Decoder {
 public:
  explicit Decoder(const std::string& bytes)
      : m_bytes(QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()))) {
    m_buffer.setBuffer(&m_bytes);
    m_buffer.open(QIODevice::ReadOnly);
    m_reader.setDevice(&m_buffer);
    m_reader.setDecideFormatFromContent(true);
    m_reader.setAutoTransform(true);
    QImageReader::setAllocationLimit(kMostDecodedMiB);
  }

  /// Why it is not taken; empty when it may be.
  std::string refusal() const {
    const QList<QByteArray> known = {"png", "jpeg", "gif", "bmp", "webp", "tiff"};
    if (!known.contains(m_reader.format()))
      return "is of a kind of picture that cannot be read here; bring it as PNG or JPEG";
    if (m_reader.format() == "bmp" && isShorterThanSaid())
      return "cannot be read as a picture: it is cut off or broken";
    if (!size().isValid() || size().isEmpty()) return "cannot be read as a picture: it does not tell its size";
    const double pixels = static_cast<double>(size().width()) * size().height();
    if (pixels <= kMostPixels) return {};
    return "has " + std::to_string(size().width()) + " × " + std::to_string(size().height()) +
           " pixels; at most 250 million are read";
  }
  QSize size() const { return m_reader.size(); }
  bool isPhoto() const { return m_reader.format() == "jpeg" || m_reader.format() == "webp"; }

  /// Within `most` by `most` pixels when it is larger; null when it cannot be decoded.
  QImage read(QSize most) {
    const bool isTurned = m_reader.transformation() & QImageIOHandler::TransformationRotate90;
    if (isTurned) most.transpose();
    if (size().width() > most.width() || size().height() > most.height())
      m_reader.setScaledSize(size().scaled(most, Qt::KeepAspectRatio).expandedTo({1, 1}));
    return m_reader.read();
  }

 private:
  // A BMP says at its third byte how long it is, and is drawn in black where it ends before.
  bool isShorterThanSaid() const {
    return m_bytes.size() >= 6 && qFromLittleEndian<quint32>(m_bytes.constData() + 2) > m_bytes.size();
  }

  QByteArray m_bytes;
  QBuffer m_buffer;
  QImageReader m_reader;
};

// Nothing but the pixels: a copy has no texts, no profile and no measures of its own.
QImage bare(QImage image) {
  if (image.colorSpace().isValid()) image.convertToColorSpace(QColorSpace::SRgb);
  image = image.convertToFormat(image.hasAlphaChannel() ? QImage::Format_ARGB32 : QImage::Format_RGB32);
  QImage copy(image.size(), image.format());
  for (int y = 0; y < image.height(); ++y)
    std::memcpy(copy.scanLine(y), image.constScanLine(y), static_cast<size_t>(image.width()) * sizeof(QRgb));
  return copy;
}

int keep(const std::string& bytes) {
  Decoder decoder(bytes);
  if (const std::string why = decoder.refusal(); !why.empty()) return refuse(why);
  const QSize before = decoder.size();
  const bool isPhoto = decoder.isPhoto();
  const QImage read = decoder.read({kLongestSidePx, kLongestSidePx});
  if (read.isNull() || isCutOff()) return refuse("cannot be read as a picture: it is cut off or broken");
  const bool isTurned = (read.width() < read.height()) != (before.width() < before.height());
  const QImage image = bare(read);
  const bool isJpeg = isPhoto && !image.hasAlphaChannel();
  QByteArray kept;
  QBuffer to(&kept);
  to.open(QIODevice::WriteOnly);
  QImageWriter writer(&to, isJpeg ? "jpeg" : "png");
  writer.setQuality(isJpeg ? kJpegQuality : -1);
  if (!writer.write(image)) return refuse("cannot be written anew: " + writer.errorString().toStdString());
  PictureTags tags = tagsOf(bytes);
  for (const QString& key : read.textKeys()) countText(key.toStdString(), tags);
  const Json head = {{"type", isJpeg ? "image/jpeg" : "image/png"},
                     {"width", image.width()},
                     {"height", image.height()},
                     {"width_before", isTurned ? before.height() : before.width()},
                     {"height_before", isTurned ? before.width() : before.height()},
                     {"taken", tags.taken},
                     {"removed", removedWords(tags)}};
  tell(head, kept.constData(), static_cast<size_t>(kept.size()));
  return 0;
}

int draw(const std::string& bytes, QSize most) {
  Decoder decoder(bytes);
  if (const std::string why = decoder.refusal(); !why.empty()) return refuse(why);
  const QImage image = decoder.read(most).convertToFormat(QImage::Format_ARGB32_Premultiplied);
  if (image.isNull() || isCutOff()) return refuse("cannot be read as a picture: it is cut off or broken");
  tell({{"width", image.width()}, {"height", image.height()}}, nullptr, 0);
  for (int y = 0; y < image.height(); ++y)
    std::cout.write(reinterpret_cast<const char*>(image.constScanLine(y)),
                    static_cast<std::streamsize>(image.width()) * static_cast<std::streamsize>(sizeof(QRgb)));
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  limitSelf();
  const QCoreApplication application(argc, argv);  // knows where the decoders lie
  qInstallMessageHandler(hear);
  const std::string wanted = argc > 1 ? argv[1] : "";
  const QSize most = argc > 3 ? QSize(std::atoi(argv[2]), std::atoi(argv[3])) : QSize();
  if (wanted != "keep" && !(wanted == "draw" && !most.isEmpty())) {
    std::fputs("picture-reader is asked by ashg and ash-gauge; see docs/attachments.md\n", stderr);
    return 2;
  }
  try {
    const std::string bytes{std::istreambuf_iterator<char>(std::cin), {}};
    const int status = wanted == "keep" ? keep(bytes) : draw(bytes, most);
    std::cout.flush();
    return status;
  } catch (const std::bad_alloc&) {
    return refuse("needs more memory than a picture may");
  }
}
