export { ConnectionsPage } from './ConnectionsPage';
