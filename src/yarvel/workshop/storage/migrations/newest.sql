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
	since DATETIME NOT NULL, role TEXT DEFAULT '' NOT NULL, 
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
	ticks JSON DEFAULT '[]' NOT NULL, wait_minutes FLOAT DEFAULT '0' NOT NULL, station TEXT DEFAULT '' NOT NULL, pinned_at DATETIME, corrected_minutes FLOAT, corrected_at DATETIME, 
	PRIMARY KEY (id), 
	CONSTRAINT tasks_state CHECK (state IN ('open', 'started', 'done')), 
	CONSTRAINT tasks_minutes CHECK (standard_minutes >= 0 AND standard_minutes <= 100000), 
	CONSTRAINT tasks_operation CHECK (operation <> ''), 
	CONSTRAINT tasks_times CHECK ((dropped_at IS NULL OR dropped_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	FOREIGN KEY(person_id) REFERENCES people (id), 
	FOREIGN KEY(docket_id) REFERENCES dockets (id)
);
CREATE INDEX tasks_by_person ON tasks (person_id, state);
CREATE INDEX tasks_by_docket ON tasks (docket_id, position);
CREATE TABLE "task_times" (
	id INTEGER NOT NULL, 
	task_id INTEGER NOT NULL, 
	person_id INTEGER NOT NULL, 
	started_at DATETIME NOT NULL, 
	stopped_at DATETIME, 
	PRIMARY KEY (id), 
	CONSTRAINT task_times_order CHECK (stopped_at IS NULL OR stopped_at >= started_at), 
	CONSTRAINT task_times_times CHECK ((started_at IS NULL OR started_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*') AND (stopped_at IS NULL OR stopped_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	FOREIGN KEY(person_id) REFERENCES people (id), 
	FOREIGN KEY(task_id) REFERENCES tasks (id)
);
CREATE INDEX task_times_by_task ON task_times (task_id);
CREATE INDEX tasks_in_work ON tasks (state, dropped_at, docket_id);
CREATE INDEX dockets_by_state ON dockets (state, promised_on);
CREATE INDEX dockets_by_creation ON dockets (created_at);
CREATE TRIGGER dockets_words_added AFTER INSERT ON dockets BEGIN INSERT INTO docket_words(rowid, words) VALUES (new.id, new.words); END;
CREATE TRIGGER dockets_words_changed AFTER UPDATE OF words ON dockets BEGIN INSERT INTO docket_words(docket_words, rowid, words) VALUES ('delete', old.id, old.words); INSERT INTO docket_words(rowid, words) VALUES (new.id, new.words); END;
CREATE TRIGGER changes_never_delete BEFORE DELETE ON changes BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
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
	CONSTRAINT fine_entries_times CHECK ((at IS NULL OR at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	CONSTRAINT fine_entries_kind CHECK (kind IN ('issued', 'returned', 'offcuts', 'filings', 'used', 'bought', 'sent to refiner', 'counted')), 
	CONSTRAINT fine_entries_alloy_fkey FOREIGN KEY(alloy) REFERENCES alloys ("key"), 
	CONSTRAINT fine_entries_mass CHECK (mass_g <> 0 AND mass_g >= -20000 AND mass_g <= 20000 AND (mass_g > 0 OR kind = 'counted' OR reverses IS NOT NULL)), 
	FOREIGN KEY(person_id) REFERENCES people (id), 
	FOREIGN KEY(docket_id) REFERENCES dockets (id)
);
CREATE INDEX fine_entries_by_docket ON fine_entries (docket_id, alloy);
CREATE INDEX fine_entries_by_alloy ON fine_entries (alloy, at);
CREATE INDEX fine_entries_by_person ON fine_entries (person_id, alloy);
CREATE INDEX fine_entries_by_time ON fine_entries (at);
CREATE UNIQUE INDEX fine_entries_reversed_once ON fine_entries (reverses);
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
	CONSTRAINT stock_items_quantity CHECK ((quantity IS NULL OR (quantity >= 0 AND quantity <= 1000000000))), 
	CONSTRAINT stock_items_code CHECK (length(code) <= 200), 
	CONSTRAINT stock_items_sizes CHECK ((size_mm IS NULL OR (size_mm >= 0 AND size_mm <= 1000)) AND (claw_mm IS NULL OR (claw_mm >= 0 AND claw_mm <= 1000)) AND (opening_mm IS NULL OR (opening_mm >= 0 AND opening_mm <= 1000)) AND (height_mm IS NULL OR (height_mm >= 0 AND height_mm <= 1000)) AND (wall_mm IS NULL OR (wall_mm >= 0 AND wall_mm <= 1000))), 
	CONSTRAINT stock_items_times CHECK ((added_at IS NULL OR added_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*') AND (removed_at IS NULL OR removed_at GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')), 
	CONSTRAINT stock_items_price CHECK ((price IS NULL OR (price >= 0 AND price <= 1000000000))), 
	CONSTRAINT stock_items_more_sizes CHECK ((inside_mm IS NULL OR (inside_mm >= 0 AND inside_mm <= 20000)) AND (width_mm IS NULL OR (width_mm >= 0 AND width_mm <= 20000)) AND (thickness_mm IS NULL OR (thickness_mm >= 0 AND thickness_mm <= 20000)) AND (length_mm IS NULL OR (length_mm >= 0 AND length_mm <= 20000)) AND (mass_g IS NULL OR (mass_g >= 0 AND mass_g <= 20000))), 
	CONSTRAINT stock_items_claws CHECK ((claws IS NULL OR (claws >= 1 AND claws <= 24))), 
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
CREATE TABLE effects (
	id INTEGER NOT NULL, 
	act VARCHAR(36) DEFAULT '' NOT NULL, 
	table_name TEXT NOT NULL, 
	row_key TEXT NOT NULL, 
	"before" JSON NOT NULL, 
	"after" JSON NOT NULL, 
	PRIMARY KEY (id)
);
CREATE INDEX effects_by_row ON effects (table_name, row_key);
CREATE TABLE touches (
	table_name TEXT NOT NULL, 
	column_name TEXT NOT NULL, 
	part TEXT NOT NULL, 
	role TEXT NOT NULL, 
	PRIMARY KEY (table_name, column_name, part, role)
);
CREATE TABLE machines (
	role TEXT NOT NULL, 
	since DATETIME NOT NULL, 
	PRIMARY KEY (role)
);
CREATE TABLE pin_tries (
	person_id INTEGER NOT NULL, 
	machine TEXT NOT NULL, 
	wrong INTEGER DEFAULT '0' NOT NULL, 
	locked_until DATETIME, 
	PRIMARY KEY (person_id, machine), 
	FOREIGN KEY(person_id) REFERENCES people (id)
);
CREATE TRIGGER effects_never_update BEFORE UPDATE ON effects BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER effects_never_delete BEFORE DELETE ON effects BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TABLE day_plans (
	seq INTEGER NOT NULL, 
	id VARCHAR(36) NOT NULL, 
	replaces VARCHAR(36) NOT NULL, 
	cause TEXT DEFAULT '' NOT NULL, 
	after_act INTEGER DEFAULT '0' NOT NULL, 
	root VARCHAR(36) DEFAULT '' NOT NULL, 
	root_before VARCHAR(36) DEFAULT '' NOT NULL, 
	content JSON DEFAULT '{}' NOT NULL, 
	act VARCHAR(36) DEFAULT '' NOT NULL, 
	PRIMARY KEY (seq), 
	CONSTRAINT day_plans_id CHECK (length(id) = 36), 
	UNIQUE (id), 
	UNIQUE (replaces)
);
CREATE TRIGGER changes_never_update BEFORE UPDATE ON changes BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER photographs_never_update BEFORE UPDATE ON photographs BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER fine_entries_never_update BEFORE UPDATE ON fine_entries BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER customers_never_update BEFORE UPDATE ON customers BEGIN SELECT RAISE(ABORT, 'the history is never altered'); END;
CREATE TRIGGER kept_by_act_tasks_insert AFTER INSERT ON tasks BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'tasks', NEW.id, 'null', (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(NEW."id") AS held UNION ALL SELECT 'docket_id' AS name, json_quote(NEW."docket_id") AS held UNION ALL SELECT 'position' AS name, json_quote(NEW."position") AS held UNION ALL SELECT 'operation' AS name, json_quote(NEW."operation") AS held UNION ALL SELECT 'state' AS name, json_quote(NEW."state") AS held UNION ALL SELECT 'person_id' AS name, json_quote(NEW."person_id") AS held UNION ALL SELECT 'standard_minutes' AS name, json_quote(NEW."standard_minutes") AS held UNION ALL SELECT 'note' AS name, json_quote(NEW."note") AS held UNION ALL SELECT 'dropped_at' AS name, json_quote(NEW."dropped_at") AS held UNION ALL SELECT 'ticks' AS name, COALESCE(NEW."ticks", 'null') AS held UNION ALL SELECT 'wait_minutes' AS name, json_quote(NEW."wait_minutes") AS held UNION ALL SELECT 'station' AS name, json_quote(NEW."station") AS held UNION ALL SELECT 'pinned_at' AS name, json_quote(NEW."pinned_at") AS held UNION ALL SELECT 'corrected_minutes' AS name, json_quote(NEW."corrected_minutes") AS held UNION ALL SELECT 'corrected_at' AS name, json_quote(NEW."corrected_at") AS held))); END;
CREATE TRIGGER kept_by_act_tasks_update AFTER UPDATE ON tasks WHEN OLD."id" IS NOT NEW."id" OR OLD."docket_id" IS NOT NEW."docket_id" OR OLD."position" IS NOT NEW."position" OR OLD."operation" IS NOT NEW."operation" OR OLD."state" IS NOT NEW."state" OR OLD."person_id" IS NOT NEW."person_id" OR OLD."standard_minutes" IS NOT NEW."standard_minutes" OR OLD."note" IS NOT NEW."note" OR OLD."dropped_at" IS NOT NEW."dropped_at" OR OLD."ticks" IS NOT NEW."ticks" OR OLD."wait_minutes" IS NOT NEW."wait_minutes" OR OLD."station" IS NOT NEW."station" OR OLD."pinned_at" IS NOT NEW."pinned_at" OR OLD."corrected_minutes" IS NOT NEW."corrected_minutes" OR OLD."corrected_at" IS NOT NEW."corrected_at" BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'tasks', NEW.id, (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(OLD."id") AS held WHERE OLD."id" IS NOT NEW."id" UNION ALL SELECT 'docket_id' AS name, json_quote(OLD."docket_id") AS held WHERE OLD."docket_id" IS NOT NEW."docket_id" UNION ALL SELECT 'position' AS name, json_quote(OLD."position") AS held WHERE OLD."position" IS NOT NEW."position" UNION ALL SELECT 'operation' AS name, json_quote(OLD."operation") AS held WHERE OLD."operation" IS NOT NEW."operation" UNION ALL SELECT 'state' AS name, json_quote(OLD."state") AS held WHERE OLD."state" IS NOT NEW."state" UNION ALL SELECT 'person_id' AS name, json_quote(OLD."person_id") AS held WHERE OLD."person_id" IS NOT NEW."person_id" UNION ALL SELECT 'standard_minutes' AS name, json_quote(OLD."standard_minutes") AS held WHERE OLD."standard_minutes" IS NOT NEW."standard_minutes" UNION ALL SELECT 'note' AS name, json_quote(OLD."note") AS held WHERE OLD."note" IS NOT NEW."note" UNION ALL SELECT 'dropped_at' AS name, json_quote(OLD."dropped_at") AS held WHERE OLD."dropped_at" IS NOT NEW."dropped_at" UNION ALL SELECT 'ticks' AS name, COALESCE(OLD."ticks", 'null') AS held WHERE OLD."ticks" IS NOT NEW."ticks" UNION ALL SELECT 'wait_minutes' AS name, json_quote(OLD."wait_minutes") AS held WHERE OLD."wait_minutes" IS NOT NEW."wait_minutes" UNION ALL SELECT 'station' AS name, json_quote(OLD."station") AS held WHERE OLD."station" IS NOT NEW."station" UNION ALL SELECT 'pinned_at' AS name, json_quote(OLD."pinned_at") AS held WHERE OLD."pinned_at" IS NOT NEW."pinned_at" UNION ALL SELECT 'corrected_minutes' AS name, json_quote(OLD."corrected_minutes") AS held WHERE OLD."corrected_minutes" IS NOT NEW."corrected_minutes" UNION ALL SELECT 'corrected_at' AS name, json_quote(OLD."corrected_at") AS held WHERE OLD."corrected_at" IS NOT NEW."corrected_at")), (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(NEW."id") AS held WHERE OLD."id" IS NOT NEW."id" UNION ALL SELECT 'docket_id' AS name, json_quote(NEW."docket_id") AS held WHERE OLD."docket_id" IS NOT NEW."docket_id" UNION ALL SELECT 'position' AS name, json_quote(NEW."position") AS held WHERE OLD."position" IS NOT NEW."position" UNION ALL SELECT 'operation' AS name, json_quote(NEW."operation") AS held WHERE OLD."operation" IS NOT NEW."operation" UNION ALL SELECT 'state' AS name, json_quote(NEW."state") AS held WHERE OLD."state" IS NOT NEW."state" UNION ALL SELECT 'person_id' AS name, json_quote(NEW."person_id") AS held WHERE OLD."person_id" IS NOT NEW."person_id" UNION ALL SELECT 'standard_minutes' AS name, json_quote(NEW."standard_minutes") AS held WHERE OLD."standard_minutes" IS NOT NEW."standard_minutes" UNION ALL SELECT 'note' AS name, json_quote(NEW."note") AS held WHERE OLD."note" IS NOT NEW."note" UNION ALL SELECT 'dropped_at' AS name, json_quote(NEW."dropped_at") AS held WHERE OLD."dropped_at" IS NOT NEW."dropped_at" UNION ALL SELECT 'ticks' AS name, COALESCE(NEW."ticks", 'null') AS held WHERE OLD."ticks" IS NOT NEW."ticks" UNION ALL SELECT 'wait_minutes' AS name, json_quote(NEW."wait_minutes") AS held WHERE OLD."wait_minutes" IS NOT NEW."wait_minutes" UNION ALL SELECT 'station' AS name, json_quote(NEW."station") AS held WHERE OLD."station" IS NOT NEW."station" UNION ALL SELECT 'pinned_at' AS name, json_quote(NEW."pinned_at") AS held WHERE OLD."pinned_at" IS NOT NEW."pinned_at" UNION ALL SELECT 'corrected_minutes' AS name, json_quote(NEW."corrected_minutes") AS held WHERE OLD."corrected_minutes" IS NOT NEW."corrected_minutes" UNION ALL SELECT 'corrected_at' AS name, json_quote(NEW."corrected_at") AS held WHERE OLD."corrected_at" IS NOT NEW."corrected_at"))); END;
CREATE TRIGGER kept_by_act_task_times_insert AFTER INSERT ON task_times BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'task_times', NEW.id, 'null', (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(NEW."id") AS held UNION ALL SELECT 'task_id' AS name, json_quote(NEW."task_id") AS held UNION ALL SELECT 'person_id' AS name, json_quote(NEW."person_id") AS held UNION ALL SELECT 'started_at' AS name, json_quote(NEW."started_at") AS held UNION ALL SELECT 'stopped_at' AS name, json_quote(NEW."stopped_at") AS held))); END;
CREATE TRIGGER kept_by_act_task_times_update AFTER UPDATE ON task_times WHEN OLD."id" IS NOT NEW."id" OR OLD."task_id" IS NOT NEW."task_id" OR OLD."person_id" IS NOT NEW."person_id" OR OLD."started_at" IS NOT NEW."started_at" OR OLD."stopped_at" IS NOT NEW."stopped_at" BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'task_times', NEW.id, (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(OLD."id") AS held WHERE OLD."id" IS NOT NEW."id" UNION ALL SELECT 'task_id' AS name, json_quote(OLD."task_id") AS held WHERE OLD."task_id" IS NOT NEW."task_id" UNION ALL SELECT 'person_id' AS name, json_quote(OLD."person_id") AS held WHERE OLD."person_id" IS NOT NEW."person_id" UNION ALL SELECT 'started_at' AS name, json_quote(OLD."started_at") AS held WHERE OLD."started_at" IS NOT NEW."started_at" UNION ALL SELECT 'stopped_at' AS name, json_quote(OLD."stopped_at") AS held WHERE OLD."stopped_at" IS NOT NEW."stopped_at")), (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(NEW."id") AS held WHERE OLD."id" IS NOT NEW."id" UNION ALL SELECT 'task_id' AS name, json_quote(NEW."task_id") AS held WHERE OLD."task_id" IS NOT NEW."task_id" UNION ALL SELECT 'person_id' AS name, json_quote(NEW."person_id") AS held WHERE OLD."person_id" IS NOT NEW."person_id" UNION ALL SELECT 'started_at' AS name, json_quote(NEW."started_at") AS held WHERE OLD."started_at" IS NOT NEW."started_at" UNION ALL SELECT 'stopped_at' AS name, json_quote(NEW."stopped_at") AS held WHERE OLD."stopped_at" IS NOT NEW."stopped_at"))); END;
CREATE TRIGGER kept_by_act_settings_insert AFTER INSERT ON settings BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'settings', NEW.name, 'null', (SELECT json_group_object(name, json(held)) FROM (SELECT 'name' AS name, json_quote(NEW."name") AS held UNION ALL SELECT 'value' AS name, COALESCE(NEW."value", 'null') AS held))); END;
CREATE TRIGGER kept_by_act_settings_update AFTER UPDATE ON settings WHEN OLD."name" IS NOT NEW."name" OR OLD."value" IS NOT NEW."value" BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'settings', NEW.name, (SELECT json_group_object(name, json(held)) FROM (SELECT 'name' AS name, json_quote(OLD."name") AS held WHERE OLD."name" IS NOT NEW."name" UNION ALL SELECT 'value' AS name, COALESCE(OLD."value", 'null') AS held WHERE OLD."value" IS NOT NEW."value")), (SELECT json_group_object(name, json(held)) FROM (SELECT 'name' AS name, json_quote(NEW."name") AS held WHERE OLD."name" IS NOT NEW."name" UNION ALL SELECT 'value' AS name, COALESCE(NEW."value", 'null') AS held WHERE OLD."value" IS NOT NEW."value"))); END;
CREATE TRIGGER kept_by_act_stock_items_insert AFTER INSERT ON stock_items BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'stock_items', NEW.id, 'null', (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(NEW."id") AS held UNION ALL SELECT 'kind' AS name, json_quote(NEW."kind") AS held UNION ALL SELECT 'code' AS name, json_quote(NEW."code") AS held UNION ALL SELECT 'metal' AS name, json_quote(NEW."metal") AS held UNION ALL SELECT 'size_mm' AS name, json_quote(NEW."size_mm") AS held UNION ALL SELECT 'claws' AS name, json_quote(NEW."claws") AS held UNION ALL SELECT 'claw_mm' AS name, json_quote(NEW."claw_mm") AS held UNION ALL SELECT 'opening_mm' AS name, json_quote(NEW."opening_mm") AS held UNION ALL SELECT 'height_mm' AS name, json_quote(NEW."height_mm") AS held UNION ALL SELECT 'wall_mm' AS name, json_quote(NEW."wall_mm") AS held UNION ALL SELECT 'shape' AS name, json_quote(NEW."shape") AS held UNION ALL SELECT 'grade' AS name, json_quote(NEW."grade") AS held UNION ALL SELECT 'quantity' AS name, json_quote(NEW."quantity") AS held UNION ALL SELECT 'price' AS name, json_quote(NEW."price") AS held UNION ALL SELECT 'note' AS name, json_quote(NEW."note") AS held UNION ALL SELECT 'added_at' AS name, json_quote(NEW."added_at") AS held UNION ALL SELECT 'removed_at' AS name, json_quote(NEW."removed_at") AS held UNION ALL SELECT 'made_for_width_mm' AS name, json_quote(NEW."made_for_width_mm") AS held UNION ALL SELECT 'height_tip_mm' AS name, json_quote(NEW."height_tip_mm") AS held UNION ALL SELECT 'foot_mm' AS name, json_quote(NEW."foot_mm") AS held UNION ALL SELECT 'rail_mm' AS name, json_quote(NEW."rail_mm") AS held UNION ALL SELECT 'label_ct' AS name, json_quote(NEW."label_ct") AS held UNION ALL SELECT 'cut' AS name, json_quote(NEW."cut") AS held UNION ALL SELECT 'state' AS name, json_quote(NEW."state") AS held UNION ALL SELECT 'inside_mm' AS name, json_quote(NEW."inside_mm") AS held UNION ALL SELECT 'width_mm' AS name, json_quote(NEW."width_mm") AS held UNION ALL SELECT 'thickness_mm' AS name, json_quote(NEW."thickness_mm") AS held UNION ALL SELECT 'length_mm' AS name, json_quote(NEW."length_mm") AS held UNION ALL SELECT 'mass_g' AS name, json_quote(NEW."mass_g") AS held UNION ALL SELECT 'owner' AS name, json_quote(NEW."owner") AS held))); END;
CREATE TRIGGER kept_by_act_stock_items_update AFTER UPDATE ON stock_items WHEN OLD."id" IS NOT NEW."id" OR OLD."kind" IS NOT NEW."kind" OR OLD."code" IS NOT NEW."code" OR OLD."metal" IS NOT NEW."metal" OR OLD."size_mm" IS NOT NEW."size_mm" OR OLD."claws" IS NOT NEW."claws" OR OLD."claw_mm" IS NOT NEW."claw_mm" OR OLD."opening_mm" IS NOT NEW."opening_mm" OR OLD."height_mm" IS NOT NEW."height_mm" OR OLD."wall_mm" IS NOT NEW."wall_mm" OR OLD."shape" IS NOT NEW."shape" OR OLD."grade" IS NOT NEW."grade" OR OLD."quantity" IS NOT NEW."quantity" OR OLD."price" IS NOT NEW."price" OR OLD."note" IS NOT NEW."note" OR OLD."added_at" IS NOT NEW."added_at" OR OLD."removed_at" IS NOT NEW."removed_at" OR OLD."made_for_width_mm" IS NOT NEW."made_for_width_mm" OR OLD."height_tip_mm" IS NOT NEW."height_tip_mm" OR OLD."foot_mm" IS NOT NEW."foot_mm" OR OLD."rail_mm" IS NOT NEW."rail_mm" OR OLD."label_ct" IS NOT NEW."label_ct" OR OLD."cut" IS NOT NEW."cut" OR OLD."state" IS NOT NEW."state" OR OLD."inside_mm" IS NOT NEW."inside_mm" OR OLD."width_mm" IS NOT NEW."width_mm" OR OLD."thickness_mm" IS NOT NEW."thickness_mm" OR OLD."length_mm" IS NOT NEW."length_mm" OR OLD."mass_g" IS NOT NEW."mass_g" OR OLD."owner" IS NOT NEW."owner" BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'stock_items', NEW.id, (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(OLD."id") AS held WHERE OLD."id" IS NOT NEW."id" UNION ALL SELECT 'kind' AS name, json_quote(OLD."kind") AS held WHERE OLD."kind" IS NOT NEW."kind" UNION ALL SELECT 'code' AS name, json_quote(OLD."code") AS held WHERE OLD."code" IS NOT NEW."code" UNION ALL SELECT 'metal' AS name, json_quote(OLD."metal") AS held WHERE OLD."metal" IS NOT NEW."metal" UNION ALL SELECT 'size_mm' AS name, json_quote(OLD."size_mm") AS held WHERE OLD."size_mm" IS NOT NEW."size_mm" UNION ALL SELECT 'claws' AS name, json_quote(OLD."claws") AS held WHERE OLD."claws" IS NOT NEW."claws" UNION ALL SELECT 'claw_mm' AS name, json_quote(OLD."claw_mm") AS held WHERE OLD."claw_mm" IS NOT NEW."claw_mm" UNION ALL SELECT 'opening_mm' AS name, json_quote(OLD."opening_mm") AS held WHERE OLD."opening_mm" IS NOT NEW."opening_mm" UNION ALL SELECT 'height_mm' AS name, json_quote(OLD."height_mm") AS held WHERE OLD."height_mm" IS NOT NEW."height_mm" UNION ALL SELECT 'wall_mm' AS name, json_quote(OLD."wall_mm") AS held WHERE OLD."wall_mm" IS NOT NEW."wall_mm" UNION ALL SELECT 'shape' AS name, json_quote(OLD."shape") AS held WHERE OLD."shape" IS NOT NEW."shape" UNION ALL SELECT 'grade' AS name, json_quote(OLD."grade") AS held WHERE OLD."grade" IS NOT NEW."grade" UNION ALL SELECT 'quantity' AS name, json_quote(OLD."quantity") AS held WHERE OLD."quantity" IS NOT NEW."quantity" UNION ALL SELECT 'price' AS name, json_quote(OLD."price") AS held WHERE OLD."price" IS NOT NEW."price" UNION ALL SELECT 'note' AS name, json_quote(OLD."note") AS held WHERE OLD."note" IS NOT NEW."note" UNION ALL SELECT 'added_at' AS name, json_quote(OLD."added_at") AS held WHERE OLD."added_at" IS NOT NEW."added_at" UNION ALL SELECT 'removed_at' AS name, json_quote(OLD."removed_at") AS held WHERE OLD."removed_at" IS NOT NEW."removed_at" UNION ALL SELECT 'made_for_width_mm' AS name, json_quote(OLD."made_for_width_mm") AS held WHERE OLD."made_for_width_mm" IS NOT NEW."made_for_width_mm" UNION ALL SELECT 'height_tip_mm' AS name, json_quote(OLD."height_tip_mm") AS held WHERE OLD."height_tip_mm" IS NOT NEW."height_tip_mm" UNION ALL SELECT 'foot_mm' AS name, json_quote(OLD."foot_mm") AS held WHERE OLD."foot_mm" IS NOT NEW."foot_mm" UNION ALL SELECT 'rail_mm' AS name, json_quote(OLD."rail_mm") AS held WHERE OLD."rail_mm" IS NOT NEW."rail_mm" UNION ALL SELECT 'label_ct' AS name, json_quote(OLD."label_ct") AS held WHERE OLD."label_ct" IS NOT NEW."label_ct" UNION ALL SELECT 'cut' AS name, json_quote(OLD."cut") AS held WHERE OLD."cut" IS NOT NEW."cut" UNION ALL SELECT 'state' AS name, json_quote(OLD."state") AS held WHERE OLD."state" IS NOT NEW."state" UNION ALL SELECT 'inside_mm' AS name, json_quote(OLD."inside_mm") AS held WHERE OLD."inside_mm" IS NOT NEW."inside_mm" UNION ALL SELECT 'width_mm' AS name, json_quote(OLD."width_mm") AS held WHERE OLD."width_mm" IS NOT NEW."width_mm" UNION ALL SELECT 'thickness_mm' AS name, json_quote(OLD."thickness_mm") AS held WHERE OLD."thickness_mm" IS NOT NEW."thickness_mm" UNION ALL SELECT 'length_mm' AS name, json_quote(OLD."length_mm") AS held WHERE OLD."length_mm" IS NOT NEW."length_mm" UNION ALL SELECT 'mass_g' AS name, json_quote(OLD."mass_g") AS held WHERE OLD."mass_g" IS NOT NEW."mass_g" UNION ALL SELECT 'owner' AS name, json_quote(OLD."owner") AS held WHERE OLD."owner" IS NOT NEW."owner")), (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(NEW."id") AS held WHERE OLD."id" IS NOT NEW."id" UNION ALL SELECT 'kind' AS name, json_quote(NEW."kind") AS held WHERE OLD."kind" IS NOT NEW."kind" UNION ALL SELECT 'code' AS name, json_quote(NEW."code") AS held WHERE OLD."code" IS NOT NEW."code" UNION ALL SELECT 'metal' AS name, json_quote(NEW."metal") AS held WHERE OLD."metal" IS NOT NEW."metal" UNION ALL SELECT 'size_mm' AS name, json_quote(NEW."size_mm") AS held WHERE OLD."size_mm" IS NOT NEW."size_mm" UNION ALL SELECT 'claws' AS name, json_quote(NEW."claws") AS held WHERE OLD."claws" IS NOT NEW."claws" UNION ALL SELECT 'claw_mm' AS name, json_quote(NEW."claw_mm") AS held WHERE OLD."claw_mm" IS NOT NEW."claw_mm" UNION ALL SELECT 'opening_mm' AS name, json_quote(NEW."opening_mm") AS held WHERE OLD."opening_mm" IS NOT NEW."opening_mm" UNION ALL SELECT 'height_mm' AS name, json_quote(NEW."height_mm") AS held WHERE OLD."height_mm" IS NOT NEW."height_mm" UNION ALL SELECT 'wall_mm' AS name, json_quote(NEW."wall_mm") AS held WHERE OLD."wall_mm" IS NOT NEW."wall_mm" UNION ALL SELECT 'shape' AS name, json_quote(NEW."shape") AS held WHERE OLD."shape" IS NOT NEW."shape" UNION ALL SELECT 'grade' AS name, json_quote(NEW."grade") AS held WHERE OLD."grade" IS NOT NEW."grade" UNION ALL SELECT 'quantity' AS name, json_quote(NEW."quantity") AS held WHERE OLD."quantity" IS NOT NEW."quantity" UNION ALL SELECT 'price' AS name, json_quote(NEW."price") AS held WHERE OLD."price" IS NOT NEW."price" UNION ALL SELECT 'note' AS name, json_quote(NEW."note") AS held WHERE OLD."note" IS NOT NEW."note" UNION ALL SELECT 'added_at' AS name, json_quote(NEW."added_at") AS held WHERE OLD."added_at" IS NOT NEW."added_at" UNION ALL SELECT 'removed_at' AS name, json_quote(NEW."removed_at") AS held WHERE OLD."removed_at" IS NOT NEW."removed_at" UNION ALL SELECT 'made_for_width_mm' AS name, json_quote(NEW."made_for_width_mm") AS held WHERE OLD."made_for_width_mm" IS NOT NEW."made_for_width_mm" UNION ALL SELECT 'height_tip_mm' AS name, json_quote(NEW."height_tip_mm") AS held WHERE OLD."height_tip_mm" IS NOT NEW."height_tip_mm" UNION ALL SELECT 'foot_mm' AS name, json_quote(NEW."foot_mm") AS held WHERE OLD."foot_mm" IS NOT NEW."foot_mm" UNION ALL SELECT 'rail_mm' AS name, json_quote(NEW."rail_mm") AS held WHERE OLD."rail_mm" IS NOT NEW."rail_mm" UNION ALL SELECT 'label_ct' AS name, json_quote(NEW."label_ct") AS held WHERE OLD."label_ct" IS NOT NEW."label_ct" UNION ALL SELECT 'cut' AS name, json_quote(NEW."cut") AS held WHERE OLD."cut" IS NOT NEW."cut" UNION ALL SELECT 'state' AS name, json_quote(NEW."state") AS held WHERE OLD."state" IS NOT NEW."state" UNION ALL SELECT 'inside_mm' AS name, json_quote(NEW."inside_mm") AS held WHERE OLD."inside_mm" IS NOT NEW."inside_mm" UNION ALL SELECT 'width_mm' AS name, json_quote(NEW."width_mm") AS held WHERE OLD."width_mm" IS NOT NEW."width_mm" UNION ALL SELECT 'thickness_mm' AS name, json_quote(NEW."thickness_mm") AS held WHERE OLD."thickness_mm" IS NOT NEW."thickness_mm" UNION ALL SELECT 'length_mm' AS name, json_quote(NEW."length_mm") AS held WHERE OLD."length_mm" IS NOT NEW."length_mm" UNION ALL SELECT 'mass_g' AS name, json_quote(NEW."mass_g") AS held WHERE OLD."mass_g" IS NOT NEW."mass_g" UNION ALL SELECT 'owner' AS name, json_quote(NEW."owner") AS held WHERE OLD."owner" IS NOT NEW."owner"))); END;
CREATE TRIGGER kept_by_act_people_insert AFTER INSERT ON people BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'people', NEW.id, 'null', (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(NEW."id") AS held UNION ALL SELECT 'name' AS name, json_quote(NEW."name") AS held UNION ALL SELECT 'role' AS name, json_quote(NEW."role") AS held UNION ALL SELECT 'skills' AS name, COALESCE(NEW."skills", 'null') AS held UNION ALL SELECT 'left_at' AS name, json_quote(NEW."left_at") AS held UNION ALL SELECT 'pin_salt' AS name, json_quote(NEW."pin_salt") AS held UNION ALL SELECT 'database_role' AS name, json_quote(NEW."database_role") AS held))); END;
CREATE TRIGGER kept_by_act_people_update AFTER UPDATE ON people WHEN OLD."id" IS NOT NEW."id" OR OLD."name" IS NOT NEW."name" OR OLD."role" IS NOT NEW."role" OR OLD."skills" IS NOT NEW."skills" OR OLD."left_at" IS NOT NEW."left_at" OR OLD."pin_salt" IS NOT NEW."pin_salt" OR OLD."database_role" IS NOT NEW."database_role" BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'people', NEW.id, (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(OLD."id") AS held WHERE OLD."id" IS NOT NEW."id" UNION ALL SELECT 'name' AS name, json_quote(OLD."name") AS held WHERE OLD."name" IS NOT NEW."name" UNION ALL SELECT 'role' AS name, json_quote(OLD."role") AS held WHERE OLD."role" IS NOT NEW."role" UNION ALL SELECT 'skills' AS name, COALESCE(OLD."skills", 'null') AS held WHERE OLD."skills" IS NOT NEW."skills" UNION ALL SELECT 'left_at' AS name, json_quote(OLD."left_at") AS held WHERE OLD."left_at" IS NOT NEW."left_at" UNION ALL SELECT 'pin_salt' AS name, json_quote(OLD."pin_salt") AS held WHERE OLD."pin_salt" IS NOT NEW."pin_salt" UNION ALL SELECT 'database_role' AS name, json_quote(OLD."database_role") AS held WHERE OLD."database_role" IS NOT NEW."database_role")), (SELECT json_group_object(name, json(held)) FROM (SELECT 'id' AS name, json_quote(NEW."id") AS held WHERE OLD."id" IS NOT NEW."id" UNION ALL SELECT 'name' AS name, json_quote(NEW."name") AS held WHERE OLD."name" IS NOT NEW."name" UNION ALL SELECT 'role' AS name, json_quote(NEW."role") AS held WHERE OLD."role" IS NOT NEW."role" UNION ALL SELECT 'skills' AS name, COALESCE(NEW."skills", 'null') AS held WHERE OLD."skills" IS NOT NEW."skills" UNION ALL SELECT 'left_at' AS name, json_quote(NEW."left_at") AS held WHERE OLD."left_at" IS NOT NEW."left_at" UNION ALL SELECT 'pin_salt' AS name, json_quote(NEW."pin_salt") AS held WHERE OLD."pin_salt" IS NOT NEW."pin_salt" UNION ALL SELECT 'database_role' AS name, json_quote(NEW."database_role") AS held WHERE OLD."database_role" IS NOT NEW."database_role"))); END;
CREATE TRIGGER kept_by_act_dockets_insert AFTER INSERT ON dockets BEGIN INSERT INTO effects (act, table_name, row_key, before, after) VALUES (COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), 'dockets', NEW.id, 'null', (SELECT json_group_object(name, json(held)) FROM (SELECT 'customer' AS name, json_quote(NEW."customer") AS held UNION ALL SELECT 'item' AS name, json_quote(NEW."item") AS held UNION ALL SELECT 'promised_on' AS name, json_quote(NEW."promised_on") AS held UNION ALL SELECT 'state' AS name, json_quote(NEW."state") AS held UNION ALL SELECT 'job_document' AS name, COALESCE(NEW."job_document", 'null') AS held UNION ALL SELECT 'ticks' AS name, COALESCE(NEW."ticks", 'null') AS held UNION ALL SELECT 'customer_kind' AS name, json_quote(NEW."customer_kind") AS held UNION ALL SELECT 'metal' AS name, json_quote(NEW."metal") AS held UNION ALL SELECT 'mark' AS name, json_quote(NEW."mark") AS held UNION ALL SELECT 'reported' AS name, json_quote(NEW."reported") AS held UNION ALL SELECT 'condition' AS name, json_quote(NEW."condition") AS held UNION ALL SELECT 'earlier_number' AS name, json_quote(NEW."earlier_number") AS held UNION ALL SELECT 'released_by' AS name, json_quote(NEW."released_by") AS held UNION ALL SELECT 'release_reason' AS name, json_quote(NEW."release_reason") AS held UNION ALL SELECT 'weight_in_g' AS name, json_quote(NEW."weight_in_g") AS held UNION ALL SELECT 'claw_chart' AS name, COALESCE(NEW."claw_chart", 'null') AS held UNION ALL SELECT 'measured' AS name, COALESCE(NEW."measured", 'null') AS held UNION ALL SELECT 'stones_price' AS name, json_quote(NEW."stones_price") AS held UNION ALL SELECT 'withdrawn' AS name, json_quote(NEW."withdrawn") AS held UNION ALL SELECT 'importance' AS name, json_quote(NEW."importance") AS held UNION ALL SELECT 'outside_price' AS name, json_quote(NEW."outside_price") AS held UNION ALL SELECT 'deposit' AS name, json_quote(NEW."deposit") AS held UNION ALL SELECT 'approved' AS name, COALESCE(NEW."approved", 'null') AS held))); END;
INSERT INTO "alembic_version" VALUES ('0021');
INSERT INTO "alloys" VALUES ('18k-yellow');
INSERT INTO "alloys" VALUES ('18k-white');
INSERT INTO "alloys" VALUES ('14k-yellow');
INSERT INTO "alloys" VALUES ('9k-yellow');
INSERT INTO "alloys" VALUES ('sterling-silver');
INSERT INTO "alloys" VALUES ('platinum-950');
INSERT INTO "alloys" VALUES ('palladium-950');
