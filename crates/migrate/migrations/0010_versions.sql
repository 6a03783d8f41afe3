-- A record is frozen when it is signed and again when it is approved; an amended one is followed by a
-- new version. None is ever changed: only that a later one has taken its place is noted.
alter table record_piece drop constraint record_piece_job_id_fkey;
alter table record_piece add foreign key (job_id) references job;
alter table record disable trigger record_frozen;
alter table record drop constraint record_pkey, drop constraint record_workshop_id_number_key;
alter table record
    add column seq int,
    add column version int not null default 1,
    add column superseded boolean not null default false,
    add column approved_at timestamptz;
update record r set seq = (select head_seq from job j where j.id = r.job_id);
alter table record enable trigger record_frozen;
alter table record alter column seq set not null, add primary key (job_id, seq);
create unique index record_current on record (job_id) where not superseded;
create unique index record_number on record (workshop_id, number) where not superseded;
create index record_any_number on record (workshop_id, number);
create index record_unapproved on record (workshop_id, closed_at) where not superseded and approved_at is null;
drop index record_scale;
create index record_scale on record (scale_id, closed_at desc) where not superseded;

create function refuse_all_but_superseding() returns trigger language plpgsql as $$
begin
    old.superseded := true;
    if tg_op = 'UPDATE' and new is not distinct from old then
        return new;
    end if;
    raise exception '% is frozen: % refused', tg_table_name, tg_op using errcode = 'restrict_violation';
end
$$;
drop trigger record_frozen on record;
create trigger record_frozen before update or delete on record
    for each row execute function refuse_all_but_superseding();

-- What stands on the paper of a workshop, and whether a record waits for approval.
alter table workshop add column paper jsonb not null default '{}';
alter table workshop add column review boolean not null default false;
