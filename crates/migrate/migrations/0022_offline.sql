-- Devices that take jobs along, each with a signing key of its own, of which only the public half is here.
create table device (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    person_id uuid not null references person,
    name text not null,
    public_key text not null,
    made_at timestamptz not null default now(),
    seen_at timestamptz not null default now(),
    revoked_at timestamptz
);
create index device_person on device (person_id);
-- A key is settled when the device is made, and one that was shut out stays out.
create function device_is_settled() returns trigger language plpgsql as $$
begin
    if (new.id, new.workshop_id, new.person_id, new.public_key) is distinct from
       (old.id, old.workshop_id, old.person_id, old.public_key)
       or (old.revoked_at is not null and new.revoked_at is distinct from old.revoked_at) then
        raise exception 'what a device signs by is settled' using errcode = 'restrict_violation';
    end if;
    return new;
end
$$;
create trigger device_settled before update on device for each row execute function device_is_settled();

-- What came home, as it came: seals of the device, what became of each, and what could not be taken.
create table came_home (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    person_id uuid not null references person,
    device_id uuid not null references device,
    scale_id uuid not null references scale,
    job_id uuid not null,
    at timestamptz not null default now(),
    taken int not null,
    known int not null,
    notes text not null,
    brought text not null,
    left_over text not null
);
create index came_home_workshop on came_home (workshop_id, at desc);
create trigger came_home_append_only before update or delete on came_home
    for each row execute function refuse_change();
