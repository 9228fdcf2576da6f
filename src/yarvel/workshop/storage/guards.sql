-- What a team's database holds every window to, whoever writes in it. Put on by storage/guards.py, which fills in the
-- names between braces. The database's owner is free: migrations, moves and copies are its work.

CREATE OR REPLACE FUNCTION yarvel_free() RETURNS boolean LANGUAGE sql STABLE AS $$
  -- who is connected, also within what runs as the owner
  SELECT session_user = (SELECT tableowner FROM pg_tables WHERE schemaname = 'public' AND tablename = 'people')
      OR (SELECT rolsuper FROM pg_roles WHERE rolname = session_user)
$$;

CREATE OR REPLACE FUNCTION yarvel_now() RETURNS timestamp LANGUAGE sql VOLATILE AS $$
  -- the clock of the house: the server's, in UTC, whatever zone a session has set for itself
  SELECT clock_timestamp() AT TIME ZONE 'UTC'
$$;

CREATE OR REPLACE FUNCTION yarvel_act(OUT act text, OUT author text) LANGUAGE sql STABLE
SECURITY DEFINER SET search_path = public, pg_temp AS $$
  -- the act of this transaction: its number may come again after a restore, with its beginning it does not
  SELECT id, "by" FROM acts WHERE xid = pg_current_xact_id()::text::bigint AND began = transaction_timestamp() ORDER BY seq DESC LIMIT 1
$$;

CREATE OR REPLACE FUNCTION yarvel_my_role() RETURNS text LANGUAGE sql STABLE
SECURITY DEFINER SET search_path = public, pg_temp AS $$
  SELECT role FROM people WHERE id = yarvel_me()
$$;

CREATE OR REPLACE FUNCTION yarvel_my_name() RETURNS text LANGUAGE sql STABLE
SECURITY DEFINER SET search_path = public, pg_temp AS $$
  SELECT name FROM people WHERE id = yarvel_me()
$$;

CREATE OR REPLACE FUNCTION yarvel_patch(was jsonb, becomes jsonb) RETURNS jsonb LANGUAGE plpgsql IMMUTABLE AS $$
  -- the merge patch (RFC 7396) that leads from one object to the other
DECLARE patch jsonb := '{}'; name text; held jsonb;
BEGIN
  FOR name IN SELECT jsonb_object_keys(was) LOOP
    IF NOT becomes ? name THEN patch := patch || jsonb_build_object(name, NULL); END IF;
  END LOOP;
  FOR name, held IN SELECT key, value FROM jsonb_each(becomes) LOOP
    CONTINUE WHEN was -> name IS NOT DISTINCT FROM held;
    IF jsonb_typeof(was -> name) = 'object' AND jsonb_typeof(held) = 'object' THEN
      held := yarvel_patch(was -> name, held);
    END IF;
    patch := patch || jsonb_build_object(name, held);
  END LOOP;
  RETURN patch;
END $$;

CREATE OR REPLACE FUNCTION yarvel_parts(of_table text, of_column text, was jsonb, fresh jsonb) RETURNS SETOF text
LANGUAGE plpgsql IMMUTABLE AS $$
  -- which part of a column a right is asked for: what of a docket's job, its new state, which setting
BEGIN
  IF of_table = 'dockets' AND of_column = 'job_document' THEN
    RETURN QUERY SELECT jsonb_object_keys(yarvel_patch(was -> of_column, fresh -> of_column));
  ELSIF of_table = 'dockets' AND of_column = 'state' THEN
    RETURN NEXT fresh ->> of_column;
  ELSIF of_table = 'settings' THEN
    RETURN NEXT split_part(fresh ->> 'name', '/', 1);  -- of a kind that is rows, the kind
  ELSE
    RETURN NEXT '';
  END IF;
END $$;

CREATE OR REPLACE FUNCTION yarvel_may(of_table text, of_column text, of_part text, mine text) RETURNS boolean
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
  SELECT EXISTS (
    SELECT 1 FROM touches t WHERE t.table_name = of_table AND t.column_name = of_column AND t.role = mine
       AND t.part = CASE WHEN EXISTS (SELECT 1 FROM touches o WHERE o.table_name = of_table
                                         AND o.column_name = of_column AND o.part = of_part)
                    THEN of_part ELSE '' END)
$$;

CREATE OR REPLACE FUNCTION yarvel_check_may(of_table text, of_column text, was jsonb, fresh jsonb) RETURNS void
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE part text; mine text := yarvel_my_role();
BEGIN
  FOR part IN SELECT yarvel_parts(of_table, of_column, was, fresh) LOOP
    IF NOT yarvel_may(of_table, of_column, part, mine) THEN
      RAISE EXCEPTION '%: may not change % of %', mine, concat_ws(' ', nullif(of_column, ''), nullif(part, '')), of_table;
    END IF;
  END LOOP;
END $$;

CREATE OR REPLACE FUNCTION yarvel_tell_docket(docket bigint, was jsonb, fresh jsonb, at timestamp) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
  -- the line of history of what one statement made of a docket
DECLARE said record; befores jsonb := '{}'; afters jsonb := '{}'; name text; line text; names text[] := '{}';
BEGIN
  FOR name IN SELECT key FROM jsonb_each(fresh) LOOP
    CONTINUE WHEN name IN ({silent}) OR was -> name IS NOT DISTINCT FROM fresh -> name;
    line := CASE name WHEN 'job_document' THEN 'job' ELSE name END;
    names := names || line;
    IF name IN ({documents}) THEN
      befores := befores || jsonb_build_object(line, yarvel_patch(fresh -> name, was -> name));
      afters := afters || jsonb_build_object(line, yarvel_patch(was -> name, fresh -> name));
    ELSE
      befores := befores || jsonb_build_object(line, was -> name);
      afters := afters || jsonb_build_object(line, fresh -> name);
    END IF;
  END LOOP;
  IF names = '{}' THEN RETURN; END IF;
  SELECT * INTO said FROM yarvel_act();
  IF array_length(names, 1) = 1 THEN
    befores := befores -> names[1]; afters := afters -> names[1]; line := names[1];
  ELSE
    line := '{several}';
  END IF;
  INSERT INTO changes (docket_id, at, "by", field, before, after, act)
  VALUES (docket, at, COALESCE(said.author, session_user), line, befores, afters, COALESCE(said.act, ''));
END $$;

REVOKE EXECUTE ON FUNCTION yarvel_tell_docket(bigint, jsonb, jsonb, timestamp) FROM PUBLIC;

CREATE OR REPLACE FUNCTION yarvel_kept_by_act() RETURNS trigger LANGUAGE plpgsql
SECURITY DEFINER SET search_path = public, pg_temp AS $$
  -- for every table in which windows write: no act, no change; no right, no change; and what it came to
DECLARE free boolean := yarvel_free(); asked boolean; said record; pair record; name text;
BEGIN
  SELECT * INTO said FROM yarvel_act();
  IF NOT EXISTS (SELECT 1 FROM fresh) THEN RETURN NULL; END IF;
  IF TG_TABLE_NAME = 'settings' AND TG_OP = 'INSERT'
     AND NOT EXISTS (SELECT 1 FROM fresh f WHERE to_jsonb(f) ->> 'name' <> '{identity}') THEN
    RETURN NULL;  -- which store this is, is made once, before anybody has said who they are
  END IF;
  IF NOT free AND said.act IS NULL THEN RAISE EXCEPTION 'nothing changes without an act that says so'; END IF;
  asked := NOT free AND yarvel_wanted();
  IF asked AND yarvel_me() IS NULL THEN RAISE EXCEPTION 'nobody is signed in'; END IF;
  IF TG_OP = 'INSERT' THEN
    IF asked AND TG_TABLE_NAME = 'settings' THEN
      FOR pair IN SELECT to_jsonb(f) AS fresh FROM fresh f LOOP
        PERFORM yarvel_check_may(TG_TABLE_NAME, '', NULL, pair.fresh);
      END LOOP;
    ELSIF asked THEN
      PERFORM yarvel_check_may(TG_TABLE_NAME, '', NULL, NULL);
    END IF;
    IF TG_TABLE_NAME IN ({told}) THEN
      INSERT INTO effects (act, table_name, row_key, before, after)
      SELECT COALESCE(said.act, ''), TG_TABLE_NAME, to_jsonb(f) ->> TG_ARGV[0], 'null', to_jsonb(f) FROM fresh f;
    ELSIF TG_TABLE_NAME = '{begun}' THEN  -- with what it began; what becomes of it stands in its history
      INSERT INTO effects (act, table_name, row_key, before, after)
      SELECT COALESCE(said.act, ''), TG_TABLE_NAME, to_jsonb(f) ->> TG_ARGV[0], 'null', to_jsonb(f) - ARRAY[{silent}]
        FROM fresh f;
    END IF;
    RETURN NULL;
  END IF;
  FOR pair IN
    SELECT to_jsonb(f) AS fresh, to_jsonb(w) AS was FROM fresh f
      FULL JOIN was w ON to_jsonb(w) ->> TG_ARGV[0] = to_jsonb(f) ->> TG_ARGV[0]
     WHERE to_jsonb(w) IS DISTINCT FROM to_jsonb(f)
  LOOP
    IF pair.was IS NULL OR pair.fresh IS NULL THEN RAISE EXCEPTION 'a row keeps its name'; END IF;
    IF asked THEN
      FOR name IN SELECT key FROM jsonb_each(pair.fresh) WHERE value IS DISTINCT FROM pair.was -> key LOOP
        PERFORM yarvel_check_may(TG_TABLE_NAME, name, pair.was, pair.fresh);
      END LOOP;
    END IF;
    IF TG_TABLE_NAME = 'dockets' THEN
      PERFORM yarvel_tell_docket((pair.fresh ->> 'id')::bigint, pair.was, pair.fresh, (pair.fresh ->> 'updated_at')::timestamp);
    ELSIF TG_TABLE_NAME IN ({told}) THEN
      INSERT INTO effects (act, table_name, row_key, before, after)
      SELECT COALESCE(said.act, ''), TG_TABLE_NAME, pair.fresh ->> TG_ARGV[0],
             jsonb_object_agg(key, pair.was -> key), jsonb_object_agg(key, value)
        FROM jsonb_each(pair.fresh) WHERE value IS DISTINCT FROM pair.was -> key;
    END IF;
  END LOOP;
  RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION yarvel_act_row() RETURNS trigger LANGUAGE plpgsql AS $$
  -- who and when is the server's to say
BEGIN
  NEW.xid := pg_current_xact_id()::text::bigint;
  NEW.began := transaction_timestamp();
  IF yarvel_free() THEN RETURN NEW; END IF;
  NEW.stored_at := yarvel_now();
  NEW.pressed_at := least(NEW.pressed_at, NEW.stored_at);
  RETURN NEW;
END $$;

CREATE OR REPLACE FUNCTION yarvel_docket_row() RETURNS trigger LANGUAGE plpgsql AS $$
  -- a docket's number follows on, its version counts, its times are the server's, nobody releases in another's name
DECLARE last integer; main text := split_part(NEW.number, '/', 1); year text := split_part(NEW.number, '-', 1);
BEGIN
  IF TG_OP = 'UPDATE' THEN
    NEW.version := OLD.version + 1;
    IF yarvel_free() THEN RETURN NEW; END IF;
    NEW.updated_at := yarvel_now();
    IF yarvel_wanted() AND NEW.released_by IS DISTINCT FROM OLD.released_by
       AND NEW.released_by NOT IN ('', COALESCE(yarvel_my_name(), '')) THEN
      RAISE EXCEPTION 'released by %: nobody releases in another''s name', NEW.released_by;
    END IF;
    RETURN NEW;
  END IF;
  IF yarvel_free() THEN RETURN NEW; END IF;
  NEW.version := 1;
  NEW.updated_at := yarvel_now();
  IF main <> NEW.number THEN
    IF NOT EXISTS (SELECT 1 FROM dockets WHERE number = main) THEN
      RAISE EXCEPTION '%: another stone of no docket', NEW.number;
    END IF;
  ELSE
    SELECT split_part(number, '-', 2)::integer INTO last FROM dockets
     WHERE number LIKE year || '-%' AND number NOT LIKE '%/%' ORDER BY length(number) DESC, number DESC LIMIT 1;
    IF split_part(NEW.number, '-', 2)::integer > COALESCE(last, 0) + 1
       AND yarvel_wanted() AND NOT yarvel_may('dockets', 'number', '', COALESCE(yarvel_my_role(), '')) THEN
      RAISE EXCEPTION '%: numbers are given out one by one', NEW.number;
    END IF;
  END IF;
  RETURN NEW;
END $$;

CREATE OR REPLACE FUNCTION yarvel_taken_in() RETURNS trigger LANGUAGE plpgsql AS $$
  -- no docket without the line that it was taken in
BEGIN
  IF yarvel_free() OR EXISTS (SELECT 1 FROM changes WHERE docket_id = NEW.id) THEN RETURN NULL; END IF;
  RAISE EXCEPTION 'docket %: no line says that it was taken in', NEW.number;
END $$;

CREATE OR REPLACE FUNCTION yarvel_line_row() RETURNS trigger LANGUAGE plpgsql AS $$
  -- what is kept for ever stands under its act, at the server's moment, and not in the place of what the server writes
DECLARE said record;
BEGIN
  IF yarvel_owns() THEN RETURN NEW; END IF;
  SELECT * INTO said FROM yarvel_act();
  NEW.act := COALESCE(said.act, '');
  IF TG_TABLE_NAME = 'fine_entries' THEN
    IF NEW.at > yarvel_now() + interval '1 minute'
       OR NEW.at < yarvel_now() - interval '36 days' THEN
      RAISE EXCEPTION '%: metal stands at a moment of the last 35 days', NEW.at;
    END IF;
  ELSIF TG_TABLE_NAME = 'changes' THEN
    IF NEW.field NOT IN ({lines}) THEN
      NEW.at := yarvel_now();
    ELSIF yarvel_wanted() AND NOT yarvel_may('dockets', 'number', '', COALESCE(yarvel_my_role(), '')) OR NOT EXISTS
      (SELECT 1 FROM dockets WHERE id = NEW.docket_id AND version = 1 AND xmin = pg_current_xact_id()::xid) THEN
      RAISE EXCEPTION 'what a docket became is written by the server';
    END IF;
  END IF;
  RETURN NEW;
END $$;
