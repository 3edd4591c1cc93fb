create table lock (
  id integer primary key,
  name text not null unique
);

create table booking (
  reference text primary key,
  lock_id integer not null references lock (id),
  boat_name text not null,
  starts_at text not null
);
