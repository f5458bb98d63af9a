#include "app/sheets/work_zero/centre_page.h"

#include <QButtonGroup>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "core/metrology/spread.h"

namespace ypsi::app {

/// Where the tool's centre stood at each touch, and the middle that follows.
class CentreDrawing : public QWidget {
 public:
  explicit CentreDrawing(QWidget* parent) : QWidget(parent) {
    setObjectName("centre-drawing");
    setAccessibleName(CentrePage::tr("The touches and the middle between them"));
    setMinimumHeight(200);
  }
  struct Dot {
    QPointF at;
    QPointF way;
  };
  void show(int shape, std::vector<Dot> dots, std::optional<double> x, std::optional<double> y) {
    shape_ = shape;
    dots_ = std::move(dots);
    x_ = x;
    y_ = y;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    Draft draft(painter);
    draft.text({8, 16}, CentrePage::tr("Plan, seen from the front"), theme().second_ink, 11);
    const QPointF c = QRectF(rect()).center();
    const double r = std::min(width(), height()) * 0.3;
    painter.setPen(QPen(theme().ink, 1.6));
    painter.setBrush(shape_ == 1 ? theme().paper : theme().stock);
    if (shape_ == 0)
      painter.drawRect(QRectF(c.x() - r * 1.3, c.y() - r * 0.8, r * 2.6, r * 1.6));
    else
      painter.drawEllipse(c, r, r);
    painter.setBrush(Qt::NoBrush);
    const double w = shape_ == 0 ? r * 1.3 : r, h = shape_ == 0 ? r * 0.8 : r, gap = shape_ == 1 ? -14 : 14;
    for (const auto& dot : dots_) {
      // From outside onto an edge or a boss, from inside onto a hole.
      const QPointF side = shape_ == 1 ? dot.way : -dot.way;
      const QPointF p = c + QPointF(side.x() * (w + gap), -side.y() * (h + gap));
      painter.setPen(QPen(theme().ink, 1.4));
      painter.setBrush(theme().teal);
      painter.drawEllipse(p, 7, 7);
      painter.setBrush(Qt::NoBrush);
    }
    if (x_) draft.line({c.x(), c.y() - h - 30}, {c.x(), c.y() + h + 30}, theme().red, 1.4, Qt::DashLine);
    if (y_) draft.line({c.x() - w - 30, c.y()}, {c.x() + w + 30, c.y()}, theme().red, 1.4, Qt::DashLine);
    if (x_ && y_) draft.zero(c);
  }

 private:
  int shape_ = 0;
  std::vector<Dot> dots_;
  std::optional<double> x_, y_;
};

CentrePage::CentrePage(Session& session) : TouchingPage(session) {
  auto* inside = make_card_page(this);
  auto* card = inside->parentWidget();
  drawing_ = new CentreDrawing(card);
  inside->addWidget(drawing_, 1);
  result_ = make_label("centre-result", "strong", "", card);
  words_ = make_label("centre-words", "task", "", card);
  inside->addWidget(result_);
  inside->addWidget(words_);
  PageFoot foot(inside, card);
  auto *shapes = foot.settings(), *acts = foot.acts();
  const std::pair<const char*, QString> names[] = {
      {"centre-edges", tr("Between edges")}, {"centre-hole", tr("Hole")}, {"centre-boss", tr("Boss")}};
  auto* one_of = new QButtonGroup(this);  // the sheet's own chips are another group
  for (int i = 0; i < 3; ++i) {
    chips_[i] = make_chip(names[i].first, names[i].second, tr("What is touched"), card, one_of);
    connect(chips_[i], &QPushButton::clicked, this, [this, i] { choose(static_cast<Shape>(i)); });
    shapes->addWidget(chips_[i]);
  }
  chips_[0]->setChecked(true);
  again_ = make_button("centre-again", tr("Begin again"), tr("Forgets the touches"), card);
  const struct {
    const char* name;
    QString text, tip;
    Axis axis;
    bool plus;
  } touches[] = {{"touch-right", tr("Touch →"), tr("To the right (X+)"), Axis::x, true},
                 {"touch-left", tr("Touch ←"), tr("To the left (X−)"), Axis::x, false},
                 {"touch-away", tr("Touch ↑"), tr("Away from you (Y+)"), Axis::y, true},
                 {"touch-near", tr("Touch ↓"), tr("Towards you (Y−)"), Axis::y, false}};
  for (int i = 0; i < 4; ++i) {
    ways_[i] = make_button(touches[i].name, touches[i].text, touches[i].tip, card);
    connect(ways_[i], &QPushButton::clicked, this, [this, t = touches[i]] { touch(t.axis, t.plus); });
    acts->addWidget(ways_[i]);
  }
  set_ = make_button("set-zero-centre", tr("Set zero there"),
                     tr("Work zero of X, of Y, or both, as far as they are told"), card, true);
  number_acts({ways_[0], ways_[1], ways_[2], ways_[3], set_});
  for (QPushButton* b : {set_, again_}) acts->addWidget(b);
  hint_ = foot.hint("centre-hint");
  connect(again_, &QPushButton::clicked, this, [this] { choose(shape_); });
  connect(set_, &QPushButton::clicked, this, &CentrePage::set_zero);
}

QString CentrePage::len(double mm, int decimals) const {
  return session_.editor().length(mm, decimals);
}

void CentrePage::choose(Shape shape) {
  shape_ = shape;
  places_.clear();
  refresh();
}

void CentrePage::touched(const Touched& place) {
  places_.push_back(place);
  refresh();
}

CentrePage::Middle CentrePage::middle() const {
  Middle m;
  if (shape_ == Shape::edges) {
    // The newest touch of each of two opposite edges; the tool's radius falls out of their middle.
    for (const Axis a : {Axis::x, Axis::y}) {
      std::optional<double> plus, minus;
      for (const auto& p : places_)
        if (p.axis == a) (p.towards_plus ? plus : minus) = mean(p.across);
      if (!plus || !minus) continue;
      (a == Axis::x ? m.x : m.y) = centre_of_edges(*plus, *minus);
      m.words += tr("Between the touches along %1: %2. ").arg(QChar(letter(a))).arg(len(std::fabs(*plus - *minus), 3));
    }
    return m;
  }
  std::vector<Point2> points;
  for (const auto& p : places_)
    points.push_back(p.axis == Axis::x ? Point2{mean(p.across), p.at.y} : Point2{p.at.x, mean(p.across)});
  if (points.size() < 3) return m;
  const Tool* tool = session_.editor().book().tool(session_.machine().status().tool);
  const auto circle = fit_circle(points, tool ? tool->diameter : 0, shape_ == Shape::hole);
  if (!circle) {
    m.words = to_q(circle.error().message);
    return m;
  }
  m.x = circle->center.x;
  m.y = circle->center.y;
  m.words = tr("Diameter %1%2, the touches lie within %3 of it (root mean square).")
                .arg(len(circle->diameter, 3), tool && tool->diameter > 0 ? QString() : tr(" without the tool's"),
                     len(circle->rms, 3));
  return m;
}

void CentrePage::set_zero() {
  const Middle m = middle();
  std::vector<std::pair<Axis, double>> zeros;
  if (m.x) zeros.emplace_back(Axis::x, *m.x);
  if (m.y) zeros.emplace_back(Axis::y, *m.y);
  RecordJson readings = RecordJson::from_text("[]");
  for (const auto& p : places_)
    for (const double t : p.across)
      readings.push_back(
          {{"axis", std::string(1, letter(p.axis))}, {"towards", p.towards_plus ? "+" : "-"}, {"trigger_mm", t}});
  if (!zeros.empty() && session_.machine().set_work_zero_at(zeros, readings, "probe"))
    session_.notices().notify({NoticeLevel::good, tr("Work zero is in the middle; Z is as it was."), {}});
}

void CentrePage::refresh() {
  const Middle m = middle();
  std::vector<CentreDrawing::Dot> dots;
  for (const auto& p : places_) {
    const double way = p.towards_plus ? 1 : -1;
    dots.push_back({{p.at.x, p.at.y}, p.axis == Axis::x ? QPointF(way, 0) : QPointF(0, way)});
  }
  drawing_->show(static_cast<int>(shape_), std::move(dots), m.x, m.y);
  QStringList where;
  if (m.x) where << tr("X %1").arg(to_q(format_length(*m.x, session_.editor().unit(), 3)));
  if (m.y) where << tr("Y %1").arg(to_q(format_length(*m.y, session_.editor().unit(), 3)));
  result_->setText(where.isEmpty() ? shape_ == Shape::edges ? tr("Touch two opposite edges, of one axis or of both")
                                                            : tr("Touch it at three places or four")
                                   : tr("The middle is at %1, machine").arg(where.join("  ")));
  words_->setText(
      m.words.isEmpty()
          ? shape_ == Shape::hole
                ? tr("Bring the tool into the hole, below its rim; it touches from inside.")
                : tr("Bring the tool beside it and below its top, less than 10 mm away; lift it over to the next side.")
          : m.words);
  refresh_status();
}

void CentrePage::refresh_status() {
  set_text(hint_, asked(tr("● The circuit works. Choose the way it touches from where it stands.")));
  for (auto* b : ways_) b->setEnabled(can_touch());
  again_->setEnabled(!places_.empty() && !touching());
  const Middle m = middle();
  set_->setEnabled((m.x || m.y) && session_.machine().standing_ready() && !touching());
}

}  // namespace ypsi::app
