-- Guests are colleagues who use run pages, and see nothing else.
ALTER TABLE account DROP CONSTRAINT account_role_check;
ALTER TABLE account ADD CONSTRAINT account_role_check
  CHECK (role IN ('guest', 'viewer', 'operator', 'builder', 'admin'));
