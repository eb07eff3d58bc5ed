// SPDX-License-Identifier: GPL-3.0-or-later
// The book's file format in constants and statements. Documented in docs/book-format.md.
#pragma once

#include <string_view>

namespace ash {

inline constexpr int kBookApplicationId = 0x41534742;  ///< "ASGB", PRAGMA application_id
inline constexpr int kBookFormat = 3;                  ///< PRAGMA user_version

/// Brings a book from version N to N + 1; kMigrations[0] makes an empty book version 1.
inline constexpr std::string_view kMigrations[] = {
    R"sql(
CREATE TABLE study (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  question TEXT NOT NULL DEFAULT '',
  plan TEXT NOT NULL DEFAULT '{}',
  created TEXT NOT NULL
);
CREATE TABLE setup (
  id INTEGER PRIMARY KEY,
  study INTEGER NOT NULL REFERENCES study(id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  parts TEXT NOT NULL DEFAULT '{}',
  conditions TEXT NOT NULL DEFAULT '{}',
  levels TEXT NOT NULL DEFAULT '{}',
  UNIQUE (study, name)
);
CREATE TABLE load (
  id INTEGER PRIMARY KEY,
  study INTEGER NOT NULL REFERENCES study(id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  spec TEXT NOT NULL DEFAULT '{}',
  UNIQUE (study, name)
);
CREATE TABLE run (
  id TEXT PRIMARY KEY,
  setup INTEGER NOT NULL REFERENCES setup(id),
  load INTEGER NOT NULL REFERENCES load(id),
  repeat INTEGER NOT NULL,
  outcome TEXT NOT NULL,
  reason TEXT,
  started TEXT NOT NULL,
  procedure TEXT NOT NULL,
  interval_s REAL NOT NULL,
  watched TEXT NOT NULL DEFAULT '',
  machine TEXT NOT NULL DEFAULT '{}',
  bench TEXT NOT NULL DEFAULT '{}',
  conditions TEXT NOT NULL DEFAULT '{}',
  unwatched TEXT,
  extra TEXT NOT NULL DEFAULT '{}',
  recorder_boot TEXT,
  recorder_pid INTEGER,
  recorder_start INTEGER
);
CREATE INDEX run_by_setup ON run (setup, load, repeat);
CREATE TABLE source (
  run TEXT NOT NULL REFERENCES run(id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  id TEXT NOT NULL,
  PRIMARY KEY (run, number)
) WITHOUT ROWID;
CREATE TABLE reading (
  run TEXT NOT NULL,
  source INTEGER NOT NULL,
  number INTEGER NOT NULL,
  name TEXT NOT NULL,
  role TEXT,
  unit TEXT NOT NULL,
  about TEXT NOT NULL,
  PRIMARY KEY (run, source, number),
  FOREIGN KEY (run, source) REFERENCES source(run, number) ON DELETE CASCADE
) WITHOUT ROWID;
CREATE TABLE block (
  run TEXT NOT NULL,
  source INTEGER NOT NULL,
  number INTEGER NOT NULL,
  first_s REAL NOT NULL,
  last_s REAL NOT NULL,
  sweeps INTEGER NOT NULL,
  times BLOB NOT NULL,
  samples BLOB NOT NULL,
  checksum INTEGER NOT NULL,
  PRIMARY KEY (run, source, number),
  FOREIGN KEY (run, source) REFERENCES source(run, number) ON DELETE CASCADE
);
CREATE TABLE phase (
  run TEXT NOT NULL REFERENCES run(id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  kind TEXT NOT NULL,
  start_s REAL NOT NULL,
  end_s REAL,
  PRIMARY KEY (run, number)
) WITHOUT ROWID;
CREATE TABLE event (
  id INTEGER PRIMARY KEY,
  run TEXT NOT NULL REFERENCES run(id) ON DELETE CASCADE,
  at_s REAL,
  kind TEXT NOT NULL,
  text TEXT NOT NULL DEFAULT '',
  role TEXT,
  value REAL,
  value_high REAL,
  extra TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX event_by_run ON event (run, at_s);
)sql",
    // Numbers of studies, setups and loads are never given twice (https://www.sqlite.org/autoinc.html): an undo that
    // comes late finds its own row or none. `edition` counts edits, so that who looks on need not read everything.
    R"sql(
CREATE TABLE study_2 (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  name TEXT NOT NULL UNIQUE,
  question TEXT NOT NULL DEFAULT '',
  plan TEXT NOT NULL DEFAULT '{}',
  created TEXT NOT NULL
);
INSERT INTO study_2 SELECT id, name, question, plan, created FROM study;
DROP TABLE study;
ALTER TABLE study_2 RENAME TO study;
CREATE TABLE setup_2 (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  study INTEGER NOT NULL REFERENCES study(id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  parts TEXT NOT NULL DEFAULT '{}',
  conditions TEXT NOT NULL DEFAULT '{}',
  levels TEXT NOT NULL DEFAULT '{}',
  UNIQUE (study, name)
);
INSERT INTO setup_2 SELECT id, study, name, parts, conditions, levels FROM setup;
DROP TABLE setup;
ALTER TABLE setup_2 RENAME TO setup;
CREATE TABLE load_2 (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  study INTEGER NOT NULL REFERENCES study(id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  spec TEXT NOT NULL DEFAULT '{}',
  UNIQUE (study, name)
);
INSERT INTO load_2 SELECT id, study, name, spec FROM load;
DROP TABLE load;
ALTER TABLE load_2 RENAME TO load;
CREATE TABLE IF NOT EXISTS machine (name TEXT PRIMARY KEY, readings TEXT NOT NULL DEFAULT '{}') WITHOUT ROWID;
CREATE TABLE edition (number INTEGER NOT NULL);
INSERT INTO edition VALUES (0);
)sql",
    // Pictures and other files: a setup that has some is not taken away. Procedures by name; runs keep the text that
    // they followed.
    R"sql(
CREATE TABLE attachment (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  run TEXT REFERENCES run(id) ON DELETE CASCADE,
  setup INTEGER REFERENCES setup(id),
  at_s REAL,
  name TEXT NOT NULL,
  type TEXT NOT NULL,
  text TEXT NOT NULL DEFAULT '',
  hash TEXT NOT NULL,
  added TEXT NOT NULL,
  extra TEXT NOT NULL DEFAULT '{}',
  content BLOB NOT NULL,
  CHECK ((run IS NULL) != (setup IS NULL))
);
CREATE INDEX attachment_by_run ON attachment (run);
CREATE INDEX attachment_by_setup ON attachment (setup);
CREATE TABLE procedure (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  version INTEGER NOT NULL,
  text TEXT NOT NULL,
  created TEXT NOT NULL,
  UNIQUE (name, version)
);
CREATE TABLE ladder (
  id TEXT PRIMARY KEY,
  study INTEGER NOT NULL REFERENCES study(id) ON DELETE CASCADE,
  created TEXT NOT NULL,
  asked TEXT NOT NULL,
  state TEXT NOT NULL DEFAULT '{}'
);
)sql",
};
static_assert(sizeof kMigrations / sizeof kMigrations[0] == kBookFormat);

}  // namespace ash
