-- An owner's reader sees the scales and certificates of one customer, by a link that is told once.
create table owner_link (
    id uuid primary key,
    customer_id uuid not null references customer on delete cascade,
    workshop_id uuid not null references workshop,
    token_hash text not null unique,
    by_name text not null,
    made_at timestamptz not null default now(),
    expires_at timestamptz not null,
    used_at timestamptz
);
create index owner_link_customer on owner_link (customer_id);

-- Practice is no record of a real scale: a manager may throw it away, and nothing else of the journal. What is
-- practice is settled when a scale is made, so that no real one can be made to look like it.
create function practice_is_settled() returns trigger language plpgsql as $$
begin
    if new.practice is distinct from old.practice then
        raise exception 'whether a scale is for practice is settled' using errcode = 'restrict_violation';
    end if;
    return new;
end
$$;
create trigger scale_practice_settled before update on scale
    for each row execute function practice_is_settled();
create function is_practice(of_job uuid) returns boolean language sql stable as $$
    select exists (select 1 from job j join scale s on s.id = j.scale_id where j.id = of_job and s.practice)
$$;
create function refuse_change_of_entry() returns trigger language plpgsql as $$
begin
    if tg_op = 'DELETE' and is_practice(old.job_id) then
        return old;
    end if;
    raise exception '% is append-only: % refused', tg_table_name, tg_op using errcode = 'restrict_violation';
end
$$;
drop trigger entry_append_only on entry;
create trigger entry_append_only before update or delete on entry
    for each row execute function refuse_change_of_entry();
create or replace function refuse_all_but_superseding() returns trigger language plpgsql as $$
begin
    if tg_op = 'DELETE' and is_practice(old.job_id) then
        return old;
    end if;
    old.superseded := true;
    if tg_op = 'UPDATE' and new is not distinct from old then
        return new;
    end if;
    raise exception '% is frozen: % refused', tg_table_name, tg_op using errcode = 'restrict_violation';
end
$$;
create or replace function refuse_change_of_job_file() returns trigger language plpgsql as $$
begin
    if old.job_id is not null and not (tg_op = 'DELETE' and is_practice(old.job_id)) then
        raise exception 'a file of a job is kept: % refused', tg_op using errcode = 'restrict_violation';
    end if;
    return case when tg_op = 'DELETE' then old else new end;
end
$$;
-- Run as the owner: the program's own role may delete none of these tables' rows.
create function throw_practice_away(of_workshop uuid) returns bigint
language plpgsql security definer set search_path = public as $$
declare
    scales uuid[] := array(select id from scale where workshop_id = of_workshop and practice);
    jobs uuid[] := array(select id from job where scale_id = any(scales));
begin
    delete from practice_act where scale_id = any(scales);
    delete from practice_run where job_id = any(jobs);
    delete from file where job_id = any(jobs) or scale_id = any(scales);
    delete from record_mark where job_id = any(jobs);
    delete from record_gist where job_id = any(jobs);
    delete from record_piece where job_id = any(jobs);
    delete from record where job_id = any(jobs);
    delete from entry where job_id = any(jobs);
    delete from job where id = any(jobs);
    delete from scale where id = any(scales);
    return cardinality(jobs);
end
$$;
