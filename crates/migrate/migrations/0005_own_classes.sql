-- Tolerance classes of a workshop's own: a name and a tolerance for each nominal.
alter table workshop add column own_classes jsonb not null default '[]';
