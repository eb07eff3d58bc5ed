// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/page/pdf_finish.h"

// Its pointers are those of the standard (qpdf 11: README of PointerHolder).
#define POINTERHOLDER_TRANSITION 4
#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace ash {
namespace {

// A bookmark and what hangs below it.
struct Outline {
  QPDFObjectHandle item;
  std::vector<size_t> children;
};

QPDFObjectHandle itemOf(QPDF& pdf, const PdfBookmark& bookmark, const std::vector<QPDFPageObjectHelper>& pages) {
  QPDFObjectHandle item = QPDFObjectHandle::newDictionary();
  item.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(bookmark.title));
  QPDFPageObjectHelper page = pages.at(static_cast<size_t>(bookmark.page));
  const double height = page.getMediaBox().getArrayItem(3).getNumericValue();
  QPDFObjectHandle place = QPDFObjectHandle::newArray();
  place.appendItem(page.getObjectHandle());
  place.appendItem(QPDFObjectHandle::newName("/XYZ"));
  place.appendItem(QPDFObjectHandle::newNull());
  place.appendItem(QPDFObjectHandle::newReal(height - bookmark.top, 1));
  place.appendItem(QPDFObjectHandle::newNull());
  item.replaceKey("/Dest", place);
  return pdf.makeIndirectObject(item);
}

void chain(std::vector<Outline>& all, QPDFObjectHandle parent, const std::vector<size_t>& children) {
  if (children.empty()) return;
  parent.replaceKey("/First", all[children.front()].item);
  parent.replaceKey("/Last", all[children.back()].item);
  parent.replaceKey("/Count", QPDFObjectHandle::newInteger(static_cast<long long>(children.size())));
  for (size_t i = 0; i < children.size(); ++i) {
    QPDFObjectHandle item = all[children[i]].item;
    item.replaceKey("/Parent", parent);
    if (i > 0) item.replaceKey("/Prev", all[children[i - 1]].item);
    if (i + 1 < children.size()) item.replaceKey("/Next", all[children[i + 1]].item);
  }
}

// Two levels: the question over nothing, headings, and theirs.
void addOutlines(QPDF& pdf, const std::vector<PdfBookmark>& bookmarks) {
  const auto pages = QPDFPageDocumentHelper(pdf).getAllPages();
  std::vector<Outline> all;
  std::vector<size_t> top;
  constexpr int kBelow = 3;
  for (const PdfBookmark& bookmark : bookmarks) {
    if (bookmark.page < 0 || bookmark.page >= static_cast<int>(pages.size())) continue;
    all.push_back({itemOf(pdf, bookmark, pages), {}});
    if (bookmark.level >= kBelow && !top.empty())
      all[top.back()].children.push_back(all.size() - 1);
    else
      top.push_back(all.size() - 1);
  }
  if (top.empty()) return;
  QPDFObjectHandle root = pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
  root.replaceKey("/Type", QPDFObjectHandle::newName("/Outlines"));
  chain(all, root, top);
  for (Outline& one : all) chain(all, one.item, one.children);
  pdf.getRoot().replaceKey("/Outlines", root);
  pdf.getRoot().replaceKey("/PageMode", QPDFObjectHandle::newName("/UseOutlines"));
}

void addDescription(QPDF& pdf, const std::string& date) {
  QPDFObjectHandle root = pdf.getRoot();
  root.replaceKey("/Lang", QPDFObjectHandle::newString("en"));
  QPDFObjectHandle preferences = QPDFObjectHandle::newDictionary();
  preferences.replaceKey("/DisplayDocTitle", QPDFObjectHandle::newBool(true));
  root.replaceKey("/ViewerPreferences", preferences);
  // It tells the moment of writing.
  root.removeKey("/Metadata");
  QPDFObjectHandle info = pdf.getTrailer().getKey("/Info");
  if (!info.isDictionary()) return;
  info.replaceKey("/CreationDate", QPDFObjectHandle::newString(date));
  info.removeKey("/ModDate");
}

}  // namespace

Result<QByteArray> finishedPdf(const QByteArray& pdf, const std::vector<PdfBookmark>& bookmarks,
                               const std::string& date) {
  try {
    QPDF document;
    document.processMemoryFile("page", pdf.constData(), static_cast<size_t>(pdf.size()));
    addOutlines(document, bookmarks);
    addDescription(document, date);
    QPDFWriter writer(document);
    writer.setOutputMemory();
    writer.setDeterministicID(true);
    writer.setObjectStreamMode(qpdf_o_generate);
    writer.write();
    const auto buffer = writer.getBufferSharedPointer();
    return QByteArray(reinterpret_cast<const char*>(buffer->getBuffer()), static_cast<qsizetype>(buffer->getSize()));
  } catch (const std::exception& error) {
    return Error::badInput(std::string("The PDF cannot be finished: ") + error.what());
  }
}

}  // namespace ash
