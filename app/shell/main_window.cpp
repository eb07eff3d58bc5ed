// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QFileInfo>
#include <QLabel>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/allow/allow_card.h"
#include "app/attached/picture_over.h"
#include "app/attached/pictures.h"
#include "app/finder/finder.h"
#include "app/help/help_card.h"
#include "app/interrupted/interrupted_panel.h"
#include "app/look/ask_file.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/plan/plan_station.h"
#include "app/preferences/preferences_sheet.h"
#include "app/readings/readings_page.h"
#include "app/shell/page_host.h"
#include "app/shell/thread_wires.h"
#include "app/shell/trail.h"
#include "app/standings/standings_station.h"
#include "app/start/start_page.h"
#include "app/traces/traces_station.h"
#include "app/watch/far_view.h"
#include "app/watch/watch_station.h"
#include "app/watch/watch_words.h"
#include "app/writeup/writeup_station.h"
#include "model/entry_line.h"
#include "model/role.h"

namespace ash {
using look::text;
namespace {

constexpr int kNoticeMs = 12'000;
constexpr int kPageAfterMs = 15;
constexpr int kShownWholeMs = 3000;
constexpr int kLeastWidth = 720, kLeastHeight = 480;

}  // namespace

MainWindow::MainWindow(const QString& recorder, QWidget* parent, const QString& root)
    : QMainWindow(parent), m_program(recorder), m_root(root), m_recorder(recorder, root), m_desk(this) {
  m_tookDown = m_settings.openingBook();
  m_desk.setUsualCurrency(m_settings.currency());
  setWindowTitle(tr("Ash Gauge"));
  // Never more than a small screen has, whatever the font: what a page needs beyond that is scrolled to.
  setMinimumSize(kLeastWidth, kLeastHeight);
  auto* body = new QWidget(this);
  auto* column = new QVBoxLayout(body);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  m_trail = new Trail(body);
  m_pages = new QStackedWidget(body);
  m_notice = look::label({}, 13, QFont::DemiBold, body);
  m_notice->setObjectName(QStringLiteral("notice"));
  m_notice->setWordWrap(true);
  m_notice->setContentsMargins(look::px(16), look::px(8), look::px(16), look::px(8));
  look::withGround(m_notice, look::theme().selected);
  m_notice->hide();
  m_interrupted = new InterruptedPanel(body);
  connect(m_interrupted, &InterruptedPanel::runWanted, this, [this](const QString& run) {
    emit m_follow->showRunWanted(run);
    goTo(Watch);
  });
  m_allow = new AllowCard(body);
  connect(m_allow, &AllowCard::allowed, this,
          [this](const std::vector<ActivePart>& parts) { emit m_keep->confirmWanted(parts); });
  column->addWidget(m_trail);
  column->addWidget(m_interrupted);
  column->addWidget(m_allow);
  column->addWidget(m_pages, 1);
  column->addWidget(m_notice);
  m_tour = new TourStrip(body);
  connect(m_tour, &TourStrip::placeWanted, this, [this](HelpPlace place) { goTo(static_cast<int>(place)); });
  connect(m_tour, &TourStrip::left, this, &MainWindow::focusPage);
  column->addWidget(m_tour);
  setCentralWidget(body);
  for (int page = 0; page <= TakingIn; ++page) {
    auto* scroll = new QScrollArea(m_pages);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setMinimumSize(0, 0);
    auto* host = new PageHost(scroll);
    look::withGround(host, look::theme().panel);
    scroll->setWidget(host);
    m_pages->addWidget(scroll);
  }
  connect(m_trail, &Trail::stationChosen, this, &MainWindow::goTo);
  connect(m_trail, &Trail::stopPressed, this, &MainWindow::stopLoad);
  connect(m_trail, &Trail::bookPressed, this, [this] { m_desk.hasBook() ? openFinder(tr("study")) : goTo(Start); });
  buildShortcuts();
  connectFollower();
  connectKeeper();
  connectReader();
  connectTaker();
  connectPictures();
  setAcceptDrops(true);
  listenToDesk();
  if (!restoreGeometry(m_settings.windowGeometry())) resize(look::px(1280), look::px(800));
  m_trail->setBook(tr("Ash Gauge"), tr("No book open"));
  m_trail->setMachine(tr("This machine"), tr("looking …"));
  connect(qApp, &QApplication::focusChanged, this, [this](const QWidget*, QWidget* now) { followFocus(now); });
  goTo(Start);
  refreshTrail();
}

MainWindow::~MainWindow() {
  // The keys go from field to field while the pages go; nobody follows them any more.
  disconnect(qApp, nullptr, this, nullptr);
  m_settings.setOpeningBook({});
  // The stations go while what they edit is still there: a field that is being typed into ends its edit now.
  delete m_finder;
  delete takeCentralWidget();
  // Each waits for its own; the keeper writes what it was given before it goes.
  m_follow.reset();
  m_keep.reset();
  m_read.reset();
  m_take.reset();
  m_draw.reset();
}

void MainWindow::showEvent(QShowEvent* event) {
  QMainWindow::showEvent(event);
  // The page follows the window, which has been painted by then.
  QTimer::singleShot(kPageAfterMs, this, [this] { make(page()); });
  lookAsNeeded();
}

void MainWindow::takeReadings(const std::shared_ptr<const MachineSnapshot>& readings) {
  m_seen = readings;
  if (const QString key = text(readings->machineKey); key != m_machineKey) {
    m_machineKey = key;
    emit m_keep->choicesWanted(key);
  }
  if (m_readings != nullptr) m_readings->show(readings);
  if (!m_live.hasRun())
    m_trail->setMachine(readings->machine.empty() ? tr("This machine") : text(readings->machine),
                        tr("%1 readings").arg(readings->readings.size()));
  if (m_start == nullptr) return;
  struct Group {
    QString name;
    DeviceKind kind;
  };
  std::vector<FoundGroup> groups;
  for (const auto& [name, kind] :
       {Group{tr("Processor"), DeviceKind::Cpu}, Group{tr("Graphics"), DeviceKind::Gpu},
        Group{tr("Power delivery"), DeviceKind::Board}, Group{tr("Memory, drives"), DeviceKind::Storage},
        Group{tr("Fans"), DeviceKind::Fan}, Group{tr("Wall and room"), DeviceKind::Room}}) {
    FoundGroup group{name, tr("nothing is read here"), {}, false};
    QStringList what;
    for (const ReadingNow& reading : readings->readings) {
      if (!reading.reading.role.device().is(kind)) continue;
      group.isThere = true;
      const QString words = text(reading.reading.role.title()).toLower();
      if (what.size() < 3 && !what.contains(words)) what << words;
      const auto limit = reading.reading.limits.find("throttle");
      if (limit != reading.reading.limits.end()) group.limit = tr("limit %1 °C").arg(std::lround(limit->second));
    }
    if (group.isThere) group.what = what.join(QStringLiteral(", "));
    if (!group.isThere && kind == DeviceKind::Room)
      group.what = tr("type them by hand during a run: room 22.4, wall 162");
    groups.push_back(group);
  }
  m_start->setFound(groups, static_cast<int>(readings->readings.size()));
}

// A name that is no UTF-8 comes here with stand-ins for its bytes: it would be another file.
void MainWindow::openBook(const QString& path) {
  if (path.contains(QChar::ReplacementCharacter)) {
    start()->setProblem(
        tr("The name of this file is no UTF-8: %1. Rename it, or use ashg, which takes any name.").arg(path));
    return goTo(Start);
  }
  const QString whole = QFileInfo(path).absoluteFilePath();
  // Until it has been shown whole: a book that takes the window down is not opened by itself again.
  m_settings.setOpeningBook(whole);
  m_tookDown.clear();
  emit m_keep->openWanted(whole);
}

void MainWindow::takeBook(const std::shared_ptr<const BookView>& view) {
  const QString study = m_settings.lastStudy();
  const bool isSameBook = m_settings.lastBook() == view->path;
  m_settings.setLastBook(view->path);
  setWindowTitle(tr("%1 – Ash Gauge").arg(QFileInfo(view->path).completeBaseName()));
  m_desk.takeBook(view, true);
  if (isSameBook) m_desk.chooseStudy(study);
  emit m_follow->openWanted(view->path);
  if (!m_machineKey.isEmpty()) emit m_keep->choicesWanted(m_machineKey);
  if (m_readings != nullptr) m_readings->setHasBook(true);
  m_shownStudy.clear();
  showLastRun();
  const bool decides = showsPreferences();
  goTo(isSameBook ? std::clamp(m_settings.station(), 0, 4) : Plan);
  if (decides) showPreferences();  // the window was made anew from there
  if (m_startOnOpen) startRun(*m_startOnOpen);
  m_startOnOpen.reset();
  askForReadiness();
  QTimer::singleShot(kShownWholeMs, this, [this] { m_settings.setOpeningBook({}); });
  offerTour();
}

// With what the reader has seen of the machine; nobody else looks at it.
void MainWindow::askForReadiness() {
  if (m_desk.study() == nullptr) return;
  emit m_keep->readinessWanted(text(m_desk.study()->name),
                               m_seen ? std::make_shared<const MachineNow>(machineNow(*m_seen)) : nullptr);
}

// The readings are looked at for Plan and Readings, and while no run goes on that they would disturb.
void MainWindow::lookAsNeeded() {
  const bool isNeeded =
      isVisible() && (page() == Readings || (page() == Plan && m_desk.hasBook() && !m_live.isGoingOn()));
  if (isNeeded == m_isLooking) return;
  m_isLooking = isNeeded;
  if (isNeeded)
    emit m_read->lookWanted(true);
  else
    emit m_read->restWanted();
}

// What the book says of this machine's readings counts once a person of this machine has accepted it.
void MainWindow::showProposals() {
  const bool isAsked = !m_allow->parts().empty() && m_allow->parts().front().kind == ActiveKind::Reading;
  if (page() != Readings || !m_proposed || m_proposed->empty()) {
    if (isAsked) m_allow->dismiss();
    return;
  }
  std::vector<ActivePart> parts;
  for (const auto& [reading, said] : *m_proposed)
    parts.push_back(activePart(m_machineKey.toStdString(), reading, said));
  if (m_allow->isVisible() && m_allow->parts() == parts) return;
  m_allow->ask(tr("This book says what these readings of this machine mean, or where their limits are. Nobody has "
                  "accepted it here, so it does not count yet."),
               std::move(parts), [this] { emit m_keep->acceptWanted(m_machineKey); });
}

int MainWindow::page() const { return m_pages->currentIndex(); }

PageHost* MainWindow::host(int page) const {
  return qobject_cast<PageHost*>(qobject_cast<QScrollArea*>(m_pages->widget(page))->widget());
}

// A page that does not fit is moved to where the keys are, if little of that is to be seen.
void MainWindow::followFocus(QWidget* now) {
  auto* scroll = qobject_cast<QScrollArea*>(m_pages->currentWidget());
  if (now == nullptr || !scroll->widget()->isAncestorOf(now)) return;
  const QRect view(QPoint(), scroll->viewport()->size());
  const QRect seen = view & QRect(now->mapTo(scroll->viewport(), QPoint()), now->size());
  const bool isSeen = 2 * seen.width() >= std::min(now->width(), view.width()) &&
                      2 * seen.height() >= std::min(now->height(), view.height());
  if (!isSeen) scroll->ensureWidgetVisible(now, look::px(8), look::px(8));
}

void MainWindow::goTo(int page) {
  if (m_over != nullptr) m_over->hide();
  if (m_help != nullptr) m_help->hide();
  if (m_preferences != nullptr) m_preferences->hide();
  if (!m_desk.hasBook() && page != Readings && page != Watch && page != TakingIn) page = Start;
  if (isVisible()) make(page);
  const bool isOther = m_pages->currentIndex() != page;
  m_pages->setCurrentIndex(page);
  if (page < Start) m_trail->setCurrent(page);
  if (isOther) focusPage();
  if (page < Readings && m_desk.hasBook()) m_settings.setStation(page);
  lookAsNeeded();
  showProposals();
}

// Keys go to what the station is about, not to a button of the trail.
void MainWindow::focusPage() {
  QWidget* station = host(page())->page();
  if (station == nullptr || !isVisible()) return;
  QWidget* first = station->focusProxy();
  for (QWidget* widget = station->nextInFocusChain(); first == nullptr && widget != station;
       widget = widget->nextInFocusChain()) {
    const bool takesKeys = (widget->focusPolicy() & Qt::TabFocus) != 0 && widget->isEnabled() && widget->isVisible();
    if (takesKeys && station->isAncestorOf(widget)) first = widget;
  }
  if (first != nullptr) first->setFocus(Qt::OtherFocusReason);
}
void MainWindow::refreshTrail() {
  const LiveModel& model = m_live;
  const bool wasStopped = model.hasRun() && !model.isGoingOn() && *model.outcome() != Outcome::Completed;
  const Study* study = m_desk.study();
  QString plan = tr("a question");
  if (study != nullptr) {
    const auto done = std::count_if(m_desk.runs().begin(), m_desk.runs().end(),
                                    [](const RunSummary& run) { return countsAsDone(run.info.outcome); });
    plan = tr("%1 of %2 runs").arg(done).arg(static_cast<size_t>(done) + m_desk.runsToDo().size());
  }
  m_trail->setStationLine(Plan, plan);
  m_trail->setStationLine(Watch, stationLine(model), wasStopped && *model.outcome() == Outcome::StoppedByRule);
  m_trail->setStationLine(Traces, study == nullptr ? tr("the curves") : tracesLine(m_desk));
  m_trail->setStationLine(Standings, study == nullptr ? tr("what is best") : standingsLine(m_desk));
  m_trail->setStationLine(WriteUp, study == nullptr ? tr("the page") : writeUpLine(m_desk));
  m_trail->showLoad(model.isGoingOn(), wasStopped);
  if (m_desk.hasBook())
    m_trail->setBook(QFileInfo(m_desk.bookPath()).completeBaseName(),
                     study == nullptr ? tr("no study yet") : text(study->name));
  if (!model.hasRun()) return;
  m_trail->setMachine(text(model.info().machine), tr("%1 readings").arg(model.info().readings.size()));
  refreshHeadroom();
}

// The device with the fewest kelvin left.
void MainWindow::refreshHeadroom() {
  const LiveModel& model = m_live;
  std::string nearest;
  double least = INFINITY;
  for (const std::string& column : model.budgetColumns()) {
    const auto limit = model.limit(column, "throttle");
    const double left = limit ? *limit - model.latest(column) : INFINITY;
    if (left < least) {
      least = left;
      nearest = column;
    }
  }
  if (nearest.empty()) return m_trail->headroom()->clear();
  const double foot = std::isfinite(model.roomC()) ? model.roomC() : 20;
  const bool isWatched = nearest == model.info().watched;
  const QColor fill =
      isWatched ? look::theme().series(model.info().setupIndex) : look::theme().seriesTint(model.info().setupIndex);
  m_trail->headroom()->show(text(Role(nearest).shortName()), model.latest(nearest) - foot,
                            *model.limit(nearest, "throttle") - foot, fill);
}

void MainWindow::say(const QString& sentence) {
  m_notice->setText(sentence);
  m_notice->show();
  m_notice->setAccessibleName(sentence);
  look::announce(m_notice);
  QTimer::singleShot(kNoticeMs, m_notice, [this, sentence] {
    if (m_notice->text() == sentence) m_notice->hide();
  });
}

void MainWindow::openDemo() {
  m_isTourDue = !m_settings.hasSeenTour();
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
  QDir().mkpath(folder);
  const QString path = folder + QStringLiteral("/demo") + kBookEnding;
  if (QFileInfo::exists(path)) return openBook(path);
  start()->setProblem({});
  start()->setDemoProgress(0, 0);
  emit m_keep->demoWanted(path);
}

void MainWindow::newBook() {
  const QString start = m_settings.booksFolder() + QStringLiteral("/bench") + kBookEnding;
  look::askForFile(this, look::FileWish::Save, tr("Where shall the new book be?"), start, kBookEnding,
                   [this](const QString& path) { openBook(path); });
}

void MainWindow::chooseBook() {
  const QString folder =
      m_settings.lastBook().isEmpty() ? m_settings.booksFolder() : QFileInfo(m_settings.lastBook()).absolutePath();
  look::askForFile(this, look::FileWish::Open, tr("Open a book"), folder, kBookEnding,
                   [this](const QString& path) { openBook(path); });
}

void MainWindow::logNow() {
  StartRequest request;
  request.study = tr("Just logging");
  request.setup = tr("as it stands");
  request.load = QStringLiteral("vector");
  request.phases = QStringLiteral("idle 12h");
  m_startOnOpen = request;
  openBook(m_settings.booksFolder() + QStringLiteral("/ash-gauge-log") + kBookEnding);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  if (m_finder != nullptr) m_finder->hide();
  if (m_far != nullptr) m_far->setGeometry(rect());
}

void MainWindow::closeEvent(QCloseEvent* event) {
  leaveFar();
  m_settings.setWindowGeometry(saveGeometry());
  m_settings.setOpeningBook({});
  event->accept();
}

}  // namespace ash

#include "moc_main_window.cpp"
