// SPDX-License-Identifier: GPL-3.0-or-later
// The load `graphics`: frames drawn off screen, each with a checksum. Integer arithmetic in them is the same on every
// driver and held against the processor's; floating point is held against the first frames of the same device.
#include <fmt/format.h>

#include <tuple>

#include <algorithm>
#include <array>

#include "load/flip_bit.h"
#include "load/gl_library.h"
#include "load/load_kinds.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr int kTexture = 1024;  // texels a side, 16 bytes each: 16 MiB, more than near caches hold
constexpr double kLongestStripS = 0.02;
constexpr int kLeastRows = 8;
constexpr int kSampled = 8;  // pixels a side that are held against the processor
struct GraphicsPatternWords {
  enum Known { Both, Arithmetic, Memory, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"both", "arithmetic", "memory"};
};
using GraphicsPattern = OpenWord<GraphicsPatternWords>;

constexpr const char* kVertex = R"(#version 310 es
void main() {
  vec2 corner = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
  gl_Position = vec4(corner, 0.0, 1.0);
})";

// Eight chains of multiply-adds that stay bounded, and an integer chain beside them.
constexpr const char* kArithmetic = R"(#version 310 es
precision highp float;
precision highp int;
uniform uint seed;
out uvec4 pixel;
void main() {
  uvec2 place = uvec2(gl_FragCoord.xy);
  uint x = place.x * 1597334677u ^ place.y * 3812015801u ^ seed;
  vec4 a = vec4(place.xyxy) * 0.001 + vec4(0.1, 0.2, 0.3, 0.4);
  vec4 b = a.yzwx + 0.5;
  for (int i = 0; i < 128; ++i) {
    a = a * 0.9990234375 + b * 0.0009765625;
    b = b * 0.998046875 + a.wxyz * 0.001953125;
    x ^= x << 13; x ^= x >> 17; x ^= x << 5;
    x = x * 1664525u + 1013904223u;
  }
  pixel = uvec4(x, floatBitsToUint(a.x + b.y), floatBitsToUint(a.z + b.w), floatBitsToUint(a.y + b.x));
})";

// Texels fetched from all over a large texture, each place following from the texel before.
constexpr const char* kMemory = R"(#version 310 es
precision highp float;
precision highp int;
precision highp usampler2D;
uniform uint seed;
uniform usampler2D texels;
out uvec4 pixel;
void main() {
  uvec2 place = uvec2(gl_FragCoord.xy);
  uint x = place.x * 1597334677u ^ place.y * 3812015801u ^ seed;
  uvec4 sum = uvec4(x, 0u, 0u, 0u);
  for (int i = 0; i < 24; ++i) {
    uvec4 texel = texelFetch(texels, ivec2(int(x & 1023u), int((x >> 10) & 1023u)), 0);
    sum = sum * 5u + texel;
    x = x * 1664525u + 1013904223u + (texel.x & 3u);
  }
  pixel = uvec4(x, sum.yzw);
})";

constexpr const char* kChecksum = R"(#version 310 es
precision highp int;
precision highp usampler2D;
layout(local_size_x = 8, local_size_y = 8) in;
uniform usampler2D frame;
uniform uint height;
layout(std430, binding = 0) buffer Sums { uint sums[4]; };
void main() {
  ivec2 place = ivec2(gl_GlobalInvocationID.xy);
  if (place.x >= textureSize(frame, 0).x || place.y >= int(height)) return;
  uvec4 pixel = texelFetch(frame, place, 0);
  uint weight = uint(place.x) * 2654435761u + uint(place.y) * 40503u + 1u;
  atomicAdd(sums[0], pixel.x * weight);
  atomicAdd(sums[1], pixel.y ^ weight);
  atomicAdd(sums[2], pixel.z ^ weight);
  atomicAdd(sums[3], pixel.w ^ weight);
})";

using Sums = std::array<GLuint, 4>;

GLuint texelAt(GLuint i) { return (i * 2246822519u) ^ (i >> 7); }

// What the first component of a pixel must be, worked out by the processor.
GLuint arithmeticPixel(GLuint column, GLuint row, GLuint seed) {
  GLuint x = (column * 1597334677u) ^ (row * 3812015801u) ^ seed;
  for (int i = 0; i < 128; ++i) {
    x ^= x << 13;
    x ^= x >> 17;
    x ^= x << 5;
    x = x * 1664525u + 1013904223u;
  }
  return x;
}

GLuint memoryPixel(GLuint column, GLuint row, GLuint seed) {
  GLuint x = (column * 1597334677u) ^ (row * 3812015801u) ^ seed;
  for (int i = 0; i < 24; ++i) {
    const GLuint texel = texelAt(((x >> 10) & 1023u) * kTexture + (x & 1023u));
    x = x * 1664525u + 1013904223u + (texel & 3u);
  }
  return x;
}

/// One of the two kinds of frame.
struct Scene {
  GLuint program = 0;
  GLint seedPlace = -1;
  bool isMemory = false;
  Sums expected{};
};

class GraphicsThread : public LoadThread {
 public:
  static Result<std::unique_ptr<LoadThread>> make(int width, int height, GraphicsPattern::Known pattern,
                                                  const std::stop_token& stop) {
    auto gl = GlContext::make();
    if (!gl) return gl.error();
    std::unique_ptr<GraphicsThread> thread(new GraphicsThread(std::move(*gl), width, height));
    if (Status prepared = thread->prepare(pattern, stop); !prepared) return prepared.error();
    return std::unique_ptr<LoadThread>(std::move(thread));
  }

  // A strip of a frame; with the last one the frame is checked and counts.
  BlockResult block(bool flip) override {
    if (flip) m_isSpoilt = true;
    const Scene& scene = m_scenes[m_scene];
    drawStrip(scene, m_row, m_isSpoilt ? kSeed ^ 1u : kSeed);
    m_row += m_stripRows;
    if (m_row < m_height) return {};
    m_row = 0;
    m_isSpoilt = false;
    m_scene = (m_scene + 1) % m_scenes.size();
    if (m_gl->GetError() != GL_NO_ERROR) return {0, 0, "The graphics driver reported an error while drawing."};
    const bool isRight = checksum() == scene.expected;
    return {isRight ? 1.0 : 0.0, isRight ? 0 : 1, {}};
  }

 private:
  static constexpr GLuint kSeed = 2463534242u;

  GraphicsThread(std::unique_ptr<GlContext> gl, int width, int height)
      : m_gl(std::move(gl)), m_width(width), m_height(height), m_stripRows(std::min(height, 64)) {}

  Status prepare(GraphicsPattern::Known pattern, const std::stop_token& stop) {
    makeTargets();
    auto checksum = m_gl->program({{GL_COMPUTE_SHADER, kChecksum}});
    if (!checksum) return checksum.error();
    m_checksum = *checksum;
    for (const bool isMemory : {false, true}) {
      if (pattern == (isMemory ? GraphicsPattern::Arithmetic : GraphicsPattern::Memory)) continue;
      auto program =
          m_gl->program({{GL_VERTEX_SHADER, kVertex}, {GL_FRAGMENT_SHADER, isMemory ? kMemory : kArithmetic}});
      if (!program) return program.error();
      Scene scene{*program, m_gl->GetUniformLocation(*program, "seed"), isMemory, {}};
      if (Status checked = learn(scene, stop); !checked) return checked;
      m_scenes.push_back(scene);
    }
    return {};
  }

  void makeTargets() {
    GlContext& gl = *m_gl;
    GLuint names[3];
    gl.GenTextures(2, names);
    m_frame = names[0];
    m_texels = names[1];
    for (const auto& [texture, width, height] :
         {std::tuple{m_texels, kTexture, kTexture}, std::tuple{m_frame, m_width, m_height}}) {
      gl.BindTexture(GL_TEXTURE_2D, texture);
      gl.TexStorage2D(GL_TEXTURE_2D, 1, GL_RGBA32UI, width, height);
      gl.TexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_NEAREST);
      gl.TexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, GL_NEAREST);
    }
    std::vector<GLuint> words(size_t{4} * kTexture * kTexture);
    for (size_t i = 0; i < words.size(); ++i)
      words[i] = texelAt(static_cast<GLuint>(i / 4)) + static_cast<GLuint>(i % 4);
    gl.BindTexture(GL_TEXTURE_2D, m_texels);
    gl.TexSubImage2D(GL_TEXTURE_2D, 0, 0, 0, kTexture, kTexture, GL_RGBA_INTEGER, GL_UNSIGNED_INT, words.data());
    gl.GenFramebuffers(1, names);
    gl.BindFramebuffer(GL_FRAMEBUFFER, names[0]);
    gl.FramebufferTexture2D(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_TEXTURE_2D, m_frame, 0);
    gl.GenVertexArrays(1, names);
    gl.BindVertexArray(names[0]);
    gl.GenBuffers(1, &m_sums);
    gl.Enable(GL_SCISSOR_TEST);
    gl.Viewport(0, 0, m_width, m_height);
  }

  void drawStrip(const Scene& scene, int row, GLuint seed) {
    GlContext& gl = *m_gl;
    gl.UseProgram(scene.program);
    gl.Uniform1ui(scene.seedPlace, seed);
    gl.BindTexture(GL_TEXTURE_2D, m_texels);
    gl.Scissor(0, row, m_width, std::min(m_stripRows, m_height - row));
    gl.DrawArrays(GL_TRIANGLES, 0, 3);
    gl.Finish();
  }

  void drawFrame(const Scene& scene, const std::stop_token& stop) {
    for (int row = 0; row < m_height && !stop.stop_requested();) {
      const double startS = monotonicS();
      drawStrip(scene, row, kSeed);
      row += m_stripRows;
      // A strip must be short enough for a stop to be answered.
      if (monotonicS() - startS > kLongestStripS && m_stripRows > kLeastRows)
        m_stripRows = std::max(kLeastRows, m_stripRows / 2);
    }
  }

  Sums checksum() {
    GlContext& gl = *m_gl;
    Sums sums{};
    gl.BindBuffer(GL_SHADER_STORAGE_BUFFER, m_sums);
    gl.BufferData(GL_SHADER_STORAGE_BUFFER, sizeof sums, sums.data(), GL_DYNAMIC_READ);
    gl.BindBufferBase(GL_SHADER_STORAGE_BUFFER, 0, m_sums);
    gl.UseProgram(m_checksum);
    gl.Uniform1ui(gl.GetUniformLocation(m_checksum, "height"), static_cast<GLuint>(m_height));
    gl.BindTexture(GL_TEXTURE_2D, m_frame);
    gl.MemoryBarrier(GL_ALL_BARRIER_BITS);
    gl.DispatchCompute(static_cast<GLuint>(m_width + 7) / 8, static_cast<GLuint>(m_height + 7) / 8, 1);
    gl.MemoryBarrier(GL_BUFFER_UPDATE_BARRIER_BIT);
    const void* mapped = gl.MapBufferRange(GL_SHADER_STORAGE_BUFFER, 0, sizeof sums, GL_MAP_READ_BIT);
    if (mapped != nullptr) std::memcpy(sums.data(), mapped, sizeof sums);
    gl.UnmapBuffer(GL_SHADER_STORAGE_BUFFER);
    return sums;
  }

  // The frame that all others must equal: twice the same, and its integers as the processor works them out.
  Status learn(Scene& scene, const std::stop_token& stop) {
    if (m_gl->CheckFramebufferStatus(GL_FRAMEBUFFER) != GL_FRAMEBUFFER_COMPLETE)
      return Error::environment("The graphics driver cannot draw into pictures of 32-bit integers.");
    drawFrame(scene, stop);
    const Sums first = checksum();
    drawFrame(scene, stop);
    scene.expected = checksum();
    if (stop.stop_requested()) return {};
    std::array<GLuint, size_t{4} * kSampled * kSampled> pixels{};
    m_gl->ReadPixels(0, 0, kSampled, kSampled, GL_RGBA_INTEGER, GL_UNSIGNED_INT, pixels.data());
    for (GLuint i = 0; i < kSampled * kSampled; ++i) {
      const GLuint column = i % kSampled, row = i / kSampled;
      const GLuint right = scene.isMemory ? memoryPixel(column, row, kSeed) : arithmeticPixel(column, row, kSeed);
      if (pixels[size_t{4} * i] != right)
        return Error::environment(
            "The graphics device computes integers otherwise than the processor: it is unstable.");
    }
    if (first == scene.expected) return {};
    return Error::environment("The graphics device draws the same frame differently each time: it is unstable.");
  }

  std::unique_ptr<GlContext> m_gl;
  const int m_width, m_height;
  int m_stripRows, m_row = 0;
  size_t m_scene = 0;
  bool m_isSpoilt = false;
  std::vector<Scene> m_scenes;
  GLuint m_frame = 0, m_texels = 0, m_checksum = 0, m_sums = 0;
};

class GraphicsLoad : public LoadPart {
 public:
  GraphicsLoad(const LoadOptions& options, const GraphicsPattern& chosen, std::string renderer)
      : m_width(options.width), m_height(options.height), m_pattern(chosen) {
    unit = "frames/s";
    variant = std::move(renderer);
    pattern = chosen.text();
    precision = "fp32";
    isFrames = true;
  }
  Result<std::unique_ptr<LoadThread>> makeThread(int, const std::stop_token& stop) override {
    return GraphicsThread::make(m_width, m_height, m_pattern, stop);
  }

 private:
  int m_width, m_height;
  GraphicsPattern::Known m_pattern;
};

constexpr LoadTextForm kPictureSize = {
    [](const std::string& text, LoadOptions& options) -> Status {
      std::tie(options.width, options.height) = parseSize(text);
      return {};
    },
    [](const LoadOptions& options) {
      const LoadOptions usual;
      const bool isUsual = options.width == usual.width && options.height == usual.height;
      return isUsual ? std::string() : fmt::format("{}x{}", options.width, options.height);
    }};

constexpr LoadField kGraphicsFields[] = {{"size", "--size", "Picture of graphics, e.g. 1280x720", kPictureSize}};

Status checkGraphics(const LoadOptions& options) {
  const auto isSide = [](int side) { return side >= 16 && side <= 8192; };
  if (isSide(options.width) && isSide(options.height)) return {};
  return Error::badInput("The size of the picture must be from 16x16 to 8192x8192, e.g. 1280x720.");
}

Result<std::unique_ptr<LoadPart>> makeGraphics(const LoadOptions& options) {
  const GraphicsPattern pattern =
      options.pattern.empty() ? GraphicsPattern(GraphicsPattern::Both) : GraphicsPattern::fromText(options.pattern);
  if (pattern == GraphicsPattern::Other)
    return Error::badInput(fmt::format("The graphics load has no pattern \"{}\"; it has: {}.", pattern.text(),
                                       fmt::join(GraphicsPattern::kWords, ", ")));
  const auto gl = GlContext::make();
  if (!gl) return gl.error();
  return std::unique_ptr<LoadPart>(std::make_unique<GraphicsLoad>(options, pattern, (*gl)->renderer()));
}

}  // namespace

extern const LoadKindRow kGraphicsLoad;
constinit const LoadKindRow kGraphicsLoad = {LoadKind::Graphics, makeGraphics, kGraphicsFields, checkGraphics, true};

}  // namespace ash
