-- What reads the air around a scale, each with its certificate.
create table instrument (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    details jsonb not null,
    version int not null default 1,
    serial text not null generated always as (coalesce(details->>'serial', '')) stored
);
create unique index instrument_serial on instrument (workshop_id, lower(serial));

-- Photographs and files: of a scale, of a job, of a piece. A job's journal has the hash of each of its own;
-- those are never changed.
create table file (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    scale_id uuid references scale,
    job_id uuid references job,
    piece_id uuid references piece,
    name text not null,
    media text not null,
    caption text not null default '',
    sha256 text not null,
    size bigint not null,
    bytes bytea not null,
    by_name text not null,
    made_at timestamptz not null default now(),
    check (num_nonnulls(scale_id, job_id, piece_id) = 1)
);
create index file_scale on file (scale_id, made_at) where scale_id is not null;
create index file_job on file (job_id, made_at) where job_id is not null;
create index file_piece on file (piece_id, made_at) where piece_id is not null;
create index file_workshop on file (workshop_id);
create function refuse_change_of_job_file() returns trigger language plpgsql as $$
begin
    if old.job_id is not null then
        raise exception 'a file of a job is kept: % refused', tg_op using errcode = 'restrict_violation';
    end if;
    return case when tg_op = 'DELETE' then old else new end;
end
$$;
create trigger file_of_job_kept before update or delete on file
    for each row execute function refuse_change_of_job_file();

-- Whether the customer signs on the screen at the end.
alter table workshop add column customer_signs boolean not null default false;
