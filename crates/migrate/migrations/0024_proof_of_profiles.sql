-- What a visit said of a profile: its sheet was right to the end, or something differed there.
create table profile_proof (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    profile_id uuid not null references profile,
    edition int not null,
    job_id uuid not null references job,
    as_said boolean not null,
    item text not null,
    shown text not null,
    note text not null,
    said_by text not null,
    said_at timestamptz not null default now(),
    unique (job_id, item)
);
create index profile_proof_profile on profile_proof (workshop_id, profile_id, said_at desc);
