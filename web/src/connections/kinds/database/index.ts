import type { ConnectionKind } from '../kind';

export const database: ConnectionKind = {
  kind: 'database',
  short: 'database',
  label: 'a database',
  addressLabel: 'JDBC address of the database, for each environment',
  addressHint: 'jdbc:postgresql://host:5432/name',
  userHint: '',
};
