#include "app/sheets/certificate_sheet.h"

#include <QDate>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QLocale>
#include <QPrintDialog>
#include <QPrinter>
#include <QResizeEvent>
#include <algorithm>

#include "app/certificate/certificate_html.h"
#include "app/certificate/certificate_words.h"
#include "app/session/book_editor.h"
#include "app/session/described_controllers.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/text_file.h"
#include "app/to_q.h"
#include "core/tasks/certificate_record.h"
#include "core/tasks/finding.h"

namespace ypsi::app {

PagePreview::PagePreview(QWidget* parent) : QWidget(parent) {
  setObjectName("certificate-page");
  setAccessibleName(tr("The page as it will be printed"));
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void PagePreview::fit(int wide) {
  constexpr int most_px = 900;
  setFixedHeight(static_cast<int>(std::min(wide, most_px) * page_height / page_width));
}

void PagePreview::show(const CertificatePaper& paper, int page) {
  paper_ = paper;
  page_ = page;
  update();
}

void PagePreview::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setRenderHint(QPainter::TextAntialiasing);
  const double scale = std::min((width() - 8) / page_width, (height() - 8) / page_height);
  painter.translate((width() - page_width * scale) / 2, (height() - page_height * scale) / 2);
  painter.scale(scale, scale);
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(0, 0, 0, 40));
  painter.drawRect(QRectF(10, 10, page_width, page_height));
  painter.setBrush(Qt::NoBrush);
  painter.setClipRect(QRectF(0, 0, page_width, page_height));
  paint_page(painter, paper_, page_);
}

CertificateSheet::CertificateSheet(Session& session)
    : Sheet(session, certificate_record_task(),
            tr("What was measured, with what, and how sure it is: a page to print and keep.")) {
  auto* group = new QButtonGroup(this);
  const QString words[] = {tr("Results"), tr("Over time")};
  for (int i = 0; i < 2; ++i) {
    pages_[i] =
        make_chip(QString("certificate-page-%1").arg(i + 1), words[i], tr("Page %1 (Alt+%1)").arg(i + 1), this, group);
    pages_[i]->setShortcut(QKeySequence(QString("Alt+%1").arg(i + 1)));
    title_row()->addWidget(pages_[i]);
    connect(pages_[i], &QPushButton::clicked, this, [this, i] {
      page_ = i;
      refresh();
    });
  }
  pages_[0]->setChecked(true);
  auto* card = make_card();
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(10, 8, 10, 8);
  scroll_ = new QScrollArea(card);
  scroll_->setObjectName("certificate-scroll");
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);
  preview_ = new PagePreview(scroll_);
  scroll_->setWidget(preview_);
  scroll_->viewport()->installEventFilter(this);
  column->addWidget(scroll_, 1);
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("WHAT IT HOLDS"));
  lead_ = finding()->add_label("certificate-lead", "strong");
  counts_ = finding()->add_label("certificate-counts", "task");
  advice_ = finding()->add_label("certificate-advice", "small");
  finding()->add_rule();
  finding()->add_label("workshop-heading", "heading", tr("AT ITS HEAD"));
  workshop_ = new QLineEdit(this);
  workshop_->setObjectName("certificate-workshop");
  workshop_->setAccessibleName(tr("The workshop's name"));
  workshop_->setPlaceholderText(tr("The workshop's name"));
  finding()->add(workshop_);
  finding()->add_stretch();
  pdf_ = finding()->add_button("certificate-pdf", tr("Save as PDF…"), tr("One or two pages, A4 (Ctrl+1)"), true);
  html_ = finding()->add_button("certificate-html", tr("Save as HTML…"), tr("One file for any browser (Ctrl+2)"));
  csv_ = finding()->add_button("certificate-csv", tr("Save the readings…"),
                               tr("Every reading of the record as a table, CSV (Ctrl+3)"));
  print_ = finding()->add_button("certificate-print", tr("Print…"), tr("On paper (Ctrl+4)"));
  QPushButton* acts[] = {pdf_, html_, csv_, print_};
  for (int i = 0; i < 4; ++i) acts[i]->setShortcut(QKeySequence(QString("Ctrl+%1").arg(i + 1)));
  connect(pdf_, &QPushButton::clicked, this, [this] { save_as("pdf", tr("PDF (*.pdf)")); });
  connect(html_, &QPushButton::clicked, this, [this] { save_as("html", tr("Web page (*.html)")); });
  connect(csv_, &QPushButton::clicked, this, [this] { save_as("csv", tr("Table (*.csv)")); });
  connect(print_, &QPushButton::clicked, this, &CertificateSheet::print);
  connect(workshop_, &QLineEdit::editingFinished, this, [this] {
    const std::string name = workshop_->text().trimmed().toStdString();
    if (name == session_.editor().book().machine.workshop) return;
    session_.editor().change_book(
        tr("Name the workshop"), [&](Book& b) { b.machine.workshop = name; }, MachineFollows::no);
  });
}

bool CertificateSheet::eventFilter(QObject* watched, QEvent* event) {
  if (watched == scroll_->viewport() && event->type() == QEvent::Resize) preview_->fit(scroll_->viewport()->width());
  return Sheet::eventFilter(watched, event);
}

namespace {
/// What the controller of a described line can be trusted with, as it stands in its description now.
QString trusted_words(const std::string& controller) {
  if (controller.empty()) return {};
  const auto read = read_described(to_q(controller));
  const QString name = read ? to_q(read->name) : to_q(controller);
  return CertificateSheet::tr("The controller, %1, was reached over a line as a file describes it.").arg(name) +
         (read ? " " + what_its_line_leaves(*read).join(QChar(' ')) : QString());
}
}  // namespace

CertificatePaper CertificateSheet::paper() const {
  const Book& book = session_.editor().book();
  return {
      certificate_of(book, session_.editor().tasks()),
      error_budget(book, session_.machine().status().tool, session_.editor().tasks()), session_.editor().unit(),
      QLocale(QLocale::English, QLocale::UnitedKingdom).toString(QDate::currentDate(), QStringLiteral("d MMM yyyy")),
      trusted_words(book.machine.controller)};
}

void CertificateSheet::save_as(const QString& suffix, const QString& kind) {
  const QFileInfo book(session_.editor().book_path());
  const QString start =
      book.absolutePath() + "/" + book.completeBaseName() + (suffix == "csv" ? "-readings." : "-certificate.") + suffix;
  if (const QString path = QFileDialog::getSaveFileName(this, tr("Save the certificate"), start, kind); !path.isEmpty())
    write(path);
}

void CertificateSheet::write(const QString& path) {
  const QString suffix = QFileInfo(path).suffix().toLower();
  const auto written = suffix == "csv"    ? write_file(path, readings_csv(session_.editor().book()))
                       : suffix == "html" ? write_file(path, certificate_html(paper()).toStdString())
                                          : write_pdf(paper(), path);
  if (!written) {
    session_.machine().ask(written);
    return;
  }
  if (suffix != "csv" && !session_.editor().read_only())
    session_.editor().note_in_book([&](Book& b) {
      Entry e;
      e.time = session_.editor().now().toStdString();
      e.sheet = certificate_record_id;
      e.result = result_of(SaidEntry{QFileInfo(path).fileName().toStdString()});
      b.history.push_back(std::move(e));
    });
  session_.notices().notify({NoticeLevel::good, tr("Written to “%1”.").arg(path), {}});
}

void CertificateSheet::print() {
  QPrinter printer(QPrinter::HighResolution);
  printer.setPageSize(QPageSize(QPageSize::A4));
  printer.setFullPage(true);
  QPrintDialog dialog(&printer, this);
  if (dialog.exec() != QDialog::Accepted) return;
  const CertificatePaper what = paper();
  QPainter painter(&printer);
  const double scale = std::min(printer.width() / page_width, printer.height() / page_height);
  painter.scale(scale, scale);
  for (int page = 0; page < page_count(what); ++page) {
    if (page > 0) printer.newPage();
    paint_page(painter, what, page);
  }
}

void CertificateSheet::refresh() {
  const CertificatePaper what = paper();
  const int pages = page_count(what);
  page_ = std::min(page_, pages - 1);
  pages_[page_]->setChecked(true);
  pages_[1]->setEnabled(pages > 1);
  preview_->show(what, page_);
  int current = 0, old = 0, never = 0, failed = 0;
  for (const auto& q : what.certificate.quantities) {
    current += q.standing == Standing::current && !q.time.empty() ? 1 : 0;
    old += q.standing == Standing::out_of_date ? 1 : 0;
    failed += q.standing == Standing::failed ? 1 : 0;
    never += q.time.empty() ? 1 : 0;
  }
  lead_->setText(current + old + failed == 0 ? tr("Nothing measured yet")
                                             : tr("Quantities measured: %1").arg(current + old + failed));
  QStringList counts;
  counts << tr("● %1 current").arg(current) << tr("◐ %1 out of date").arg(old);
  if (failed > 0) counts << tr("✕ %1 failed").arg(failed);
  counts << tr("○ %1 never measured").arg(never);
  counts_->setText(counts.join("\n"));
  advice_->setText(
      old + failed > 0
          ? tr("Measure again what is out of date before you sign it; the sheets on the left say why it is.")
      : never > 0 ? tr("What was never measured stands on it as such.")
                  : tr("All of it holds."));
  if (!workshop_->hasFocus()) workshop_->setText(to_q(session_.editor().book().machine.workshop));
  workshop_->setEnabled(!session_.editor().read_only());
}

}  // namespace ypsi::app
