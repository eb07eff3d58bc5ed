// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg demo`: writes the demo book.
#include <unistd.h>

#include <cstdio>
#include <memory>

#include "cli/command.h"
#include "demo/demo_book.h"

namespace ash::cli {

void addDemoCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("demo", "Write the demo book: made-up studies, recorded on simulated benches");
  auto path = std::make_shared<std::string>();
  command->add_option("--to", *path, "The book to write; it must not be there yet")->required();
  command->callback([path, &action] {
    action = [path] {
      const bool isTerminal = isatty(STDERR_FILENO) != 0;
      const Status written = writeDemoBook(*path, [&](int done, int all) {
        if (isTerminal) std::fprintf(stderr, "\r%d of %d runs", done, all);
      });
      if (isTerminal) std::fputs("\n", stderr);
      if (!written) return fail(written.error());
      std::puts(path->c_str());
      return kDone;
    };
  });
}

}  // namespace ash::cli
