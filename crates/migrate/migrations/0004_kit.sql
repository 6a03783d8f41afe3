-- Weights. What is searched and sorted by is copied out of the piece's own JSON.
create table piece (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    serial text not null,
    piece jsonb not null,
    search text not null,
    nominal_kg double precision not null,
    due date,
    version int not null default 1
);
create unique index piece_serial on piece (workshop_id, lower(serial));
create index piece_order on piece (workshop_id, nominal_kg desc, id);

-- Certificates as files, by the piece and the certificate's number.
create table certificate_file (
    workshop_id uuid not null references workshop,
    piece_id uuid not null references piece,
    number text not null,
    name text not null,
    bytes bytea not null,
    primary key (piece_id, number)
);

-- How much span weight this workshop asks for.
alter table workshop add column school text not null default 'tenth';
