-- Sessions in which an indicator is taught: what was pressed, seen and said, as evidence of the profile that came of it.
create table teaching (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    name text not null,
    session text not null,
    version int not null default 1,
    profile_id uuid references profile,
    changed_by text not null,
    changed_at timestamptz not null default now()
);
create index teaching_workshop on teaching (workshop_id, changed_at desc);
