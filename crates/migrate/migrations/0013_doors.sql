-- One person may have several roles; what decides who must approve is a manager's to change. Who has
-- approved so far manages; a workshop without a reviewer is managed by whoever came first.
alter table person add column roles text[];
update person set roles = array[role::text];
update person p set roles = roles || 'manager'::text
where p.role = 'reviewer'
   or (not exists (select 1 from person q where q.workshop_id = p.workshop_id and q.role = 'reviewer')
       and p.id = (select id from person q where q.workshop_id = p.workshop_id order by created_at, id limit 1));
alter table person
    alter column roles set not null,
    add constraint person_roles check (roles <@ array['technician', 'reviewer', 'manager'] and cardinality(roles) > 0),
    drop column role;
drop type role;

-- Whether a record waits for approval is part of its signature; null: it is older than that.
alter table record add column approval boolean;
-- When it was frozen, so that what was there on a day can be counted again.
alter table record add column stored_at timestamptz not null default now();
create index record_stored on record (stored_at);

-- Who changed what that others rest on: append-only, each line sealed over the one before it.
alter table workshop
    add column audit_seq int not null default 0,
    add column audit_head text not null default '';
create table audit (
    workshop_id uuid not null references workshop,
    seq int not null,
    sealed text not null,
    hash text not null,
    primary key (workshop_id, seq)
);
create trigger audit_append_only before update or delete on audit
    for each row execute function refuse_change();
create trigger audit_no_truncate before truncate on audit
    for each statement execute function refuse_change();

-- A session that nobody uses ends before its time.
alter table session add column seen_at timestamptz not null default now();

-- Failures are counted for a name and where they come from, so that nobody can lock another out; a try is
-- reserved before the password is looked at.
alter table sign_in_failure rename column sign_in to tried;
alter table sign_in_failure add column last_at timestamptz not null default now();

-- The calendar's address is shown once and kept as a hash: a copy of this table opens none. Addresses that
-- were given out go on leading there.
alter table workshop add column calendar_hash text unique;
update workshop set calendar_hash = encode(sha256(convert_to(calendar_secret, 'UTF8')), 'hex') where calendar_secret is not null;
alter table workshop drop column calendar_secret;
