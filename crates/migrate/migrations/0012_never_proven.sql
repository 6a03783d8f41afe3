-- A scale that was never proven is due from the day on which it is taken on, so that it stands on the
-- board of what is due.
alter table scale alter column next_due set default current_date;
alter table scale alter column due_reason set default 'never proven';
update scale set next_due = current_date, due_reason = 'never proven' where next_due is null;
