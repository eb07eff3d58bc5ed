// SPDX-License-Identifier: GPL-3.0-or-later
// The write-up as blocks in their order, and the page they make.
#pragma once

#include <string>
#include <vector>

#include "report/markup/markup.h"
#include "report/page_form.h"
#include "report/study/study_report.h"

namespace ash {

struct PageBlock {
  static constexpr char kQuestion[] = "question", kAnswer[] = "answer";
  std::string id;     ///< those two, "result", "warm-up", "charts", "method", "conditions", "caveats", "stated",
                      ///< "earlier", "unfinished", "instruments", "pictures", "runs", "notes"
  std::string title;  ///< heading on the page; the list beside the page shows it too
  std::string note;   ///< what is in it, in a few words
  bool canLeaveOut = true;
  bool isLeftOut = false;
  std::string comment;      ///< the tester's own words, as they were typed
  Markup body;              ///< HTML without its heading; charts are inline SVG
  Markup commentBody = {};  ///< the same on the page, with the figures it names as they are now

  bool leads() const { return id == kQuestion; }  ///< stands first wherever the others are moved
  /// The question is a heading itself, and the answer follows it at once.
  bool hasHeading() const { return id != kQuestion && id != kAnswer; }
};

/// All blocks of a study in the order the plan gives them.
std::vector<PageBlock> pageBlocks(const StudyReport& report, PageForm form = PageForm::Wide);

/// The page: one HTML file that needs nothing beside it. The same report gives the same bytes.
std::string htmlPage(const StudyReport& report);

}  // namespace ash
