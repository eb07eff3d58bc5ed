// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/writeup/writeup_station.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>
#include <QShortcut>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "app/writeup/comment_field.h"
#include "app/writeup/export_panel.h"
#include "app/writeup/page_preview.h"
#include "report/answer/answer.h"
#include "report/figure_mention.h"
#include "report/notes.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kWidths[] = {768, 700, 400};  // screen, print, phone
constexpr int kPhone = 2;
constexpr int kMostChips = 8;

}  // namespace

WriteUpStation::WriteUpStation(StudyDesk& desk, QWidget* parent) : StudyStation(desk, parent) {
  look::withGround(this, theme().selected);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  row->addWidget(buildLeft());
  auto* right = new QVBoxLayout;
  right->setContentsMargins(px(16), px(8), px(16), 0);
  auto* bar = new QHBoxLayout;
  bar->addWidget(look::label(tr("Page"), 13, QFont::DemiBold, this));
  m_width = new look::Segments(tr("Page"), {tr("screen"), tr("print"), tr("phone")}, this);
  bar->addSpacing(px(8));
  bar->addWidget(m_width);
  auto* hint = look::softLabel(tr("the page as it is exported; a double click writes below a block"), this);
  hint->setWordWrap(true);
  hint->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  bar->addSpacing(px(8));
  bar->addWidget(hint, 1);
  right->addLayout(bar);
  auto* centre = new QHBoxLayout;
  m_preview = new PagePreview(this);
  connect(m_preview, &PagePreview::linkChosen, this, &WriteUpStation::followLink);
  connect(m_preview, &PagePreview::blockMoved, this, &WriteUpStation::moveTo);
  connect(m_preview, &PagePreview::blockOpened, this, [this](const QString& id) {
    chooseBlock(id);
    writeOnPage();
  });
  m_inPlace = new CommentField("comment-in-place", m_preview->viewport());
  m_inPlace->setDocument(m_comment->document());
  m_inPlace->setVisible(false);
  for (CommentField* field : {m_comment, m_inPlace}) {
    connect(field, &CommentField::finished, this, [this] { endWriting(true); });
    connect(field, &CommentField::givenUp, this, [this] { endWriting(false); });
  }
  centre->addStretch(1);
  centre->addWidget(m_preview, 100);
  centre->addStretch(1);
  right->addLayout(centre, 1);
  row->addLayout(right, 1);
  connect(m_width, &look::Segments::changed, this, &WriteUpStation::refresh);
  connect(&desk, &StudyDesk::reportChanged, this, &WriteUpStation::refreshWhenSeen);
  connect(&desk, &StudyDesk::changed, this, &WriteUpStation::refreshWhenSeen);
  refresh();
}

QWidget* WriteUpStation::buildLeft() {
  auto* left = look::withGround(new QWidget(this), theme().panel);
  left->setFixedWidth(px(376));
  auto* column = new QVBoxLayout(left);
  column->setContentsMargins(px(16), px(10), px(16), px(12));
  column->setSpacing(px(6));
  auto* head = new QHBoxLayout;
  m_head = look::label({}, 13, QFont::DemiBold, left);
  m_up = new QPushButton(tr("↑"), left);
  m_down = new QPushButton(tr("↓"), left);
  m_up->setToolTip(tr("Moves the block up (Alt+Up)"));
  m_down->setToolTip(tr("Moves the block down (Alt+Down)"));
  m_up->setAccessibleName(tr("Move the block up"));
  m_down->setAccessibleName(tr("Move the block down"));
  m_up->setObjectName(QStringLiteral("block-up"));
  m_down->setObjectName(QStringLiteral("block-down"));
  head->addWidget(m_head, 1);
  head->addWidget(m_up);
  head->addWidget(m_down);
  column->addLayout(head);
  column->addWidget(look::rule(left));
  m_list = new QListWidget(left);
  m_list->setObjectName(QStringLiteral("blocks"));
  m_list->setAccessibleName(tr("Blocks of the page"));
  m_list->setFont(look::font(13));
  m_list->setToolTip(
      tr("Space leaves a block out or takes it in; caveats and runs that did not finish always go along."));
  m_list->setMinimumHeight(px(120));
  column->addWidget(m_list, 1);
  m_commentHead = look::softLabel({}, left);
  m_comment = new CommentField("block-comment", left);
  column->addWidget(m_commentHead);
  column->addWidget(m_comment);
  column->addWidget(look::softLabel(tr("Figures to insert into the comment"), left));
  m_chips = new QWidget(left);
  column->addWidget(m_chips);
  column->addWidget(look::rule(left));
  m_out = new ExportPanel(left);
  m_out->setObjectName(QStringLiteral("export-panel"));
  column->addWidget(m_out);
  connect(m_list, &QListWidget::currentRowChanged, this, [this] {
    blockChosen();
    if (block() != nullptr) m_preview->goTo(text(block()->id));
  });
  // What was wished is read at once and taken a moment later: taking it fills the list anew, and so does a report that
  // comes in between.
  connect(m_list, &QListWidget::itemChanged, this, [this](const QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString();
    const bool leavesOut = item->checkState() == Qt::Unchecked;
    QMetaObject::invokeMethod(
        this, [this, id, leavesOut] { takeCheck(id, leavesOut); }, Qt::QueuedConnection);
  });
  connect(m_list, &QListWidget::itemActivated, this, &WriteUpStation::writeOnPage);
  connect(m_up, &QPushButton::clicked, this, [this] { move(-1); });
  connect(m_down, &QPushButton::clicked, this, [this] { move(1); });
  connect(m_out, &ExportPanel::exportAsked, this, &WriteUpStation::exportPage);
  connect(m_out, &ExportPanel::licenceEdited, this, &WriteUpStation::takeLicence);
  const auto add = [this](const QKeySequence& keys, auto action) {
    connect(new QShortcut(keys, this), &QShortcut::activated, this, action);
  };
  add(QKeySequence(Qt::ALT | Qt::Key_Up), [this] { move(-1); });
  add(QKeySequence(Qt::ALT | Qt::Key_Down), [this] { move(1); });
  add(QKeySequence(Qt::CTRL | Qt::Key_E), [this] { exportPage(); });
  return left;
}

const PageBlock* WriteUpStation::block() const {
  const int row = m_list->currentRow();
  return row < 0 || row >= static_cast<int>(m_blocks.size()) ? nullptr : &m_blocks[static_cast<size_t>(row)];
}

void WriteUpStation::refresh() {
  const auto& report = desk().report();
  const bool hasPage = report && !report->runs.empty() && desk().study() != nullptr;
  m_blocks.clear();
  if (hasPage) {
    // What was edited a moment ago shows at once, before the keeper has read it back.
    StudyReport now = *report;
    now.study = *desk().study();
    now.plan = desk().plan();
    now.pictures = picturesAmong(now.study, desk().attachments());
    m_blocks = pageBlocks(now, m_width->chosen() == kPhone ? PageForm::Narrow : PageForm::Wide);
  }
  m_out->setHasPage(hasPage);
  if (desk().study() != nullptr) m_out->setLicence(text(desk().plan().writeUp.licence));
  suggestPath();
  fillBlocks();
  fillChips();
  showPage();
}

void WriteUpStation::fillBlocks() {
  const QString chosen = m_list->currentItem() == nullptr ? QString::fromLatin1(PageBlock::kAnswer)
                                                          : m_list->currentItem()->data(Qt::UserRole).toString();
  const QSignalBlocker quiet(m_list);
  m_list->clear();
  int leftOut = 0;
  for (const PageBlock& block : m_blocks) {
    auto* item = new QListWidgetItem(m_list);
    item->setText(text(block.title) + QStringLiteral("\n") + text(block.note) +
                  (block.comment.empty() ? QString() : tr(" · 1 comment")));
    item->setData(Qt::UserRole, text(block.id));
    item->setSizeHint({0, px(42)});
    if (block.canLeaveOut) {
      item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
      item->setCheckState(block.isLeftOut ? Qt::Unchecked : Qt::Checked);
    } else {
      item->setToolTip(tr("Always goes along."));
      item->setCheckState(Qt::Checked);
      item->setFlags(item->flags() & ~Qt::ItemIsUserCheckable);
    }
    if (block.isLeftOut) item->setForeground(theme().softInk);
    leftOut += block.isLeftOut;
    if (text(block.id) == chosen) m_list->setCurrentItem(item);
  }
  m_head->setText(m_blocks.empty() ? tr("Blocks")
                  : leftOut > 0    ? tr("Blocks  %1, %2 left out").arg(m_blocks.size()).arg(leftOut)
                                   : tr("Blocks  %1").arg(m_blocks.size()));
  blockChosen();
}

void WriteUpStation::fillChips() {
  delete m_chips->layout();
  qDeleteAll(m_chips->findChildren<QPushButton*>(QString(), Qt::FindDirectChildrenOnly));
  auto* grid = new QGridLayout(m_chips);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(px(4));
  const auto& report = desk().report();
  if (!report) return;
  int count = 0;
  for (const LoadStanding& load : report->loads) {
    const Figure metric = leadingMetric(*report, load.comparison);
    for (const ComparisonRow* row : ranked(load.comparison, metric)) {
      if (count >= kMostChips) return;
      const QString difference = text(differenceText(*row, metric));
      const QString figure = difference.isEmpty() ? text(valueText(*row, metric)) : difference;
      const QString label = QFontMetrics(look::font(12))
                                .elidedText(text(row->setup) + QStringLiteral(": ") + figure, Qt::ElideMiddle, px(146));
      auto* chip = new QPushButton(label, m_chips);
      chip->setFont(look::font(12));
      chip->setFocusPolicy(Qt::TabFocus);  // a press on it leaves the keys where one writes
      chip->setToolTip(tr("%1, %2. Inserts the figure into the comment, where it stays true.")
                           .arg(text(row->setup), text(load.load)));
      const QString words = text(figureMention(*report, load, *row, metric, !difference.isEmpty()));
      connect(chip, &QPushButton::clicked, this, [this, words] { insertFigure(words); });
      grid->addWidget(chip, count / 2, count % 2);
      ++count;
    }
  }
}

void WriteUpStation::insertFigure(const QString& words) {
  CommentField* field = m_inPlace->isVisible() ? m_inPlace : m_comment;
  field->insertPlainText(words);
  field->setFocus();
}

void WriteUpStation::showPage() {
  const int width = px(kWidths[std::max(0, m_width->chosen())]);
  m_preview->setMaximumWidth(width);
  if (m_blocks.empty()) {
    m_preview->setHtml(tr(
        "<h2>No page yet</h2><p>The page makes itself out of the runs: question, answer, figures, charts, method and "
        "caveats. Run something from the plan (Ctrl+1) and come back.</p>"));
    return;
  }
  m_preview->show(m_blocks, width - 2 * px(40) - px(30));
}

void WriteUpStation::blockChosen() {
  const PageBlock* now = block();
  m_comment->setEnabled(now != nullptr);
  m_commentHead->setText(now == nullptr ? tr("Choose a block to comment it")
                                        : tr("Comment on “%1”").arg(text(now->title)));
  // What is being typed stays while the book answers.
  const QString id = now == nullptr ? QString() : text(now->id);
  if (id != m_commentFor || !isTyped()) {
    m_comment->setPlainText(now == nullptr ? QString() : text(now->comment));
    m_comment->moveCursor(QTextCursor::End);
  }
  m_commentFor = id;
  m_up->setEnabled(now != nullptr && !now->leads());
  m_down->setEnabled(now != nullptr && !now->leads());
}

void WriteUpStation::takeCheck(const std::string& id, bool leavesOut) {
  const auto found =
      std::find_if(m_blocks.begin(), m_blocks.end(), [&](const PageBlock& each) { return each.id == id; });
  if (found == m_blocks.end() || !found->canLeaveOut || found->isLeftOut == leavesOut) return;
  desk().edit(leavesOut ? tr("Leave a block out") : tr("Take a block in"), [&](Study&, StudyPlan& plan) {
    std::erase(plan.writeUp.leftOut, id);
    if (leavesOut) plan.writeUp.leftOut.push_back(id);
  });
}

bool WriteUpStation::isTyped() const { return m_comment->document()->isModified(); }

void WriteUpStation::takeComment() {
  const QString typed = m_comment->toPlainText().trimmed();
  const auto found = std::find_if(m_blocks.begin(), m_blocks.end(),
                                  [&](const PageBlock& each) { return text(each.id) == m_commentFor; });
  if (found == m_blocks.end() || !isTyped() || text(found->comment) == typed) return;
  const std::string id = found->id, words = typed.toStdString();
  m_comment->document()->setModified(false);
  desk().edit(tr("Comment a block"), [&](Study&, StudyPlan& plan) {
    if (words.empty())
      plan.writeUp.comments.erase(id);
    else
      plan.writeUp.comments[id] = words;
  });
}

void WriteUpStation::chooseBlock(const QString& id) {
  const QSignalBlocker quiet(m_list);
  for (int row = 0; row < m_list->count(); ++row) {
    if (m_list->item(row)->data(Qt::UserRole).toString() == id) m_list->setCurrentRow(row);
  }
  blockChosen();
}

// On the page itself, where the words will stand.
void WriteUpStation::writeOnPage() {
  const PageBlock* now = block();
  if (now == nullptr || now->isLeftOut) return;
  m_preview->writeIn(m_inPlace, text(now->id));
  m_inPlace->setVisible(true);
  m_inPlace->moveCursor(QTextCursor::End);
  m_inPlace->setFocus();
}

void WriteUpStation::endWriting(bool isKept) {
  if (!isKept) {
    m_comment->document()->setModified(false);
    blockChosen();
  }
  if (m_inPlace->isVisible()) {
    m_inPlace->setVisible(false);
    m_list->setFocus();
  }
  if (isKept) takeComment();
}

void WriteUpStation::move(int by) {
  const int row = m_list->currentRow(), target = row + by;
  if (block() == nullptr || block()->leads() || target < 1 || target >= static_cast<int>(m_blocks.size())) return;
  std::vector<std::string> order;
  for (const PageBlock& each : m_blocks) order.push_back(each.id);
  std::swap(order[static_cast<size_t>(row)], order[static_cast<size_t>(target)]);
  desk().edit(tr("Move a block"), [&](Study&, StudyPlan& plan) { plan.writeUp.order = order; });
}

void WriteUpStation::moveTo(const QString& block, const QString& other, bool isAfter) {
  std::vector<std::string> order;
  for (const PageBlock& each : m_blocks) order.push_back(each.id);
  const std::vector<std::string> before = order;
  std::erase(order, block.toStdString());
  auto to = std::find(order.begin(), order.end(), other.toStdString());
  if (to == order.end()) return;
  order.insert(isAfter ? to + 1 : to, block.toStdString());
  if (order == before) return;
  desk().edit(tr("Move a block"), [&](Study&, StudyPlan& plan) { plan.writeUp.order = order; });
}

void WriteUpStation::followLink(const QString& link) {
  if (!desk().report()) return;
  const auto runs = runsOfLink(*desk().report(), link.toStdString());
  if (!runs) return;
  QStringList names;
  for (const std::string& run : *runs) names << text(run);
  emit runsWanted(names);
}

void WriteUpStation::takeLicence(const QString& words) {
  const std::string licence = words.trimmed().toStdString();
  if (desk().study() == nullptr || licence == desk().plan().writeUp.licence) return;
  desk().edit(tr("State the licence"), [&](Study&, StudyPlan& plan) { plan.writeUp.licence = licence; });
}

void WriteUpStation::exportPage() {
  takeComment();
  m_out->exportNow();
}

void WriteUpStation::suggestPath() {
  if (desk().study() == nullptr) return;
  m_out->setSubject(text(desk().study()->name), desk().bookPath(),
                    QFileInfo(desk().bookPath()).absolutePath() + QStringLiteral("/") +
                        text(pageFileName(desk().study()->name, desk().studies())));
}

QString writeUpLine(const StudyDesk& desk) {
  if (!desk.report() || desk.report()->runs.empty()) return QObject::tr("no page yet");
  const auto comments = desk.plan().writeUp.comments.size();
  return comments == 0 ? QObject::tr("draft") : QObject::tr("draft, %1 commented").arg(comments);
}

}  // namespace ash

#include "moc_writeup_station.cpp"
