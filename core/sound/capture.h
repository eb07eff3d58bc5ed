// SPDX-License-Identifier: GPL-3.0-or-later
// A capture device through ALSA: one channel of samples, never waiting longer than it is told to.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

class Capture {
 public:
  Capture();
  Capture(const Capture&) = delete;
  Capture& operator=(const Capture&) = delete;
  ~Capture();

  /// Opens a device by its ALSA name ("default", "hw:1,0") at 48 kHz where it can, else at what is next to it. The
  /// error says what is there or what hinders.
  Status open(const std::string& device);
  double rateHz() const { return m_rateHz; }
  /// What ALSA calls it, and its rate: "USB Audio, 48000 Hz".
  const std::string& identity() const { return m_identity; }

  /// What a read brought.
  enum class Read { Samples, Nothing, Gap };
  /// Puts samples of −1 to 1 of the first channel into `samples` (at most `most`), waiting up to `patienceS` for some.
  /// Gap: some were lost before these. An error: the device is gone.
  Result<Read> read(std::vector<float>& samples, size_t most, double patienceS);

 private:
  struct Handle;
  Status configure();

  std::unique_ptr<Handle> m_handle;
  double m_rateHz = 0;
  unsigned m_channels = 1;
  std::string m_device, m_identity;
  std::vector<int32_t> m_frames;
};

}  // namespace ash
