-- Certificates that are believed beside those of the system's authorities. None of it is secret.
CREATE TABLE certificate (
  name text PRIMARY KEY,
  sha256 text NOT NULL UNIQUE,
  pem text NOT NULL,
  -- Whether it is believed where descriptions are fetched from, too.
  for_imports boolean NOT NULL DEFAULT false,
  added_at timestamptz NOT NULL DEFAULT now(),
  added_by text NOT NULL
);
