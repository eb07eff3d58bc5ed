// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/openmetrics_talk.h"

#include <curl/curl.h>
#include <fcntl.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <ctime>

#include "model/text.h"
#include "system/clock.h"
#include "system/secret_file.h"

namespace ash {
namespace {

constexpr size_t kLargestBodyB = size_t{16} << 20, kMostOffsets = 21;
constexpr double kStaleS = 60;
constexpr char kClockMetric[] = "ash_clock_seconds";
constexpr int kStillIntervals = 3;
constexpr double kLeastStillS = 1;  // who asks faster than the other side looks gets the same stamp again

double wallClockS() {
  timespec now{};
  clock_gettime(CLOCK_REALTIME, &now);
  return static_cast<double>(now.tv_sec) + static_cast<double>(now.tv_nsec) / 1e9;
}

double medianOf(std::deque<double> values) {
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

// A load that is started meanwhile must not hold the connection open.
int ownSocketOnly(void*, curl_socket_t socket, curlsocktype) {
  fcntl(socket, F_SETFD, FD_CLOEXEC);
  return CURL_SOCKOPT_OK;
}

struct Body {
  std::string text;
  bool isTooLarge = false;
};

size_t takeBody(char* bytes, size_t size, size_t count, void* to) {
  auto& body = *static_cast<Body*>(to);
  if (body.text.size() + size * count > kLargestBodyB) {
    body.isTooLarge = true;
    return 0;
  }
  body.text.append(bytes, size * count);
  return size * count;
}

const MetricSample* onlyOne(const InstrumentReading& reading, const MetricsPage& page, size_t& count) {
  const MetricSample* found = nullptr;
  count = 0;
  for (const MetricSample& sample : page.samples) {
    if (sample.name != reading.metric) continue;
    const bool isMeant = std::all_of(reading.labels.begin(), reading.labels.end(), [&](const auto& label) {
      const auto own = sample.labels.find(label.first);
      return own != sample.labels.end() && own->second == label.second;
    });
    if (!isMeant) continue;
    found = &sample;
    ++count;
  }
  return found;
}

}  // namespace

struct OpenMetricsTalk::Transfer {
  std::unique_ptr<CURL, decltype(&curl_easy_cleanup)> handle{curl_easy_init(), curl_easy_cleanup};
  std::unique_ptr<curl_slist, decltype(&curl_slist_free_all)> headers{nullptr, curl_slist_free_all};
  void header(const std::string& line) { headers.reset(curl_slist_append(headers.release(), line.c_str())); }
};

OpenMetricsTalk::OpenMetricsTalk(const Instrument& instrument)
    : m_instrument(instrument), m_seen(instrument.readings.size()) {
  static const CURLcode begun = curl_global_init(CURL_GLOBAL_DEFAULT);
  static_cast<void>(begun);
}

OpenMetricsTalk::~OpenMetricsTalk() = default;

Status OpenMetricsTalk::open() {
  const auto token =
      m_instrument.tokenFile.empty() ? Result<std::string>(std::string()) : readSecret(m_instrument.tokenFile);
  if (!token) return token.error();
  m_transfer = std::make_unique<Transfer>();
  CURL* curl = m_transfer->handle.get();
  if (curl == nullptr) return Error::environment("there is no memory for a connection");
  m_transfer->header("Accept: application/openmetrics-text; version=1.0.0, text/plain; version=0.0.4; q=0.5");
  if (!token->empty()) m_transfer->header("Authorization: Bearer " + *token);
  curl_easy_setopt(curl, CURLOPT_URL, m_instrument.address.c_str());
  curl_easy_setopt(curl, CURLOPT_HTTPHEADER, m_transfer->headers.get());
  curl_easy_setopt(curl, CURLOPT_FOLLOWLOCATION, 0L);
  curl_easy_setopt(curl, CURLOPT_PROTOCOLS_STR, "http,https");
  curl_easy_setopt(curl, CURLOPT_NOSIGNAL, 1L);
  curl_easy_setopt(curl, CURLOPT_NOPROXY, "*");
  curl_easy_setopt(curl, CURLOPT_TIMEOUT_MS, std::lround(m_instrument.timeoutS * 1000));
  curl_easy_setopt(curl, CURLOPT_WRITEFUNCTION, takeBody);
  curl_easy_setopt(curl, CURLOPT_SOCKOPTFUNCTION, ownSocketOnly);
  if (!m_instrument.tlsCa.empty()) curl_easy_setopt(curl, CURLOPT_CAINFO, m_instrument.tlsCa.c_str());
  return {};
}

Result<OpenMetricsTalk::Fetched> OpenMetricsTalk::fetch() {
  CURL* curl = m_transfer->handle.get();
  Body body;
  curl_easy_setopt(curl, CURLOPT_WRITEDATA, &body);
  const double sentS = monotonicS();
  const CURLcode code = curl_easy_perform(curl);
  Fetched fetched{std::move(body.text), {}, bootTimeS(), monotonicS() - sentS};
  if (body.isTooLarge) return Error::environment("its page is larger than 16 MiB");
  if (code == CURLE_COULDNT_CONNECT) return Error::environment("nobody listens there");
  if (code == CURLE_OPERATION_TIMEDOUT)
    return Error::environment(fmt::format("no answer within {:g} s", m_instrument.timeoutS));
  if (code != CURLE_OK) return Error::environment(withoutControls(curl_easy_strerror(code)));
  long status = 0;
  curl_easy_getinfo(curl, CURLINFO_RESPONSE_CODE, &status);
  if (status == 401 || status == 403) return Error::environment(fmt::format("it refuses the token ({})", status));
  if (status != 200) return Error::environment(fmt::format("it answered with status {}", status));
  const char* type = nullptr;
  curl_easy_getinfo(curl, CURLINFO_CONTENT_TYPE, &type);
  fetched.type = type == nullptr ? "" : type;
  return fetched;
}

Status OpenMetricsTalk::ask(std::vector<Answer>& answers) {
  const auto fetched = fetch();
  if (!fetched) return fetched.error();
  const auto page = parseMetrics(fetched->text, fetched->type.starts_with("application/openmetrics-text"));
  if (!page) {
    for (Answer& answer : answers) answer = faultOf("its page cannot be read: " + page.error().message);
    return {};
  }
  compareClocks(*page, fetched->roundTripS);
  for (size_t i = 0; i < answers.size(); ++i) answers[i] = read(i, *page, *fetched);
  return {};
}

Answer OpenMetricsTalk::read(size_t i, const MetricsPage& page, const Fetched& fetched) {
  InstrumentReading reading = m_instrument.readings[i];
  size_t count = 0;
  const MetricSample* sample = onlyOne(reading, page, count);
  if (count == 0) return faultOf(fmt::format("its page has no {} with these labels", reading.metric));
  if (count > 1)
    return faultOf(
        fmt::format("its page has {} series of {} with these labels: name more of them", count, reading.metric));
  if (std::string stale = staleness(*sample, m_seen[i], fetched.arrivedS); !stale.empty())
    return faultOf(std::move(stale));
  if (reading.unitText.empty()) {
    const auto unit = unitOfMetric(reading.metric);
    const Quantity wanted = reading.unit.quantity;
    const bool isPowerOfEnergy =
        unit && unit->quantity == Quantity::Energy && wanted == Quantity::Power && sample->isCounter;
    if (unit && (wanted == Quantity::Other || unit->quantity == wanted)) reading.unit = *unit;
    if (unit && wanted != Quantity::Other && unit->quantity != wanted && !isPowerOfEnergy)
      return faultOf(
          fmt::format("{} is in {}, which is no unit of {}", reading.metric, unitOf(unit->quantity), reading.title()));
  }
  const double stampAgeS = std::isfinite(sample->stampS) ? wallClockS() + offsetS() - sample->stampS : 0;
  const double atS = fetched.arrivedS - std::clamp(stampAgeS, 0.0, kStaleS);
  const bool isRate = sample->isCounter && reading.unit.quantity != Quantity::Energy;
  const double value = isRate ? rateOf(*sample, m_seen[i], atS) : sample->value;
  return answerOf(reading, value, atS, fetched.roundTripS);
}

// As NTP does it: the other clock was read in the middle of the round trip (RFC 5905, 8).
void OpenMetricsTalk::compareClocks(const MetricsPage& page, double roundTripS) {
  for (const MetricSample& sample : page.samples) {
    if (sample.name == kClockMetric && std::isfinite(sample.value))
      m_clockOffsetS = sample.value - (wallClockS() - roundTripS / 2);
  }
}

double OpenMetricsTalk::offsetS() const {
  if (std::isfinite(m_clockOffsetS)) return m_clockOffsetS;
  return m_offsetsS.empty() ? 0 : medianOf(m_offsetsS);
}

// Other machines' clocks are off by some steady time; what is off from that is old.
std::string OpenMetricsTalk::staleness(const MetricSample& sample, Seen& seen, double arrivedS) {
  if (!std::isfinite(sample.stampS)) return {};
  if (seen.stampS != sample.stampS) {
    seen.stampS = sample.stampS;
    seen.stampMovedS = arrivedS;
    m_offsetsS.push_back(sample.stampS - wallClockS());
    if (m_offsetsS.size() > kMostOffsets) m_offsetsS.pop_front();
  }
  if (arrivedS - seen.stampMovedS > std::max(kStillIntervals * m_instrument.intervalS, kLeastStillS))
    return fmt::format("its own time stamp has not moved for {:.0f} s", arrivedS - seen.stampMovedS);
  const double apartS = sample.stampS - wallClockS() - offsetS();
  if (std::abs(apartS) > kStaleS) return fmt::format("its own time stamp is {:.0f} s off", apartS);
  return {};
}

double OpenMetricsTalk::rateOf(const MetricSample& sample, Seen& seen, double atS) const {
  const double before = std::exchange(seen.value, sample.value), beforeS = std::exchange(seen.atS, atS);
  const double beforeOwnS = std::exchange(seen.ownS, sample.stampS);
  // Its own stamps say when it was counted, however long the page was on its way.
  const double ownS = sample.stampS - beforeOwnS;
  const double elapsedS = std::isfinite(ownS) ? ownS : atS - beforeS;
  // A counter that begins anew has no rate this time.
  if (!(sample.value >= before) || !(elapsedS > 0)) return kMissing;
  return (sample.value - before) / elapsedS;
}

}  // namespace ash
