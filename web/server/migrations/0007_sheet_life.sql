CREATE TABLE IF NOT EXISTS sheet_runs (
  project_id CHAR(12) NOT NULL,
  id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  subject_kind VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  subject_id VARCHAR(140) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(160) NOT NULL,
  station VARCHAR(160) NOT NULL,
  project_revision BIGINT UNSIGNED NOT NULL,
  content LONGTEXT NOT NULL CHECK (JSON_VALID(content)),
  drawing MEDIUMTEXT NULL,
  since LONGTEXT NOT NULL CHECK (JSON_VALID(since)),
  digest CHAR(64) NOT NULL,
  reason VARCHAR(400) NOT NULL,
  PRIMARY KEY (project_id, id),
  KEY of_subject (project_id, subject_id),
  FOREIGN KEY (project_id) REFERENCES projects (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS sheet_events (
  project_id CHAR(12) NOT NULL,
  run_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  seq INT UNSIGNED NOT NULL,
  step VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  name VARCHAR(80) NOT NULL,
  signed_in BOOLEAN NOT NULL,
  text VARCHAR(1000) NOT NULL,
  about VARCHAR(140) NOT NULL,
  at DATETIME(3) NOT NULL,
  request_key VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NULL,
  seal CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (project_id, run_id, seq),
  UNIQUE KEY asked_once (project_id, request_key),
  FOREIGN KEY (project_id, run_id) REFERENCES sheet_runs (project_id, id)
) ENGINE=InnoDB;

CREATE TRIGGER IF NOT EXISTS sheet_runs_are_immutable BEFORE UPDATE ON sheet_runs FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a prepared sheet cannot be changed';

CREATE TRIGGER IF NOT EXISTS sheet_runs_are_kept BEFORE DELETE ON sheet_runs FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a prepared sheet cannot be deleted';

CREATE TRIGGER IF NOT EXISTS sheet_events_are_immutable BEFORE UPDATE ON sheet_events FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a signature cannot be changed';

CREATE TRIGGER IF NOT EXISTS sheet_events_are_kept BEFORE DELETE ON sheet_events FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a signature cannot be deleted';

ALTER TABLE sheets
  MODIFY COLUMN relay_id VARCHAR(140) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ADD COLUMN IF NOT EXISTS run_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL AFTER relay_id,
  ADD COLUMN IF NOT EXISTS signatures LONGTEXT NULL AFTER reason;

CREATE TABLE IF NOT EXISTS readings (
  project_id CHAR(12) NOT NULL,
  id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  subject_id VARCHAR(140) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  number INT UNSIGNED NOT NULL,
  source VARCHAR(200) NOT NULL,
  sent BOOLEAN NOT NULL,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  name VARCHAR(80) NOT NULL,
  at DATETIME(3) NOT NULL,
  compared LONGTEXT NOT NULL CHECK (JSON_VALID(compared)),
  PRIMARY KEY (project_id, id),
  KEY of_subject (project_id, subject_id, at),
  FOREIGN KEY (project_id) REFERENCES projects (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS acceptances (
  project_id CHAR(12) NOT NULL,
  reading_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  value_key VARCHAR(140) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  name VARCHAR(80) NOT NULL,
  reason VARCHAR(400) NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (project_id, reading_id, value_key),
  FOREIGN KEY (project_id, reading_id) REFERENCES readings (project_id, id)
) ENGINE=InnoDB;
