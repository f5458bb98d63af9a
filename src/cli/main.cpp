// ypsilo: the same core as the window, for scripts and for checking on paper. Contract: docs of `ypsilo help`.
#include <iostream>

#include "cli/ypsilo.h"

int main(int argc, char** argv) {
  const int code = ypsi::cli::ypsilo(argc, argv);
  std::cout.flush();
  if (std::cout) return code;
  std::cerr << "The output could not be written; is the disk full?\n";
  return 2;
}
