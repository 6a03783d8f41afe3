-- Customers are things of their own: whose scales they are, what stands on certificates, what is agreed.
create table customer (
    id uuid primary key,
    workshop_id uuid not null references workshop,
    details jsonb not null,
    search text not null,
    version int not null default 1,
    -- The table it came in with.
    import_id uuid,
    created_at timestamptz not null default now(),
    name text not null generated always as (coalesce(details->>'name', '')) stored,
    number text not null generated always as (coalesce(details->>'number', '')) stored,
    -- The same customer under another spelling: blanks and capitals do not count.
    plain_name text not null generated always as (lower(regexp_replace(btrim(coalesce(details->>'name', '')), '\s+', ' ', 'g'))) stored,
    unique (workshop_id, plain_name)
);
create unique index customer_number on customer (workshop_id, lower(number)) where number <> '';
create index customer_search on customer using gin (search gin_trgm_ops);

alter table scale add column customer_id uuid references customer, add column import_id uuid;
create index scale_customer on scale (customer_id) where customer_id is not null;
create index scale_unlinked on scale (workshop_id) where customer_id is null and not practice;

-- Scales that belong to nobody yet belong to whom their sheet names; who is not known becomes a customer.
create function link_customers(of_workshop uuid, with_import uuid default null) returns void language sql as $$
    insert into customer (id, workshop_id, import_id, details, search)
    select o.id, of_workshop, with_import, jsonb_build_object('id', o.id, 'name', btrim(o.owner), 'address', o.address),
           left(lower(btrim(o.owner) || ' · ' || o.address), 600)
    from (select distinct on (lower(regexp_replace(btrim(s.owner), '\s+', ' ', 'g')))
                 gen_random_uuid() as id, s.owner, coalesce(s.sheet->>'owner_address', '') as address
          from scale s
          where s.workshop_id = of_workshop and s.customer_id is null and not s.practice and btrim(s.owner) <> ''
          order by lower(regexp_replace(btrim(s.owner), '\s+', ' ', 'g')), coalesce(s.sheet->>'owner_address', '') desc, s.id) o
    on conflict (workshop_id, plain_name) do nothing;
    update scale s set customer_id = c.id
    from customer c
    where s.workshop_id = of_workshop and s.customer_id is null and not s.practice
      and c.workshop_id = of_workshop and c.plain_name = lower(regexp_replace(btrim(s.owner), '\s+', ' ', 'g'));
$$;
select link_customers(id) from workshop;
