// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/head_marks.h"

#include <algorithm>
#include <cmath>

#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kMostLines = 60, kRowsShown = 24, kLongestLine = 400;

class Marker {
 public:
  Marker(LogShape& shape, const LogPlan& plan) : m_shape(shape), m_plan(plan) {}

  HeadLine marked(const HeadRecord& record) {
    HeadLine line{record.line, record.text, {}};
    m_record = record.text;
    if (record.line == m_shape.headerLine)
      markHeader(line);
    else if (m_shape.headerLine > 0 && record.line > m_shape.headerLine && record.line < m_shape.firstLine)
      markWhole(line, HeadMarkKind::Unit);
    else if (record.line < m_shape.firstLine || m_shape.cutter.cut(m_record).size() < m_shape.cells)
      markWhole(line, HeadMarkKind::LeftOut);
    else
      markRow(line);
    std::erase_if(line.marks, [](const HeadMark& mark) { return mark.from >= kLongestLine; });
    std::sort(line.marks.begin(), line.marks.end(),
              [](const HeadMark& a, const HeadMark& b) { return a.from < b.from; });
    return shown(std::move(line));
  }

 private:
  bool isTime(size_t cell) const {
    return std::find(m_plan.timeCells.begin(), m_plan.timeCells.end(), cell) != m_plan.timeCells.end();
  }

  // Where the cells stand in the line. One that was taken out of quotes is looked for behind the one before; with
  // quotes within it is not found, and nothing is marked of it.
  std::vector<size_t> placesOf(const std::vector<std::string_view>& cells) const {
    std::vector<size_t> places;
    size_t from = 0;
    for (const std::string_view cell : cells) {
      const size_t at = m_record.find(cell, from);
      places.push_back(at);
      if (at != std::string_view::npos) from = at + cell.size();
    }
    return places;
  }

  static void mark(HeadLine& line, size_t from, size_t size, HeadMarkKind kind) {
    if (from != std::string_view::npos && size > 0) line.marks.push_back({from, from + size, kind});
  }

  void markWhole(HeadLine& line, HeadMarkKind kind) const {
    if (!m_record.empty()) line.marks.push_back({0, m_record.size(), kind});
  }

  void markHeader(HeadLine& line) {
    const auto cells = m_shape.cutter.cut(m_record);
    const auto places = placesOf(cells);
    for (size_t c = 0; c < cells.size(); ++c) {
      if (isTime(c)) mark(line, places[c], cells[c].size(), HeadMarkKind::Time);
    }
    for (const PlannedColumn& column : m_plan.columns) {
      if (m_plan.onePerLine || column.cell >= cells.size() || column.unitText.empty()) continue;
      const std::string_view cell = cells[column.cell];
      const size_t at = cell.rfind(column.unitText);
      if (at != std::string_view::npos && places[column.cell] != std::string_view::npos)
        mark(line, places[column.cell] + at, column.unitText.size(), HeadMarkKind::Unit);
    }
  }

  void markRow(HeadLine& line) {
    const auto cells = m_shape.cutter.cut(m_record);
    const auto places = placesOf(cells);
    for (size_t c = 0; c < cells.size(); ++c) {
      if (isTime(c)) mark(line, places[c], cells[c].size(), HeadMarkKind::Time);
    }
    if (m_plan.onePerLine) return markNumber(line, cells[m_plan.onePerLine->value], places[m_plan.onePerLine->value]);
    for (const PlannedColumn& column : m_plan.columns) {
      if (column.kind == ColumnKind::Numbers) markNumber(line, cells[column.cell], places[column.cell]);
    }
  }

  void markNumber(HeadLine& line, std::string_view cell, size_t place) const {
    if (place == std::string_view::npos) return;
    double value = NAN;
    if (const auto measured = splitMeasured(cell)) {
      mark(line, place + static_cast<size_t>(measured->unit.data() - cell.data()), measured->unit.size(),
           HeadMarkKind::Unit);
      cell = measured->number;
    }
    if (!readLogNumber(cell, m_shape.decimal, value)) return mark(line, place, cell.size(), HeadMarkKind::Refused);
    const size_t decimal = cell.rfind(m_shape.decimal);
    if (decimal != std::string_view::npos) mark(line, place + decimal, 1, HeadMarkKind::Decimal);
  }

  // Cut off between characters; what is no text is shown as such, byte for byte, so that marks stay in place.
  static HeadLine shown(HeadLine line) {
    for (char& c : line.text) {
      if (static_cast<unsigned char>(c) < ' ' || c == 0x7f) c = ' ';
    }
    if (line.text.size() > kLongestLine) {
      size_t end = kLongestLine;
      while (end > 0 && (static_cast<unsigned char>(line.text[end]) & 0xC0) == 0x80) --end;
      line.text.resize(end);
    }
    for (HeadMark& mark : line.marks) mark.to = std::min(mark.to, line.text.size());
    return line;
  }

  LogShape& m_shape;
  const LogPlan& m_plan;
  std::string_view m_record;
};

}  // namespace

std::vector<HeadLine> markedHead(const std::vector<HeadRecord>& head, LogShape shape, const LogPlan& plan) {
  Marker marker(shape, plan);
  std::vector<HeadLine> lines;
  size_t rows = 0;
  for (const HeadRecord& record : head) {
    if (lines.size() >= kMostLines || rows >= kRowsShown) break;
    rows += record.line >= shape.firstLine;
    lines.push_back(marker.marked(record));
  }
  return lines;
}

}  // namespace ash
