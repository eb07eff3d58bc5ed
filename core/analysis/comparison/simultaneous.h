// SPDX-License-Identifier: GPL-3.0-or-later
// How wide each of several intervals has to be, so that all of them together are right in 95 of 100 studies.
#pragma once

#include <cstddef>
#include <vector>

namespace ash {

/// The comparisons that are made at once. Several setups against one reference share what the reference is off by:
/// their differences move together, and less is needed than for comparisons that know nothing of each other.
struct Simultaneous {
  /// Of each setup held against the reference: the reference's share of the variance of the difference, 0 … 1.
  std::vector<double> referenceShares;
  size_t beside = 0;         ///< comparisons that share nothing with these
  double confidence = 0.95;  ///< that all of them are right
  size_t count() const { return referenceShares.size() + beside; }
};

/// `count` comparisons that share nothing.
Simultaneous independent(size_t count);

/// The two-sided point of the largest of all |t|, for a difference with `degrees` of freedom (infinity: normal):
/// C. W. Dunnett, J. Am. Stat. Assoc. 50, 1955, and Biometrics 20, 1964, for unequal variances with each difference's
/// own degrees of freedom (M. Hasler and L. A. Hothorn, Int. J. Biostat. 4, 2008). The integral over what the reference
/// is off by and over the estimate of the scatter is done by Gauss and Legendre's rule; relative error below 1e-4. One
/// comparison: Student's t. Those that share nothing: Z. Šidák, J. Am. Stat. Assoc. 62, 1967.
double simultaneousT(const Simultaneous& comparisons, double degrees);

}  // namespace ash
