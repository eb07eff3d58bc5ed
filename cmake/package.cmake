# SPDX-License-Identifier: GPL-3.0-or-later
# Debian packages by `cpack -G DEB` (packaging/make-packages does all of it; docs/releasing.md).
set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME ash-gauge)
set(CPACK_PACKAGE_VERSION ${ASH_VERSION})
set(CPACK_PACKAGE_CONTACT "The Ash Gauge developers <ash-gauge@ashgauge.invalid>")
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES OFF)  # what splits the symbols off strips
set(CPACK_COMPONENTS_ALL cli window)
set(CPACK_DEB_COMPONENT_INSTALL ON)
set(CPACK_COMPONENTS_GROUPING IGNORE)
set(CPACK_DEBIAN_PACKAGE_SECTION utils)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_CONTROL_STRICT_PERMISSION ON)
option(ASH_DEBUG_SYMBOLS "Packages with the debug symbols split off (needs a build with -g)" OFF)
set(CPACK_DEBIAN_CLI_DEBUGINFO_PACKAGE ${ASH_DEBUG_SYMBOLS})
set(CPACK_DEBIAN_WINDOW_DEBUGINFO_PACKAGE ${ASH_DEBUG_SYMBOLS})
if(ASH_DEBUG_SYMBOLS)
  # Where it was built stands in no file: two builds of one commit are the same bytes.
  add_compile_options(-g1 -ffile-prefix-map=${CMAKE_BINARY_DIR}=/usr/src/ash-gauge/build
    -ffile-prefix-map=${PROJECT_SOURCE_DIR}=/usr/src/ash-gauge)
endif()

set(CPACK_DEBIAN_CLI_PACKAGE_NAME ash-gauge-cli)
set(CPACK_COMPONENT_CLI_DESCRIPTION "put a machine under load, log it, compare (command line)
Stress-tests coolers, cases and devices under sustained load, logs
temperatures, clocks, fan speeds and power over time, and compares headroom,
throttling and efficiency across setups. Readings come from the kernel's own
interfaces and from instruments; loads and analysis are its own. This package
has the command line, which needs no desktop.")
set(CPACK_DEBIAN_CLI_PACKAGE_RECOMMENDS "systemd | systemd-standalone-sysusers, polkitd")
set(CPACK_DEBIAN_CLI_PACKAGE_SUGGESTS "ash-gauge, mosquitto")
set(CPACK_DEBIAN_CLI_PACKAGE_CONTROL_EXTRA "${PROJECT_SOURCE_DIR}/packaging/debian/cli/postinst")

set(CPACK_DEBIAN_WINDOW_PACKAGE_NAME ash-gauge)
set(CPACK_COMPONENT_WINDOW_DESCRIPTION "put a machine under load, log it, compare (window)
Stress-tests coolers, cases and devices under sustained load, logs
temperatures, clocks, fan speeds and power over time, and compares headroom,
throttling and efficiency across setups: from the question to the page that
is published. This package has the window.")
set(CPACK_DEBIAN_WINDOW_PACKAGE_DEPENDS "ash-gauge-cli (= ${ASH_VERSION})")
set(CPACK_DEBIAN_WINDOW_PACKAGE_RECOMMENDS "fonts-inter, qt6-qpa-plugins")
include(CPack)
