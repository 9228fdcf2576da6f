-- A team's database for Yarvel on PostgreSQL 15 or newer. Run once, by the server's own superuser:
--
--     sudo -u postgres psql -f share/team.sql
--
-- It asks for two passwords. The owner's (yarvel_owner) is for bringing the layout up to date and for nothing else; the
-- windows' (yarvel) is the one that the team's machines use. Afterwards:
--
--     yarvel prepare-store postgresql://yarvel_owner@host/yarvel
--
-- Unattended: psql -v owner_password=... -v password=... [-v database=...] -f share/team.sql

\set ON_ERROR_STOP on
\if :{?database}
\else
  \set database yarvel
\endif
\if :{?owner_password}
\else
  \prompt 'A new password for the owner, yarvel_owner: ' owner_password
\endif
\if :{?password}
\else
  \prompt 'A new password for the windows, yarvel: ' password
\endif

CREATE ROLE yarvel_owner LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE PASSWORD :'owner_password';
CREATE ROLE yarvel LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE PASSWORD :'password';
CREATE DATABASE :"database" OWNER yarvel_owner ENCODING 'UTF8' TEMPLATE template0;
REVOKE ALL ON DATABASE :"database" FROM PUBLIC;
GRANT CONNECT ON DATABASE :"database" TO yarvel;

\connect :"database"
REVOKE ALL ON SCHEMA public FROM PUBLIC;
GRANT ALL ON SCHEMA public TO yarvel_owner;
GRANT USAGE ON SCHEMA public TO yarvel;
CREATE EXTENSION IF NOT EXISTS pg_trgm;
