create table scale (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    sheet jsonb not null,
    -- How the indicator is connected; null: readings are typed.
    device jsonb,
    -- Name, owner, place, serial in lower case, for searching as one types.
    search text not null,
    -- Copied from the last record, so that the list needs no join.
    last_outcome text,
    last_closed_at timestamptz,
    next_due date,
    last_shade jsonb,
    version int not null default 1,
    created_at timestamptz not null default now()
);
create index scale_workshop on scale (workshop_id, id);
create index scale_due on scale (workshop_id, next_due);

create table job (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    scale_id uuid not null references scale,
    started_by uuid not null references person,
    started_at timestamptz not null,
    head_seq int not null,
    head_hash text not null,
    closed_at timestamptz,
    imported boolean not null default false
);
create index job_open on job (workshop_id, started_at desc) where closed_at is null;
create index job_scale on job (scale_id, started_at desc);

-- The journal. `sealed` is the entry's own text as it was hashed; it is never written again.
create table entry (
    job_id uuid not null references job,
    seq int not null,
    id uuid not null unique,
    sealed text not null,
    stored_at timestamptz not null default now(),
    primary key (job_id, seq)
);

-- An issued record: its own bytes, frozen.
create table record (
    job_id uuid primary key references job,
    workshop_id uuid not null references workshop,
    scale_id uuid not null references scale,
    number text not null,
    file bytea not null,
    sha256 text not null,
    outcome text not null,
    program text not null,
    rules text not null,
    -- What the next job on this scale needs to know of it.
    before jsonb not null,
    closed_at timestamptz not null,
    unique (workshop_id, number)
);
create index record_scale on record (scale_id, closed_at desc);

create table record_counter (
    workshop_id uuid not null references workshop,
    year int not null,
    last int not null,
    primary key (workshop_id, year)
);

create function refuse_change() returns trigger language plpgsql as $$
begin
    raise exception '% is append-only: % refused', tg_table_name, tg_op using errcode = 'restrict_violation';
end
$$;

create trigger entry_append_only before update or delete on entry
    for each row execute function refuse_change();
create trigger entry_no_truncate before truncate on entry
    for each statement execute function refuse_change();
create trigger record_frozen before update or delete on record
    for each row execute function refuse_change();
create trigger record_no_truncate before truncate on record
    for each statement execute function refuse_change();
