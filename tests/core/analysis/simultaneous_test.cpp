// SPDX-License-Identifier: GPL-3.0-or-later
// Several setups held against one reference: how wide all intervals together have to be.
#include "analysis/comparison/simultaneous.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/comparison/pooling.h"
#include "analysis/series/statistics.h"

using namespace ash;

namespace {

// Of equally many repeats each: the reference is half of the variance of every difference.
double ofEqual(size_t setups, double degrees) { return simultaneousT({std::vector<double>(setups, 0.5), 0}, degrees); }

Pooled repeatsAround(double mean, double sd, int n, std::mt19937_64& random) {
  std::normal_distribution<double> scatter(mean, sd);
  std::vector<double> values;
  for (int i = 0; i < n; ++i) values.push_back(scatter(random));
  return pooledValues(values, std::vector<double>(values.size(), 0.0));
}

struct Told {
  double all = 0, width = 0, widthApart = 0;
};

// Studies of setups that scatter unequally against one reference: how often every interval holds its true difference.
Told studiesOf(int setups, int repeats, std::mt19937_64& random) {
  constexpr int kStudies = 1500;
  Told told;
  for (int study = 0; study < kStudies; ++study) {
    const Pooled reference = repeatsAround(50, 0.5, repeats, random);
    std::vector<Pooled> others;
    Simultaneous comparisons;
    for (int i = 0; i < setups; ++i) {
      others.push_back(repeatsAround(50 + i, 0.3 + 0.1 * i, repeats, random));
      comparisons.referenceShares.push_back(referenceShare(others.back(), reference));
    }
    bool areAllRight = true;
    for (int i = 0; i < setups; ++i) {
      const auto interval = differenceInterval(others[size_t(i)], reference, comparisons);
      const auto apart = differenceInterval(others[size_t(i)], reference, independent(size_t(setups)));
      areAllRight &= interval.low <= i && i <= interval.high;
      told.width += interval.high - interval.low;
      told.widthApart += apart.high - apart.low;
    }
    told.all += areAllRight;
  }
  told.all /= kStudies;
  return told;
}

}  // namespace

TEST_CASE("severalSetupsAgainstOneReferenceTakeDunnettsPoint") {
  // C. W. Dunnett, Biometrics 20, 1964, table II: two-sided 5 % points, as printed.
  const struct {
    double degrees;
    std::vector<double> of;  // 1 to 9 setups beside the reference
  } kTable[] = {{5, {2.57, 3.03, 3.29, 3.48, 3.62, 3.73, 3.82, 3.90, 3.97}},
                {10, {2.23, 2.57, 2.76, 2.89, 2.99, 3.07, 3.14, 3.19, 3.24}},
                {20, {2.09, 2.38, 2.54, 2.65, 2.73, 2.80, 2.86, 2.90, 2.95}},
                {60, {2.00, 2.27, 2.41, 2.51, 2.58, 2.64, 2.69, 2.73, 2.77}},
                {INFINITY, {1.96, 2.21, 2.35, 2.44, 2.51, 2.57, 2.61, 2.65, 2.69}}};
  for (const auto& row : kTable) {
    for (size_t setups = 1; setups <= row.of.size(); ++setups) {
      CAPTURE(row.degrees, setups);
      // The table is rounded to 0.01, two of its entries the wrong way by 0.0053 at most.
      CHECK(ofEqual(setups, row.degrees) == Approx(row.of[setups - 1]).margin(0.0054));
    }
  }
}

TEST_CASE("whatSharesNothingTakesSidaksPointAndWhatSharesAllStudents") {
  for (const double degrees : {3.0, 8.0, 25.0}) {
    CAPTURE(degrees);
    CHECK(simultaneousT(independent(4), degrees) == Approx(studentT(degrees, std::pow(0.95, 0.25))));
    const double ofOne = simultaneousT({{0.999999, 0.999999, 0.999999}, 0}, degrees) / studentT95(degrees);
    CHECK(ofOne >= 1);
    CHECK(ofOne < 1.12);
  }
  // Known scatter: normal points, 1 − (1 − 0.05)^(1/k) by hand: 2.236477 for two, 2.490915 for four.
  CHECK(simultaneousT({{0, 0}, 0}, INFINITY) == Approx(2.236477).epsilon(1e-4));
  CHECK(simultaneousT({{0, 0}, 2}, INFINITY) == Approx(2.490915).epsilon(1e-4));
}

TEST_CASE("unequalSharesOfTheReferenceAgreeWithACount") {
  // |t| of four differences whose reference weighs differently, counted: their largest is beyond the point in 5 %.
  const Simultaneous comparisons{{0.1, 0.3, 0.6, 0.97}, 0};
  std::mt19937_64 random(41);
  std::normal_distribution<double> normal;
  for (const double degrees : {4.0, 30.0}) {
    std::chi_squared_distribution<double> squares(degrees);
    const double point = simultaneousT(comparisons, degrees);
    constexpr int kDraws = 200000;
    int beyond = 0;
    for (int i = 0; i < kDraws; ++i) {
      const double common = normal(random), scatter = std::sqrt(squares(random) / degrees);
      double largest = 0;
      for (const double share : comparisons.referenceShares)
        largest = std::max(largest, std::abs(std::sqrt(share) * common + std::sqrt(1 - share) * normal(random)));
      beyond += largest > point * scatter;
    }
    // Four standard errors of a count of 5 %.
    CHECK(double(beyond) / kDraws == Approx(0.05).margin(4 * std::sqrt(0.05 * 0.95 / kDraws)));
  }
}

TEST_CASE("allIntervalsOfAStudyTogetherAreRightAndNoWiderThanNeeded") {
  std::mt19937_64 random(7);
  for (const int repeats : {3, 6}) {
    for (const int setups : {2, 5}) {
      const Told told = studiesOf(setups, repeats, random);
      CAPTURE(repeats, setups, told.all);
      CHECK(told.all >= 0.935);
      CHECK(told.all <= 0.985);
      CHECK(told.width < told.widthApart);
    }
  }
}
