#include "cli/ypsilo.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <array>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <iterator>

#include "cli/book_check.h"
#include "cli/book_new.h"
#include "cli/calc.h"
#include "cli/check_command.h"
#include "cli/controller_check.h"
#include "cli/coupon_command.h"
#include "cli/drawing_command.h"
#include "cli/rehearse_command.h"
#include "core/book/book_json.h"
#include "link/lines/controller_description.h"

namespace ypsi::cli {
namespace {

int print_error(const Error& error) {
  std::cout << error_json(error).dump(1, ' ', false, nlohmann::json::error_handler_t::replace) << "\n";
  return 2;
}

Result<std::string> read_input(const std::string& path) {
  if (path.empty()) return std::string(std::istreambuf_iterator<char>(std::cin), {});
  std::ifstream file(path, std::ios::binary);
  if (!file)
    return fail("unreadable", fmt::format("The file “{}” cannot be opened; check its name and permissions.", path),
                "--in");
  std::string text;
  if (std::error_code none; std::filesystem::is_regular_file(path, none))
    text.reserve(std::filesystem::file_size(path, none) + 1);
  std::array<char, 1 << 16> part;
  for (std::streamsize n = -1; n != 0; text.append(part.data(), static_cast<std::size_t>(n)))
    n = file.read(part.data(), part.size()).gcount();
  return text;
}

const Calculation* find_calculation(const std::string& name) {
  for (const auto& c : calculations())
    if (name == c.name) return &c;
  return nullptr;
}

int calc(const std::string& name, const std::string& path) {
  const auto* calculation = find_calculation(name);
  if (!calculation)
    return print_error(
        {"unknown_calculation", fmt::format("There is no calculation “{}”; `ypsilo help` lists them.", name), "NAME"});
  const auto text = read_input(path);
  if (!text) return print_error(text.error());
  const auto out = calculate(*calculation, *text);
  if (!out) return print_error(out.error());
  std::cout << out->dump(1, ' ', false, nlohmann::json::error_handler_t::replace) << "\n";
  return 0;
}

int help(const CLI::App& app, const std::string& name) {
  if (name.empty()) {
    std::cout << app.help() << "\nCalculations (ypsilo calc NAME, JSON in and out):\n";
    for (const auto& c : calculations()) std::cout << fmt::format("  {:<12} {}\n", c.name, c.what);
    std::cout << "\n`ypsilo help NAME` shows an example that runs.\n";
    return 0;
  }
  const auto* c = find_calculation(name);
  if (!c)
    return print_error(
        {"unknown_calculation", fmt::format("There is no calculation “{}”; `ypsilo help` lists them.", name), "NAME"});
  std::cout << fmt::format("{}: {}\n\n  echo '{}' | ypsilo calc {}\n", c->name, c->what, c->example, c->name);
  return 0;
}

/// Says where it cannot be written.
bool write_to(const std::string& to, const std::string& text) {
  std::ofstream file(to, std::ios::binary);
  if (file << text && file.flush()) return true;
  print_error(
      {"not_written", fmt::format("“{}” cannot be written; check the folder and the room on the disk.", to), "-o"});
  return false;
}

int write_coupon(const std::string& kind, const std::string& book_file, int tool, const std::string& material,
                 const std::string& to) {
  const auto book = read_input(book_file);
  if (!book) return print_error(book.error());
  const auto made = coupon(kind, *book, tool, material);
  if (!made) return print_error(made.error());
  if (!write_to(to, made->program)) return 2;
  std::cout << made->features << "\n";
  return 0;
}

int look_at_drawing(const std::string& file, const std::string& book_file, const std::string& acts_file,
                    std::optional<double> unit_mm, bool as_json, const std::string& to) {
  const auto drawn = read_input(file), book = read_input(book_file);
  if (!drawn || !book) return print_error(drawn ? book.error() : drawn.error());
  const std::string name = std::filesystem::path(file).filename().string();
  DrawingQuestion question{*drawn, *book, name, unit_mm, {}, as_json};
  std::string acts, program;
  if (!acts_file.empty()) {
    auto read = read_input(acts_file);
    if (!read) return print_error(read.error());
    acts = std::move(*read);
    question.acts = acts;
  }
  const int code = drawing(question, std::cout, to.empty() ? nullptr : &program);
  if (code == 2 || to.empty()) return code;
  return write_to(to, program) ? code : 2;
}

int print_rehearsal(const std::string& scenario_file, const std::string& book_file, bool by_part, bool as_json) {
  const auto scenario = read_input(scenario_file);
  if (!scenario) return print_error(scenario.error());
  std::string book;
  if (!book_file.empty()) {
    auto read = read_input(book_file);
    if (!read) return print_error(read.error());
    book = std::move(*read);
  }
  const auto report = rehearse(*scenario, book_file.empty() ? nullptr : &book, by_part);
  if (!report) return print_error(report.error());
  std::cout << (as_json ? report->json + "\n" : report->text);
  return report->completed ? 0 : 1;
}

}  // namespace

int ypsilo(int argc, char** argv) {
  CLI::App app{"ypsilo: calculations and checks of Ypsilograph, without a window", "ypsilo"};
  app.set_version_flag("--version", std::string("ypsilo ") + YPSI_VERSION);
  app.require_subcommand(1);
  std::string name, in, file, help_name;
  auto* calc_command = app.add_subcommand("calc", "one calculation: JSON in, JSON out");
  calc_command->add_option("NAME", name, "which calculation")->required();
  calc_command->add_option("--in", in, "read this file instead of standard input");
  auto* book_command = app.add_subcommand("book", "machine books");
  book_command->require_subcommand(1);
  auto* check_command = book_command->add_subcommand("check", "is this file a sound machine book?");
  check_command->add_option("FILE", file, "the book")->required();
  FirstAnswers answers;
  auto* new_command = book_command->add_subcommand("new", "the book that a machine begins with");
  new_command
      ->add_option("--kind", answers.kind, "moving_gantry, moving_bed, engraver, cutting_table or vertical_panel")
      ->required();
  new_command->add_option("--name", answers.name, "the machine's name")->required();
  new_command->add_option(
      "--instrument", answers.instruments,
      "what there is to measure with: ruler, tape, caliper, indicator, digital scale; the first three "
      "where it is not said");
  new_command->add_option("FILE", file, "where the book is to be; must not be there yet")->required();
  auto* schema_command = book_command->add_subcommand("schema", "the JSON Schema of a machine book");
  std::string program_file, book_file;
  bool as_json = false;
  auto* controller_command = app.add_subcommand("controller", "controllers that are described by a file");
  controller_command->require_subcommand(1);
  auto* controller_check_command =
      controller_command->add_subcommand("check", "is this description sound, and what goes over the line?");
  controller_check_command->add_option("FILE", file, "the description")->required();
  controller_check_command->add_flag("--json", as_json, "what it can do, as JSON");
  auto* controller_schema_command =
      controller_command->add_subcommand("schema", "the JSON Schema of a controller's description");
  auto* program_command = app.add_subcommand("check", "what stands against cutting a program on a machine");
  program_command->add_option("PROGRAM", program_file, "G-code")->required();
  program_command->add_option("--book", book_file, "the machine's book")->required();
  program_command->add_flag("--json", as_json, "findings as JSON");
  std::string kind, to, material = "wood";
  int tool = 0;
  auto* coupon_command = app.add_subcommand("coupon", "a test cut as G-code; prints what to measure on it");
  coupon_command->add_option("KIND", kind, "frame, depths, square, circle, lines, heads or plate")->required();
  coupon_command->add_option("--book", book_file, "the machine's book")->required();
  coupon_command->add_option("--tool", tool, "the tool's number");
  coupon_command->add_option("--material", material, "wood, plastic, foam, aluminium or brass");
  coupon_command->add_option("-o", to, "write the program here")->required();
  std::string drawing_file;
  double unit_mm = 0;
  auto* drawing_command = app.add_subcommand("drawing", "what is found in a drawing (DXF or SVG), layer by layer");
  drawing_command->add_option("FILE", drawing_file, "the drawing")->required();
  drawing_command->add_option("--book", book_file, "the machine's book")->required();
  auto* unit_option = drawing_command->add_option("--unit-mm", unit_mm, "what one of its units is, in mm");
  std::string acts_file;
  drawing_command->add_option("--acts", acts_file, "what is done with each layer, as JSON; else the book's");
  drawing_command->add_option("-o", to, "write the program here");
  drawing_command->add_flag("--json", as_json, "all that was found, as JSON");
  std::string scenario_file;
  auto* rehearse_command = app.add_subcommand("rehearse", "the whole order of work against the stand-in machine");
  rehearse_command->add_option("--scenario", scenario_file, "what the stand-in is like")->required();
  rehearse_command->add_option("--book", book_file, "the machine's book, as its owner has it");
  bool by_part = false;
  rehearse_command->add_flag("--by-part", by_part, "only what the owner's part needs, the largest cause first");
  rehearse_command->add_flag("--json", as_json, "all that was found, as JSON");
  auto* help_command = app.add_subcommand("help", "what there is, and an example of each calculation");
  help_command->add_option("NAME", help_name, "a calculation");
  try {
    app.parse(argc, argv);
    if (calc_command->parsed()) return calc(name, in);
    if (check_command->parsed()) {
      const auto text = read_input(file);
      return text ? check_book(*text, std::cout) : print_error(text.error());
    }
    if (new_command->parsed()) {
      if (answers.instruments.empty()) answers.instruments = {"ruler", "tape", "caliper"};
      return new_book(answers, file, std::cout);
    }
    if (schema_command->parsed()) {
      std::cout << book_schema();
      return 0;
    }
    if (controller_schema_command->parsed()) {
      std::cout << link::controller_schema();
      return 0;
    }
    if (controller_check_command->parsed()) {
      const auto text = read_input(file);
      return text ? check_controller(*text, as_json, std::cout) : print_error(text.error());
    }
    if (program_command->parsed()) {
      const auto program = read_input(program_file), book = read_input(book_file);
      if (!program || !book) return print_error(program ? book.error() : program.error());
      return check(*program, std::filesystem::path(program_file).stem().string(), *book, as_json, std::cout);
    }
    if (drawing_command->parsed())
      return look_at_drawing(drawing_file, book_file, acts_file, *unit_option ? std::optional(unit_mm) : std::nullopt,
                             as_json, to);
    if (rehearse_command->parsed()) return print_rehearsal(scenario_file, book_file, by_part, as_json);
    if (coupon_command->parsed()) return write_coupon(kind, book_file, tool, material, to);
    return help(app, help_name);
  } catch (const CLI::ParseError& e) {
    const int code = app.exit(e);
    return code == 0 ? 0 : 2;
  } catch (const std::exception& e) {
    return print_error({"failed", fmt::format("This could not be done: {}.", e.what()), ""});
  }
}

}  // namespace ypsi::cli
