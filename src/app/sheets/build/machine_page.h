#pragma once
#include <QCheckBox>
#include <QComboBox>

#include "app/sheets/build/build_draft.h"
#include "app/widgets/field.h"

namespace ypsi::app {

/// What the machine is as a whole: its kind, its name, and the owner's usual part.
class MachinePage : public BuildPage {
  Q_OBJECT
 public:
  explicit MachinePage(BuildDraft& draft);
  void refresh() override;

 private:
  void choose_kind(const QString& id);
  QComboBox* kinds_;
  QLineEdit *name_, *workshop_, *description_;
  LengthField *width_, *height_, *tolerance_, *safe_height_, *bed_skin_;
  QCheckBox *probe_, *stop_, *tool_words_;
  QLineEdit* stops_;
};

}  // namespace ypsi::app
