-- Who may come in. A person belongs to one workshop; everything else hangs on the workshop, so
-- that one workshop never sees another's.
create table workshop (
    id uuid primary key,
    name text not null,
    created_at timestamptz not null default now()
);

create type role as enum ('technician', 'reviewer');

create table person (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    sign_in text not null unique,
    name text not null,
    role role not null,
    password_hash text not null,
    created_at timestamptz not null default now()
);

-- A session is known only by a keyed hash of its token: a copy of this table opens nothing.
create table session (
    token_hash bytea primary key,
    person_id uuid not null references person on delete cascade,
    created_at timestamptz not null default now(),
    expires_at timestamptz not null
);
create index session_expires on session (expires_at);

-- Repeated failures slow a sign-in name down, across all instances of the server.
create table sign_in_failure (
    sign_in text primary key,
    failures int not null,
    wait_until timestamptz not null
);
