#include "app/start/begin_card.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/drawing/machine_view.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/wrapped_row.h"
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
  if (instrument == magnifier) return BeginCard::tr("magnifier with a scale: hundredths, for widths of lines");
  return BeginCard::tr("digital scale: hundredths over the whole travel");
}

QString short_name(const std::string& instrument) {
  if (instrument == "ruler") return BeginCard::tr("ruler");
  if (instrument == "tape") return BeginCard::tr("tape");
  if (instrument == "caliper") return BeginCard::tr("caliper");
  if (instrument == "indicator") return BeginCard::tr("indicator");
  if (instrument == magnifier) return BeginCard::tr("magnifier");
  return BeginCard::tr("digital scale");
}

struct DriveChoice {
  QString words;
  std::optional<Transmission> drive;
};

/// What is usual for the kind, what nobody knows, and what is built most.
std::vector<DriveChoice> drive_choices() {
  std::vector<DriveChoice> all{{BeginCard::tr("as is usual for it"), {}}, {BeginCard::tr("I do not know"), {}}};
  for (const double lead : {2.0, 4.0, 5.0, 8.0, 10.0, 16.0})
    all.push_back({BeginCard::tr("screw, %1 mm a turn").arg(lead), Screw{lead}});
  for (const auto& [pitch, teeth] : {std::pair{2.0, 20.0}, {3.0, 20.0}, {5.0, 15.0}})
    all.push_back({BeginCard::tr("belt, %1 mm by %2 teeth").arg(pitch).arg(teeth), Belt{pitch, teeth}});
  all.push_back({BeginCard::tr("rack, module 1, %1 teeth").arg(20), Rack{1, 20}});
  return all;
}

std::optional<Transmission> chosen(const QComboBox* box) {
  return drive_choices()[static_cast<std::size_t>(std::max(0, box->currentIndex()))].drive;
}

}  // namespace

BeginCard::BeginCard(QWidget* parent) : QFrame(parent) {
  setObjectName("card");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(24, 14, 24, 14);
  column->setSpacing(5);
  column->addWidget(make_label("begin-title", "title", tr("A machine that has no book yet"), this));
  column->addWidget(
      make_label("begin-hint", "small", tr("Five questions, two minutes; all can be changed later."), this));
  int number = 0;
  const auto question = [&](const QString& words) {
    ++number;
    column->addSpacing(3);
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
    field->set_clearable(true);
    field->setToolTip(tr("Left empty, it is taken as usual for the kind"));
    field->setFixedWidth(92);
    connect(field, &LengthField::refused, this, &BeginCard::say);
    reach_[index(a)] = field;
    reach->addWidget(field);
  }
  reach->addStretch();

  question(tr("What drives it?"));
  auto* drives = row();
  const auto choice = [&](const char* object, const QString& word, const QString& spoken) {
    auto* label = make_label("word", "small", word, this);
    label->setWordWrap(false);
    drives->addWidget(label);
    auto* box = new QComboBox(this);
    box->setObjectName(object);
    box->setAccessibleName(spoken);
    for (const DriveChoice& each : drive_choices()) box->addItem(each.words);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);  // two stand in one row
    box->setMinimumContentsLength(14);
    connect(box, &QComboBox::currentIndexChanged, this, &BeginCard::show_steps);
    drives->addWidget(box, 1);
    return box;
  };
  drive_across_ = choice("new-drive-across", tr("X and Y"), tr("What drives X and Y"));
  drive_z_ = choice("new-drive-z", tr("Z"), tr("What drives Z"));
  drives_ = make_label("new-drives", "small", "", this);
  drives_->setContentsMargins(20, 0, 0, 0);
  column->addWidget(drives_);

  question(tr("What have you to measure with?"));
  auto* tools = new WrappedRow;
  row()->addLayout(tools, 1);
  for (const Instrument& i : usual_instruments()) {
    auto* box = new QCheckBox(short_name(i.name), this);
    box->setObjectName("new-" + to_q(i.name).replace(' ', '-'));
    box->setToolTip(worth_words(i.name));
    box->setProperty("instrument", to_q(i.name));
    instruments_.push_back(box);
    tools->addWidget(box);
  }

  question(tr("How do you reach it?"));
  auto* ways = row();
  way_ = new QComboBox(this);
  way_->setObjectName("new-way");
  way_->setAccessibleName(tr("How the machine is reached"));
  way_->addItem(tr("Not yet: type what was measured, connect later"));
  way_->addItem(tr("By a line to its controller: choose it next"));
  way_->addItem(tr("By hand: I work it at its own screen, and tell what that shows"));
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
    emit begun(static_cast<BeginWay>(way_->currentIndex()));
  });
  start_over();
}

void BeginCard::start_over() {
  name_->clear();
  for (QComboBox* box : {kind_, drive_across_, drive_z_, way_}) box->setCurrentIndex(0);
  for (QCheckBox* box : instruments_) {
    const QString name = box->property("instrument").toString();
    box->setChecked(name == "ruler" || name == "tape" || name == "caliper");
  }
  say({});
  choose_kind();
}

void BeginCard::choose_kind() {
  const MachineKind& kind = machine_kind(kind_->currentData().toString().toStdString());
  for (const Axis a : all_axes) reach_[index(a)]->show_value(kind.usual.axis(a).travel);
  show_steps();
}

/// What the drives give, and what that is worth.
void BeginCard::show_steps() {
  FirstAnswers said = answers();
  said.name = std::string("?");
  const auto book = first_book(said);
  if (!book) return;
  QStringList steps;
  for (const Axis a : all_axes)
    steps << QString("%1 %2").arg(QChar(letter(a))).arg(book->machine.axis(a).steps_per_mm, 0, 'g', 5);
  drives_->setText(
      tr("That makes %1 steps per mm, to begin with: Steps per unit measures what it really does. Gears and "
         "microsteps are said under Build.")
          .arg(steps.join(", ")));
}

FirstAnswers BeginCard::answers() const {
  FirstAnswers said;
  said.kind = kind_->currentData().toString().toStdString();
  said.name = name_->text().trimmed().toStdString();
  for (const QCheckBox* box : instruments_)
    if (box->isChecked()) said.instruments.push_back(box->property("instrument").toString().toStdString());
  said.drives = {chosen(drive_across_), chosen(drive_across_), chosen(drive_z_)};
  return said;
}

Result<Book> BeginCard::book() const {
  FirstAnswers said = answers();
  for (const Axis a : all_axes) {
    const auto mm = reach_[index(a)]->value();
    if (!mm) continue;  // nobody knows: as is usual
    if (!(*mm >= shortest_reach_mm && *mm <= longest_reach_mm))
      return fail("out_of_range",
                  tr("%1 reaches from 10 mm to 20 m; say about how far.").arg(QChar(letter(a))).toStdString(), "reach");
    said.reach[index(a)] = *mm;
  }
  return first_book(said);
}

void BeginCard::say(const QString& sentence) {
  problem_->setText(sentence);
}

}  // namespace ypsi::app
