# SPDX-License-Identifier: GPL-3.0-or-later
# What the programs call themselves. Of a package it is the tag that was checked out (v0.2.0), or the last one with the
# number of commits since and the commit; of any other build the project's version, so that a commit compiles nothing anew.
option(ASH_VERSION_FROM_TAG "Take the version from the last tag of git" OFF)
set(ASH_VERSION ${PROJECT_VERSION})
if(ASH_VERSION_FROM_TAG)
  find_program(ASH_GIT git)
  if(ASH_GIT)
    execute_process(COMMAND ${ASH_GIT} describe --tags --match "v[0-9]*" --long WORKING_DIRECTORY ${PROJECT_SOURCE_DIR}
      OUTPUT_VARIABLE described OUTPUT_STRIP_TRAILING_WHITESPACE ERROR_QUIET)
    execute_process(COMMAND ${ASH_GIT} rev-list --count HEAD WORKING_DIRECTORY ${PROJECT_SOURCE_DIR}
      OUTPUT_VARIABLE count OUTPUT_STRIP_TRAILING_WHITESPACE ERROR_QUIET)
    execute_process(COMMAND ${ASH_GIT} rev-parse --short HEAD WORKING_DIRECTORY ${PROJECT_SOURCE_DIR}
      OUTPUT_VARIABLE commit OUTPUT_STRIP_TRAILING_WHITESPACE ERROR_QUIET)
  endif()
  if(ASH_GIT)
    execute_process(COMMAND ${ASH_GIT} diff --quiet HEAD WORKING_DIRECTORY ${PROJECT_SOURCE_DIR} RESULT_VARIABLE is_changed)
  endif()
  if(described MATCHES "^v([0-9][0-9.]*)-0-g[0-9a-f]+$")
    set(ASH_VERSION ${CMAKE_MATCH_1})
  elseif(described MATCHES "^v([0-9][0-9.]*)-([0-9]+)-g([0-9a-f]+)$")
    set(ASH_VERSION ${CMAKE_MATCH_1}+${CMAKE_MATCH_2}.${CMAKE_MATCH_3})
  elseif(count AND commit)
    # Before the first release: less than it.
    set(ASH_VERSION ${PROJECT_VERSION}~${count}.${commit})
  endif()
  # Not what stands at that commit.
  if(is_changed)
    string(APPEND ASH_VERSION +changed)
  endif()
endif()
