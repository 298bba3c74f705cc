CREATE TABLE IF NOT EXISTS api_tokens (
  id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  token_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  label VARCHAR(80) NOT NULL,
  scopes SET('read', 'study', 'change') NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  ends_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  UNIQUE KEY by_token (token_hash),
  KEY of_account (account_id),
  FOREIGN KEY (account_id) REFERENCES accounts (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS jobs (
  id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  project_id CHAR(12) NOT NULL,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  study VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  form VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  options MEDIUMTEXT NOT NULL,
  revision INT UNSIGNED NULL,
  state ENUM('waiting', 'running', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'waiting',
  share DOUBLE NOT NULL DEFAULT 0,
  code TINYINT UNSIGNED NULL,
  notes MEDIUMTEXT NOT NULL,
  answer MEDIUMBLOB NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  begun_at DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  seen_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY of_account (account_id, created_at),
  FOREIGN KEY (project_id) REFERENCES projects (id)
) ENGINE=InnoDB;
