BEGIN TRANSACTION;
CREATE TABLE boards (
	id VARCHAR NOT NULL, 
	finish_id VARCHAR NOT NULL, 
	number INTEGER NOT NULL, 
	remark VARCHAR NOT NULL, 
	made_at VARCHAR NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "boards" VALUES('board','finish',1,'','2026-01-02T08:00:00+00:00',NULL);
CREATE TABLE finishes (
	id VARCHAR NOT NULL, 
	job_id VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	family VARCHAR NOT NULL, 
	viewing_m FLOAT NOT NULL, 
	tolerance FLOAT NOT NULL, 
	position INTEGER NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "finishes" VALUES('finish','job','Bar front','','marble',2.0,4.0,0,NULL);
CREATE TABLE jobs (
	id VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	client VARCHAR NOT NULL, 
	place VARCHAR NOT NULL, 
	position INTEGER NOT NULL, 
	created_at VARCHAR NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "jobs" VALUES('job','Hotel Vessary','The house','',0,'2026-01-02T08:00:00+00:00',NULL);
CREATE TABLE photos (
	id VARCHAR NOT NULL, 
	finish_id VARCHAR NOT NULL, 
	board_id VARCHAR, 
	use VARCHAR NOT NULL, 
	sha256 VARCHAR NOT NULL, 
	file_name VARCHAR NOT NULL, 
	taken VARCHAR, 
	added_at VARCHAR NOT NULL, 
	position INTEGER NOT NULL, 
	settings JSON NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "photos" VALUES('photo0','finish',NULL,'target','0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b','slab.jpg',NULL,'2026-01-02T08:00:00+00:00',0,'{"corners": null, "size_mm": null, "known_length": null, "mm_per_px": 0.2, "neutral": {"rect": {"x": 10.0, "y": 20.0, "w": 30.0, "h": 40.0}, "lightness": 60.0}, "region": null}',NULL);
INSERT INTO "photos" VALUES('photo1','finish','board','board','1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b','stand 2.jpg',NULL,'2026-01-02T08:00:00+00:00',1,'{"corners": null, "size_mm": null, "known_length": null, "mm_per_px": 0.2, "neutral": {"rect": {"x": 10.0, "y": 20.0, "w": 30.0, "h": 40.0}, "lightness": 60.0}, "region": null}',NULL);
CREATE TABLE preferences (
	name VARCHAR NOT NULL, 
	value JSON, 
	PRIMARY KEY (name)
);
INSERT INTO "preferences" VALUES('language','"de"');
CREATE TABLE readings (
	id INTEGER NOT NULL, 
	sha256 VARCHAR NOT NULL, 
	settings_revision VARCHAR NOT NULL, 
	family VARCHAR NOT NULL, 
	algorithm VARCHAR NOT NULL, 
	seed INTEGER NOT NULL, 
	made_at VARCHAR NOT NULL, 
	reading VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE (sha256, settings_revision, family, algorithm, seed)
);
INSERT INTO "readings" VALUES(1,'0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b','r','marble','2026.1',0,'2026-01-02T08:00:00+00:00','{}');
CREATE TABLE surfaces (
	id VARCHAR NOT NULL, 
	finish_id VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	width_mm FLOAT NOT NULL, 
	height_mm FLOAT NOT NULL, 
	count INTEGER NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "surfaces" VALUES('surface','finish','Front',2400.0,1100.0,1,NULL);
CREATE INDEX ix_finishes_job_id ON finishes (job_id);
CREATE INDEX ix_surfaces_finish_id ON surfaces (finish_id);
CREATE INDEX ix_boards_finish_id ON boards (finish_id);
CREATE INDEX ix_photos_board_id ON photos (board_id);
CREATE INDEX ix_photos_finish_id ON photos (finish_id);
COMMIT;
PRAGMA user_version=1;
PRAGMA application_id=1247044709;
