-- What a record showed, for the history of its scale; nothing of it is in the frozen bytes' place.
alter table record add column shade jsonb;

-- Which pieces a record rests on, so that one found wrong can be traced to every record.
create table record_piece (
    job_id uuid not null references record,
    piece_id uuid not null,
    serial text not null,
    certificate text,
    primary key (job_id, piece_id)
);
create index record_piece_piece on record_piece (piece_id, job_id);

-- Why a scale is due when it is.
alter table scale add column due_reason text;

-- The secret part of the address at which due dates are given as a calendar.
alter table workshop add column calendar_secret text unique;
