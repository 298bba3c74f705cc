ALTER TABLE changes
  ADD COLUMN IF NOT EXISTS client VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '' AFTER author,
  ADD COLUMN IF NOT EXISTS touched INT UNSIGNED NULL AFTER client;

CREATE TABLE IF NOT EXISTS removals (
  project_id CHAR(12) NOT NULL,
  id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (project_id, id),
  FOREIGN KEY (project_id) REFERENCES projects (id)
) ENGINE=InnoDB;

ALTER TABLE sheets
  ADD COLUMN IF NOT EXISTS request_key VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NULL AFTER project_revision,
  ADD COLUMN IF NOT EXISTS seal CHAR(64) NOT NULL DEFAULT '' AFTER digest;

ALTER TABLE sheets ADD UNIQUE KEY IF NOT EXISTS asked_once (project_id, request_key);

INSERT IGNORE INTO facts (name, value) VALUES ('epoch', '1');
