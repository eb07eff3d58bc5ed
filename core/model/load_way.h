// SPDX-License-Identifier: GPL-3.0-or-later
// One task done in several ways: a load of a study that is carried out otherwise by some of its setups.
#pragma once

#include <string>

#include "model/result.h"
#include "model/study.h"

namespace ash {

/// The spec by which `setup` carries out `load`: what "by_setup" of the load's spec holds under the setup's name (a
/// whole spec), else the load's own. In the line of a command, and in the values of its environment, "{device}" stands
/// for the field of that name of the setup's conditions or parts; in a line it is one word of the shell, whatever it
/// holds. Braces that name no field of any setup stay as they are: they are the shell's. Refused: a field that other
/// setups state and this one does not.
Result<Json> specOf(const Study& study, const Load& load, const std::string& setup);

/// What all setups do that have no way of their own.
Json commonSpec(const Load& load);
/// What one setup does instead; an empty spec takes that back.
void setWay(Load& load, const std::string& setup, const Json& spec);
/// The setup's own spec; empty where it does as all others.
Json wayOf(const Load& load, const std::string& setup);
/// Ways follow the setup that they belong to.
void renameWay(Load& load, const std::string& before, const std::string& after);

}  // namespace ash
