-- People come by invitation. A reader sees everything and changes nothing; who has left signs in no more, and
-- the name stays on every record.
alter table person
    drop constraint person_roles,
    add constraint person_roles check (roles <@ array['technician', 'reviewer', 'manager', 'reader'] and cardinality(roles) > 0),
    add column active boolean not null default true,
    add column password_at timestamptz not null default now();

-- A link that works once: for somebody new, or for a new password. Without a workshop: the first start.
create table invitation (
    token_hash text primary key,
    workshop_id uuid references workshop,
    person_id uuid references person,
    name text not null default '',
    roles text[] not null default '{}',
    made_at timestamptz not null default now(),
    expires_at timestamptz not null
);
create index invitation_workshop on invitation (workshop_id, made_at);

-- Sessions can be seen and ended: by a name of their own, never by what opens them.
alter table session
    add column id uuid not null default gen_random_uuid(),
    add column from_address text not null default '',
    add column browser text not null default '';
create unique index session_id on session (id);

-- What a workshop takes where nothing else is said.
alter table workshop add column defaults jsonb not null default '{}';
