-- Long work, as every instance of the program sees it: begun by one, taken up by another where that one is
-- lost, called off by anybody of the workshop. What went up and what came of it lies beside it in parts, so
-- that any instance reads them.
create table task (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    kind text not null,
    by_id uuid not null references person,
    asked jsonb not null default 'null',
    begun_at timestamptz not null default now(),
    state text not null,
    says text not null default '',
    done bigint not null default 0,
    total bigint not null default 0,
    -- Who does it now, when it was heard of last, and how often it was begun.
    instance uuid,
    seen_at timestamptz not null default now(),
    tries int not null default 0,
    called_off boolean not null default false,
    has_file boolean not null default false
);
create index task_workshop on task (workshop_id, begun_at desc);
-- One at a time of a workshop; of imports one at a time at all: each takes room before it is looked at.
create unique index task_of_workshop on task (workshop_id) where state in ('uploading', 'waiting', 'running');
create unique index task_import on task (kind) where kind = 'import' and state in ('uploading', 'waiting', 'running');
create table task_part (
    task_id uuid not null references task on delete cascade,
    upload boolean not null,
    part int not null,
    bytes bytea not null,
    primary key (task_id, upload, part)
);
