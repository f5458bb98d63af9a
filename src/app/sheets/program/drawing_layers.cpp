// The layers of the drawing's page: the table, what is typed in it, and what more is said of one.
#include <QComboBox>
#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/program/drawing_page.h"
#include "app/sheets/program/layer_more.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "core/program/own_blocks.h"

namespace ypsi::app {
namespace {

QString act_words(DrawnAct act) {
  switch (act) {
    case DrawnAct::leave_out:
      return QWidget::tr("left out");
    case DrawnAct::on_line:
      return QWidget::tr("cut on the line");
    case DrawnAct::outside:
      return QWidget::tr("cut outside it");
    case DrawnAct::inside:
      return QWidget::tr("cut inside it");
    case DrawnAct::engrave:
      return QWidget::tr("engraved");
    case DrawnAct::mark:
      return QWidget::tr("marked");
    case DrawnAct::crease:
      return QWidget::tr("creased");
    case DrawnAct::hatch:
      return QWidget::tr("hatched");
  }
  return {};
}

}  // namespace

void DrawingPage::take_row(int row) {
  if (!drawing_ || row < 0 || static_cast<std::size_t>(row) >= drawing_->drawing.layers.size()) return;
  LayerAct act = act_of(drawing_->drawing.layers[static_cast<std::size_t>(row)].name);
  QString why;
  const auto number = [&](int column, double usual) {
    const auto* item = layers_->item(row, column);
    const std::string text = item ? item->text().trimmed().toStdString() : std::string();
    if (text.empty()) return usual;
    const auto value = parse_number(text);
    if (!value) why = to_q(value.error().message);
    if (value && !(*value >= 0)) why = tr("It must not be below zero.");
    return value.value_or(usual);
  };
  if (const auto* what = qobject_cast<QComboBox*>(layers_->cellWidget(row, layer_act)))
    act.act = drawn_acts[static_cast<std::size_t>(std::max(0, what->currentIndex()))].first;
  if (const auto* with = qobject_cast<QComboBox*>(layers_->cellWidget(row, layer_with))) {
    const QVariant chosen = with->currentData();
    act.tool = chosen.typeId() == QMetaType::Int ? chosen.toInt() : 0;
    act.head = act.tool == 0 ? chosen.toString().toStdString() : "";
  }
  for (const auto& [column, into] : {std::pair{layer_depth, &act.depth_mm}, {layer_over, &act.overcut_mm}}) {
    const auto* cell = layers_->item(row, column);
    if (!cell) continue;
    const auto mm = length_in(*cell, session_);
    if (!mm) return refresh();
    *into = mm->value_or(0);
    if (*into < 0) why = tr("It must not be below zero.");
  }
  act.passes = static_cast<int>(std::clamp(number(layer_passes, 1), 1.0, 1000.0));
  act.feed_mm_min = number(layer_feed, 0);
  const double level = number(layer_level, 0);
  act.level = layers_->item(row, layer_level) && !layers_->item(row, layer_level)->text().trimmed().isEmpty()
                  ? std::optional(level)
                  : std::nullopt;
  if (!why.isEmpty()) {
    session_.notices().notify({NoticeLevel::attention, tr("%1 It was left as it is.").arg(why), {}});
    return refresh();
  }
  if (act != act_of(act.layer)) say(act);
}

void DrawingPage::say(const LayerAct& act) {
  change(tr("Say what is done with a layer"), [&](DrawingJob& j) {
    std::erase_if(j.acts, [&](const LayerAct& a) { return a.layer == act.layer; });
    j.acts.push_back(act);
  });
}

/// The row that is chosen; with no choice the first that more can be said of.
void DrawingPage::show_more() {
  std::optional<LayerAct> shown;
  bool by_z = true;
  if (drawing_) {
    const auto& layers = drawing_->drawing.layers;
    const auto of = [&](std::size_t i) { return act_of(layers[i].name); };
    const auto chosen = static_cast<std::size_t>(layers_->currentRow());
    if (layers_->currentRow() >= 0 && chosen < layers.size())
      shown = of(chosen);
    else
      for (std::size_t i = 0; i < layers.size() && !shown; ++i)
        if (const DrawnAct act = of(i).act; act != DrawnAct::leave_out && act != DrawnAct::mark) shown = of(i);
    const auto& heads = session_.editor().book().machine.heads;
    if (shown)
      if (const auto head = head_of(session_.editor().book(), *shown); head && *head < heads.size())
        by_z = heads[*head].lower.empty() && heads[*head].kind != HeadKind::beam;
  }
  more_->show_act(shown, by_z);
}

void DrawingPage::show_layers() {
  showing_ = true;
  const Book& book = session_.editor().book();
  const std::size_t n = drawing_ ? drawing_->drawing.layers.size() : 0;
  const auto sums = drawing_ ? layer_sums(drawing_->drawing) : std::vector<LayerSum>{};
  layers_->setRowCount(static_cast<int>(n));
  for (std::size_t i = 0; i < n; ++i) {
    const int row = static_cast<int>(i);
    const LayerAct act = act_of(sums[i].name);
    const auto set = [&](int column, const QString& text, bool typed) {
      auto* item = new QTableWidgetItem(text);
      if (!typed) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
      layers_->setItem(row, column, item);
    };
    const QString counted = sums[i].open == 0     ? tr("%1 closed").arg(sums[i].closed)
                            : sums[i].closed == 0 ? tr("%1 open").arg(sums[i].open)
                                                  : tr("%1 closed, %2 open").arg(sums[i].closed).arg(sums[i].open);
    set(layer_name, tr("%1: %2").arg(to_q(sums[i].name), counted), false);
    layers_->item(row, layer_name)
        ->setToolTip((layers_->item(row, layer_name)->text() + " " + to_q(sums[i].colour)).trimmed());
    const auto length_or_none = [&](double mm) {
      return mm > 0 ? to_q(format_length(mm, session_.editor().unit(), 2)) : QString();
    };
    set(layer_depth, length_or_none(act.depth_mm), true);
    set(layer_over, length_or_none(act.overcut_mm), true);
    set(layer_passes, act.passes > 1 ? QString::number(act.passes) : QString(), true);
    set(layer_feed, number_or_blank(act.feed_mm_min), true);
    set(layer_level, act.level ? QString::number(*act.level, 'g', 6) : QString(), true);
    auto* what = qobject_cast<QComboBox*>(layers_->cellWidget(row, layer_act));
    if (!what) {
      what = new QComboBox(layers_);
      what->setObjectName(QString("layer-act-%1").arg(row + 1));
      what->setAccessibleName(tr("What is done with layer %1").arg(row + 1));
      for (const auto& [each, word] : drawn_acts) what->addItem(act_words(each));
      connect(what, &QComboBox::activated, this, [this, row] { take_row(row); });
      layers_->setCellWidget(row, layer_act, what);
    }
    what->setCurrentIndex(static_cast<int>(act.act));
    auto* with = qobject_cast<QComboBox*>(layers_->cellWidget(row, layer_with));
    if (!with) {
      with = new QComboBox(layers_);
      with->setObjectName(QString("layer-with-%1").arg(row + 1));
      with->setAccessibleName(tr("What layer %1 is made with").arg(row + 1));
      connect(with, &QComboBox::activated, this, [this, row] { take_row(row); });
      layers_->setCellWidget(row, layer_with, with);
    }
    with->clear();
    for (const Head& h : book.machine.heads)
      if (cuts(h.kind)) with->addItem(to_q(h.name), to_q(h.name));
    if (book.machine.heads.empty()) with->addItem(tr("the spindle"), QString());
    for (const Tool& t : book.tools)
      with->addItem(t.name.empty() ? tr("T%1").arg(t.number) : tr("T%1 %2").arg(t.number).arg(to_q(t.name)), t.number);
    const int at = act.tool > 0 ? with->findData(act.tool) : with->findData(to_q(act.head));
    with->setCurrentIndex(std::max(0, at));
    for (QComboBox* box : {what, with}) box->setEnabled(!session_.editor().read_only());
  }
  showing_ = false;
  const auto& heads = book.machine.heads;
  // At a machine whose heads are all lowered by blocks of their own nobody says how deep.
  layers_->setColumnHidden(layer_depth, !heads.empty() && std::none_of(heads.begin(), heads.end(), [](const Head& h) {
                             return cuts(h.kind) && h.lower.empty();
                           }));
  layers_->setColumnHidden(layer_level, std::none_of(heads.begin(), heads.end(), [](const Head& h) {
                             return says_level(h, HeadAct::on) || says_level(h, HeadAct::lower);
                           }));
  // As high as it must be, up to four layers.
  constexpr int row_px = 28, around_px = 40, most_rows = 4, fewest_rows = 2;
  const int rows = std::clamp(static_cast<int>(n), 1, most_rows);
  layers_->setMaximumHeight(around_px + row_px * rows);
  layers_->setMinimumHeight(around_px + row_px * std::min(rows, fewest_rows));  // a low window scrolls it
}

}  // namespace ypsi::app
