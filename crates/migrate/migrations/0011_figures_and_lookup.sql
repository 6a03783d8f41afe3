-- Searching as one types, among many scales: any part of the text by its trigrams.
create extension if not exists pg_trgm;

-- What lists sort and show by, out of the sheet, so that a page of a list reads no whole sheet.
alter table scale
    add column name text not null generated always as (coalesce(sheet->>'name', '')) stored,
    add column owner text not null generated always as (coalesce(sheet->>'owner', '')) stored,
    add column place text not null generated always as (coalesce(sheet->>'place', '')) stored;
-- A serial is found without its dashes and blanks too.
update scale set search = left(search || ' · ' || regexp_replace(lower(coalesce(sheet->>'serial', '')), '[^[:alnum:]]', '', 'g'), 600);
-- How many a typed text would match decides the way to them; a hundred samples are too few to tell.
alter table scale alter column search set statistics 1000;
create index scale_search on scale using gin (search gin_trgm_ops) where not practice;
-- The list of scales and the board of due dates, in their order: what is asked of each scale stands in
-- the index itself, so that a text that few or none match is looked for without reading a row. A text of
-- 600 signs fits into an index whatever they are.
drop index scale_due;
drop index scale_real;
create index scale_real on scale (workshop_id, coalesce(next_due, '9999-12-31'), id) include (next_due, search) where not practice;
create index scale_due_owner on scale (workshop_id, lower(owner), next_due, id) where not practice and next_due is not null;
create index scale_due_place on scale (workshop_id, lower(place), next_due, id) where not practice and next_due is not null;

-- The gist of each record as it stands, beside its frozen bytes: what is counted of it. It can be
-- worked out again from the bytes at any time.
create table record_gist (
    job_id uuid primary key references job,
    workshop_id uuid not null references workshop,
    closed_at timestamptz not null,
    kind text not null,
    found text not null,
    cause text,
    faults text[] not null default '{}',
    adjusted boolean not null,
    age int
);
create index record_gist_day on record_gist (workshop_id, closed_at) include (kind, found, cause, age);
create index record_gist_faults on record_gist (workshop_id, closed_at) where faults <> '{}';

-- By what a record is found: its number, the serial of its scale, its seals. `plain` is what is
-- compared: letters and digits only, in lower case.
create table record_mark (
    job_id uuid not null references job,
    kind text not null,
    plain text not null,
    workshop_id uuid not null references workshop,
    said text not null,
    closed_at timestamptz not null,
    primary key (job_id, kind, plain)
);
create index record_mark_plain on record_mark (workshop_id, plain text_pattern_ops);
create index record_mark_part on record_mark using gin (plain gin_trgm_ops);

-- The records that rest on a piece, the newest first, without looking at each. A record that came from
-- elsewhere may name a piece of another workshop: it is not that workshop's record.
alter table record_piece add column closed_at timestamptz, add column workshop_id uuid references workshop;
update record_piece p set closed_at = (select max(r.closed_at) from record r where r.job_id = p.job_id), workshop_id = (select j.workshop_id from job j where j.id = p.job_id);
delete from record_piece p using job j join scale s on s.id = j.scale_id where j.id = p.job_id and s.practice;
alter table record_piece alter column closed_at set not null, alter column workshop_id set not null;
drop index record_piece_piece;
create index record_piece_piece on record_piece (workshop_id, piece_id, closed_at desc, job_id desc);
