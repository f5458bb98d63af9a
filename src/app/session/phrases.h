#pragma once
// What core tells by codes and arguments, in words.
#include <QString>

#include "core/book/heads.h"
#include "core/tasks/budget.h"
#include "core/tasks/homing_way.h"
#include "core/tasks/said.h"
#include "core/tasks/task.h"
#include "core/units/length.h"

namespace ypsi::app {

/// A code without a phrase here is told by its arguments alone.
QString say(const Said& said, LengthUnit unit);
QString say(const Words& words, LengthUnit unit);

/// "Steps per unit X"
QString part_name(const BudgetPart& part);
QString title_of(const Task& task);
/// As it is called at this machine: "Stock and drawing".
QString title_of(const Task& task, const MachineSetup& at);
QString title_of(TaskGroup group);

/// What a kind of head is called: "drag knife".
QString head_words(HeadKind kind);
/// "Z up, then X to its − end, then Y to its − end"
QString way_in_words(const std::vector<HomingLeg>& way);
/// "the stock, clamp 1, clamp left"
QString laid_in_words(const LaidOut& laid);
/// "3.2", "400": three decimals at most, and no zeros at their end.
QString as_short(double value);
/// "+75.12", in the screen's unit without its name.
QString signed_length(double mm, LengthUnit unit);

}  // namespace ypsi::app
