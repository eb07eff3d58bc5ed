// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/gl_library.h"

#include <EGL/eglext.h>
#include <dlfcn.h>
#include <fmt/format.h>

#include <array>

namespace ash {
namespace {

constexpr const char* kHowToMend = "install a driver for OpenGL ES (Debian: libegl1 and libgl1-mesa-dri)";

}  // namespace

struct GlContext::Egl {
  void* library = nullptr;
  EGLDisplay display = EGL_NO_DISPLAY;
  EGLContext context = EGL_NO_CONTEXT;
  PFNEGLGETPROCADDRESSPROC getProcAddress = nullptr;
  PFNEGLMAKECURRENTPROC makeCurrent = nullptr;
  PFNEGLDESTROYCONTEXTPROC destroyContext = nullptr;

  ~Egl() {
    if (display == EGL_NO_DISPLAY) return;
    makeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, EGL_NO_CONTEXT);
    if (context != EGL_NO_CONTEXT) destroyContext(display, context);
    // Display and library stay for the rest of the process: drivers leave threads, handlers and memory behind.
  }

  template <typename F>
  void find(F& function, const char* name) const {
    function = reinterpret_cast<F>(dlsym(library, name));
  }

  // A display without any screen where the driver has one (EGL_MESA_platform_surfaceless), else the usual one.
  bool openDisplay() {
    PFNEGLINITIALIZEPROC initialize;
    PFNEGLGETDISPLAYPROC getDisplay;
    find(initialize, "eglInitialize");
    find(getDisplay, "eglGetDisplay");
    const auto getPlatformDisplay =
        reinterpret_cast<PFNEGLGETPLATFORMDISPLAYEXTPROC>(getProcAddress("eglGetPlatformDisplayEXT"));
    if (getPlatformDisplay != nullptr) {
      display = getPlatformDisplay(EGL_PLATFORM_SURFACELESS_MESA, nullptr, nullptr);
      if (display != EGL_NO_DISPLAY && initialize(display, nullptr, nullptr) == EGL_TRUE) return true;
    }
    display = getDisplay(EGL_DEFAULT_DISPLAY);
    if (display != EGL_NO_DISPLAY && initialize(display, nullptr, nullptr) == EGL_TRUE) return true;
    display = EGL_NO_DISPLAY;
    return false;
  }

  bool openContext() {
    PFNEGLBINDAPIPROC bindApi;
    PFNEGLCHOOSECONFIGPROC chooseConfig;
    PFNEGLCREATECONTEXTPROC createContext;
    find(bindApi, "eglBindAPI");
    find(chooseConfig, "eglChooseConfig");
    find(createContext, "eglCreateContext");
    constexpr std::array<EGLint, 5> kConfig = {EGL_RENDERABLE_TYPE, EGL_OPENGL_ES3_BIT, EGL_SURFACE_TYPE, 0, EGL_NONE};
    constexpr std::array<EGLint, 5> kContext = {EGL_CONTEXT_MAJOR_VERSION, 3, EGL_CONTEXT_MINOR_VERSION, 1, EGL_NONE};
    EGLConfig config = nullptr;
    EGLint count = 0;
    if (bindApi(EGL_OPENGL_ES_API) != EGL_TRUE) return false;
    if (chooseConfig(display, kConfig.data(), &config, 1, &count) != EGL_TRUE || count < 1) return false;
    context = createContext(display, config, EGL_NO_CONTEXT, kContext.data());
    return context != EGL_NO_CONTEXT && makeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, context) == EGL_TRUE;
  }
};

Result<std::unique_ptr<GlContext>> GlContext::make() {
  std::unique_ptr<GlContext> gl(new GlContext);
  gl->m_egl = std::make_unique<Egl>();
  Egl& egl = *gl->m_egl;
  egl.library = dlopen("libEGL.so.1", RTLD_NOW | RTLD_LOCAL);
  if (egl.library == nullptr)
    return Error::environment(fmt::format("The graphics load needs libEGL, which is not here; {}.", kHowToMend));
  egl.find(egl.getProcAddress, "eglGetProcAddress");
  egl.find(egl.makeCurrent, "eglMakeCurrent");
  egl.find(egl.destroyContext, "eglDestroyContext");
  if (egl.getProcAddress == nullptr || egl.makeCurrent == nullptr || !egl.openDisplay() || !egl.openContext())
    return Error::environment(
        fmt::format("The graphics driver gives no OpenGL ES 3.1 without a window; {}.", kHowToMend));
#define ASH_GL_LOAD(type, name) gl->name = reinterpret_cast<type>(egl.getProcAddress("gl" #name));
  ASH_GL_FUNCTIONS(ASH_GL_LOAD)
#undef ASH_GL_LOAD
  bool isWhole = true;
#define ASH_GL_CHECK(type, name) isWhole = isWhole && gl->name != nullptr;
  ASH_GL_FUNCTIONS(ASH_GL_CHECK)
#undef ASH_GL_CHECK
  if (!isWhole)
    return Error::environment(fmt::format("The graphics driver lacks functions of OpenGL ES 3.1; {}.", kHowToMend));
  return gl;
}

GlContext::~GlContext() = default;

std::string GlContext::renderer() const {
  const GLubyte* text = GetString(GL_RENDERER);
  return text == nullptr ? std::string("unknown") : reinterpret_cast<const char*>(text);
}

Result<GLuint> GlContext::program(const std::vector<std::pair<GLenum, std::string>>& shaders) const {
  const GLuint program = CreateProgram();
  for (const auto& [type, source] : shaders) {
    const GLuint shader = CreateShader(type);
    const char* text = source.c_str();
    ShaderSource(shader, 1, &text, nullptr);
    CompileShader(shader);
    GLint isGood = 0;
    GetShaderiv(shader, GL_COMPILE_STATUS, &isGood);
    if (isGood == GL_FALSE) {
      std::array<char, 300> log{};
      GetShaderInfoLog(shader, log.size(), nullptr, log.data());
      return Error::environment(fmt::format("The graphics driver does not take the load's shader: {}", log.data()));
    }
    AttachShader(program, shader);
  }
  LinkProgram(program);
  GLint isGood = 0;
  GetProgramiv(program, GL_LINK_STATUS, &isGood);
  if (isGood == GL_FALSE) return Error::environment("The graphics driver does not link the load's shaders.");
  return program;
}

}  // namespace ash
