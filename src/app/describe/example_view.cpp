#include "app/describe/example_view.h"

#include <QLabel>
#include <algorithm>

#include "app/describe/part_words.h"
#include "app/sheets/sheet.h"
#include "app/theme/theme.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr int in_a_row = 4;
}

ExampleView::ExampleView(QWidget* parent) : QWidget(parent), grid_(new QGridLayout(this)) {
  setObjectName("describe-example");
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setHorizontalSpacing(6);
  grid_->setVerticalSpacing(4);
  for (int column = 0; column < in_a_row; ++column) grid_->setColumnStretch(column, 1);
}

void ExampleView::show_example(const Example& example, const std::vector<std::string>& groups) {
  for (QWidget* each : findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) delete each;
  choices_.clear();
  line_ = example.line;
  setVisible(!line_.empty());
  if (line_.empty()) return;
  const auto text = [this](const std::string& bytes) {
    auto* label =
        make_label("describe-example-text", "strong", to_q(link::LoggedLine{0, true, bytes}.readable()), this);
    label->setFont(mono_font(13, true));
    label->setTextFormat(Qt::PlainText);
    return label;
  };
  const auto tokens = link::tokens_of(line_);
  auto* whole = text(line_);
  whole->setWordWrap(true);
  grid_->addWidget(whole, 0, 0, 1, in_a_row);
  if (groups.empty()) return;
  for (std::size_t i = 0; i < tokens.size(); ++i) {
    const link::Token& token = tokens[i];
    const int column = static_cast<int>(i) % in_a_row, row = 1 + 2 * (static_cast<int>(i) / in_a_row);
    auto* word = text(line_.substr(token.begin, token.end - token.begin));
    word->setWordWrap(false);
    grid_->addWidget(word, row, column);
    auto* means = new QComboBox(this);
    means->setObjectName(QStringLiteral("describe-means-%1").arg(i));
    means->setAccessibleName(tr("What “%1” means").arg(word->text()));
    means->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    means->setMinimumContentsLength(6);
    means->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    means->addItem(tr("—"), QString());
    for (const std::string& group : groups) means->addItem(group_words(group), to_q(group));
    const auto mark =
        std::find_if(example.marks.begin(), example.marks.end(), [&](const auto& m) { return m.token == token; });
    if (mark != example.marks.end()) means->setCurrentIndex(std::max(0, means->findData(to_q(mark->group))));
    connect(means, &QComboBox::activated, this, [this] { emit meant(); });
    grid_->addWidget(means, row + 1, column);
    choices_.push_back({token, means});
  }
}

Example ExampleView::example() const {
  Example now{line_, {}};
  for (const Choice& each : choices_)
    if (const QString group = each.means->currentData().toString(); !group.isEmpty())
      now.marks.push_back({each.token, group.toStdString()});
  return now;
}

}  // namespace ypsi::app
