export { CertificatesPage } from './CertificatesPage';
export { ConnectionsPage } from './ConnectionsPage';
export { LookAtAddress } from './LookAtAddress';
export { connectionFor, connectionName } from './names';
export { QueueDesk } from './queues/QueueDesk';
export { SecretsPage } from './SecretsPage';
export { connectionKeys, leadsTo, useConnections, useConnectionsOf, useSecrets } from './queries';
