-- Practice: scales of lessons are kept apart from real ones, and so are their records.
alter table scale add column practice boolean not null default false;
create index scale_real on scale (workshop_id, coalesce(next_due, '9999-12-31'), id) where not practice;

-- Lessons of a workshop's own; those that ship with the program are files.
create table lesson (
    workshop_id uuid not null references workshop,
    id text not null,
    text text not null,
    primary key (workshop_id, id)
);

-- A run of a lesson: the lesson as it then was, and what was asked for.
create table practice_run (
    job_id uuid primary key references job,
    workshop_id uuid not null references workshop,
    person_id uuid not null references person,
    scale_id uuid not null references scale,
    lesson_id text not null,
    lesson text not null,
    hints int not null default 0,
    revealed boolean not null default false,
    started_at timestamptz not null default now()
);
create index practice_run_person on practice_run (workshop_id, person_id, lesson_id);

-- What the hands did at a practice scale.
create table practice_act (
    scale_id uuid not null references scale,
    at timestamptz not null default now(),
    command text not null,
    obeyed boolean not null,
    reply text not null
);
create index practice_act_scale on practice_act (scale_id, at);
