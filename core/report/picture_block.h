// SPDX-License-Identifier: GPL-3.0-or-later
// The pictures that are kept with the setups of a study, on its page.
#pragma once

#include "report/markup/markup.h"
#include "report/page_form.h"
#include "report/study/study_report.h"

namespace ash {

/// A figure for each picture, under its setup's name and what a person says of it; empty where there is none. The page
/// that is one file has the pictures in it (data URLs, RFC 2397); other forms name them, for nothing decodes pictures
/// from outside in this process (docs/attachments.md). One whose bytes are no PNG and no JPEG, or that would make the
/// page larger than 12 MiB, is named, too.
Markup picturesOfSetups(const StudyReport& report, PageForm form);

}  // namespace ash
