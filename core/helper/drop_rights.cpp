// SPDX-License-Identifier: GPL-3.0-or-later
#include "helper/drop_rights.h"

#include <linux/capability.h>
#include <sys/prctl.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <cerrno>

namespace ash {

Status dropRights() {
  if (prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) != 0) return Error::io("give up rights of", "this process", errno);
  // Those that nobody has cannot be given up, which is as well.
  for (int one = 0; prctl(PR_CAPBSET_READ, one, 0, 0, 0) >= 0; ++one) prctl(PR_CAPBSET_DROP, one, 0, 0, 0);
  prctl(PR_CAP_AMBIENT, PR_CAP_AMBIENT_CLEAR_ALL, 0, 0, 0);
  __user_cap_header_struct header{_LINUX_CAPABILITY_VERSION_3, 0};
  __user_cap_data_struct none[2]{};
  if (syscall(SYS_capset, &header, none) != 0) return Error::io("give up rights of", "this process", errno);
  return {};
}

}  // namespace ash
