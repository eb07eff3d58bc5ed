// SPDX-License-Identifier: GPL-3.0-or-later
#include "sound/capture.h"

#include <alsa/asoundlib.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>

namespace ash {
namespace {

constexpr unsigned kWantedRateHz = 48'000, kLowestRateHz = 44'100, kBufferUs = 500'000, kMostChannels = 64;
constexpr size_t kMostFrames = 16'384;

// ALSA writes to the error output by itself otherwise; what is wrong is told by us.
void keepQuiet(const char*, int, const char*, int, const char*, ...) {}

// "; there are “default”, “hw:CARD=…”".
std::string devicesThereAre() {
  constexpr size_t kMost = 8;
  void** hints = nullptr;
  if (snd_device_name_hint(-1, "pcm", &hints) < 0 || hints == nullptr) return {};
  std::string text;
  size_t count = 0;
  for (void** hint = hints; *hint != nullptr && count < kMost; ++hint) {
    const std::unique_ptr<char, decltype(&std::free)> name(snd_device_name_get_hint(*hint, "NAME"), &std::free);
    const std::unique_ptr<char, decltype(&std::free)> way(snd_device_name_get_hint(*hint, "IOID"), &std::free);
    // One without a direction captures and plays.
    if (name == nullptr || std::string_view(name.get()) == "null") continue;
    if (way != nullptr && std::string_view(way.get()) != "Input") continue;
    text += fmt::format("{}“{}”", count++ == 0 ? "; there are " : ", ", name.get());
  }
  snd_device_name_free_hint(hints);
  return text;
}

std::string wordsOf(int error, const std::string& device) {
  switch (error) {
    case -ENOENT:
    case -ENODEV:
    case -ENXIO:
      return fmt::format("there is no capture device “{}”{}", device, devicesThereAre());
    case -EBUSY:
      return fmt::format("another program holds the capture device “{}”", device);
    case -EACCES:
    case -EPERM:
      return fmt::format("this account may not use the capture device “{}” (group audio)", device);
    default:
      return fmt::format("the capture device “{}” does not work: {}", device, snd_strerror(error));
  }
}

struct Parameters {
  Parameters() { snd_pcm_hw_params_malloc(&it); }
  Parameters(const Parameters&) = delete;
  Parameters& operator=(const Parameters&) = delete;
  ~Parameters() { snd_pcm_hw_params_free(it); }
  snd_pcm_hw_params_t* it = nullptr;
};

}  // namespace

struct Capture::Handle {
  snd_pcm_t* pcm = nullptr;
  snd_pcm_format_t format = SND_PCM_FORMAT_S32_LE;
  Handle() = default;
  Handle(const Handle&) = delete;
  Handle& operator=(const Handle&) = delete;
  ~Handle() {
    if (pcm != nullptr) snd_pcm_close(pcm);
  }
};

Capture::Capture() = default;
Capture::~Capture() = default;

Status Capture::open(const std::string& device) {
  m_device = device;
  m_handle = std::make_unique<Handle>();
  snd_lib_error_set_handler(keepQuiet);
  const int opened = snd_pcm_open(&m_handle->pcm, device.c_str(), SND_PCM_STREAM_CAPTURE, SND_PCM_NONBLOCK);
  if (opened < 0) return Error::environment(wordsOf(opened, device));
  if (Status configured = configure(); !configured) return configured;
  const int started = snd_pcm_start(m_handle->pcm);
  return started < 0 ? Status(Error::environment(wordsOf(started, device))) : Status();
}

Status Capture::configure() {
  snd_pcm_t* pcm = m_handle->pcm;
  const Parameters parameters;
  if (const int any = snd_pcm_hw_params_any(pcm, parameters.it); any < 0)
    return Error::environment(wordsOf(any, m_device));
  snd_pcm_hw_params_set_access(pcm, parameters.it, SND_PCM_ACCESS_RW_INTERLEAVED);
  // The widest first; both are read as whole numbers.
  constexpr std::array kFormats = {SND_PCM_FORMAT_S32_LE, SND_PCM_FORMAT_S16_LE};
  const auto format = std::find_if(kFormats.begin(), kFormats.end(), [&](snd_pcm_format_t one) {
    return snd_pcm_hw_params_test_format(pcm, parameters.it, one) == 0;
  });
  if (format == kFormats.end())
    return Error::environment(fmt::format("“{}” gives no samples of 16 or 32 bits; try “plug{}”", m_device, m_device));
  m_handle->format = *format;
  snd_pcm_hw_params_set_format(pcm, parameters.it, *format);
  snd_pcm_hw_params_set_rate_resample(pcm, parameters.it, 1);
  m_channels = 1;
  snd_pcm_hw_params_set_channels_near(pcm, parameters.it, &m_channels);
  unsigned rateHz = kWantedRateHz, bufferUs = kBufferUs;
  snd_pcm_hw_params_set_rate_near(pcm, parameters.it, &rateHz, nullptr);
  snd_pcm_hw_params_set_buffer_time_near(pcm, parameters.it, &bufferUs, nullptr);
  if (const int set = snd_pcm_hw_params(pcm, parameters.it); set < 0) return Error::environment(wordsOf(set, m_device));
  if (rateHz < kLowestRateHz || m_channels > kMostChannels)
    return Error::environment(fmt::format("“{}” gives {} samples a second of {} channels; A-weighting needs {} or more",
                                          m_device, rateHz, m_channels, kLowestRateHz));
  m_rateHz = rateHz;
  snd_pcm_info_t* info = nullptr;
  snd_pcm_info_malloc(&info);
  const bool isTold = snd_pcm_info(pcm, info) == 0;
  const std::string name = isTold ? snd_pcm_info_get_name(info) : "";
  snd_pcm_info_free(info);
  m_identity = fmt::format("{}{}{} Hz", name, name.empty() ? "" : ", ", rateHz);
  return {};
}

Result<Capture::Read> Capture::read(std::vector<float>& samples, size_t most, double patienceS) {
  samples.clear();
  snd_pcm_t* pcm = m_handle->pcm;
  snd_pcm_wait(pcm, static_cast<int>(std::lround(1000 * patienceS)));
  most = std::min(most, kMostFrames);
  // Either kind of sample fits into it.
  m_frames.resize(most * m_channels);
  const snd_pcm_sframes_t got = snd_pcm_readi(pcm, m_frames.data(), most);
  if (got == -EAGAIN || got == 0) return Read::Nothing;
  if (got < 0) {
    const int mended = snd_pcm_recover(pcm, static_cast<int>(got), 1);
    if (mended < 0 || snd_pcm_start(pcm) < 0) return Error::environment(wordsOf(static_cast<int>(got), m_device));
    return Read::Gap;
  }
  const auto* narrow = reinterpret_cast<const int16_t*>(m_frames.data());
  for (size_t i = 0; i < static_cast<size_t>(got); ++i) {
    const size_t at = i * m_channels;
    samples.push_back(m_handle->format == SND_PCM_FORMAT_S16_LE ? static_cast<float>(narrow[at]) / 32768.0F
                                                                : static_cast<float>(m_frames[at]) / 2147483648.0F);
  }
  return Read::Samples;
}

}  // namespace ash
