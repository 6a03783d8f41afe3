-- A second factor by time (RFC 6238): its secret, the last step that was used, and codes for a lost device.
-- `totp_pending` is one that was begun and not yet confirmed.
alter table person
    add column totp text,
    add column totp_pending text,
    add column totp_step bigint not null default 0;
create table recovery_code (
    person_id uuid not null references person,
    code_hash text not null,
    primary key (person_id, code_hash)
);

-- Programs of a person's own: a token with what it may do, kept as a hash.
create table api_token (
    id uuid primary key,
    person_id uuid not null references person,
    name text not null,
    token_hash text not null unique,
    works boolean not null,
    made_at timestamptz not null default now(),
    expires_at timestamptz not null,
    used_at timestamptz
);
create index api_token_person on api_token (person_id);

-- Filters of the audit trail.
alter table audit
    add column act text not null generated always as (coalesce(sealed::jsonb->>'act', '')) stored,
    add column person_id text not null generated always as (coalesce(sealed::jsonb->>'person', '')) stored;
create index audit_act on audit (workshop_id, act, seq desc);
