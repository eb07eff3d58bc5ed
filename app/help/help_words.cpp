// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/help_words.h"

#include <QObject>

namespace ash {

HelpWords helpOf(HelpPlace place) {
  switch (place) {
    case HelpPlace::Plan:
      return {QObject::tr("Plan"),
              QObject::tr(
                  "A study asks one question. Its **setups** are what is compared, its **loads** what works them; each "
                  "cell of the "
                  "grid is a setup under a load, with one column for each repeat.\n\n"
                  "- **Left:** what is held equal, what is under test, the figure and the kind of question, when a run "
                  "is stopped.\n"
                  "- **Right:** the setup that is chosen: what differs from the reference, its pictures, its runs.\n"
                  "- **Below:** the procedure step by step; then the next run: the change to make by hand, what still "
                  "speaks against it, "
                  "*Start*.\n\n"
                  "*Start* stays soft until the change by hand is confirmed: a run filed under the wrong setup is "
                  "worse than a remark.\n\n"
                  "**Keys:** arrows move in the grid · Ctrl+N new study · Ctrl+D duplicates a setup · Ctrl+T its knobs "
                  "· Ctrl+L ladders · "
                  "Ctrl+Z undoes any edit.")};
    case HelpPlace::Watch:
      return {
          QObject::tr("Watch"),
          QObject::tr(
              "One run, live. The **track** at the left is the procedure: where the run is, how long it has to go. The "
              "**lanes** are its "
              "readings; a dotted line is what is forecast, with the band it lies in. The **columns** at the right are "
              "what each device "
              "has used of the way from the room to its limit.\n\n"
              "- The soak ends by itself when the temperature has **settled**: when what it will still rise is less "
              "than it can be told by.\n"
              "- What is owed (*Still to take*) is typed into the line at the bottom: `noise 36.4 50cm`, `room 22.5`, "
              "or any note.\n"
              "- *Stop load* ends load and run at once. Closing the window does not end a run.\n\n"
              "**Keys:** / the line · Ctrl+. stop · F11 from across the room · Shift+F11 figures for a recording.")};
    case HelpPlace::Traces:
      return {QObject::tr("Traces"), QObject::tr("Runs laid over each other, aligned at the start of their load, by "
                                                 "the clock, or where they settled. Repeats of a setup are one "
                                                 "**band** with its mean. *Subtract* puts a lane below: the difference "
                                                 "to one setup, which is the answer as a curve.\n\n"
                                                 "The **table** has the figures of the windows: of each run's own, of "
                                                 "all from where it settled, or of one that is dragged on the "
                                                 "strip below the lanes. *Planes* shows the same windows as clock "
                                                 "against temperature, power against clock, and how long each "
                                                 "clock was held.\n\n"
                                                 "**Keys:** arrows move the cursor · + and − zoom · P opens a picture "
                                                 "at its moment · Ctrl+C copies the table or a plane.")};
    case HelpPlace::Standings:
      return {QObject::tr("Standings"),
              QObject::tr("The **verdict** is the answer to the question. The **columns** rank the setups, with the 95 "
                          "% interval at the right of each and a "
                          "mark for each repeat. The **table** holds every figure against the reference; a press on "
                          "its name says how it is defined and "
                          "worked out. *Better* and *worse* are only said where the interval of the difference lies "
                          "clear of the margin; **≈** is within "
                          "the margin, **?** takes more repeats, *at least* is a device at its limit.\n\n"
                          "- *Compare at* levels the field: equal noise, power or fan speed.\n"
                          "- *projected* moves the columns to another room or power, with the chance to throttle; "
                          "*weighed* adds what noise and money are "
                          "worth to you.\n"
                          "- **Like for like**, below, lists what stands against comparing the runs. Return shows the "
                          "runs, F2 accepts a check for a reason.")};
    case HelpPlace::WriteUp:
      return {
          QObject::tr("Write-up"),
          QObject::tr(
              "The page makes itself out of the runs. **Blocks** can be left out or moved (the handle in the page's "
              "margin, Alt+Up and Alt+Down) "
              "and have words of your own below them: a double click, or Return in the list. What the program says "
              "cannot be edited into "
              "something else.\n\n"
              "A figure that is inserted into a comment stays true when runs are added or voided. Every number of the "
              "page leads to its runs.\n\n"
              "*Export* writes the page as one HTML file, PDF, CommonMark, tables and data, or its charts for print, a "
              "phone or a video's "
              "thumbnail. The same book gives the same bytes.\n\n"
              "**Keys:** Space leaves a block out · Ctrl+Return keeps a comment, Esc gives it up · Ctrl+E exports.")};
    case HelpPlace::Readings:
      return {QObject::tr("Readings"),
              QObject::tr("Everything that this machine tells, along the way of the heat: each row a reading, its "
                          "strip from 20 to 110 °C with where it was, "
                          "where it is, and its limit. What a reading means is guessed by a documented rule and can be "
                          "changed for this machine; *Which one is "
                          "this?* warms the processor and tells what a reading most likely is.\n\n"
                          "**From outside** are meters, sensors behind a broker, other machines, programs and "
                          "microphones. Each is one row with a tick for its "
                          "last answers: tall it answered, short it was late, none it was gone.")};
    case HelpPlace::Start:
      return {
          QObject::tr("Start"),
          QObject::tr(
              "A **book** holds studies with all their runs, in one file. Open the demo book to see every state a run "
              "can have, make a book of your "
              "own, or log now and ask later. A log of another program can be dropped on the window.\n\n"
              "**Keys:** Ctrl+O opens a book · Ctrl+N makes one · Ctrl+I takes a log in · Ctrl+K finds any command.")};
    case HelpPlace::TakingIn:
      return {QObject::tr("Taking in a log"),
              QObject::tr("Left are the first lines of the file with what was understood of them underlined: time, "
                          "units, decimal marks. Right is each "
                          "column as a lane with what it was taken for and why; it can be changed or left out. Below "
                          "stands what will become of it.\n\n"
                          "A log that belongs to a run lies under that run: drag it, move it by the arrow keys, type "
                          "how far it is off, or *Find it*.\n\n"
                          "**Keys:** Return takes it in · Esc gives up.")};
  }
  return {};
}

std::vector<TourStep> tourSteps() {
  return {{HelpPlace::Plan,
           QObject::tr(
               "A study asks one question: setups are the rows, loads the columns, and each small column is one run.")},
          {HelpPlace::Watch, QObject::tr("A run is watched here while it goes on: it ends its soak by itself when the "
                                         "temperature has settled, and Ctrl+. "
                                         "stops it at any time.")},
          {HelpPlace::Traces,
           QObject::tr(
               "Its curves lie over each other here, repeats as one band; the lane at the bottom is the difference.")},
          {HelpPlace::Standings, QObject::tr("Here is the answer, with how sure it is, and below it everything that "
                                             "stands against comparing like with like.")},
          {HelpPlace::WriteUp, QObject::tr("And this is the page for your readers; every number on it leads back to "
                                           "its runs. F1 explains any place.")}};
}

}  // namespace ash
