"""The tables and views of the store, an open format (see `docs/audits.md`), and its migrations.

Columns and tables are only ever added.
"""

from __future__ import annotations

from high_pair.report.rows import NAMES

# Says of an SQLite file that it is a store (SQLite, «Database File Format», §1.3.17).
APPLICATION = 0x48506175
FIRST = """
CREATE TABLE runs(id INTEGER PRIMARY KEY, started TEXT NOT NULL, finished TEXT,
  settings TEXT NOT NULL);
CREATE TABLE files(id INTEGER PRIMARY KEY, path TEXT NOT NULL UNIQUE, digest TEXT, kind TEXT,
  error TEXT);
CREATE TABLE results(run INTEGER NOT NULL REFERENCES runs(id), file INTEGER NOT NULL
  REFERENCES files(id), seconds REAL NOT NULL, digest TEXT, error TEXT, taken_from INTEGER,
  PRIMARY KEY(run, file)) WITHOUT ROWID;
CREATE TABLE pairs(run INTEGER NOT NULL, file INTEGER NOT NULL, key TEXT NOT NULL,
  page INTEGER NOT NULL, subject TEXT NOT NULL, text TEXT NOT NULL, foreground TEXT,
  background TEXT, ratio REAL, required REAL NOT NULL, criterion TEXT NOT NULL,
  verdict TEXT NOT NULL, reason TEXT NOT NULL, place TEXT NOT NULL, origin TEXT NOT NULL,
  PRIMARY KEY(run, file, key)) WITHOUT ROWID;
CREATE INDEX pairs_of_a_key ON pairs(key, run);
CREATE TABLE counts(run INTEGER NOT NULL, file INTEGER NOT NULL, criterion TEXT NOT NULL,
  verdict TEXT NOT NULL, number INTEGER NOT NULL, PRIMARY KEY(run, file, criterion, verdict))
  WITHOUT ROWID;
CREATE TABLE parts(file INTEGER NOT NULL, run INTEGER NOT NULL, path TEXT NOT NULL, digest TEXT,
  PRIMARY KEY(file, run, path)) WITHOUT ROWID;
CREATE TABLE decisions(key TEXT PRIMARY KEY, verdict TEXT NOT NULL, reason TEXT NOT NULL,
  made TEXT NOT NULL);
CREATE VIEW previous AS SELECT id AS run, (SELECT max(earlier.id) FROM runs AS earlier
  WHERE earlier.id < runs.id AND earlier.finished IS NOT NULL) AS before FROM runs;
CREATE VIEW new_since AS SELECT pairs.*, previous.before AS since FROM pairs
  JOIN previous ON previous.run = pairs.run WHERE pairs.verdict = 'falls_short'
  AND NOT EXISTS (SELECT 1 FROM pairs AS known WHERE known.key = pairs.key
    AND known.run = previous.before AND known.verdict = 'falls_short');
CREATE VIEW gone_since AS SELECT known.*, previous.run AS now FROM pairs AS known
  JOIN previous ON previous.before = known.run WHERE known.verdict = 'falls_short'
  AND NOT EXISTS (SELECT 1 FROM pairs WHERE pairs.key = known.key
    AND pairs.run = previous.run AND pairs.verdict = 'falls_short');
CREATE VIEW by_criterion AS SELECT run, criterion, verdict, sum(number) AS number FROM counts
  GROUP BY run, criterion, verdict;
CREATE VIEW by_origin AS SELECT run, origin, count(*) AS number, count(DISTINCT file) AS files,
  min(ratio) AS ratio FROM pairs WHERE verdict = 'falls_short' GROUP BY run, origin;
"""
# What was measured stays beside what was decided, so that a decision can be taken back.
SECOND = """
ALTER TABLE pairs ADD COLUMN pair_id TEXT NOT NULL DEFAULT '';
ALTER TABLE pairs ADD COLUMN address TEXT NOT NULL DEFAULT '';
ALTER TABLE pairs ADD COLUMN size_pt REAL NOT NULL DEFAULT 0;
ALTER TABLE pairs ADD COLUMN bold INTEGER NOT NULL DEFAULT 0;
ALTER TABLE pairs ADD COLUMN size_class TEXT NOT NULL DEFAULT 'normal';
ALTER TABLE pairs ADD COLUMN backdrop TEXT;
ALTER TABLE pairs ADD COLUMN ratio_lowest REAL;
ALTER TABLE pairs ADD COLUMN ratio_median REAL;
ALTER TABLE pairs ADD COLUMN ratio_highest REAL;
ALTER TABLE pairs ADD COLUMN share_below REAL;
ALTER TABLE pairs ADD COLUMN bbox TEXT NOT NULL DEFAULT '[0.0, 0.0, 0.0, 0.0]';
ALTER TABLE pairs ADD COLUMN layout TEXT NOT NULL DEFAULT 'exact';
ALTER TABLE pairs ADD COLUMN appears TEXT NOT NULL DEFAULT '';
ALTER TABLE pairs ADD COLUMN sheet TEXT;
ALTER TABLE pairs ADD COLUMN line INTEGER;
ALTER TABLE pairs ADD COLUMN cells TEXT NOT NULL DEFAULT '[]';
ALTER TABLE pairs ADD COLUMN measured TEXT;
ALTER TABLE pairs ADD COLUMN measured_reason TEXT;
UPDATE pairs SET measured = verdict, measured_reason = reason;
CREATE INDEX pairs_that_fall_short ON pairs(run, origin, ratio, required)
  WHERE verdict = 'falls_short';
CREATE INDEX pairs_that_need_eyes ON pairs(run, reason) WHERE verdict = 'needs_eyes';
CREATE INDEX pairs_set_aside ON pairs(run, reason) WHERE verdict = 'set_aside';
CREATE INDEX pairs_exempt ON pairs(run, reason) WHERE verdict = 'exempt';
CREATE INDEX pairs_by_ratio ON pairs(run, file, ratio, required, verdict);
CREATE TABLE pages(run INTEGER NOT NULL, file INTEGER NOT NULL, page INTEGER NOT NULL,
  name TEXT NOT NULL, width REAL NOT NULL, height REAL NOT NULL, hidden INTEGER NOT NULL,
  PRIMARY KEY(run, file, page)) WITHOUT ROWID;
CREATE TABLE remedies(run INTEGER NOT NULL, file INTEGER NOT NULL, key TEXT NOT NULL,
  number INTEGER NOT NULL, kind TEXT NOT NULL, label TEXT NOT NULL, ratio REAL NOT NULL,
  change TEXT NOT NULL, PRIMARY KEY(run, file, key, number)) WITHOUT ROWID;
CREATE TABLE seats(run INTEGER NOT NULL, file INTEGER NOT NULL, key TEXT NOT NULL,
  seat TEXT NOT NULL, verdict TEXT NOT NULL, numbers TEXT NOT NULL,
  PRIMARY KEY(run, file, key, seat));
ALTER TABLE results ADD COLUMN assumed TEXT NOT NULL DEFAULT '[]';
ALTER TABLE decisions ADD COLUMN foreground TEXT;
ALTER TABLE decisions ADD COLUMN background TEXT;
ALTER TABLE decisions ADD COLUMN path TEXT NOT NULL DEFAULT '';
ALTER TABLE decisions ADD COLUMN place TEXT NOT NULL DEFAULT '';
ALTER TABLE decisions ADD COLUMN text TEXT NOT NULL DEFAULT '';
ALTER TABLE decisions ADD COLUMN source TEXT NOT NULL DEFAULT '';
"""
# Each brings a store of the version of its place to the next one.
MIGRATIONS = (FIRST, SECOND)
# What a run has of a file, table by table, with the columns that are taken over from another run.
OF_A_FILE = {
    "pairs": (*NAMES, "measured", "measured_reason"),
    "counts": ("criterion", "verdict", "number"),
    "parts": ("path", "digest"),
    "pages": ("page", "name", "width", "height", "hidden"),
    "remedies": ("key", "number", "kind", "label", "ratio", "change"),
    "seats": ("key", "seat", "verdict", "numbers"),
}
