-- Records that were frozen before pieces were noted by record: what their entries name. A struck entry
-- counts too; a recall list may hold one record too many, never one too few.
insert into record_piece (job_id, piece_id, serial, certificate)
select distinct on (r.job_id, piece->>'id') r.job_id, (piece->>'id')::uuid, piece->>'serial', piece->>'certificate'
from record r
join entry e on e.job_id = r.job_id
cross join lateral jsonb_array_elements(case when jsonb_typeof(e.sealed::jsonb #> '{body,with}') = 'array' then e.sealed::jsonb #> '{body,with}' else '[]' end) as piece
on conflict do nothing;
