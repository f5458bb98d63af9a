// What a drawing gives, in the right column: the program, what holds the stock, where the heads stand.
#include <QFileInfo>
#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/phrases.h"
#include "app/sheets/program/drawing_page.h"
#include "app/to_q.h"
#include "core/motion/machine_kinematics.h"

namespace ypsi::app {

QString DrawingPage::held_words() const {
  if (!made_ || !made_->held) return {};
  const auto& held = *made_->held;
  if (!held) return to_q(held.error().message);
  const HoldDown& h = *held;
  constexpr double mm2_per_cm2 = 100;
  const auto cm2 = [](double mm2) { return tr("%1 cm²").arg(mm2 / mm2_per_cm2, 0, 'f', 0); };
  const auto with_force = [](const QString& words, const std::optional<double>& newton) {
    return newton ? tr("%1, holds %2 N").arg(words).arg(*newton, 0, 'f', 0) : words;
  };
  QStringList open, mask, words;
  for (const ZoneCover& z : h.zones) {
    if (z.open) open << to_q(z.name);
    if (z.open && z.to_mask > mm2_per_cm2) mask << tr("%1: %2").arg(to_q(z.name), cm2(z.to_mask));
  }
  if (open.isEmpty())
    words << tr("⊗ No zone is covered by %1 % or more: nothing holds it. Lay it over zones, or mask what is bare.")
                 .arg(session_.editor().book().machine.vacuum.open_share * 100, 0, 'f', 0);
  else
    words << with_force(tr("Open %1: %2 % of the stock").arg(open.join(", ")).arg(100 * h.held / h.stock, 0, 'f', 0),
                        h.force_N);
  if (!mask.isEmpty()) words << tr("Mask of %1").arg(mask.join(", "));
  std::size_t loose = 0;
  const HeldPiece* least = nullptr;
  for (const HeldPiece& p : h.pieces) {
    loose += p.too_small ? 1 : 0;
    if (!least || p.held < least->held) least = &p;
  }
  if (least) words << with_force(tr("Least held, once free: a piece of %1").arg(cm2(least->area)), least->force_N);
  if (loose > 0) words << tr("◐ Pieces that the vacuum does not hold: %1. Use tabs or tape.").arg(loose);
  return words.join("\n");
}

QString DrawingPage::places_words() const {
  const auto& heads = session_.editor().book().machine.heads;
  const LengthUnit unit = session_.editor().unit();
  if (!drawing_ || heads.size() < 2) return {};
  QStringList words;
  for (const Head& h : heads) {
    if (&h == &heads.front())
      words << tr("%1: the first").arg(to_q(h.name));
    else if (h.place)
      words
          << tr("%1: %2 %3").arg(to_q(h.name), signed_length(h.place->x_mm, unit), signed_length(h.place->y_mm, unit));
    else
      words << tr("◐ %1: not measured").arg(to_q(h.name));
  }
  return words.join("\n");
}

PageFinding DrawingPage::finding() const {
  PageFinding f;
  f.keep = tr("Write and load it");
  f.second = drawing_ ? tr("Another drawing…") : QString();
  if (!drawing_) {
    f.lead = tr("No drawing");
    f.verdict = failed_.isEmpty() ? QString() : tr("⊗ It could not be read");
    f.text =
        failed_.isEmpty()
            ? tr("A drawing is a DXF file (as text) or an SVG file. Its layers are shown here; say for each what is "
                 "done with it and with what, and a program is made that is checked like any other. Nothing moves "
                 "until you start it on the sheet Cut.")
            : failed_;
    return f;
  }
  const auto len = [&](double mm) { return tr("%1 m").arg(mm / 1000, 0, 'f', 2); };
  f.lead = QFileInfo(drawing_->path).fileName();
  double cut = 0, marked = 0;
  for (const HeadPath& path : paths()) {
    const DrawnAct act = act_of(path.remark).act;
    (act == DrawnAct::mark || act == DrawnAct::crease ? marked : cut) += length_of(DrawnContour{.points = path.points});
  }
  const QString beside = marked > 0 ? tr("%1 to mark or crease").arg(len(marked)) : QString();
  if (cut > 0) {
    f.figure = marked > 0 ? tr("%1 to cut").arg(len(cut)) : len(cut);
    f.spread = beside;
  } else {
    f.figure = beside;
  }
  QStringList words;
  if (!made_) {
    f.verdict = tr("○ The program is being made…");
  } else if (made_->program) {
    words << tr("About %1.").arg(to_q(format_duration(made_->time_s)));
    f.can_keep = true;
    f.verdict =
        drawing_->findings.empty() ? tr("● A program can be made") : tr("◐ A program can be made; look at this:");
  } else {
    f.verdict = tr("○ No program yet");
    words << to_q(made_->program.error().message);
  }
  if (made_)
    for (const LeftUncut& u : made_->look.uncut)
      words << tr("◐ In “%1” %2 mm² stay uncut in %3 places: its tool is too wide for them.")
                   .arg(to_q(u.layer))
                   .arg(u.area, 0, 'f', u.area < 1 ? 2 : 1)
                   .arg(u.places);
  if (made_ && made_->look.too_much) words << tr("○ So much is filled that nobody looked for what stays uncut.");
  constexpr std::size_t told = 6;
  for (std::size_t i = 0; i < std::min(drawing_->findings.size(), told); ++i)
    words << "· " + to_q(drawing_->findings[i].message);
  if (drawing_->findings.size() > told) words << tr("and %1 more").arg(drawing_->findings.size() - told);
  f.text = words.join("\n");
  return f;
}

}  // namespace ypsi::app
