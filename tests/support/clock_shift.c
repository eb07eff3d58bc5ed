/* SPDX-License-Identifier: GPL-3.0-or-later
 * Preloaded into a program: its clocks jump. ASH_CLOCK_SHIFT="CLOCK SECONDS AFTER" with CLOCK "realtime" or "boottime": the
 * clock is off by SECONDS from AFTER seconds after the first look. A sleeping machine is a boottime that jumps. */
#define _GNU_SOURCE
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/syscall.h>
#include <time.h>
#include <unistd.h>

static long shiftFor(clockid_t clock) {
  static int isRead = 0;
  static clockid_t shifted;
  static long seconds, after;
  static struct timespec first;
  struct timespec now;
  syscall(SYS_clock_gettime, CLOCK_MONOTONIC, &now);
  if (!isRead) {
    char name[20] = "";
    const char* text = getenv("ASH_CLOCK_SHIFT");
    if (text == NULL || sscanf(text, "%19s %ld %ld", name, &seconds, &after) != 3) seconds = 0;
    shifted = strcmp(name, "realtime") == 0 ? CLOCK_REALTIME : CLOCK_BOOTTIME;
    first = now;
    isRead = 1;
  }
  return clock == shifted && now.tv_sec - first.tv_sec >= after ? seconds : 0;
}

int clock_gettime(clockid_t clock, struct timespec* now) {
  const int result = (int)syscall(SYS_clock_gettime, clock, now);
  if (result == 0) now->tv_sec += shiftFor(clock);
  return result;
}

time_t time(time_t* out) {
  struct timespec now;
  clock_gettime(CLOCK_REALTIME, &now);
  if (out != NULL) *out = now.tv_sec;
  return now.tv_sec;
}
