#pragma once
#include <QScrollArea>

#include "app/certificate/certificate_page.h"
#include "app/sheets/sheet.h"

namespace ypsi::app {

/// One page of the certificate, as it will be on paper.
class PagePreview : public QWidget {
  Q_OBJECT
 public:
  explicit PagePreview(QWidget* parent);
  void show(const CertificatePaper& paper, int page);
  void fit(int wide);  ///< as high as a page of that width

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  CertificatePaper paper_;
  int page_ = 0;
};

/// The record as a page to print and keep.
class CertificateSheet : public Sheet {
  Q_OBJECT
 public:
  explicit CertificateSheet(Session& session);
  void refresh() override;
  /// Writes the certificate (.pdf, .html) or the readings (.csv); says in a notice what came of it.
  void write(const QString& path);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void save_as(const QString& suffix, const QString& kind);
  void print();
  CertificatePaper paper() const;

  QScrollArea* scroll_;
  PagePreview* preview_;
  QPushButton *pages_[2], *pdf_, *html_, *csv_, *print_;
  QLineEdit* workshop_;
  QLabel *lead_, *counts_, *advice_;
  int page_ = 0;
};

}  // namespace ypsi::app
