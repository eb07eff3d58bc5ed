// SPDX-License-Identifier: GPL-3.0-or-later
// A study that is looked at after every round of repeats: how sure each look has to be, so that all looks together are
// wrong no more often than a single one.
#pragma once

#include <vector>

namespace ash {

/// Two-sided points (standard normal) of each look, for looks after these shares of what will be known in the end
/// (rising, the last one 1). The error is spent as K. K. G. Lan and D. L. DeMets (Biometrika 70, 1983) propose in the
/// shape of P. C. O'Brien and T. R. Fleming (Biometrics 35, 1979): 2·(2 − 2Φ(z/√t)) of it by the share t, z the point
/// of a quarter of it. Worked out look by look by integration (P. Armitage, C. K. McPherson and B. C. Rowe, J. R. Stat.
/// Soc. A 132, 1969), to four digits.
std::vector<double> sequentialPoints(const std::vector<double>& informationShares, double error = 0.05);

/// The error of each of several setups held against one reference, equally many repeats each, that makes one of all of
/// them in the end (C. W. Dunnett, J. Am. Stat. Assoc. 50, 1955; known scatter).
double errorOfEach(int setups, double error = 0.05);

/// The confidence of the interval after so many repeats (index) of a study that is looked at after the second and every
/// later round up to `mostRounds`: 1 − the nominal error of that look, for Student's t as for the normal (C. Jennison
/// and B. W. Turnbull, Group Sequential Methods, 2000, 3.8). With few degrees of freedom that is wrong a tenth more
/// often than said (counted on 40,000 simulated studies), so a tenth of the error is not spent. Below two repeats that
/// of the first look.
std::vector<double> confidenceByRounds(int mostRounds, double error = 0.05);

}  // namespace ash
