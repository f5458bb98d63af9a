#include "app/certificate/certificate_html.h"

#include <QCoreApplication>
#include <QDateTime>
#include <algorithm>
#include <cmath>

#include "app/certificate/certificate_words.h"
#include "app/session/session.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

struct HtmlWords {
  Q_DECLARE_TR_FUNCTIONS(certificate)
};

QString safe(const QString& text) {
  return text.toHtmlEscaped();
}

constexpr const char* certificate_style =
    "body{font-family:'B612',sans-serif;color:#1D2833;background:#FBF9F3;max-width:60em;margin:2em auto;padding:0 1em}"
    "h1{border-top:4px solid #0D6769;padding-top:.5em}table{border-collapse:collapse;width:100%}"
    "th{text-align:left;color:#5A6570;border-bottom:2px solid #1D2833}td{border-bottom:1px solid #D3CCBC;padding:.3em "
    ".4em .3em 0}"
    "p.small{color:#5A6570;font-size:85%}figure{display:inline-block;margin:0 1em 1em 0}figcaption{font-weight:bold}"
    "@media print{body{background:#fff;margin:0}}";

QString chart(const CertifiedQuantity& q, LengthUnit unit) {
  constexpr double wide = 380, high = 150, edge = 14;
  double low = 1e300, top = -1e300;
  for (const auto& h : q.history) {
    low = std::min(low, h.value - h.U.value_or(0));
    top = std::max(top, h.value + h.U.value_or(0));
  }
  if (!(top > low)) {
    low -= std::max(1e-6, std::fabs(low) * 0.01);
    top += std::max(1e-6, std::fabs(top) * 0.01);
  }
  const auto seconds = [](const HistoryPoint& h) {
    return static_cast<double>(QDateTime::fromString(to_q(h.time), Qt::ISODate).toSecsSinceEpoch());
  };
  const double first = seconds(q.history.front()), span = std::max(1.0, seconds(q.history.back()) - first);
  const auto x = [&](const HistoryPoint& h) {
    return q.history.size() == 1 ? wide / 2 : edge + (wide - 2 * edge) * (seconds(h) - first) / span;
  };
  const auto y = [&](double value) { return high - edge - (high - 2 * edge) * (value - low) / (top - low); };
  QString svg = QString(
                    "<svg width=\"%1\" height=\"%2\" role=\"img\"><rect width=\"%1\" height=\"%2\" fill=\"#fff\" "
                    "stroke=\"#D3CCBC\"/>")
                    .arg(wide)
                    .arg(high);
  QString line;
  for (const auto& h : q.history) {
    line += QString("%1,%2 ").arg(x(h), 0, 'f', 1).arg(y(h.value), 0, 'f', 1);
    if (h.U)
      svg += QString("<path d=\"M%1 %2V%3\" stroke=\"#0D6769\"/>")
                 .arg(x(h), 0, 'f', 1)
                 .arg(y(h.value - *h.U), 0, 'f', 1)
                 .arg(y(h.value + *h.U), 0, 'f', 1);
    svg += QString("<circle cx=\"%1\" cy=\"%2\" r=\"4\" fill=\"#0D6769\"/>")
               .arg(x(h), 0, 'f', 1)
               .arg(y(h.value), 0, 'f', 1);
  }
  svg += QString("<polyline points=\"%1\" fill=\"none\" stroke=\"#0D6769\" stroke-dasharray=\"4 3\"/></svg>")
             .arg(line.trimmed());
  return QString("<figure><figcaption>%1</figcaption>%2<div>%3 – %4: %5</div></figure>\n")
      .arg(safe(row_of(q, unit).quantity), svg, safe(day_of(q.history.front().time)),
           safe(day_of(q.history.back().time)), safe(value_words(q, q.history.back().value, unit)));
}

}  // namespace

QString certificate_html(const CertificatePaper& paper) {
  const Certificate& c = paper.certificate;
  const QString title = HtmlWords::tr("Certificate of calibration: %1").arg(to_q(c.machine));
  QString out = QString(
                    "<!DOCTYPE html>\n<html lang=\"en\"><head><meta "
                    "charset=\"utf-8\"><title>%1</title><style>%2</style></head><body>\n")
                    .arg(safe(title), certificate_style);
  out += QString("<p class=\"small\">%1 · %2</p><h1>%3</h1>\n<p>%4</p>\n")
             .arg(safe(to_q(c.workshop)), safe(paper.today), safe(title), safe(to_q(c.description)));
  out += "<p>" + safe(part_sentence(c, paper.budget, paper.unit)) + "</p>\n<table><tr>";
  for (const QString& heading :
       {HtmlWords::tr("Quantity"), HtmlWords::tr("As found"), HtmlWords::tr("As left"), HtmlWords::tr("U (95 %)"),
        HtmlWords::tr("k"), HtmlWords::tr("Measured with"), HtmlWords::tr("On"), HtmlWords::tr("Status")})
    out += "<th>" + safe(heading) + "</th>";
  out += "</tr>\n";
  for (const auto& q : c.quantities) {
    const CertificateRow row = row_of(q, paper.unit);
    out += "<tr>";
    for (const QString& cell :
         {row.quantity, row.as_found, row.not_applied.isEmpty() ? row.as_left : row.as_left + ", " + row.not_applied,
          row.U, row.k, row.instrument, row.date, row.status})
      out += "<td>" + safe(cell) + "</td>";
    out += "</tr>\n";
  }
  out += "</table>\n<p class=\"small\">" + safe((statement(c) + " " + paper.controller).trimmed()) + "</p>\n";
  for (const auto& q : c.quantities)
    if (!q.history.empty()) out += chart(q, paper.unit);
  return out + QString("<p class=\"small\">%1</p></body></html>\n")
                   .arg(safe(HtmlWords::tr("Made with Ypsilograph %1").arg(YPSI_VERSION)));
}

}  // namespace ypsi::app
