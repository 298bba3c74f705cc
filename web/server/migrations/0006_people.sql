CREATE TABLE IF NOT EXISTS accounts (
  id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  full_name VARCHAR(80) NOT NULL,
  password_hash VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NULL,
  code_secret VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NULL,
  code_step BIGINT UNSIGNED NOT NULL DEFAULT 0,
  administrator BOOLEAN NOT NULL DEFAULT FALSE,
  blocked_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY one_of_a_name (name)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS recovery_codes (
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  code_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (account_id, code_hash),
  FOREIGN KEY (account_id) REFERENCES accounts (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS invitations (
  token_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  FOREIGN KEY (account_id) REFERENCES accounts (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS sessions (
  id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  token_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  begun_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  seen_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  address VARCHAR(60) NOT NULL,
  browser VARCHAR(200) NOT NULL,
  UNIQUE KEY by_token (token_hash),
  FOREIGN KEY (account_id) REFERENCES accounts (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS guesses (
  target CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  failures INT UNSIGNED NOT NULL,
  last_at DATETIME(3) NOT NULL,
  until_at DATETIME(3) NULL
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS members (
  project_id CHAR(12) NOT NULL,
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  roles SET('viewer', 'engineer', 'checker', 'approver', 'administrator') NOT NULL,
  PRIMARY KEY (project_id, account_id),
  FOREIGN KEY (project_id) REFERENCES projects (id),
  FOREIGN KEY (account_id) REFERENCES accounts (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS audit_log (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL,
  name VARCHAR(80) NOT NULL,
  action VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  project_id CHAR(12) NULL,
  target VARCHAR(160) NOT NULL,
  detail VARCHAR(400) NOT NULL,
  address VARCHAR(60) NOT NULL,
  KEY of_project (project_id, id)
) ENGINE=InnoDB;

CREATE TRIGGER IF NOT EXISTS audit_is_immutable BEFORE UPDATE ON audit_log FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit log cannot be changed';

CREATE TRIGGER IF NOT EXISTS audit_is_kept BEFORE DELETE ON audit_log FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit log cannot be shortened';

ALTER TABLE changes ADD COLUMN IF NOT EXISTS account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL AFTER author;

ALTER TABLE versions ADD COLUMN IF NOT EXISTS account_id CHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL AFTER author;
