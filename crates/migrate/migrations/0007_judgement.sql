-- How a workshop judges: priors of causes where they differ from the table's, and whether a scale
-- inside its tolerance is left alone.
alter table workshop add column priors jsonb not null default '{}';
alter table workshop add column leave_inside boolean not null default true;
