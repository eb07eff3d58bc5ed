// SPDX-License-Identifier: GPL-3.0-or-later
// OpenGL ES 3.1 through EGL without any window, found when the program runs: whoever does not draw needs no libEGL.
#pragma once

#include <EGL/egl.h>
#include <GLES3/gl31.h>

#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "model/result.h"

namespace ash {

// The functions used; the names are those of the standard without their "gl".
// clang-format off
#define ASH_GL_FUNCTIONS(X) \
  X(PFNGLGETSTRINGPROC, GetString) \
  X(PFNGLGETERRORPROC, GetError) \
  X(PFNGLCREATESHADERPROC, CreateShader) \
  X(PFNGLSHADERSOURCEPROC, ShaderSource) \
  X(PFNGLCOMPILESHADERPROC, CompileShader) \
  X(PFNGLGETSHADERIVPROC, GetShaderiv) \
  X(PFNGLGETSHADERINFOLOGPROC, GetShaderInfoLog) \
  X(PFNGLCREATEPROGRAMPROC, CreateProgram) \
  X(PFNGLATTACHSHADERPROC, AttachShader) \
  X(PFNGLLINKPROGRAMPROC, LinkProgram) \
  X(PFNGLGETPROGRAMIVPROC, GetProgramiv) \
  X(PFNGLUSEPROGRAMPROC, UseProgram) \
  X(PFNGLGENTEXTURESPROC, GenTextures) \
  X(PFNGLBINDTEXTUREPROC, BindTexture) \
  X(PFNGLTEXSTORAGE2DPROC, TexStorage2D) \
  X(PFNGLTEXSUBIMAGE2DPROC, TexSubImage2D) \
  X(PFNGLTEXPARAMETERIPROC, TexParameteri) \
  X(PFNGLGENFRAMEBUFFERSPROC, GenFramebuffers) \
  X(PFNGLBINDFRAMEBUFFERPROC, BindFramebuffer) \
  X(PFNGLFRAMEBUFFERTEXTURE2DPROC, FramebufferTexture2D) \
  X(PFNGLCHECKFRAMEBUFFERSTATUSPROC, CheckFramebufferStatus) \
  X(PFNGLVIEWPORTPROC, Viewport) \
  X(PFNGLSCISSORPROC, Scissor) \
  X(PFNGLENABLEPROC, Enable) \
  X(PFNGLDRAWARRAYSPROC, DrawArrays) \
  X(PFNGLFINISHPROC, Finish) \
  X(PFNGLREADPIXELSPROC, ReadPixels) \
  X(PFNGLGENBUFFERSPROC, GenBuffers) \
  X(PFNGLBINDBUFFERPROC, BindBuffer) \
  X(PFNGLBUFFERDATAPROC, BufferData) \
  X(PFNGLBINDBUFFERBASEPROC, BindBufferBase) \
  X(PFNGLDISPATCHCOMPUTEPROC, DispatchCompute) \
  X(PFNGLMEMORYBARRIERPROC, MemoryBarrier) \
  X(PFNGLMAPBUFFERRANGEPROC, MapBufferRange) \
  X(PFNGLUNMAPBUFFERPROC, UnmapBuffer) \
  X(PFNGLGETUNIFORMLOCATIONPROC, GetUniformLocation) \
  X(PFNGLUNIFORM1UIPROC, Uniform1ui) \
  X(PFNGLUNIFORM1IPROC, Uniform1i) \
  X(PFNGLGENVERTEXARRAYSPROC, GenVertexArrays) \
  X(PFNGLBINDVERTEXARRAYPROC, BindVertexArray)
// clang-format on

/// A context of its own, current on the thread that made it, with the functions to use it.
class GlContext {
 public:
  static Result<std::unique_ptr<GlContext>> make();
  GlContext(const GlContext&) = delete;
  GlContext& operator=(const GlContext&) = delete;
  ~GlContext();

  /// What draws, as the driver calls itself.
  std::string renderer() const;
  /// A program of shaders (type, source …); the error holds the compiler's first line.
  Result<GLuint> program(const std::vector<std::pair<GLenum, std::string>>& shaders) const;

#define ASH_GL_MEMBER(type, name) type name = nullptr;
  ASH_GL_FUNCTIONS(ASH_GL_MEMBER)
#undef ASH_GL_MEMBER

 private:
  GlContext() = default;
  struct Egl;
  std::unique_ptr<Egl> m_egl;
};

}  // namespace ash
