#include "app/start/begin_card.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/drawing/machine_view.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "core/book/first_book.h"
#include "core/book/machine_kinds.h"

namespace ypsi::app {
namespace {

constexpr double shortest_reach_mm = 10, longest_reach_mm = 20000;

QString worth_words(const std::string& instrument) {
  if (instrument == "ruler") return BeginCard::tr("steel ruler: half millimetres, for every length");
  if (instrument == "tape") return BeginCard::tr("tape: millimetres, for what no ruler spans");
  if (instrument == "caliper") return BeginCard::tr("caliper: hundredths, for parts and short moves");
  if (instrument == "indicator") return BeginCard::tr("dial indicator: hundredths, for lost motion and what leans");
  return BeginCard::tr("digital scale: hundredths over the whole travel");
}

QString short_name(const std::string& instrument) {
  if (instrument == "ruler") return BeginCard::tr("ruler");
  if (instrument == "tape") return BeginCard::tr("tape");
  if (instrument == "caliper") return BeginCard::tr("caliper");
  if (instrument == "indicator") return BeginCard::tr("indicator");
  return BeginCard::tr("digital scale");
}

}  // namespace

BeginCard::BeginCard(QWidget* parent) : QFrame(parent) {
  setObjectName("card");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(24, 18, 24, 20);
  column->setSpacing(6);
  column->addWidget(make_label("begin-title", "title", tr("A machine that has no book yet"), this));
  column->addWidget(
      make_label("begin-hint", "small", tr("Five questions, two minutes; all can be changed later."), this));
  int number = 0;
  const auto question = [&](const QString& words) {
    ++number;
    column->addSpacing(6);
    column->addWidget(
        make_label(QString("question-%1").arg(number), "strong", QString("%1   %2").arg(number).arg(words), this));
  };
  const auto row = [&] {
    auto* line = new QHBoxLayout;
    line->setContentsMargins(20, 0, 0, 0);
    column->addLayout(line);
    return line;
  };
  question(tr("What is it called, and what kind is it?"));
  auto* what = row();
  name_ = new QLineEdit(this);
  name_->setObjectName("new-name");
  name_->setAccessibleName(tr("The machine's name"));
  name_->setPlaceholderText(tr("its name"));
  name_->setFixedHeight(28);
  what->addWidget(name_, 1);
  kind_ = new QComboBox(this);
  kind_->setObjectName("new-kind");
  kind_->setAccessibleName(tr("Kind of machine"));
  for (const auto& k : machine_kinds()) kind_->addItem(kind_words(k.id), QString(k.id));
  what->addWidget(kind_, 1);

  question(tr("How far does it reach, to the centimetre?"));
  auto* reach = row();
  for (const Axis a : all_axes) {
    const QChar axis(letter(a));
    reach->addWidget(make_label("word", "small", axis, this));
    auto* field = new LengthField(QString("new-reach-%1").arg(axis.toLower()), tr("Travel of %1").arg(axis), this);
    field->set_decimals(0);
    field->setFixedWidth(92);
    connect(field, &LengthField::refused, this, &BeginCard::say);
    reach_[index(a)] = field;
    reach->addWidget(field);
  }
  reach->addStretch();

  question(tr("What drives it?"));
  drives_ = make_label("new-drives", "small", "", this);
  drives_->setContentsMargins(20, 0, 0, 0);
  column->addWidget(drives_);

  question(tr("What have you to measure with?"));
  auto* tools = row();
  for (const Instrument& i : usual_instruments()) {
    auto* box = new QCheckBox(short_name(i.name), this);
    box->setObjectName("new-" + to_q(i.name).replace(' ', '-'));
    box->setToolTip(worth_words(i.name));
    box->setProperty("instrument", to_q(i.name));
    box->setChecked(i.name == "ruler" || i.name == "tape" || i.name == "caliper");
    instruments_.push_back(box);
    tools->addWidget(box);
  }
  tools->addStretch();

  question(tr("How do you reach it?"));
  auto* ways = row();
  way_ = new QComboBox(this);
  way_->setObjectName("new-way");
  way_->setAccessibleName(tr("How the machine is reached"));
  way_->addItem(tr("Not yet: type what was measured, connect later"));
  way_->addItem(tr("By a line to its controller: choose it next"));
  ways->addWidget(way_, 1);

  column->addStretch();
  problem_ = make_label("begin-problem", "attention", "", this);
  column->addWidget(problem_);
  auto* begin =
      make_button("begin-book", tr("Begin its book"), tr("Makes the book and opens it (Ctrl+Return)"), this, true);
  begin->setShortcut(QKeySequence("Ctrl+Return"));
  column->addWidget(begin);
  connect(kind_, &QComboBox::currentIndexChanged, this, &BeginCard::choose_kind);
  connect(begin, &QPushButton::clicked, this, [this, begin] {
    begin->setFocus();  // what is being typed is an answer too
    emit begun(way_->currentIndex() == 1);
  });
  choose_kind();
}

void BeginCard::choose_kind() {
  const MachineKind& kind = machine_kind(kind_->currentData().toString().toStdString());
  QStringList steps;
  for (const Axis a : all_axes) {
    const AxisSetup& axis = kind.usual.axis(a);
    reach_[index(a)]->show_value(axis.travel);
    steps << QString("%1 %2").arg(QChar(letter(a))).arg(axis.steps_per_mm, 0, 'g', 5);
  }
  drives_->setText(
      tr("Taken as usual for this kind: %1 steps per mm. Say otherwise under Build, or leave it: Steps per "
         "unit measures what it really does.")
          .arg(steps.join(", ")));
}

Result<Book> BeginCard::book() const {
  FirstAnswers answers;
  answers.kind = kind_->currentData().toString().toStdString();
  answers.name = name_->text().trimmed().toStdString();
  for (const QCheckBox* box : instruments_)
    if (box->isChecked()) answers.instruments.push_back(box->property("instrument").toString().toStdString());
  for (const Axis a : all_axes) {
    const auto mm = reach_[index(a)]->value();
    if (!mm || !(*mm >= shortest_reach_mm && *mm <= longest_reach_mm))
      return fail("out_of_range",
                  tr("%1 reaches from 10 mm to 20 m; say about how far.").arg(QChar(letter(a))).toStdString(), "reach");
    answers.reach[index(a)] = *mm;
  }
  return first_book(answers);
}

void BeginCard::say(const QString& sentence) {
  problem_->setText(sentence);
}

}  // namespace ypsi::app
