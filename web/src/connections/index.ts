export { ConnectionsPage } from './ConnectionsPage';
export { connectionFor, connectionName } from './names';
export { connectionKeys, leadsTo, useConnections, useConnectionsOf } from './queries';
