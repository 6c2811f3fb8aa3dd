-- The harbour's database: what the agency reads from and writes to. Made up.
CREATE SCHEMA IF NOT EXISTS harbour;
CREATE TABLE IF NOT EXISTS harbour.vessel (vessel_no integer PRIMARY KEY, name text NOT NULL, call_sign varchar(8), gt integer, draught_m numeric(4,1));
CREATE TABLE IF NOT EXISTS harbour.berth (code varchar(4) PRIMARY KEY, quay text NOT NULL, depth_m numeric(4,1) NOT NULL, length_m integer NOT NULL);
CREATE TABLE IF NOT EXISTS harbour.tariff (band text PRIMARY KEY, from_gt integer NOT NULL, per_day numeric(8,2) NOT NULL);
CREATE TABLE IF NOT EXISTS harbour.tide_window (
  call_ref text NOT NULL,
  vessel text,
  opens_at timestamp with time zone NOT NULL,
  closes_at timestamp with time zone NOT NULL,
  clearance_m numeric(4,1) NOT NULL,
  asked_at timestamp with time zone
);
CREATE TABLE IF NOT EXISTS harbour.pilot_order (
  call_ref text NOT NULL,
  batch_ref text NOT NULL,
  vessel text,
  order_no text NOT NULL,
  pilot text,
  boards_at timestamp with time zone NOT NULL
);
CREATE TABLE IF NOT EXISTS harbour.pilot_waiting (
  call_ref text NOT NULL,
  batch_ref text NOT NULL,
  vessel text,
  next_duty timestamp with time zone
);
CREATE TABLE IF NOT EXISTS harbour.tug_order (
  call_ref text NOT NULL,
  vessel text,
  tugs integer NOT NULL
);
INSERT INTO harbour.berth VALUES ('E1','East quay',6.5,120),('E4','East quay',9.4,180),('E7','East quay',8.1,160),('W2','West quay',11.0,240),('W3','West quay',12.5,280) ON CONFLICT DO NOTHING;
INSERT INTO harbour.tariff VALUES ('small',0,180.00),('middle',3000,420.50),('large',10000,910.00) ON CONFLICT DO NOTHING;
INSERT INTO harbour.vessel VALUES (7340018,'Grey Plover','MBGP7',11840,7.2),(7340112,'Amber Tern','MKTT2',2210,4.6),(7340230,'Old Curlew','MOCW1',860,3.4),(7340391,'Silver Godwit','MSGD4',15400,9.8) ON CONFLICT DO NOTHING;
CREATE TABLE IF NOT EXISTS harbour.manifest (
  manifest_no text PRIMARY KEY,
  vessel_no text NOT NULL,
  filed_as text,
  tonnes numeric,
  dangerous integer,
  noted text
);
CREATE TABLE IF NOT EXISTS harbour.bulletin (
  bulletin_id uuid PRIMARY KEY,
  no text NOT NULL,
  area text NOT NULL,
  issued timestamp,
  warnings text,
  desk text
);
CREATE TABLE IF NOT EXISTS harbour.watch (
  bulletin_id uuid NOT NULL,
  watch text NOT NULL,
  wind text,
  force integer,
  sea text,
  visible_nm numeric(4,1),
  PRIMARY KEY (bulletin_id, watch)
);
