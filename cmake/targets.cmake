# SPDX-License-Identifier: GPL-3.0-or-later
# One place for the flags of our own code, and one-line helpers that declare a core folder or a test.
add_library(ash_flags INTERFACE)
target_compile_options(ash_flags INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Wno-sign-conversion
  $<$<BOOL:${ASH_WARNINGS_AS_ERRORS}>:-Werror>)
if(CMAKE_UNITY_BUILD)
  # Files that are compiled together are none of their own, which GCC takes for a header.
  target_compile_options(ash_flags INTERFACE $<$<CXX_COMPILER_ID:GNU>:-Wno-subobject-linkage>)
endif()
if(ASH_SANITIZE)
  # Instrumented, std::regex looks uninitialized to GCC 12 (its manual, -fsanitize: false warnings); the build without
  # sanitizers has the warning.
  target_compile_options(ash_flags INTERFACE -fsanitize=address,undefined -fno-omit-frame-pointer
    -fno-sanitize-recover=undefined $<$<CXX_COMPILER_ID:GNU>:-Wno-maybe-uninitialized>)
  target_link_options(ash_flags INTERFACE -fsanitize=address,undefined)
endif()
if(ASH_TSAN)
  target_compile_options(ash_flags INTERFACE -fsanitize=thread -fno-omit-frame-pointer
    $<$<CXX_COMPILER_ID:GNU>:-Wno-tsan -Wno-maybe-uninitialized>)
  target_link_options(ash_flags INTERFACE -fsanitize=thread)
endif()
if(ASH_FUZZ)
  target_compile_options(ash_flags INTERFACE -fsanitize=fuzzer-no-link,address,undefined -fno-sanitize-recover=undefined)
  target_link_options(ash_flags INTERFACE -fsanitize=address,undefined)
endif()

# Headers that nearly every file reads, compiled once: a third of the build's time went into them.
set(ASH_COMMON_HEADERS <algorithm> <array> <chrono> <cmath> <filesystem> <functional> <map> <memory> <optional> <set> <string>
  <string_view> <vector> <fmt/format.h> <nlohmann/json.hpp>)

# ash_use_common_headers(TARGET OWNER): takes those that OWNER has compiled; OWNER must be compiled with the same flags.
function(ash_use_common_headers target owner)
  if(NOT ASH_FUZZ)
    get_target_property(aliased ${owner} ALIASED_TARGET)
    if(aliased)
      set(owner ${aliased})
    endif()
    target_precompile_headers(${target} REUSE_FROM ${owner})
  endif()
endfunction()

# ash_core_library(NAME LIBS...): every .cpp of the current folder, linked only to what is named. The link line is what
# keeps dependencies pointing one way.
function(ash_core_library name)
  file(GLOB sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/*.cpp)
  add_library(ash_${name} STATIC ${sources})
  target_include_directories(ash_${name} PUBLIC ${PROJECT_SOURCE_DIR}/core)
  target_link_libraries(ash_${name} PUBLIC ${ARGN} PRIVATE ash_flags)
  # A name that is no target would be a library to look for, and be missed at the last link only.
  set_target_properties(ash_${name} PROPERTIES LINK_LIBRARIES_ONLY_TARGETS ON)
  if(NOT name STREQUAL model)
    ash_use_common_headers(ash_${name} ash_model)
  elseif(NOT ASH_FUZZ)
    target_precompile_headers(ash_model PRIVATE ${ASH_COMMON_HEADERS})
  endif()
endfunction()
