// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/writeup/export_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStyle>
#include <QVBoxLayout>

#include "app/look/ask_file.h"
#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::text;

namespace {

// ".svg" of "-answer.svg".
QString extensionOf(const QString& ending) { return ending.mid(ending.lastIndexOf(QLatin1Char('.'))); }

// The path without the ending of any format, once: that of a picture with its number or without.
QString bareOf(const QString& path) {
  for (const ReportFormatInfo& one : reportFormats()) {
    const QString ending = text(std::string(one.ending));
    for (const QString& end : {ending, extensionOf(ending)}) {
      if (path.endsWith(end)) return path.chopped(end.size());
    }
  }
  return path;
}

}  // namespace

ExportPanel::ExportPanel(QWidget* parent)
    : QWidget(parent),
      m_format(new QComboBox(this)),
      m_size(new QComboBox(this)),
      m_dark(new QCheckBox(tr("Dark"), this)),
      m_licence(new QLineEdit(this)),
      m_path(new QLineEdit(this)),
      m_export(new QPushButton(this)),
      m_written(look::softLabel({}, this)),
      m_process(new QProcess(this)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(6));
  m_format->setObjectName(QStringLiteral("export-format"));
  m_format->setAccessibleName(tr("Format"));
  m_format->setFont(look::font(12));
  for (const ReportFormatInfo& one : reportFormats()) {
    m_format->addItem(text(std::string(one.name)), static_cast<int>(one.format));
    m_format->setItemData(m_format->count() - 1, text(std::string(one.means)), Qt::ToolTipRole);
  }
  m_size->setObjectName(QStringLiteral("export-size"));
  m_size->setAccessibleName(tr("Size of the charts"));
  m_size->setFont(look::font(12));
  QStringList words;
  for (const ChartSizeInfo& one : chartSizes()) {
    const QString word = text(std::string(one.word));
    words << word;
    m_size->addItem(tr("Charts: %1").arg(word), word);
    m_size->setItemData(m_size->count() - 1, text(std::string(one.means)), Qt::ToolTipRole);
  }
  m_size->addItem(tr("Charts: every size"), words.join(QLatin1Char(',')));
  m_dark->setObjectName(QStringLiteral("export-dark"));
  m_dark->setFont(look::font(12));
  m_dark->setToolTip(tr("Charts on a dark ground"));
  m_path->setObjectName(QStringLiteral("export-path"));
  m_path->setAccessibleName(tr("File of the write-up"));
  m_path->setFont(look::font(12));
  m_licence->setObjectName(QStringLiteral("licence"));
  m_licence->setAccessibleName(tr("Licence"));
  m_licence->setPlaceholderText(tr("Licence, such as CC BY 4.0"));
  m_licence->setToolTip(tr("Of text, figures and charts; stands under Method, and in the data package."));
  m_licence->setFont(look::font(12));
  auto* browse = new QPushButton(tr("…"), this);
  browse->setAccessibleName(tr("Choose another file"));
  browse->setToolTip(tr("Choose another file"));
  m_export->setObjectName(QStringLiteral("export"));
  m_export->setProperty("role", "main");
  m_export->setMinimumHeight(px(32));
  m_written->setObjectName(QStringLiteral("written"));
  m_written->setWordWrap(true);
  auto* pathRow = new QHBoxLayout;
  pathRow->addWidget(m_path, 1);
  pathRow->addWidget(browse);
  auto* row = new QHBoxLayout;
  row->addWidget(m_export);
  row->addWidget(m_format, 1);
  column->addWidget(m_licence);
  column->addLayout(pathRow);
  auto* charts = new QHBoxLayout;
  charts->addWidget(m_size, 1);
  charts->addWidget(m_dark);
  column->addLayout(charts);
  column->addLayout(row);
  column->addWidget(m_written);
  connect(m_licence, &QLineEdit::editingFinished, this, [this] { emit licenceEdited(m_licence->text()); });
  connect(m_path, &QLineEdit::returnPressed, this, &ExportPanel::exportAsked);
  connect(m_export, &QPushButton::clicked, this, &ExportPanel::exportAsked);
  connect(browse, &QPushButton::clicked, this, &ExportPanel::askForPath);
  connect(m_format, &QComboBox::currentIndexChanged, this, &ExportPanel::formatChosen);
  connect(m_process, &QProcess::readyReadStandardError, this, &ExportPanel::takeSaid);
  connect(m_process, &QProcess::finished, this, &ExportPanel::finished);
  connect(m_process, &QProcess::errorOccurred, this, [this](QProcess::ProcessError error) {
    if (error != QProcess::FailedToStart) return;
    showState();
    tell(tr("%1 cannot be started; is it installed beside this program?").arg(m_program), true);
  });
  formatChosen();
}

ExportPanel::~ExportPanel() {
  m_process->disconnect(this);
  if (m_process->state() != QProcess::NotRunning) m_process->kill();
}

ReportFormat ExportPanel::format() const { return static_cast<ReportFormat>(m_format->currentData().toInt()); }

// Beside the book, by the study's name, until the person says otherwise.
void ExportPanel::setSubject(const QString& study, const QString& book, const QString& proposed) {
  m_study = study;
  m_book = book;
  if (m_proposedFor == study + book) return;
  m_proposedFor = study + book;
  m_path->setText(proposed + text(std::string(infoOf(format()).ending)));
  tell({});
}

// What is being typed stays while the book answers.
void ExportPanel::setLicence(const QString& words) {
  if (!m_licence->hasFocus()) m_licence->setText(words);
}

void ExportPanel::setHasPage(bool hasPage) {
  m_hasPage = hasPage;
  showState();
}

void ExportPanel::formatChosen() {
  const ReportFormatInfo& info = infoOf(format());
  m_format->setToolTip(text(std::string(info.means)));
  if (!m_path->text().isEmpty()) m_path->setText(bareOf(m_path->text().trimmed()) + text(std::string(info.ending)));
  m_size->setVisible(isOfCharts());
  m_dark->setVisible(isOfCharts());
  showState();
}

bool ExportPanel::isOfCharts() const { return format() == ReportFormat::Drawings || format() == ReportFormat::Picture; }

QStringList ExportPanel::arguments() const {
  const QFileInfo file(bareOf(m_path->text().trimmed()));
  QStringList all = {QStringLiteral("report"),
                     QStringLiteral("--book"),
                     m_book,
                     QStringLiteral("--to"),
                     file.absolutePath(),
                     QStringLiteral("--name"),
                     file.fileName(),
                     QStringLiteral("--format"),
                     text(std::string(infoOf(format()).word)),
                     QStringLiteral("--progress")};
  if (isOfCharts()) all << QStringLiteral("--size") << m_size->currentData().toString();
  if (isOfCharts() && m_dark->isChecked()) all << QStringLiteral("--dark");
  return all << QStringLiteral("--") << m_study;  // whatever it begins with
}

void ExportPanel::askForPath() {
  const QString ending = extensionOf(text(std::string(infoOf(format()).ending)));
  look::askForFile(this, look::FileWish::Save, tr("Export the write-up"), m_path->text(), ending,
                   [this](const QString& path) { m_path->setText(path); });
}

void ExportPanel::exportNow() {
  if (m_isWaiting || m_process->state() != QProcess::NotRunning) return stop();
  if (!m_hasPage || m_path->text().trimmed().isEmpty()) return;
  tell({});
  if (format() == ReportFormat::Html) {
    emit pageWanted(m_path->text().trimmed());
    return;
  }
  m_isWaiting = true;
  showState();
  tell(tr("Writing …"));
  emit settleWanted();
}

void ExportPanel::goOn() {
  if (!std::exchange(m_isWaiting, false)) return;
  m_isGivenUp = false;
  m_said.clear();
  m_process->start(m_program, arguments());
  showState();
}

// What was written whole stays; nothing is left half written.
void ExportPanel::stop() {
  m_isGivenUp = true;
  const bool wasWaiting = std::exchange(m_isWaiting, false);
  if (m_process->state() != QProcess::NotRunning) m_process->kill();
  showState();
  if (wasWaiting) tell(tr("Given up; nothing is left half written."));
}

// The last whole line is how far it is, where it goes on with dots. More than a person could read is not kept.
void ExportPanel::takeSaid() {
  constexpr qsizetype kMostB = 8192;
  m_said = (m_said + m_process->readAllStandardError()).right(kMostB);
  const QList<QByteArray> lines = m_said.split('\n');
  const QString line = lines.size() > 1 ? QString::fromUtf8(lines[lines.size() - 2]) : QString();
  if (line.endsWith(QChar(0x2026)) && !m_isGivenUp) tell(line);
}

void ExportPanel::finished(int status, QProcess::ExitStatus how) {
  showState();
  takeSaid();
  const QString paths = QString::fromUtf8(m_process->readAllStandardOutput()).trimmed();
  if (m_isGivenUp) return tell(tr("Given up; nothing is left half written."));
  if (how == QProcess::NormalExit && status == 0) return showWritten(paths);
  const QString sentence = QString::fromUtf8(m_said).trimmed().section(QLatin1Char('\n'), -1);
  tell(sentence.isEmpty() ? tr("It could not be written: %1 ended before its time.").arg(m_program)
                          : sentence.section(QStringLiteral(": "), 1),
       true);
}

void ExportPanel::showWritten(const QString& paths) {
  const QStringList all = paths.split(QLatin1Char('\n'));
  tell(all.size() == 1 ? tr("Written: %1").arg(all.first())
                       : tr("Written: %1 and %2 more").arg(all.first()).arg(all.size() - 1));
}

void ExportPanel::showState() {
  const bool isBusy = m_isWaiting || m_process->state() != QProcess::NotRunning;
  m_export->setText(isBusy ? tr("Give up") : tr("Export"));
  m_export->setEnabled(isBusy || m_hasPage);
  m_export->setToolTip(isBusy ? tr("Gives up what is being written (Ctrl+E)")
                              : tr("The same as `ashg report` writes (Ctrl+E). A file of that name is replaced."));
  m_format->setEnabled(!isBusy);
  for (QWidget* field : std::initializer_list<QWidget*>{m_path, m_size, m_dark}) field->setEnabled(!isBusy);
}

void ExportPanel::tell(const QString& words, bool isProblem) {
  m_written->setProperty("problem", isProblem);
  m_written->style()->unpolish(m_written);
  m_written->style()->polish(m_written);
  m_written->setText(words);
}

}  // namespace ash

#include "moc_export_panel.cpp"
