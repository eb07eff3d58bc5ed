# SPDX-License-Identifier: GPL-3.0-or-later
# One place for the flags of our own code, and one-line helpers that declare a core folder or a test.
add_library(ash_flags INTERFACE)
target_compile_options(ash_flags INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Wno-sign-conversion
  $<$<BOOL:${ASH_WARNINGS_AS_ERRORS}>:-Werror>)
if(ASH_SANITIZE)
  target_compile_options(ash_flags INTERFACE -fsanitize=address,undefined -fno-omit-frame-pointer
    -fno-sanitize-recover=undefined)
  target_link_options(ash_flags INTERFACE -fsanitize=address,undefined)
endif()
if(ASH_FUZZ)
  target_compile_options(ash_flags INTERFACE -fsanitize=fuzzer-no-link,address,undefined -fno-sanitize-recover=undefined)
  target_link_options(ash_flags INTERFACE -fsanitize=address,undefined)
endif()

# ash_core_library(NAME LIBS...): every .cpp of the current folder, linked only to what is named. The link line is what
# keeps dependencies pointing one way.
function(ash_core_library name)
  file(GLOB sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/*.cpp)
  add_library(ash_${name} STATIC ${sources})
  target_include_directories(ash_${name} PUBLIC ${PROJECT_SOURCE_DIR}/core)
  target_link_libraries(ash_${name} PUBLIC ${ARGN} PRIVATE ash_flags)
endfunction()
