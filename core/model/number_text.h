// SPDX-License-Identifier: GPL-3.0-or-later
// How numbers are written for people: one place for the screen, the report and the terminal.
#pragma once

#include <optional>
#include <string>

namespace ash {

/// A real minus sign, thin spaces between thousands from 10 000 on; "–" for a missing value. Digits below zero round to
/// tens and more.
std::string numberText(double value, int digits);
/// With a thin space and the unit: "81.3 °C".
std::string withUnit(double value, int digits, const std::string& unit);
/// With its sign, also when positive: "+3.2", "−0.4".
std::string signedText(double value, int digits);
/// Bytes in the largest decimal unit that leaves a number above one, three digits at most: "83.4 GB", "20 MB".
std::string bytesWords(double bytes);
/// Decimals of a value whose uncertainty is this: the uncertainty keeps two significant digits at most (JCGM 100:2008,
/// 7.2.6), one from 3 on.
/// Below zero where tens or more are left out; `otherwise` where there is no uncertainty.
int decimalsFor(double uncertainty, int otherwise);
/// Rounded to so many decimals, which may be below zero: (38642, -2) is "38600". Plain digits, for columns of text;
/// "–" for what is missing.
std::string roundedText(double value, int decimals, bool withSign = false);
/// How many decimals a figure in this unit is quoted with.
int usualDigits(const std::string& unit);

}  // namespace ash
