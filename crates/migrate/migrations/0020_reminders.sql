-- Reminders by mail: what a workshop wants of them, and which were sent; never twice for one due date.
alter table workshop add column reminders jsonb not null default '{}';
create table reminder (
    scale_id uuid not null references scale on delete cascade,
    due date not null,
    whom text not null,
    workshop_id uuid not null references workshop,
    sent_at timestamptz not null default now(),
    primary key (scale_id, due, whom)
);
create index reminder_workshop on reminder (workshop_id, sent_at desc);
