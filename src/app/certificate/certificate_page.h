#pragma once
// The certificate on paper: A4 pages, the same on screen, as PDF and from a printer. Always in the colours of the day.
#include <QPainter>
#include <QString>

#include "core/tasks/budget.h"
#include "core/tasks/certificate.h"

namespace ypsi::app {

struct CertificatePaper {
  Certificate certificate;
  Budget budget;
  LengthUnit unit = LengthUnit::millimetre;
  QString today;       ///< "26 Nov 2026"
  QString controller;  ///< what a described one can be trusted with; empty for any other
};

inline constexpr double page_width = 2100, page_height = 2970;  ///< tenths of a millimetre

int page_count(const CertificatePaper& paper);
/// Paints a page, from 0, into a rectangle of page_width x page_height of the painter's units.
void paint_page(QPainter& painter, const CertificatePaper& paper, int page);
/// Error: `not_written`, with a sentence.
Result<void> write_pdf(const CertificatePaper& paper, const QString& path);

}  // namespace ypsi::app
