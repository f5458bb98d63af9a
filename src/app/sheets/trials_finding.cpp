// What the looks of Trials mean, in the right column.
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/sheets/trials/level_text.h"
#include "app/sheets/trials_sheet.h"
#include "app/to_q.h"
#include "core/book/worksheets/trials.h"

namespace ypsi::app {

QString TrialsSheet::level_words() const {
  const Head* head = trial_head(session_.editor().book());
  if (!head) return {};
  const QString gauge = to_q(head->gauge);
  switch (trial_kind(head->kind)) {
    case TrialKind::depth:
      return gauge.isEmpty() ? tr("depth, mm") : tr("depth, %1").arg(gauge);
    case TrialKind::power:
      return gauge.isEmpty() ? tr("power") : tr("power, %1").arg(gauge);
    case TrialKind::pressure:
      break;
  }
  return gauge.isEmpty() ? tr("pressure, as the gauge is marked") : tr("pressure, %1").arg(gauge);
}

PageFinding TrialsSheet::finding_words() const {
  const Book& book = session_.editor().book();
  const TrialsWorksheet& s = book.worksheets[trials_worksheet];
  PageFinding f;
  const QString material = s.material.empty() ? tr("a material without a name") : to_q(s.material);
  const Head* head = trial_head(book);
  f.lead = head ? tr("%1, %2").arg(material, to_q(head->name)) : material;
  f.keep = tr("Keep for this material");
  if (!s.material.empty()) f.second = tr("Another material");
  const auto t = found();
  const auto kept = s.material.empty() ? std::nullopt : setting_for(book, s.material, s.tool);
  if (!t || (s.looks.empty() && !kept)) {
    f.verdict = tr("○ Not tried yet");
    f.text =
        by_power()
            ? tr("See to the four points, then flash the beam from the least power upwards and look: is there a dot? "
                 "Each flash goes out by itself. Nothing is ever switched on above the most that Build allows.")
            : tr("Say between which levels the gauge can be set, then make a short cut, lift it and look: did it go "
                 "through over its whole length, and is what lies below marked? Each look tells where to try next.");
    return f;
  }
  const auto one = [](double v) { return QString::number(v, 'f', 1); };
  if (s.looks.empty() && kept && kept->low) {
    f.figure = kept->high ? tr("%1 to %2").arg(one(*kept->low), one(*kept->high)) : tr("from %1").arg(one(*kept->low));
    f.spread = tr("in the book, looks: %1").arg(kept->looks.value_or(0));
    if (kept->set) f.verdict = tr("● Set %1").arg(level_text(*kept->set));
    f.text = tr("Look again when the blade is another, the material of another make, or the cut fails.");
    return f;
  }
  QStringList words;
  if (t->low && t->high && *t->low < *t->high)
    f.figure = tr("%1 to %2").arg(one(*t->low), one(*t->high));
  else if (t->low)
    f.figure = tr("from %1").arg(one(*t->low));
  if (t->low)
    f.spread = by_power()                        ? tr("shows a dot")
               : t->through && t->through->sigma ? tr("cuts through 99 times of 100, spares what lies below")
                                                 : tr("cuts through in every look so far");
  switch (t->verdict) {
    case TrialVerdict::nothing:
      f.verdict = tr("○ Not told yet");
      break;
    case TrialVerdict::from:
      f.verdict = t->set ? tr("● Set %1 or more").arg(level_text(*t->set)) : QString();
      if (!by_power()) words << tr("Look below the cut as well: it tells how far up you may go.");
      break;
    case TrialVerdict::room:
      f.verdict = t->set ? tr("● Set %1. There is room on both sides.").arg(level_text(*t->set)) : QString();
      break;
    case TrialVerdict::narrow:
      f.verdict = t->set ? tr("◐ Set %1. There is little room.").arg(level_text(*t->set)) : QString();
      words << tr(
          "The room is less than what is not known of its ends: more looks tell it better, a fresh blade makes "
          "it wider.");
      break;
    case TrialVerdict::no_room:
      f.verdict = tr("⊗ There is nothing to set between");
      words << tr(
          "It marks what lies below before it surely cuts through: a fresh blade, a thicker mat, two passes, or "
          "another blade.");
      break;
  }
  if (t->through && t->through->threshold)
    words << (by_power() ? tr("Shows a dot from %1 ±%2; looks: %3.") : tr("Cuts through from %1 ±%2; looks: %3."))
                 .arg(one(*t->through->threshold), one(t->through->U_threshold.value_or(0)))
                 .arg(s.looks.size());
  if (t->backing && t->backing->threshold)
    words << tr("Marks what lies below from %1 ±%2.")
                 .arg(one(*t->backing->threshold), one(t->backing->U_threshold.value_or(0)));
  if (t->through && !t->through->proven.empty() && !by_power()) {
    const auto& best =
        *std::min_element(t->through->proven.begin(), t->through->proven.end(),
                          [](const auto& a, const auto& b) { return a.failures_below < b.failures_below; });
    words << tr("A row of good cuts at %1 proves fewer than %2 failures of 100, not none: the curve tells more.")
                 .arg(level_text(best.level))
                 .arg(std::ceil(best.failures_below * 100), 0, 'f', 0);
  }
  f.can_keep = t->low.has_value() && !s.material.empty();
  if (t->low && s.material.empty()) words << tr("Name the material to keep it.");
  f.text = words.join("\n");
  return f;
}

}  // namespace ypsi::app
