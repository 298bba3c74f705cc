CREATE TABLE IF NOT EXISTS presence (
  project_id CHAR(12) NOT NULL,
  client VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  name VARCHAR(80) NOT NULL,
  place TEXT NOT NULL,
  seen_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (project_id, client),
  KEY by_age (seen_at)
) ENGINE=InnoDB;
