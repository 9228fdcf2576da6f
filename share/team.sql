-- A team's database for Yarvel on PostgreSQL 15 or newer. Run once, by the server's own superuser:
--
--     sudo -u postgres psql -f share/team.sql
--
-- It asks for a password: the owner's (yarvel_owner), for bringing the layout up to date and for nothing else. The windows'
-- role (yarvel) does not log in: each machine (or each person) has a login within it, with a password of its own. Afterwards:
--
--     yarvel prepare-store postgresql://yarvel_owner@host/yarvel
--     yarvel prepare-store --machine bench-1 postgresql://postgres@host/yarvel      (as the superuser, for each machine)
--     sudo -u postgres psql -c '\password yarvel_bench-1'
--
-- Unattended: psql -v owner_password=... [-v database=...] -f share/team.sql
-- Where all machines are to share one login, as up to layout 0017: ALTER ROLE yarvel LOGIN PASSWORD '...';

\set ON_ERROR_STOP on
\if :{?database}
\else
  \set database yarvel
\endif
\if :{?owner_password}
\else
  \prompt 'A new password for the owner, yarvel_owner: ' owner_password
\endif

CREATE ROLE yarvel_owner LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE PASSWORD :'owner_password';
CREATE ROLE yarvel NOLOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE;
CREATE DATABASE :"database" OWNER yarvel_owner ENCODING 'UTF8' TEMPLATE template0;
REVOKE ALL ON DATABASE :"database" FROM PUBLIC;
GRANT CONNECT ON DATABASE :"database" TO yarvel;

\connect :"database"
REVOKE ALL ON SCHEMA public FROM PUBLIC;
GRANT ALL ON SCHEMA public TO yarvel_owner;
GRANT USAGE ON SCHEMA public TO yarvel;
-- large objects belong to nobody's docket
REVOKE EXECUTE ON FUNCTION lo_creat(integer), lo_create(oid), lo_from_bytea(oid, bytea) FROM PUBLIC;
CREATE EXTENSION IF NOT EXISTS pg_trgm;
