// SPDX-License-Identifier: GPL-3.0-or-later
// The Write-up station: blocks at the left, the page as it will be at the right, Export.
#pragma once

#include "app/study/study_station.h"
#include "report/page_blocks.h"

class QLabel;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace ash {

namespace look {
class Segments;
}

class CommentField;
class ExportPanel;
class PagePreview;
class StudyDesk;

/// The station's line in the trail.
QString writeUpLine(const StudyDesk& desk);

class WriteUpStation : public StudyStation {
  Q_OBJECT
 public:
  WriteUpStation(StudyDesk& desk, QWidget* parent);

  ExportPanel* exportPanel() { return m_out; }
  /// Writes it to the file that is named, with what is being typed.
  void exportPage();

 signals:
  /// A number of the page was chosen: the runs that it comes from.
  void runsWanted(const QStringList& runs);

 private:
  QWidget* buildLeft();
  void followLink(const QString& link);
  void refresh() override;
  void fillBlocks();
  void fillChips();
  void showPage();
  void blockChosen();
  void takeCheck(const std::string& id, bool leavesOut);
  void takeComment();
  void takeLicence(const QString& words);
  void move(int by);
  void moveTo(const QString& block, const QString& other, bool isAfter);
  void chooseBlock(const QString& id);
  void writeOnPage();
  void endWriting(bool isKept);
  bool isTyped() const;
  void suggestPath();
  void insertFigure(const QString& words);
  const PageBlock* block() const;

  std::vector<PageBlock> m_blocks;
  QLabel* m_head;
  QListWidget* m_list;
  QPushButton* m_up;
  QPushButton* m_down;
  QLabel* m_commentHead;
  CommentField* m_comment;
  CommentField* m_inPlace;  // the same words, on the page itself
  QString m_commentFor;     // the block whose comment is being typed
  QWidget* m_chips;
  ExportPanel* m_out;
  look::Segments* m_width;
  PagePreview* m_preview;
};

}  // namespace ash
