// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing but a file to compile the tests' common headers with (tests/CMakeLists.txt).
