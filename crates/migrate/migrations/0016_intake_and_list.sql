-- Tables that came in: what of each, by whom, and whether it was undone. A row knows the table it came with,
-- so that the last one can be taken back.
create table intake (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    kind text not null,
    file_name text not null,
    rows int not null,
    by_name text not null,
    made_at timestamptz not null default now(),
    undone_at timestamptz
);
create index intake_workshop on intake (workshop_id, made_at desc);
alter table customer add foreign key (import_id) references intake;
alter table scale add foreign key (import_id) references intake;
alter table piece add column import_id uuid references intake;
create index customer_import on customer (import_id) where import_id is not null;
create index scale_import on scale (import_id) where import_id is not null;
create index piece_import on piece (import_id) where import_id is not null;

-- What was found before the workshop kept its records here: shown with the scale's history, never a record.
create table earlier_result (
    import_id uuid not null references intake,
    place int not null,
    workshop_id uuid not null references workshop,
    scale_id uuid not null references scale,
    day date not null,
    result jsonb not null,
    primary key (import_id, place)
);
create index earlier_result_scale on earlier_result (scale_id, day desc);

-- What the list of all records shows and is searched by, out of the frozen bytes. It can be worked out again
-- from them at any time.
create table record_listed (
    job_id uuid not null,
    seq int not null,
    workshop_id uuid not null references workshop,
    closed_at timestamptz not null,
    scale text not null,
    customer text not null,
    place text not null,
    kind text not null,
    signed_by text not null,
    certificate boolean not null,
    search text not null,
    primary key (job_id, seq),
    foreign key (job_id, seq) references record
);
create index record_listed_day on record_listed (workshop_id, closed_at desc, job_id);
create index record_listed_search on record_listed using gin (search gin_trgm_ops);
