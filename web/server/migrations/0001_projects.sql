CREATE TABLE projects (
  id CHAR(12) NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  notes TEXT NOT NULL,
  revision BIGINT UNSIGNED NOT NULL DEFAULT 0,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  updated_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL
) ENGINE=InnoDB;

CREATE TABLE elements (
  seq BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
  project_id CHAR(12) NOT NULL,
  id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind VARCHAR(32) NOT NULL,
  data LONGTEXT NOT NULL CHECK (JSON_VALID(data)),
  revision BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (project_id, id),
  UNIQUE KEY in_order (seq),
  FOREIGN KEY (project_id) REFERENCES projects (id)
) ENGINE=InnoDB;

CREATE TABLE changes (
  project_id CHAR(12) NOT NULL,
  revision BIGINT UNSIGNED NOT NULL,
  batch_id VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  label VARCHAR(200) NOT NULL,
  origin ENUM('edit', 'undo', 'redo') NOT NULL,
  author VARCHAR(80) NOT NULL,
  forward LONGTEXT NOT NULL CHECK (JSON_VALID(forward)),
  inverse LONGTEXT NOT NULL CHECK (JSON_VALID(inverse)),
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (project_id, revision),
  UNIQUE KEY once (project_id, batch_id),
  FOREIGN KEY (project_id) REFERENCES projects (id)
) ENGINE=InnoDB;

CREATE TABLE sheets (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id CHAR(12) NOT NULL,
  relay_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  number INT UNSIGNED NOT NULL,
  project_revision BIGINT UNSIGNED NOT NULL,
  content LONGTEXT NOT NULL CHECK (JSON_VALID(content)),
  digest CHAR(64) NOT NULL,
  reason VARCHAR(400) NOT NULL,
  issued_by VARCHAR(80) NOT NULL,
  issued_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  pdf MEDIUMBLOB NOT NULL,
  UNIQUE KEY numbered (project_id, relay_id, number),
  FOREIGN KEY (project_id) REFERENCES projects (id)
) ENGINE=InnoDB;

CREATE TRIGGER sheets_are_immutable BEFORE UPDATE ON sheets FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'an issued sheet cannot be changed';

CREATE TRIGGER sheets_are_kept BEFORE DELETE ON sheets FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'an issued sheet cannot be deleted';

CREATE TABLE facts (
  name VARCHAR(40) NOT NULL PRIMARY KEY,
  value VARCHAR(200) NOT NULL
) ENGINE=InnoDB;
