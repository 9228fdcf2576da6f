-- A new store on a file, as the migrations leave it; written by tools/newest_layout.py, never by hand.
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
CREATE TABLE settings (
	name VARCHAR(40) NOT NULL, 
	value JSON NOT NULL, 
	PRIMARY KEY (name)
);
CREATE TABLE photographs (
	id INTEGER NOT NULL, 
	docket_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	"by" TEXT NOT NULL, 
	caption TEXT NOT NULL, 
	width INTEGER NOT NULL, 
	height INTEGER NOT NULL, 
	jpeg BLOB NOT NULL, act VARCHAR(36) DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(docket_id) REFERENCES dockets (id)
);
CREATE INDEX photographs_by_docket ON photographs (docket_id, id);
CREATE VIRTUAL TABLE docket_words USING fts5(words, content='dockets', content_rowid='id', tokenize='trigram', detail='full');
CREATE TABLE alloys (
	"key" TEXT NOT NULL, 
	PRIMARY KEY ("key")
);
CREATE TABLE put_aside (
	id INTEGER NOT NULL, 
	at DATETIME DEFAULT CURRENT_TIMESTAMP NOT NULL, 
	table_name TEXT NOT NULL, 
	row_id INTEGER NOT NULL, 
	why TEXT NOT NULL, 
	done TEXT NOT NULL, 
	held JSON NOT NULL, 
	PRIMARY KEY (id)
);
CREATE TABLE pins (
	person_id INTEGER NOT NULL, 
	digest TEXT NOT NULL, 
	wrong INTEGER DEFAULT '0' NOT NULL, 
	tried_at DATETIME, 
	locked_until DATETIME, 
	PRIMARY KEY (person_id), 
	FOREIGN KEY(person_id) REFERENCES people (id)
);
CREATE TABLE sessions (
	token_digest TEXT NOT NULL, 
	person_id INTEGER NOT NULL, 
	since DATETIME NOT NULL, 
	PRIMARY KEY (token_digest), 
	FOREIGN KEY(person_id) REFERENCES people (id)
);
CREATE TABLE "dockets" (
	id INTEGER NOT NULL, 
	number VARCHAR(20) NOT NULL, 
	customer TEXT NOT NULL, 
	item TEXT NOT NULL, 
	promised_on DATE, 
	state VARCHAR(20) NOT NULL, 
	job_document JSON NOT NULL, 
	drafts JSON NOT NULL, 
	ticks JSON NOT NULL, 
	version INTEGER NOT NULL, 
	created_at DATETIME NOT NULL, 
	updated_at DATETIME NOT NULL, 
	customer_kind TEXT DEFAULT ('') NOT NULL, 
	metal TEXT DEFAULT ('') NOT NULL, 
	mark TEXT DEFAULT ('') NOT NULL, 
	reported TEXT DEFAULT ('') NOT NULL, 
	condition TEXT DEFAULT ('') NOT NULL, 
	earlier_number TEXT DEFAULT ('') NOT NULL, 
	released_by TEXT DEFAULT ('') NOT NULL, 
	release_reason TEXT DEFAULT ('') NOT NULL, 
	weight_in_g FLOAT, 
	claw_chart JSON DEFAULT '{}' NOT NULL, 
	measured JSON DEFAULT '{}' NOT NULL, 
	words TEXT DEFAULT ('') NOT NULL, 
	stones_price FLOAT, 
	estimate JSON DEFAULT '{}' NOT NULL, withdrawn TEXT DEFAULT '' NOT NULL, importance TEXT DEFAULT '' NOT NULL, outside_price FLOAT, deposit FLOAT, approved JSON DEFAULT '{}' NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT dockets_number CHECK (number GLOB '[0-9][0-9]-[0-9][0-9][0-9][0-9]*' AND number NOT GLOB '*[^0-9/-]*' AND length(number) <= 15), 
	CONSTRAINT dockets_state CHECK (state IN ('taken in', 'planned', 'in work', 'checking', 'ready', 'handed over', 'on hold')), 
	CONSTRAINT dockets_customer_kind CHECK (customer_kind IN ('', 'shop', 'person')), 
	CONSTRAINT dockets_weight CHECK ((weight_in_g IS NULL OR (weight_in_g >= 0 AND weight_in_g <= 100000))), 
	CONSTRAINT dockets_price CHECK ((stones_price IS NULL OR (stones_price >= 0 AND stones_price <= 1000000000))), 
	CONSTRAINT dockets_times CHECK ((created_at IS NULL OR created_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*') AND (updated_at IS NULL OR updated_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	UNIQUE (number)
);
CREATE INDEX dockets_by_change ON dockets (updated_at, id);
CREATE TABLE "changes" (
	id INTEGER NOT NULL, 
	docket_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	field VARCHAR(40) NOT NULL, 
	"before" JSON NOT NULL, 
	"after" JSON NOT NULL, 
	"by" TEXT DEFAULT ('') NOT NULL, act VARCHAR(36) DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT changes_field CHECK (field <> ''), 
	CONSTRAINT changes_times CHECK ((at IS NULL OR at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	FOREIGN KEY(docket_id) REFERENCES dockets (id)
);
CREATE INDEX changes_by_docket ON changes (docket_id, id);
CREATE TABLE "people" (
	id INTEGER NOT NULL, 
	name TEXT NOT NULL, 
	role TEXT NOT NULL, 
	skills JSON NOT NULL, 
	left_at DATETIME, 
	pin_salt TEXT DEFAULT ('') NOT NULL, 
	database_role TEXT DEFAULT ('') NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT people_name CHECK (name <> ''), 
	CONSTRAINT people_role CHECK (role IN ('front desk', 'bench', 'lead', 'owner')), 
	UNIQUE (name)
);
CREATE TABLE "tasks" (
	id INTEGER NOT NULL, 
	docket_id INTEGER NOT NULL, 
	position INTEGER NOT NULL, 
	operation TEXT NOT NULL, 
	state TEXT NOT NULL, 
	person_id INTEGER, 
	standard_minutes FLOAT NOT NULL, 
	note TEXT NOT NULL, 
	dropped_at DATETIME, 
	ticks JSON DEFAULT '[]' NOT NULL, wait_minutes FLOAT DEFAULT '0' NOT NULL, station TEXT DEFAULT '' NOT NULL, pinned_at DATETIME, 
	PRIMARY KEY (id), 
	CONSTRAINT tasks_state CHECK (state IN ('open', 'started', 'done')), 
	CONSTRAINT tasks_minutes CHECK (standard_minutes >= 0 AND standard_minutes <= 100000), 
	CONSTRAINT tasks_operation CHECK (operation <> ''), 
	CONSTRAINT tasks_times CHECK ((dropped_at IS NULL OR dropped_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	FOREIGN KEY(docket_id) REFERENCES dockets (id), 
	FOREIGN KEY(person_id) REFERENCES people (id)
);
CREATE INDEX tasks_by_docket ON tasks (docket_id, position);
CREATE INDEX tasks_by_person ON tasks (person_id, state);
CREATE TABLE "task_times" (
	id INTEGER NOT NULL, 
	task_id INTEGER NOT NULL, 
	person_id INTEGER NOT NULL, 
	started_at DATETIME NOT NULL, 
	stopped_at DATETIME, 
	PRIMARY KEY (id), 
	CONSTRAINT task_times_order CHECK (stopped_at IS NULL OR stopped_at >= started_at), 
	CONSTRAINT task_times_times CHECK ((started_at IS NULL OR started_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*') AND (stopped_at IS NULL OR stopped_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	FOREIGN KEY(task_id) REFERENCES tasks (id), 
	FOREIGN KEY(person_id) REFERENCES people (id)
);
CREATE INDEX task_times_by_task ON task_times (task_id);
CREATE INDEX tasks_in_work ON tasks (state, dropped_at, docket_id);
CREATE INDEX dockets_by_state ON dockets (state, promised_on);
CREATE INDEX dockets_by_creation ON dockets (created_at);
CREATE TRIGGER dockets_words_added AFTER INSERT ON dockets BEGIN INSERT INTO docket_words(rowid, words) VALUES (new.id, new.words); END;
CREATE TRIGGER dockets_words_changed AFTER UPDATE OF words ON dockets BEGIN INSERT INTO docket_words(docket_words, rowid, words) VALUES ('delete', old.id, old.words); INSERT INTO docket_words(rowid, words) VALUES (new.id, new.words); END;
CREATE TRIGGER changes_never_update BEFORE UPDATE ON changes BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER changes_never_delete BEFORE DELETE ON changes BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER photographs_never_update BEFORE UPDATE ON photographs BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER photographs_never_delete BEFORE DELETE ON photographs BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER put_aside_never_update BEFORE UPDATE ON put_aside BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER put_aside_never_delete BEFORE DELETE ON put_aside BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TABLE "fine_entries" (
	id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	"by" TEXT NOT NULL, 
	kind TEXT NOT NULL, 
	alloy TEXT NOT NULL, 
	mass_g FLOAT NOT NULL, 
	person_id INTEGER, 
	docket_id INTEGER, 
	note TEXT NOT NULL, 
	reverses INTEGER, act VARCHAR(36) DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT fine_entries_alloy_fkey FOREIGN KEY(alloy) REFERENCES alloys ("key"), 
	CONSTRAINT fine_entries_times CHECK ((at IS NULL OR at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	CONSTRAINT fine_entries_kind CHECK (kind IN ('issued', 'returned', 'offcuts', 'filings', 'used', 'bought', 'sent to refiner', 'counted')), 
	CONSTRAINT fine_entries_mass CHECK (mass_g <> 0 AND mass_g >= -20000 AND mass_g <= 20000 AND (mass_g > 0 OR kind = 'counted' OR reverses IS NOT NULL)), 
	FOREIGN KEY(docket_id) REFERENCES dockets (id), 
	FOREIGN KEY(person_id) REFERENCES people (id)
);
CREATE INDEX fine_entries_by_alloy ON fine_entries (alloy, at);
CREATE INDEX fine_entries_by_person ON fine_entries (person_id, alloy);
CREATE INDEX fine_entries_by_docket ON fine_entries (docket_id, alloy);
CREATE INDEX fine_entries_by_time ON fine_entries (at);
CREATE UNIQUE INDEX fine_entries_reversed_once ON fine_entries (reverses);
CREATE TRIGGER fine_entries_never_update BEFORE UPDATE ON fine_entries BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER fine_entries_never_delete BEFORE DELETE ON fine_entries BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TABLE customers (
	id INTEGER NOT NULL, 
	"key" TEXT NOT NULL, 
	at DATETIME NOT NULL, 
	"by" TEXT DEFAULT '' NOT NULL, 
	name TEXT NOT NULL, 
	kind TEXT DEFAULT '' NOT NULL, 
	contact TEXT DEFAULT '' NOT NULL, 
	terms TEXT DEFAULT '' NOT NULL, 
	note TEXT DEFAULT '' NOT NULL, 
	other_names JSON DEFAULT '[]' NOT NULL, 
	gone BOOLEAN DEFAULT 0 NOT NULL, act VARCHAR(36) DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT customers_name CHECK (name <> ''), 
	CONSTRAINT customers_kind CHECK (kind IN ('', 'shop', 'person'))
);
CREATE INDEX customers_by_key ON customers ("key", id);
CREATE INDEX dockets_by_customer ON dockets (customer, withdrawn, state, updated_at);
CREATE TRIGGER customers_never_update BEFORE UPDATE ON customers BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER customers_never_delete BEFORE DELETE ON customers BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TABLE "stock_items" (
	id INTEGER NOT NULL, 
	kind VARCHAR(20) NOT NULL, 
	code TEXT NOT NULL, 
	metal TEXT NOT NULL, 
	size_mm FLOAT, 
	claws INTEGER, 
	claw_mm FLOAT, 
	opening_mm FLOAT, 
	height_mm FLOAT, 
	wall_mm FLOAT, 
	shape TEXT NOT NULL, 
	grade TEXT NOT NULL, 
	quantity FLOAT, 
	price FLOAT, 
	note TEXT NOT NULL, 
	added_at DATETIME NOT NULL, 
	removed_at DATETIME, 
	made_for_width_mm FLOAT, 
	height_tip_mm FLOAT, 
	foot_mm FLOAT, 
	rail_mm FLOAT, 
	label_ct FLOAT, 
	cut TEXT DEFAULT ('') NOT NULL, 
	state TEXT DEFAULT ('') NOT NULL, 
	inside_mm FLOAT, 
	width_mm FLOAT, 
	thickness_mm FLOAT, 
	length_mm FLOAT, 
	mass_g FLOAT, 
	owner TEXT DEFAULT ('') NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT stock_items_code CHECK (length(code) <= 200), 
	CONSTRAINT stock_items_sizes CHECK ((size_mm IS NULL OR (size_mm >= 0 AND size_mm <= 1000)) AND (claw_mm IS NULL OR (claw_mm >= 0 AND claw_mm <= 1000)) AND (opening_mm IS NULL OR (opening_mm >= 0 AND opening_mm <= 1000)) AND (height_mm IS NULL OR (height_mm >= 0 AND height_mm <= 1000)) AND (wall_mm IS NULL OR (wall_mm >= 0 AND wall_mm <= 1000))), 
	CONSTRAINT stock_items_times CHECK ((added_at IS NULL OR added_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*') AND (removed_at IS NULL OR removed_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	CONSTRAINT stock_items_price CHECK ((price IS NULL OR (price >= 0 AND price <= 1000000000))), 
	CONSTRAINT stock_items_more_sizes CHECK ((inside_mm IS NULL OR (inside_mm >= 0 AND inside_mm <= 20000)) AND (width_mm IS NULL OR (width_mm >= 0 AND width_mm <= 20000)) AND (thickness_mm IS NULL OR (thickness_mm >= 0 AND thickness_mm <= 20000)) AND (length_mm IS NULL OR (length_mm >= 0 AND length_mm <= 20000)) AND (mass_g IS NULL OR (mass_g >= 0 AND mass_g <= 20000))), 
	CONSTRAINT stock_items_claws CHECK ((claws IS NULL OR (claws >= 1 AND claws <= 24))), 
	CONSTRAINT stock_items_quantity CHECK ((quantity IS NULL OR (quantity >= 0 AND quantity <= 1000000000))), 
	CONSTRAINT stock_items_kind CHECK (kind IN ('head', 'mount', 'bezel', 'bail', 'lot', 'bur', 'wire', 'sheet', 'tube', 'solder', 'plate'))
);
CREATE INDEX stock_items_in_use ON stock_items (removed_at, kind);
CREATE TABLE acts (
	seq INTEGER NOT NULL, 
	id VARCHAR(36) NOT NULL, 
	deed TEXT NOT NULL, 
	digest TEXT DEFAULT '' NOT NULL, 
	pressed_at DATETIME, 
	stored_at DATETIME NOT NULL, 
	"by" TEXT DEFAULT '' NOT NULL, 
	follows VARCHAR(36) DEFAULT '' NOT NULL, 
	PRIMARY KEY (seq), 
	CONSTRAINT acts_id CHECK (length(id) = 36), 
	UNIQUE (id)
);
CREATE INDEX changes_by_act ON changes (act) WHERE act <> '';
CREATE TABLE month_seals (
	month VARCHAR(7) NOT NULL, 
	until DATETIME NOT NULL, 
	zone TEXT DEFAULT '' NOT NULL, 
	at DATETIME NOT NULL, 
	"by" TEXT DEFAULT '' NOT NULL, 
	last_entry INTEGER, 
	lines INTEGER DEFAULT '0' NOT NULL, 
	sums JSON DEFAULT '{}' NOT NULL, 
	digest TEXT DEFAULT '' NOT NULL, 
	note TEXT DEFAULT '' NOT NULL, 
	act VARCHAR(36) DEFAULT '' NOT NULL, 
	PRIMARY KEY (month), 
	FOREIGN KEY(last_entry) REFERENCES fine_entries (id)
);
CREATE TRIGGER acts_never_update BEFORE UPDATE ON acts BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER acts_never_delete BEFORE DELETE ON acts BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER month_seals_never_update BEFORE UPDATE ON month_seals BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER month_seals_never_delete BEFORE DELETE ON month_seals BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER fine_entries_sealed BEFORE INSERT ON fine_entries WHEN NEW.at < (SELECT max(until) FROM month_seals) BEGIN SELECT RAISE(ABORT, 'its month is signed off'); END;
INSERT INTO "alembic_version" VALUES ('0017');
INSERT INTO "alloys" VALUES ('18k-yellow');
INSERT INTO "alloys" VALUES ('18k-white');
INSERT INTO "alloys" VALUES ('14k-yellow');
INSERT INTO "alloys" VALUES ('9k-yellow');
INSERT INTO "alloys" VALUES ('sterling-silver');
INSERT INTO "alloys" VALUES ('platinum-950');
INSERT INTO "alloys" VALUES ('palladium-950');
