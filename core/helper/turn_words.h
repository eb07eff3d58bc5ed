// SPDX-License-Identifier: GPL-3.0-or-later
// What the helper and who asks it say to each other over the system bus. docs/security.md has it for people.
#pragma once

namespace ash::turning {

inline constexpr char kName[] = "local.ashgauge.Turn1", kPath[] = "/local/ashgauge/Turn1",
                      kInterface[] = "local.ashgauge.Turn1";

/// An id and a number in (of a knob with words: which of them, from 0); what was read back and whether it is as asked
/// out. Turn lasts until its caller goes, Set until Restore.
inline constexpr char kTurn[] = "Turn", kSet[] = "Set";
/// Sentences out, one for each that would not go back. Release: only fans; both only of what the caller has turned.
inline constexpr char kPutBack[] = "PutBack", kRelease[] = "Release";
/// Everything that was set or left: how many files went back, and sentences.
inline constexpr char kRestore[] = "Restore";

inline constexpr char kRefused[] = "local.ashgauge.Error.Refused";  ///< the request is wrong as it stands
inline constexpr char kNotNow[] = "local.ashgauge.Error.NotNow";    ///< the machine or another caller is in the way
inline constexpr char kNoRight[] = "local.ashgauge.Error.NoRight";  ///< polkit says no
inline constexpr char kTurnAction[] = "local.ashgauge.turn", kSetAction[] = "local.ashgauge.set";

}  // namespace ash::turning
