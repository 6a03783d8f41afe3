-- How indicators are keyed: a profile is a text in an open format. Every edition that was ever
-- saved is kept, because a record may rest on it.
create table profile (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    name text not null,
    about text not null,
    edition int not null,
    text text not null,
    changed_by text not null,
    changed_at timestamptz not null default now(),
    unique (workshop_id, name)
);

create table profile_edition (
    profile_id uuid not null references profile,
    edition int not null,
    text text not null,
    changed_by text not null,
    changed_at timestamptz not null,
    primary key (profile_id, edition)
);
create trigger profile_edition_kept before update or delete on profile_edition
    for each row execute function refuse_change();

-- Places where scales are adjusted or used, for gravity.
create table site (
    workshop_id uuid not null references workshop,
    name text not null,
    latitude text not null,
    altitude_m text not null,
    primary key (workshop_id, name)
);
