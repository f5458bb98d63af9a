#include "app/certificate/certificate_page.h"

#include <QBuffer>
#include <QCoreApplication>
#include <QDateTime>
#include <QPageLayout>
#include <QPdfWriter>
#include <algorithm>
#include <cmath>

#include "app/certificate/certificate_words.h"
#include "app/drawing/draft.h"
#include "app/session/part_words.h"
#include "app/session/phrases.h"
#include "app/session/session.h"
#include "app/session/text_file.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr double page_margin = 170, table_top = 1220, table_end = page_height - 400, least_row = 50, most_row = 84,
                 chart_high = 520;
constexpr int charts_a_page = 8, dots_per_inch = 254;  // a tenth of a millimetre is a dot

struct CertificatePage {
  Q_DECLARE_TR_FUNCTIONS(certificate)
};

/// Paper is white by day, whatever the screen.
class ByDay {
 public:
  ByDay() : night_(is_night()) { set_night(false); }
  ~ByDay() { set_night(night_); }
  ByDay(const ByDay&) = delete;
  ByDay& operator=(const ByDay&) = delete;

 private:
  bool night_;
};

std::vector<const CertifiedQuantity*> with_history(const CertificatePaper& paper) {
  std::vector<const CertifiedQuantity*> all;
  for (const auto& q : paper.certificate.quantities)
    if (q.history.size() > 1) all.push_back(&q);
  // Too few that were measured twice: what was measured once is shown too.
  if (all.size() < 4)
    for (const auto& q : paper.certificate.quantities)
      if (q.history.size() == 1 && all.size() < 6) all.push_back(&q);
  return all;
}

/// Smaller where it would not go into its box, so that nothing of it is cut off.
void paragraph(Draft& draft, const QRectF& box, const QString& text, int px, const QColor& colour) {
  constexpr int flow = Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignTop, least_px = 16;
  QPainter& p = draft.painter();
  p.setFont(text_font(px));
  while (px > least_px && p.boundingRect(box, flow, text).height() > box.height()) p.setFont(text_font(--px));
  p.setPen(colour);
  p.drawText(box, flow, text);
}

void paint_heading(Draft& draft, const CertificatePaper& paper) {
  const Certificate& c = paper.certificate;
  draft.line({page_margin, 150}, {page_width - page_margin, 150}, theme().teal, 6);
  draft.text({page_margin, 235}, c.workshop.empty() ? CertificatePage::tr("Workshop") : to_q(c.workshop),
             theme().second_ink, 40, true);
  draft.text({page_width - page_margin, 235}, paper.today, theme().second_ink, 36, false, Qt::AlignRight);
  draft.text({page_margin, 335},
             CertificatePage::tr("Certificate of calibration: %1")
                 .arg(c.machine.empty() ? CertificatePage::tr("machine without a name") : to_q(c.machine)),
             theme().ink, 64, true);
  QStringList about;
  if (!c.description.empty()) about << to_q(c.description);
  about << (c.first_time.empty()
                ? CertificatePage::tr("nothing measured yet")
                : CertificatePage::tr("measured %1 to %2").arg(day_of(c.first_time), day_of(c.last_time)));
  draft.text({page_margin, 400}, about.join(" · "), theme().second_ink, 34);
}

/// The travel seen from above, its lean exaggerated, with its sizes on dimension lines.
void paint_plan(Draft& draft, const QRectF& box, const CertificatePaper& paper) {
  const Certificate& c = paper.certificate;
  draft.text(box.topLeft() + QPointF(0, 34), CertificatePage::tr("Travel and squareness"), theme().second_ink, 30,
             true);
  const double w = c.travel[0].value_or(c.part[0]), h = c.travel[1].value_or(c.part[1]);
  const QRectF room = box.adjusted(20, 80, -150, -90);
  const double scale = std::min(room.width() * 0.74 / w, room.height() / h);
  constexpr double drawn_lean = 0.1;
  const double lean = c.skew_mrad == 0 ? 0 : std::copysign(drawn_lean, c.skew_mrad) * h * scale;
  const QPointF a(room.left() + 60 + std::max(0.0, -lean), room.bottom()),
      b = a + QPointF(w * scale, 0), d = a + QPointF(lean, -h * scale), top = b + QPointF(lean, -h * scale);
  QPainter& p = draft.painter();
  p.setPen(QPen(theme().rule, 3, Qt::DashLine));
  p.drawRect(QRectF(a + QPointF(0, -h * scale), QSizeF(w * scale, h * scale)));
  p.setPen(QPen(theme().teal, 5));
  p.setBrush(theme().teal_soft);
  p.drawPolygon(QPolygonF{a, b, top, d});
  p.setBrush(Qt::NoBrush);
  const auto len = [&](double mm) { return to_q(format_length(mm, paper.unit, 1) + " " + unit_name(paper.unit)); };
  const double below = a.y() + 40, beside = std::max(b.x(), top.x()) + 40;
  draft.line({a.x(), below}, {b.x(), below}, theme().ink, 3);
  draft.arrow_head({a.x(), below}, {-1, 0}, theme().ink, 16);
  draft.arrow_head({b.x(), below}, {1, 0}, theme().ink, 16);
  draft.text({(a.x() + b.x()) / 2, below + 42}, c.travel[0] ? len(w) : CertificatePage::tr("X not measured"),
             theme().ink, 30, true, Qt::AlignHCenter);
  draft.line({beside, a.y()}, {beside, top.y()}, theme().ink, 3);
  draft.arrow_head({beside, a.y()}, {0, 1}, theme().ink, 16);
  draft.arrow_head({beside, top.y()}, {0, -1}, theme().ink, 16);
  draft.text({beside + 14, (a.y() + top.y()) / 2 + 10}, c.travel[1] ? len(h) : CertificatePage::tr("Y not measured"),
             theme().ink, 30, true);
  const double drawn_times = std::round(drawn_lean / std::max(1e-6, std::fabs(c.skew_mrad) / 1000));
  const QPointF middle{a.x() + w * scale / 2 + lean / 2, a.y() - h * scale / 2};
  draft.text(middle,
             c.skew_mrad == 0 ? CertificatePage::tr("lean never measured")
                              : CertificatePage::tr("+Y leans %1 mm per m").arg(to_q(format_signed(c.skew_mrad, 2))),
             theme().ink, 28, true, Qt::AlignHCenter);
  if (c.skew_mrad != 0)
    draft.text(middle + QPointF(0, 38), CertificatePage::tr("drawn %1 times").arg(drawn_times), theme().second_ink, 26,
               false, Qt::AlignHCenter);
}

/// What makes a part's size, as bars.
void paint_budget(Draft& draft, const QRectF& box, const CertificatePaper& paper) {
  draft.text(box.topLeft() + QPointF(0, 34),
             CertificatePage::tr("What a part cut today would be off by, in %1").arg(to_q(unit_name(paper.unit))),
             theme().second_ink, 30, true);
  const auto [low, high] = paper.budget.span();
  constexpr double bar_high = 30, figures = 260;
  const double bars = box.left() + 330, room = box.right() - bars - figures;
  const auto at = [&, low = low, wide = std::max(high - low, 1e-6)](double mm) {
    return bars + room * (mm - low) / wide;
  };
  double y = box.top() + 70;
  for (const BudgetPart& part : paper.budget.parts) {
    if (y > box.bottom() - 240) break;
    draft.text({box.left(), y + 24}, part_name(part), theme().ink, 30);
    if (part.off) {
      const double left = at(part.off->bias - part.off->U), right = at(part.off->bias + part.off->U);
      draft.line({at(0), y + bar_high / 2}, {at(part.off->bias), y + bar_high / 2}, theme().teal, 6);
      draft.box(QRectF(left, y, std::max(3.0, right - left), bar_high), theme().teal,
                part.stale ? theme().sheet : theme().teal_soft, 2);
      draft.line({at(part.off->bias), y - 2}, {at(part.off->bias), y + bar_high + 2}, theme().teal, 8);
      draft.text({std::max(at(0), right) + 12, y + 25}, off_words(*part.off, paper.unit), theme().ink, 28);
    } else {
      draft.text({at(0) + 12, y + 25}, CertificatePage::tr("never measured"), theme().second_ink, 28);
    }
    y += 46;
  }
  draft.line({at(0), box.top() + 64}, {at(0), y - 10}, theme().second_ink, 2);
  paragraph(draft, QRectF(box.left(), box.bottom() - 190, box.width(), 190),
            part_sentence(paper.certificate, paper.budget, paper.unit), 28, theme().ink);
}

void paint_table(Draft& draft, double top, const CertificatePaper& paper) {
  constexpr double at[] = {page_margin + 40, 700, 890, 1230, 1400, 1480, 1740};
  const QString headings[] = {CertificatePage::tr("Quantity"), CertificatePage::tr("As found"),
                              CertificatePage::tr("As left"),  CertificatePage::tr("U (95 %)"),
                              CertificatePage::tr("k"),        CertificatePage::tr("Measured with"),
                              CertificatePage::tr("On")};
  for (int i = 0; i < 7; ++i) draft.text({at[i], top}, headings[i], theme().second_ink, 28, true);
  draft.line({page_margin, top + 16}, {page_width - page_margin, top + 16}, theme().ink, 3);
  const double row_high =
      std::clamp((table_end - top) / std::max<double>(1, static_cast<double>(paper.certificate.quantities.size())),
                 least_row, most_row);
  double y = top + row_high;
  for (const auto& q : paper.certificate.quantities) {
    const CertificateRow row = row_of(q, paper.unit);
    draft.mark({page_margin + 14, y - 10}, mark_of(row.standing), 11);
    const bool never = q.time.empty();
    draft.text({at[0], y}, row.quantity, never ? theme().second_ink : theme().ink, 31);
    if (never) {
      draft.text({at[2], y}, row.status, theme().second_ink, 30);
    } else {
      draft.text({at[1], y}, row.as_found, theme().second_ink, 31);
      const bool noted = !row.not_applied.isEmpty();  // two lines, so that neither runs into U
      draft.text({at[2], noted ? y - 12 : y}, row.as_left, theme().ink, noted ? 28 : 31, true);
      if (noted) draft.text({at[2], y + 12}, row.not_applied, theme().second_ink, 22);
      draft.text({at[3], y}, row.U, theme().ink, 31);
      draft.text({at[4], y}, row.k, theme().second_ink, 28);
      draft.text({at[5], y}, row.instrument, theme().ink, 28);
      draft.text({at[6], y}, row.date, theme().ink, 28);
    }
    draft.line({page_margin, y + 18}, {page_width - page_margin, y + 18}, theme().rule, 1.5);
    y += row_high;
  }
}

void paint_foot(Draft& draft, const CertificatePaper& paper, int page) {
  draft.line({page_margin, page_height - 150}, {page_width - page_margin, page_height - 150}, theme().rule, 2);
  draft.text({page_margin, page_height - 100}, CertificatePage::tr("Made with Ypsilograph %1").arg(YPSI_VERSION),
             theme().second_ink, 26);
  draft.text({page_width - page_margin, page_height - 100},
             CertificatePage::tr("Page %1 of %2").arg(page + 1).arg(page_count(paper)), theme().second_ink, 26, false,
             Qt::AlignRight);
}

void paint_chart(Draft& draft, const QRectF& box, const CertifiedQuantity& q, LengthUnit unit) {
  draft.text(box.topLeft() + QPointF(0, 34), row_of(q, unit).quantity, theme().ink, 30, true);
  const QRectF plot = box.adjusted(20, 70, -20, -80);
  draft.box(plot, theme().rule, theme().sheet, 2);
  double low = 1e300, high = -1e300;
  for (const auto& h : q.history) {
    low = std::min(low, h.value - h.U.value_or(0));
    high = std::max(high, h.value + h.U.value_or(0));
  }
  const double pad = high > low ? 0.12 * (high - low) : std::max(1e-6, std::fabs(high) * 0.01);
  low -= pad;
  high += pad;
  const auto seconds = [](const HistoryPoint& h) {
    return static_cast<double>(QDateTime::fromString(to_q(h.time), Qt::ISODate).toSecsSinceEpoch());
  };
  const double first = seconds(q.history.front()), last = std::max(seconds(q.history.back()), first + 1);
  const auto place = [&](const HistoryPoint& h, double value) {
    const double along = q.history.size() == 1 ? 0.5 : 0.08 + 0.84 * (seconds(h) - first) / (last - first);
    return QPointF(plot.left() + along * plot.width(), plot.bottom() - (value - low) / (high - low) * plot.height());
  };
  QPointF before;
  for (std::size_t i = 0; i < q.history.size(); ++i) {
    const auto& h = q.history[i];
    const QPointF at = place(h, h.value);
    if (i > 0) draft.line(before, at, theme().teal, 2, Qt::DashLine);
    if (h.U) {
      const QPointF up = place(h, h.value + *h.U), down = place(h, h.value - *h.U);
      draft.line(up, down, theme().teal, 3);
      for (const QPointF end : {up, down}) draft.line(end - QPointF(12, 0), end + QPointF(12, 0), theme().teal, 3);
    }
    before = at;
  }
  for (const auto& h : q.history) draft.mark(place(h, h.value), Mark::full, 9);
  draft.text({plot.left(), plot.bottom() + 36}, day_of(q.history.front().time), theme().second_ink, 26);
  if (q.history.size() > 1)
    draft.text({plot.right(), plot.bottom() + 36}, day_of(q.history.back().time), theme().second_ink, 26, false,
               Qt::AlignRight);
  CertifiedQuantity bare = q;
  bare.U = q.history.back().U;
  if (q.history.size() > 1 || bare.U) {
    draft.text({plot.left() + 10, plot.top() + 32}, value_words(bare, high, unit), theme().second_ink, 24);
    draft.text({plot.left() + 10, plot.bottom() - 12}, value_words(bare, low, unit), theme().second_ink, 24);
  }
  const HistoryPoint& newest = q.history.back();
  draft.text({plot.left() + plot.width() / 2, plot.bottom() + 36}, value_words(q, newest.value, unit), theme().ink, 28,
             true, Qt::AlignHCenter);
}

}  // namespace

int page_count(const CertificatePaper& paper) {
  return with_history(paper).empty() ? 1 : 2;
}

void paint_page(QPainter& painter, const CertificatePaper& paper, int page) {
  const ByDay by_day;
  Draft draft(painter);
  painter.fillRect(QRectF(0, 0, page_width, page_height), Qt::white);
  if (page == 0) {
    paint_heading(draft, paper);
    paint_plan(draft, QRectF(page_margin, 450, 860, 680), paper);
    paint_budget(draft, QRectF(1090, 450, page_width - page_margin - 1090, 680), paper);
    paint_table(draft, table_top, paper);
    paragraph(draft, QRectF(page_margin, page_height - 380, page_width - 2 * page_margin, 220),
              (statement(paper.certificate) + " " + paper.controller).trimmed(), 25, theme().second_ink);
  } else {
    draft.line({page_margin, 150}, {page_width - page_margin, 150}, theme().teal, 6);
    draft.text({page_margin, 235},
               CertificatePage::tr("How it went over time: %1").arg(to_q(paper.certificate.machine)), theme().ink, 48,
               true);
    draft.text({page_margin, 292}, CertificatePage::tr("Bars are ±U, for about 95 %."), theme().second_ink, 30);
    const auto charts = with_history(paper);
    const double wide = (page_width - 2 * page_margin - 60) / 2;
    for (std::size_t i = 0; i < charts.size() && i < charts_a_page; ++i)
      paint_chart(draft,
                  QRectF(page_margin + static_cast<double>(i % 2) * (wide + 60),
                         340 + std::floor(static_cast<double>(i) / 2) * (chart_high + 30), wide, chart_high),
                  *charts[i], paper.unit);
    const double y = page_height - 230;
    draft.line({page_margin, y}, {page_margin + 700, y}, theme().ink, 2);
    draft.text({page_margin, y + 40}, CertificatePage::tr("Measured by"), theme().second_ink, 26);
    draft.line({page_width - page_margin - 700, y}, {page_width - page_margin, y}, theme().ink, 2);
    draft.text({page_width - page_margin - 700, y + 40}, CertificatePage::tr("Date"), theme().second_ink, 26);
  }
  paint_foot(draft, paper, page);
}

Result<void> write_pdf(const CertificatePaper& paper, const QString& path) {
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  {
    QPdfWriter pdf(&buffer);
    pdf.setTitle(CertificatePage::tr("Certificate of calibration: %1").arg(to_q(paper.certificate.machine)));
    pdf.setCreator("Ypsilograph");
    pdf.setPageLayout(QPageLayout(QPageSize(QPageSize::A4), QPageLayout::Portrait, QMarginsF()));
    pdf.setResolution(dots_per_inch);
    QPainter painter(&pdf);
    for (int page = 0; page < page_count(paper); ++page) {
      if (page > 0) pdf.newPage();
      paint_page(painter, paper, page);
    }
  }
  return write_file(path, bytes.toStdString());
}

}  // namespace ypsi::app
