-- Proofs of work that were used: each counts once, in whichever process it comes.
create table spent_proof (
  signature text primary key,
  until timestamptz not null
);
-- Which are past and can go?
create index spent_proof_until on spent_proof (until);
