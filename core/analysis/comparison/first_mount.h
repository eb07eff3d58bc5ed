// SPDX-License-Identifier: GPL-3.0-or-later
// A cooler or paste that was mounted once: does it sit as it should? Rule and figures: docs/method.md, "What is pointed
// at".
#pragma once

#include <optional>

#include "analysis/comparison/pooling.h"

namespace ash {

/// Holds each setup against one reference.
class MountCheck {
 public:
  /// `reference` must outlive it.
  explicit MountCheck(const Pool& reference) : m_reference(reference) {}

  /// Says which of the two, mounted once, most likely sits badly: by the contact (heat/contact.h) where both runs tell
  /// it and nothing under test is meant to change it; else that `pool`, meant to be better, hardly is.
  void look(const Pool& pool, const MetricMaps& maps, Comparison& comparison);

 private:
  /// Of all mounts of a setup: K/W, missing where one of its runs does not tell it, and the variance of its logarithm.
  struct Contact {
    double mean = 0, relativeVariance = 0;
  };
  static Contact contactOf(const Pool& pool);
  bool compareContacts(const Pool& pool, Comparison& comparison);

  const Pool& m_reference;
  std::optional<Contact> m_contactOfReference;
  bool m_isReferenceTold = false;  // once, however many lie below it
};

}  // namespace ash
