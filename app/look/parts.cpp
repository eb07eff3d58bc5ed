// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/look/parts.h"

#include <QAccessible>
#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPushButton>
#include <QTableWidget>
#include <cmath>
#include <numbers>

#include "app/look/theme.h"
#include "model/text.h"

namespace ash::look {
namespace {

/// Copies the selected rows, heads first, as tab-separated text.
class CopyingTable : public QTableWidget {
 public:
  using QTableWidget::QTableWidget;

 protected:
  void keyPressEvent(QKeyEvent* event) override {
    if (event->matches(QKeySequence::Copy))
      QApplication::clipboard()->setText(asText());
    else
      QTableWidget::keyPressEvent(event);
  }

 private:
  QString asText() const {
    QString all;
    const auto addRow = [&](auto textOf) {
      for (int column = 0; column < columnCount(); ++column)
        all += (column > 0 ? QStringLiteral("\t") : QString()) + textOf(column);
      all += QLatin1Char('\n');
    };
    addRow([&](int column) {
      return horizontalHeaderItem(column) == nullptr ? QString() : horizontalHeaderItem(column)->text();
    });
    for (int row = 0; row < rowCount(); ++row) {
      const bool isWanted = selectedItems().isEmpty() || (item(row, 0) != nullptr && item(row, 0)->isSelected());
      if (isWanted)
        addRow([&](int column) {
          return item(row, column) == nullptr ? QString() : text(guardedCell(item(row, column)->text().toStdString()));
        });
    }
    return all;
  }
};

/// A label guesses whether its words are markup, and so does the label in which Qt shows a tooltip. Here none guesses:
/// who writes markup says so.
class PlainLabels : public QObject {
 public:
  using QObject::QObject;
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() != QEvent::Polish) return false;
    auto* label = qobject_cast<QLabel*>(object);
    if (label != nullptr && label->textFormat() == Qt::AutoText) label->setTextFormat(Qt::PlainText);
    return false;
  }
};

QPolygonF corners(const QPointF& centre, double radius, int count, double turn) {
  QPolygonF polygon;
  for (int i = 0; i < count; ++i) {
    const double angle = turn + 2 * std::numbers::pi * i / count;
    polygon << centre + QPointF(radius * std::sin(angle), -radius * std::cos(angle));
  }
  return polygon;
}

}  // namespace

QLabel* label(const QString& words, double designPx, QFont::Weight weight, QWidget* parent) {
  auto* made = new QLabel(words, parent);
  // Words may come out of a stranger's book: who writes markup asks for it.
  made->setTextFormat(Qt::PlainText);
  made->setFont(font(designPx, weight));
  return made;
}

void keepLabelsPlain(QObject* application) {
  constexpr const char* kDone = "labelsArePlain";
  if (application->property(kDone).toBool()) return;
  application->setProperty(kDone, true);
  application->installEventFilter(new PlainLabels(application));
}

QLabel* softLabel(const QString& words, QWidget* parent, double designPx) {
  QLabel* made = label(words, designPx, QFont::Normal, parent);
  made->setProperty("soft", true);
  return made;
}

// An alert is what AT-SPI has for it.
void announce(QWidget* widget) {
  QAccessibleEvent alert(widget, QAccessible::Alert);
  QAccessible::updateAccessibility(&alert);
}

QWidget* rule(QWidget* parent) {
  auto* line = new QWidget(parent);
  line->setFixedHeight(1);
  return withGround(line, theme().line);
}

QWidget* withGround(QWidget* widget, const QColor& colour) {
  widget->setAutoFillBackground(true);
  QPalette palette = widget->palette();
  palette.setColor(QPalette::Window, colour);
  widget->setPalette(palette);
  return widget;
}

QTableWidget* plainTable(const QStringList& heads, QWidget* parent) {
  auto* table = new CopyingTable(0, static_cast<int>(heads.size()), parent);
  table->setHorizontalHeaderLabels(heads);
  table->setShowGrid(false);
  table->setWordWrap(false);
  table->setFrameShape(QFrame::NoFrame);
  table->verticalHeader()->hide();
  table->verticalHeader()->setDefaultSectionSize(px(24));
  table->verticalHeader()->setMinimumSectionSize(px(18));
  table->horizontalHeader()->setHighlightSections(false);
  table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  table->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  table->setTabKeyNavigation(false);
  table->setFont(font(12));
  table->horizontalHeader()->setFont(font(12));
  return table;
}

bool isBeingEdited(const QTableWidget* table) {
  const QWidget* focused = QApplication::focusWidget();
  return focused != nullptr && focused != table && table->viewport()->isAncestorOf(focused);
}

void alignHeads(QTableWidget* table) {
  for (int column = 0; column < table->columnCount(); ++column) {
    if (auto* head = table->horizontalHeaderItem(column))
      head->setTextAlignment(column == 0 ? Qt::AlignLeft | Qt::AlignVCenter : Qt::AlignRight | Qt::AlignVCenter);
  }
}

QString inTwoLines(const QString& words, const QFont& font, int px) {
  const QFontMetrics metrics(font);
  if (metrics.horizontalAdvance(words) <= px) return words;
  // A number keeps its unit.
  QStringList parts;
  for (const QString& word : words.split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
    const bool isUnit = !parts.isEmpty() && parts.last().back().isDigit() && word.size() <= 3;
    if (isUnit)
      parts.last() += QLatin1Char(' ') + word;
    else
      parts << word;
  }
  QString first = parts.value(0);
  int next = 1;
  while (next < parts.size() && metrics.horizontalAdvance(first + QLatin1Char(' ') + parts[next]) <= px)
    first += QLatin1Char(' ') + parts[next++];
  first = metrics.elidedText(first, Qt::ElideRight, px);
  if (next >= parts.size()) return first;
  // Of what is left its end tells more than its beginning.
  const QString second = QStringList(parts.mid(next)).join(QLatin1Char(' '));
  return first + QLatin1Char('\n') + metrics.elidedText(second, Qt::ElideLeft, px);
}

void paintSetupSign(QPainter& painter, int setupIndex, const QPointF& centre, double size, bool isFilled) {
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing);
  const QColor colour = theme().series(setupIndex);
  painter.setPen(QPen(colour, 1.5));
  painter.setBrush(isFilled ? QBrush(colour) : QBrush(theme().panel));
  const double r = size / 2;
  constexpr double kPi = std::numbers::pi;
  switch (((setupIndex % 8) + 8) % 8) {
    case 0:
      painter.drawRect(QRectF(centre.x() - r * 0.9, centre.y() - r * 0.9, 1.8 * r, 1.8 * r));
      break;
    case 1:
      painter.drawEllipse(centre, r, r);
      break;
    case 2:
      painter.drawPolygon(corners(centre, r * 1.2, 4, 0));
      break;
    case 3:
      painter.drawPolygon(corners(centre, r * 1.2, 3, 0));
      break;
    case 4:
      painter.drawPolygon(corners(centre, r * 1.2, 3, kPi));
      break;
    case 5:
      painter.drawPolygon(corners(centre, r * 1.1, 5, 0));
      break;
    case 6:
      painter.drawPolygon(corners(centre, r * 1.1, 6, kPi / 6));
      break;
    default:
      painter.drawRect(QRectF(centre.x() - r * 1.1, centre.y() - r * 0.6, 2.2 * r, 1.2 * r));
  }
  painter.restore();
}

SetupSign::SetupSign(QWidget* parent) : QWidget(parent) { setFixedSize(sizeHint()); }

void SetupSign::setSetup(int index) {
  m_index = index;
  update();
}

QSize SetupSign::sizeHint() const { return {px(16), px(16)}; }

void SetupSign::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  paintSetupSign(painter, m_index, QRectF(rect()).center(), px(11));
}

Segments::Segments(const QString& name, const QStringList& words, QWidget* parent) : QWidget(parent) {
  setAccessibleName(name);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  for (int i = 0; i < words.size(); ++i) {
    auto* button = new QPushButton(words[i], this);
    button->setProperty("role", "segment");
    button->setCheckable(true);
    button->setAccessibleName(QStringLiteral("%1: %2").arg(name, words[i]));
    button->setObjectName(QStringLiteral("%1-%2").arg(name.toLower(), words[i]));
    m_group.addButton(button, i);
    row->addWidget(button);
  }
  m_group.setExclusive(true);
  if (!words.isEmpty()) m_group.button(0)->setChecked(true);
  // A screen reader checks a button without a click.
  connect(&m_group, &QButtonGroup::idToggled, this, [this](int index, bool isOn) {
    if (isOn) emit changed(index);
  });
}

void Segments::choose(int index) {
  const QSignalBlocker quiet(m_group);
  if (auto* button = m_group.button(index)) button->setChecked(true);
}

void Segments::setChoiceEnabled(int index, bool isEnabled, const QString& why) {
  if (auto* button = m_group.button(index)) {
    button->setEnabled(isEnabled);
    button->setToolTip(isEnabled ? QString() : why);
  }
}

}  // namespace ash::look

#include "moc_parts.cpp"
