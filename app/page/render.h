// SPDX-License-Identifier: GPL-3.0-or-later
// `ash-gauge --render`: what of a write-up needs the toolkit, drawn without a display. `ashg report` calls it.
#pragma once

namespace ash {

/// True for a command line that asks for it.
bool asksToRender(int argc, char** argv);

/// Writes the files and prints their paths; the exit status is that of `ashg`: 0, 2 for what was asked wrongly, 3 for
/// what this machine refuses.
int renderReport(int argc, char** argv);

}  // namespace ash
