// SPDX-License-Identifier: GPL-3.0-or-later
// What the commands share: exit statuses and how an error is told. One file per command.
#pragma once

#include <CLI/CLI.hpp>
#include <functional>
#include <string>

#include "model/json.h"
#include "model/result.h"

namespace ash::cli {

inline constexpr int kDone = 0;
inline constexpr int kAnswerIsNo = 1;
inline constexpr int kWrongUse = 2;
inline constexpr int kEnvironment = 3;

/// The command that was chosen; returns the exit status.
using Action = std::function<int()>;

/// Writes the sentence to stderr and returns the exit status of its kind.
int fail(const Error& error);

/// One JSON document on stdout.
void printJson(const Json& document);

void addReadingsCommand(CLI::App& app, Action& action);
void addInstrumentsCommand(CLI::App& app, Action& action);
void addSampleCommand(CLI::App& app, Action& action);
void addLoadCommand(CLI::App& app, Action& action);
void addRunCommand(CLI::App& app, Action& action);
void addRunsCommands(CLI::App& app, Action& action);
void addServeCommand(CLI::App& app, Action& action);
void addStandInCommand(CLI::App& app, Action& action);
void addBookCommand(CLI::App& app, Action& action);
void addAnalyzeCommand(CLI::App& app, Action& action);
void addCompareCommand(CLI::App& app, Action& action);
void addQueueCommand(CLI::App& app, Action& action);
void addReportCommand(CLI::App& app, Action& action);
void addAttachCommand(CLI::App& app, Action& action);
void addStatedCommand(CLI::App& app, Action& action);
void addProcedureCommand(CLI::App& app, Action& action);
void addKnobCommands(CLI::App& app, Action& action);
void addLadderCommand(CLI::App& app, Action& action);
void addExportCommand(CLI::App& app, Action& action);
void addImportCommand(CLI::App& app, Action& action);
void addDemoCommand(CLI::App& app, Action& action);
void addCompletionCommand(CLI::App& app, Action& action);

}  // namespace ash::cli
