// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/preferences/preferences_sheet.h"

#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QShortcut>
#include <QVBoxLayout>
#include <algorithm>
#include <array>

#include "app/look/ask_file.h"
#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kSheetWidth = 520, kLabelWidth = 150, kAllowedHeight = 104;
constexpr std::array<const char*, 3> kAppearances = {"", "light", "dark"};
constexpr std::array<int, 4> kPercents = {100, 125, 150, 200};

void addHead(QBoxLayout* column, const QString& words) {
  QWidget* parent = column->parentWidget();
  if (column->count() > 0) {
    column->addSpacing(px(8));
    column->addWidget(look::rule(parent));
    column->addSpacing(px(4));
  }
  column->addWidget(look::label(words, 14, QFont::DemiBold, parent));
}

// A row "what: control, button".
QHBoxLayout* addRow(QBoxLayout* column, const QString& what, QWidget* buddy) {
  QWidget* parent = column->parentWidget();
  auto* row = new QHBoxLayout;
  row->setSpacing(px(8));
  QLabel* label = look::softLabel(what, parent, 13);
  label->setWordWrap(true);
  label->setFixedWidth(px(kLabelWidth));
  if (buddy != nullptr) label->setBuddy(buddy);
  row->addWidget(label);
  if (buddy != nullptr) row->addWidget(buddy, 1);
  column->addLayout(row);
  return row;
}

QPushButton* button(const QString& words, const char* name, const QString& tip, QWidget* parent) {
  auto* made = new QPushButton(words, parent);
  made->setObjectName(QLatin1String(name));
  made->setToolTip(tip);
  return made;
}

QLineEdit* line(const char* name, const QString& whatItIs, const QString& whenEmpty, QWidget* parent) {
  auto* made = new QLineEdit(parent);
  made->setObjectName(QLatin1String(name));
  made->setAccessibleName(whatItIs);
  made->setToolTip(whatItIs);
  made->setPlaceholderText(whenEmpty);
  return made;
}

}  // namespace

PreferencesSheet::PreferencesSheet(QWidget* over) : SideSheet(QStringLiteral("preferences"), kSheetWidth, over) {
  setAccessibleName(tr("Preferences"));
  setTitle(tr("Preferences"));
  auto* scroll = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setFocusPolicy(Qt::NoFocus);
  auto* inner = new QWidget(scroll);
  look::withGround(inner, theme().panel);
  auto* parts = new QVBoxLayout(inner);
  parts->setContentsMargins(0, px(4), px(8), 0);
  parts->setSpacing(px(8));
  buildLook(parts);
  buildBooks(parts);
  buildAllowed(parts);
  buildRest(parts);
  parts->addStretch(1);
  scroll->setWidget(inner);
  column()->addWidget(scroll, 1);
}

void PreferencesSheet::buildLook(QBoxLayout* column) {
  QWidget* parent = column->parentWidget();
  addHead(column, tr("How it looks"));
  m_appearance =
      new look::Segments(QStringLiteral("appearance"), {tr("as the desktop"), tr("light"), tr("dark")}, parent);
  m_appearance->setAccessibleName(tr("Appearance"));
  addRow(column, tr("Appearance"), m_appearance);
  connect(m_appearance, &look::Segments::changed, this,
          [this](int index) { emit appearanceChosen(QLatin1String(kAppearances[static_cast<size_t>(index)])); });
  m_contrast = new look::Segments(QStringLiteral("contrast"), {tr("usual"), tr("strong")}, parent);
  m_contrast->setAccessibleName(tr("Contrast"));
  m_contrast->setToolTip(
      tr("Strong: writing stands at least 7 to 1 against what is behind it, lines and setups' colours 4.5 to 1."));
  addRow(column, tr("Contrast"), m_contrast);
  connect(m_contrast, &look::Segments::changed, this, [this](int index) { emit contrastChosen(index == 1); });
  QStringList sizes = {tr("as the desktop")};
  for (size_t i = 1; i < kPercents.size(); ++i) sizes << tr("%1\u202F%").arg(kPercents[i]);
  m_text = new look::Segments(QStringLiteral("text-size"), sizes, parent);
  m_text->setAccessibleName(tr("Size of the writing"));
  m_text->setToolTip(tr("Of the size that the desktop's own writing has; all measures grow with it."));
  addRow(column, tr("Size of the writing"), m_text);
  connect(m_text, &look::Segments::changed, this,
          [this](int index) { emit textPercentChosen(kPercents[static_cast<size_t>(index)]); });
}

void PreferencesSheet::buildBooks(QBoxLayout* column) {
  QWidget* parent = column->parentWidget();
  addHead(column, tr("Books"));
  m_folder =
      line("books-folder", tr("The folder in which a new book is offered to be put"), tr("your own folder"), parent);
  QHBoxLayout* row = addRow(column, tr("New ones are put in"), m_folder);
  QPushButton* choose = button(tr("Choose …"), "choose-books-folder", tr("Chooses the folder of new books"), parent);
  row->addWidget(choose);
  m_folderWrong = look::softLabel({}, parent);
  m_folderWrong->setObjectName(QStringLiteral("books-folder-wrong"));
  m_folderWrong->setWordWrap(true);
  m_folderWrong->hide();
  column->addWidget(m_folderWrong);
  connect(m_folder, &QLineEdit::editingFinished, this, [this] { takeFolder(m_folder->text().trimmed()); });
  connect(choose, &QPushButton::clicked, this, [this] {
    look::askForFile(this, look::FileWish::Folder, tr("Where are new books to be put?"),
                     m_folder->text().isEmpty() ? QDir::homePath() : m_folder->text(), {},
                     [this](const QString& folder) {
                       m_folder->setText(folder);
                       takeFolder(folder);
                     });
  });
  m_recent = look::label({}, 13, QFont::Normal, parent);
  m_recent->setObjectName(QStringLiteral("recent-books"));
  row = addRow(column, tr("Opened lately"), m_recent);
  m_forgetBooks = button(tr("Forget them"), "forget-books",
                         tr("Their names are no longer found with Ctrl+K; the books stay where they are."), parent);
  row->addWidget(m_forgetBooks);
  connect(m_forgetBooks, &QPushButton::clicked, this, &PreferencesSheet::forgetBooksWanted);
  m_currency =
      line("currency", tr("The currency of a price in a study that has named none, e.g. EUR"), tr("none"), parent);
  m_currency->setMaxLength(12);
  m_currency->setMaximumWidth(px(90));
  addRow(column, tr("Currency of prices"), m_currency)->addStretch(1);
  connect(m_currency, &QLineEdit::editingFinished, this, [this] { emit currencyChosen(m_currency->text().trimmed()); });
}

void PreferencesSheet::buildAllowed(QBoxLayout* column) {
  QWidget* parent = column->parentWidget();
  addHead(column, tr("Allowed on this machine"));
  QLabel* what = look::softLabel(tr("Commands, addresses, knobs and readings' meanings of books that you have said yes "
                                    "to. What is taken back is asked for again; a run that goes on is not touched."),
                                 parent);
  what->setWordWrap(true);
  column->addWidget(what);
  m_allowed = new QListWidget(parent);
  m_allowed->setObjectName(QStringLiteral("allowed"));
  m_allowed->setAccessibleName(tr("Allowed on this machine"));
  m_allowed->setSelectionMode(QAbstractItemView::ExtendedSelection);
  m_allowed->setFixedHeight(px(kAllowedHeight));
  m_allowed->setUniformItemSizes(true);
  column->addWidget(m_allowed);
  m_noneAllowed = look::label(tr("Nothing yet."), 13, QFont::Normal, parent);
  column->addWidget(m_noneAllowed);
  m_takeBack = button(tr("Take back"), "take-back", tr("The chosen ones are asked for again (Delete)"), parent);
  column->addWidget(m_takeBack, 0, Qt::AlignLeft);
  connect(m_allowed, &QListWidget::itemSelectionChanged, this, &PreferencesSheet::judgeTakeBack);
  connect(m_takeBack, &QPushButton::clicked, this, &PreferencesSheet::takeBack);
  auto* remove = new QShortcut(Qt::Key_Delete, m_allowed);
  remove->setContext(Qt::WidgetShortcut);
  connect(remove, &QShortcut::activated, this, &PreferencesSheet::takeBack);
  setConfirmations({});
}

void PreferencesSheet::buildRest(QBoxLayout* column) {
  QWidget* parent = column->parentWidget();
  addHead(column, tr("Other"));
  m_columns = look::label({}, 13, QFont::Normal, parent);
  m_columns->setObjectName(QStringLiteral("remembered"));
  m_columns->setWordWrap(true);
  QHBoxLayout* row = addRow(column, tr("Remembered of imports"), m_columns);
  m_forgetColumns = button(tr("Forget them"), "forget-columns",
                           tr("What you have said of columns in logs is no longer applied to the next log."), parent);
  row->addWidget(m_forgetColumns);
  connect(m_forgetColumns, &QPushButton::clicked, this, &PreferencesSheet::forgetColumnsWanted);
  row = addRow(column, tr("Meters, sensors and microphones"), nullptr);
  QPushButton* instruments =
      button(tr("Show them"), "show-instruments", tr("On the page of readings, from outside"), parent);
  row->addWidget(instruments);
  row->addStretch(1);
  connect(instruments, &QPushButton::clicked, this, &PreferencesSheet::instrumentsWanted);
  row = addRow(column, tr("The tour"), nullptr);
  QPushButton* tour = button(tr("Take it again"), "take-tour", tr("Five sentences, on the book that is open"), parent);
  row->addWidget(tour);
  row->addStretch(1);
  connect(tour, &QPushButton::clicked, this, &PreferencesSheet::tourWanted);
  setRemembered(0);
}

void PreferencesSheet::open(const Preferences& now) {
  const auto place = [](const auto& all, const auto& one) {
    const auto found = std::find(all.begin(), all.end(), one);
    return found == all.end() ? 0 : static_cast<int>(found - all.begin());
  };
  m_appearance->choose(place(kAppearances, now.appearance));
  m_contrast->choose(now.isContrastStrong ? 1 : 0);
  m_text->choose(place(kPercents, now.textPercent));
  m_folder->setText(now.booksFolder);
  m_folderWrong->hide();
  m_currency->setText(now.currency);
  m_recent->setText(now.recentBooks == 1 ? tr("1 book") : tr("%1 books").arg(now.recentBooks));
  m_forgetBooks->setEnabled(now.recentBooks > 0);
  if (!isVisible()) SideSheet::open(m_appearance->findChild<QPushButton*>());
}

void PreferencesSheet::setConfirmations(const ConfirmationList& given) {
  m_allowed->clear();
  for (const Confirmation& one : given) {
    QStringList lines;
    for (const std::string& part : one.what) lines << text(part);
    const QString day = text(one.at).left(10);
    auto* item = new QListWidgetItem(tr("%1 · %2 · %3").arg(day, text(one.kind), lines.join(QStringLiteral(" · "))));
    item->setData(Qt::UserRole, text(one.key));
    item->setToolTip(tr("Allowed %1:\n%2").arg(day, lines.join(QLatin1Char('\n'))));
    m_allowed->addItem(item);
  }
  m_allowed->setVisible(!given.empty());
  m_takeBack->setVisible(!given.empty());
  m_noneAllowed->setVisible(given.empty());
  judgeTakeBack();
}

void PreferencesSheet::setRemembered(int columns) {
  m_columns->setText(columns == 0 ? tr("nothing") : columns == 1 ? tr("1 column") : tr("%1 columns").arg(columns));
  m_forgetColumns->setEnabled(columns > 0);
}

// A folder that is not there would be found out when a book is made, which is late.
void PreferencesSheet::takeFolder(const QString& typed) {
  const bool isWrong = !typed.isEmpty() && !QFileInfo(typed).isDir();
  m_folderWrong->setText(
      isWrong ? tr("There is no folder %1; make it, or choose another. The one before stays.").arg(typed) : QString());
  m_folderWrong->setVisible(isWrong);
  if (!isWrong) emit booksFolderChosen(typed);
}

void PreferencesSheet::takeBack() {
  QStringList keys;
  for (const QListWidgetItem* item : m_allowed->selectedItems()) keys << item->data(Qt::UserRole).toString();
  if (!keys.isEmpty()) emit takeBackWanted(keys);
}

void PreferencesSheet::judgeTakeBack() { m_takeBack->setEnabled(!m_allowed->selectedItems().isEmpty()); }

}  // namespace ash

#include "moc_preferences_sheet.cpp"
