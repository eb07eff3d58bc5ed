// SPDX-License-Identifier: GPL-3.0-or-later
// What a person has decided, for all books, on one sheet over the page: every change is in force at once.
#pragma once

#include <QStringList>
#include <memory>
#include <vector>

#include "app/look/side_sheet.h"
#include "system/confirmed.h"

class QBoxLayout;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace ash {

namespace look {
class Segments;
}

/// What is kept by the window itself.
struct Preferences {
  QString appearance;  ///< "dark", "light"; empty = as the desktop
  bool isContrastStrong = false;
  int textPercent = 100;  ///< of the desktop's writing
  QString booksFolder;    ///< where a new book is offered to be put; empty = the person's own folder
  QString currency;       ///< of a price in a study that has named none; empty = none
  int recentBooks = 0;    ///< that are found by name
};

/// Over the right of the page.
class PreferencesSheet : public look::SideSheet {
  Q_OBJECT
 public:
  explicit PreferencesSheet(QWidget* over);
  /// Shows them as they are; opens the sheet, if it is not.
  void open(const Preferences& now);
  /// What was allowed on this machine, the last first.
  void setConfirmations(const ConfirmationList& given);
  /// How many columns of imports are remembered.
  void setRemembered(int columns);

 signals:
  void appearanceChosen(const QString& appearance);
  void contrastChosen(bool isStrong);
  void textPercentChosen(int percent);
  void booksFolderChosen(const QString& folder);
  void currencyChosen(const QString& currency);
  void takeBackWanted(const QStringList& keys);
  void forgetColumnsWanted();
  void forgetBooksWanted();
  void instrumentsWanted();
  void tourWanted();

 private:
  void buildLook(QBoxLayout* column);
  void buildBooks(QBoxLayout* column);
  void buildAllowed(QBoxLayout* column);
  void buildRest(QBoxLayout* column);
  void takeFolder(const QString& typed);
  void takeBack();
  void judgeTakeBack();

  look::Segments *m_appearance = nullptr, *m_contrast = nullptr, *m_text = nullptr;
  QLineEdit *m_folder = nullptr, *m_currency = nullptr;
  QLabel *m_folderWrong = nullptr, *m_recent = nullptr, *m_noneAllowed = nullptr, *m_columns = nullptr;
  QPushButton *m_forgetBooks = nullptr, *m_takeBack = nullptr, *m_forgetColumns = nullptr;
  QListWidget* m_allowed = nullptr;
};

}  // namespace ash
