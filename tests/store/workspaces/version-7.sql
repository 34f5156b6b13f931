BEGIN TRANSACTION;
CREATE TABLE boards (
	id VARCHAR NOT NULL, 
	finish_id VARCHAR NOT NULL, 
	number INTEGER NOT NULL, 
	remark VARCHAR NOT NULL, 
	checks JSON DEFAULT '[]' NOT NULL, 
	body JSON DEFAULT '{}' NOT NULL, 
	made_at VARCHAR NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "boards" VALUES('board','finish',1,'','[]','{"kind": "board", "section": "", "who": "", "jar": "", "without": ""}','2026-01-02T08:00:00+00:00',NULL);
CREATE TABLE entries (
	id VARCHAR NOT NULL, 
	board_id VARCHAR NOT NULL, 
	at VARCHAR NOT NULL, 
	body JSON NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "entries" VALUES('entry','board','2026-01-02T08:00:00+00:00','{"corrects": "", "logged": {"kind": "climate", "who": "", "where": "", "done": null, "climate": {"temperature_c": 18.0, "humidity_percent": 50.0, "source": "Bench thermo-hygrometer (simulated)"}, "text": ""}}',NULL);
CREATE TABLE finishes (
	id VARCHAR NOT NULL, 
	job_id VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	family VARCHAR NOT NULL, 
	viewing_m FLOAT NOT NULL, 
	tolerance FLOAT NOT NULL, 
	layers JSON, 
	body JSON DEFAULT '{}' NOT NULL, 
	position INTEGER NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "finishes" VALUES('finish','job','Bar front','','marble',2.0,4.0,NULL,'{"approval": null, "room": []}',0,NULL);
CREATE TABLE jobs (
	id VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	client VARCHAR NOT NULL, 
	place VARCHAR NOT NULL, 
	position INTEGER NOT NULL, 
	created_at VARCHAR NOT NULL, 
	body JSON DEFAULT '{}' NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "jobs" VALUES('job','Hotel Vessary','The house','',0,'2026-01-02T08:00:00+00:00','{"archived_at": null}',NULL);
CREATE TABLE mixes (
	id VARCHAR NOT NULL, 
	finish_id VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	position INTEGER NOT NULL, 
	body JSON NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "mixes" VALUES('mix','finish','',0,'{"layer": "", "target": null, "parts": [], "carrier": 0.0, "carrier_name": "", "water": 0.0, "coats": 1, "uses": [{"area_m2": null, "laid_share": null, "coats": 1.0, "spreading_m2_per_l": null}], "mixed_ml": 0.0, "left_ml": null, "mixed_at": null, "readings": [], "dried": [], "notes": ""}',NULL);
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
	zones JSON DEFAULT '[]' NOT NULL, 
	body JSON DEFAULT '{}' NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "photos" VALUES('photo0','finish',NULL,'target','0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b0b','slab.jpg',NULL,'2026-01-02T08:00:00+00:00',0,'{"corners": null, "size_mm": null, "lines": null, "column": null, "carved": false, "known_length": null, "mm_per_px": 0.2, "neutrals": [{"rect": {"x": 10.0, "y": 20.0, "w": 30.0, "h": 40.0}, "lightness": 60.0, "a": 0.0, "b": 0.0, "source": ""}], "chart": null, "card": {"ignore": false, "height_mm": 0.0, "check_mm": null, "measured": []}, "light": null, "leave_out": [], "region": null, "whole_plane": false, "sheen": null, "metal": false}','[]','{"stage": {"after": "", "state": null, "series": "", "minutes": 0.0, "person": ""}, "faults": []}',NULL);
INSERT INTO "photos" VALUES('photo1','finish','board','board','1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b1b','stand 2.jpg',NULL,'2026-01-02T08:00:00+00:00',1,'{"corners": null, "size_mm": null, "lines": null, "column": null, "carved": false, "known_length": null, "mm_per_px": 0.2, "neutrals": [{"rect": {"x": 10.0, "y": 20.0, "w": 30.0, "h": 40.0}, "lightness": 60.0, "a": 0.0, "b": 0.0, "source": ""}], "chart": null, "card": {"ignore": false, "height_mm": 0.0, "check_mm": null, "measured": []}, "light": null, "leave_out": [], "region": null, "whole_plane": false, "sheen": null, "metal": false}','[]','{"stage": {"after": "", "state": null, "series": "", "minutes": 0.0, "person": ""}, "faults": []}',NULL);
CREATE TABLE plans (
	id VARCHAR NOT NULL, 
	finish_id VARCHAR NOT NULL, 
	body JSON NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "plans" VALUES('plan','finish','{"steps": [], "schools": [], "work": {"begins": "", "hours": {"from_min": 480, "to_min": 1020, "pause_from_min": 720, "pause_to_min": 750, "weekdays": [0, 1, 2, 3, 4], "free": []}, "workers": [""], "air": {"temperature_c": 20.0, "humidity_percent": 50.0, "moving": "still"}, "air_source": "Bench thermo-hygrometer (simulated)", "weather": [], "daylight": {"from_h": 7.0, "to_h": 18.0}, "use_in_days": null, "panels_a_lane": 3, "joint_mm": 0.0, "axis": "same", "units": "metric", "currency": "\u20ac", "waste": 0.15, "touch_up_ml": 100.0}, "boards": [], "done": [], "moved": [], "acknowledged": [], "answers": []}',NULL);
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
	body JSON DEFAULT '{}' NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "surfaces" VALUES('surface','finish','Front',2400.0,1100.0,1,'{"site": {"shape": "rectangle", "substrate": "primed_board", "conditions": [], "place": "inside", "wear": "wall", "facing": "north", "openings_m2": 0.0, "relief_factor": 1.0, "overhead": false, "behind_glass": false}}',NULL);
CREATE TABLE tins (
	id VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	position INTEGER NOT NULL, 
	body JSON NOT NULL, 
	deleted_at VARCHAR, 
	PRIMARY KEY (id)
);
INSERT INTO "tins" VALUES('tin','White',0,'{"opacity": "semi", "swatches": [], "stock": {"kind": "paint", "binder": null, "rewets": null, "open_min": null, "recoat_h": null, "cure_days": null, "spreading_m2_per_l": null, "thinner": "", "thinner_limit": null, "place": null, "primer_in": null, "clear_in": null, "body": null, "sheen": "", "density_g_per_ml": null, "tin_ml": null, "price": null, "left_ml": null, "opened": "", "batch": "", "notes": ""}, "approximate": false, "owned": true}',NULL);
CREATE INDEX ix_finishes_job_id ON finishes (job_id);
CREATE INDEX ix_surfaces_finish_id ON surfaces (finish_id);
CREATE INDEX ix_boards_finish_id ON boards (finish_id);
CREATE INDEX ix_entries_board_id ON entries (board_id);
CREATE INDEX ix_plans_finish_id ON plans (finish_id);
CREATE INDEX ix_photos_finish_id ON photos (finish_id);
CREATE INDEX ix_photos_board_id ON photos (board_id);
CREATE INDEX ix_mixes_finish_id ON mixes (finish_id);
COMMIT;
PRAGMA user_version=7;
PRAGMA application_id=1247044709;
