// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/curve_shape.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace ash {
namespace {

constexpr double kUsualPoints = 3;
constexpr double kUsualBend = 0.65;  // (change of slope along the ladder/mean slope)², expected

// Covariance of an integrated Wiener process at two places on [0, 1].
double covariance(double a, double b) {
  const double shorter = std::min(a, b), longer = std::max(a, b);
  return shorter * shorter * (3 * longer - shorter) / 6;
}

using TwoColumns = Eigen::Matrix<double, Eigen::Dynamic, 2>;

/// The points brought to [0, 1], with what a line leaves of them.
struct Points {
  Eigen::VectorXd x, y, variances;
  Eigen::MatrixXd inverse;     // of their covariance
  TwoColumns line;             // 1 and x
  Eigen::Matrix2d lineWeight;  // (line' · inverse · line)⁻¹
};

Points pointsOf(const std::vector<double>& x, const std::vector<double>& y, const std::vector<double>& variances) {
  const auto n = static_cast<Eigen::Index>(x.size());
  Points points;
  points.x.resize(n);
  points.y = Eigen::Map<const Eigen::VectorXd>(y.data(), n);
  points.variances = Eigen::Map<const Eigen::VectorXd>(variances.data(), n);
  points.line.resize(n, 2);
  Eigen::MatrixXd covariances(n, n);
  for (Eigen::Index i = 0; i < n; ++i) {
    // Away from zero, where the process is pinned: the free line takes up what that adds.
    points.x[i] = 1 + (x[static_cast<size_t>(i)] - x.front()) / (x.back() - x.front());
    points.line(i, 0) = 1;
    points.line(i, 1) = points.x[i];
  }
  for (Eigen::Index i = 0; i < n; ++i) {
    for (Eigen::Index j = 0; j < n; ++j) covariances(i, j) = covariance(points.x[i], points.x[j]);
  }
  points.inverse = covariances.ldlt().solve(Eigen::MatrixXd::Identity(n, n));
  points.lineWeight = (points.line.transpose() * points.inverse * points.line).inverse();
  return points;
}

// The mean square by which the slope wanders over the whole ladder, and the degrees of freedom it is known with.
ShapeDoubt wandering(const Points& points) {
  const Eigen::MatrixXd beyondLine =
      points.inverse - points.inverse * points.line * points.lineWeight * points.line.transpose() * points.inverse;
  const auto told = static_cast<double>(points.x.size() - 2);
  const double sum = points.y.dot(beyondLine * points.y);
  const double ofErrors = beyondLine.diagonal().dot(points.variances);
  const double height = points.y.maxCoeff() - points.y.minCoeff();
  const double usual = kUsualBend * height * height;
  return {(kUsualPoints * usual + std::max(0.0, sum - ofErrors)) / (kUsualPoints + told), kUsualPoints + told};
}

}  // namespace

ShapeDoubt shapeDoubt(const std::vector<double>& x, const std::vector<double>& y, const std::vector<double>& variances,
                      double at) {
  const Points points = pointsOf(x, y, variances);
  const double place = 1 + (at - x.front()) / (x.back() - x.front());
  Eigen::VectorXd to(points.x.size());
  for (Eigen::Index i = 0; i < to.size(); ++i) to[i] = covariance(points.x[i], place);
  const Eigen::VectorXd weights = points.inverse * to;
  const Eigen::Vector2d left = Eigen::Vector2d(1, place) - points.line.transpose() * weights;
  const double share =
      covariance(place, place) - to.dot(weights) + left.dot(points.lineWeight * left);  // universal kriging
  const ShapeDoubt wander = wandering(points);
  return {wander.variance * std::max(0.0, share), wander.degrees};
}

}  // namespace ash
