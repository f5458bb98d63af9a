// ypsilo: the same core as the window, for scripts and for checking on paper. Contract: docs of `ypsilo help`.
#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <fstream>
#include <iostream>
#include <iterator>

#include "cli/book_check.h"
#include "cli/calc.h"

namespace {

using namespace ypsi;

int print_error(const Error& error) {
  std::cout << cli::error_json(error).dump(1, ' ', false, nlohmann::json::error_handler_t::replace) << "\n";
  return 2;
}

Result<std::string> read_input(const std::string& path) {
  if (path.empty()) return std::string(std::istreambuf_iterator<char>(std::cin), {});
  std::ifstream file(path, std::ios::binary);
  if (!file)
    return fail("unreadable", fmt::format("The file “{}” cannot be opened; check its name and permissions.", path),
                "--in");
  return std::string(std::istreambuf_iterator<char>(file), {});
}

const cli::Calculation* find_calculation(const std::string& name) {
  for (const auto& c : cli::calculations())
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
  const auto out = cli::calculate(*calculation, *text);
  if (!out) return print_error(out.error());
  std::cout << out->dump(1, ' ', false, nlohmann::json::error_handler_t::replace) << "\n";
  return 0;
}

int help(const CLI::App& app, const std::string& name) {
  if (name.empty()) {
    std::cout << app.help() << "\nCalculations (ypsilo calc NAME, JSON in and out):\n";
    for (const auto& c : cli::calculations()) std::cout << fmt::format("  {:<12} {}\n", c.name, c.what);
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

}  // namespace

int main(int argc, char** argv) {
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
  auto* help_command = app.add_subcommand("help", "what there is, and an example of each calculation");
  help_command->add_option("NAME", help_name, "a calculation");
  try {
    app.parse(argc, argv);
    if (calc_command->parsed()) return calc(name, in);
    if (check_command->parsed()) {
      const auto text = read_input(file);
      return text ? cli::check_book(*text, std::cout) : print_error(text.error());
    }
    return help(app, help_name);
  } catch (const CLI::ParseError& e) {
    const int code = app.exit(e);
    return code == 0 ? 0 : 2;
  } catch (const std::exception& e) {
    return print_error({"failed", fmt::format("This could not be done: {}.", e.what()), ""});
  }
}
